"""What to do next: one list of steps over all screens, best first (docs/trade §8.4).

Each step is worth what it cures or settles for its minutes and its harm, within the order that the trade keeps: what
must come first (tiers) before what is only cheaper.

steps.py    a step, and what steps usually take
proposer.py what the proposers share
cold.py     symptom, look, inputs, fuses and rails before power
hunt.py     from a short to the part
mend.py     what goes back on, fuses, contacts
chips_off.py  a memory chip or the core that is off: its pads, and what goes back
powered.py  the supply and the start-up map
memory.py   from memory runs to chips
ladder.py   how far it comes in a computer
proving.py  what is owed, the proof, the way out
words.py    a step as a sentence
order.py    the order of all of them, and what must never be proposed
"""
