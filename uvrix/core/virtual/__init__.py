"""The virtual card: faults injected in a board model, reports of them by seed, and the bench in a box.

boards.py    board models made at random, for trying findings on boards nobody tuned for
faults.py    what a fault does to the words that are read back
layouts.py   the errors in any layout: our formats, and three that a shop's own tester might write
reports.py   a whole report by seed, with the truth beside it

It simulates what is described in the trade; what it calibrates is itself until a shop's own outcomes take over.
"""
