"""One card's whole thread, and what follows from it (docs/formats §17).

entries.py    what was observed and done, in the order of happening
schema.py     the published schema of a case
case_file.py  reads and writes a case; refuses by JSON path
names.py      the names that a case may carry on a board
touches.py    which rails, nets and start-up nodes an act or a reading is about
card.py       what is on the board, off, missing, another one, lifted, wired, cut
counts.py     which entries still count, and what made the others void
rails.py      the readings that count, judged against good cards; the fuses
power.py      whether power is allowed, and what blocks it
owed.py       what must be settled before the card leaves
proof.py      what the proof has, and lacks
shop.py       what the shop knows beside this card
belief.py     what may be wrong, with its chance
plan.py       what to do next
answer.py     all of it as one object
words.py      an entry in a sentence
facts.py      all of it computed once, for belief and plan
generic.py    what every card has in common, where nobody has drawn the board
"""
