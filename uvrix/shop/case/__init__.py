"""One card's thread: every step's rows as entries of one case, and what follows from them (core/case).

rows.py     what a step gives to the thread; each step registers its own in its `ledger.py`
threads.py  a job's rows in order, as a case on its board
answers.py  what follows from it, kept on the job until something changes
api.py      the case as a page and as a file

The thread knows no step: a step's `ledger.py` knows the thread.
"""
