"""Every figure that Practice sets by itself, with its unit and why."""

from __future__ import annotations

# A tender neighbour that hot air reaches without a shield lifts this often. Not measured: often enough that whoever
# does not shield meets it within a few cards, seldom enough that it is not the rule (docs/trade §10.2).
UNSHIELDED_LIFTS = 0.25
# A measurement that moved the belief by less than this many bits told nothing.
TOLD_NOTHING_BITS = 0.02
# Below this chance a cause is ruled out; from the other on it was once in question.
RULED_OUT, IN_QUESTION = 0.02, 0.05
# This many of the advice's first steps count as the advice: they are worth nearly the same.
AS_GOOD_AS_FIRST = 3
# Habits that a debrief names.
MOST_HABITS = 3
