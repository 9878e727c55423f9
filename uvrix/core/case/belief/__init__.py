"""What may be wrong: one belief over causes, from all steps (docs/trade §8.3).

What deviates falls into strands: a short, a fuse, the start of the rails, memory, how far the card comes in a computer,
what was seen. Within a strand every cause is weighed by how well it foretells what was read, seen, fed and replaced;
the strands share the belief by which of them would explain the others. Nothing is suspected that nothing points at:
what no strand explains is `unknown`.

believe.py   the strands weighed against each other
words.py     a cause in a few words
weighing.py  causes weighed within a strand
shorts.py, seen.py, start_up.py, memory.py, ladder.py   one strand each
"""
