"""What the errors look like, and so what is broken (docs/trade §5.3).

events.py       what of the evidence is weighed: errors by channel and mask
shapes.py       how likely a kind of fault writes a mask of wrong lines
hypotheses.py   every fault that is considered, one function a kind
traces.py       what addresses and words tell beside the masks
weigh.py        hypotheses against events: chances
runs.py         several runs compared under their conditions
reasons.py      each explanation in words with its numbers
actions.py      what to do next about it

A new kind is one function in hypotheses.py, one sentence in reasons.py and one row in actions.py.
"""
