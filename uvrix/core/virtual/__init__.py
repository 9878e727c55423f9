"""The virtual card: faults injected in a board model, and reports of them, by seed.

boards.py    board models made at random, for trying findings on boards nobody tuned for
faults.py    what a fault does to the words that are read back
reports.py   the errors written as a report in one of our formats, with the truth beside it

It simulates what is described in the trade; what it calibrates is itself until a shop's own outcomes take over.
"""
