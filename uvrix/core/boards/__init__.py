"""Board models (formats.md §1).

model.py      the frozen dataclasses: Board, Site, Core, Landmark
schema.py     the JSON Schema that is published
document.py   reads and validates a `.board.json`
walk.py       the walk round the core: which place has which channel
views.py      how the drawing lies: side and quarter turns, edges
drawing.py    outlines, marks and pin-1 dots in millimetres
mark.py       confirming the mark: typed designator and landmark question
"""
