"""What to try next about a finding.

causes.py    what can be broken, how often, and what each action would show or cure
habits.py    a shop's times, risks, shares of causes and school
learning.py  shares and times learned from a shop's own outcomes
plan.py      the actions ranked by chance per minute and per risk, each with what its result would settle
"""
