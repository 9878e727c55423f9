"""Practice: a hidden fault on a virtual card, the bench that answers for it, and what working on it has cost.

`card_file.py` is a practice card as a file (docs/formats §19), `levels.py` hides faults by level, `bench.py` answers
steps and does harm where it would be done, `steps.py` says what each entry of a case cost, `debrief.py` holds a thread
against what the advice would have done, `habits.py` what cost most.
"""
