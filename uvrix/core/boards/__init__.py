"""Board models (docs/formats §1).

model.py      the frozen dataclasses: Board, Site, Core, Landmark
schema.py     the JSON Schema that is published
document.py   reads and validates a `.board.json`
walk.py       the walk round the core: which place has which channel
views.py      orientations: side and quarter turns, edges
drawing.py    outlines, marks and pin-1 dots in millimetres
edit.py       edits of a model's document: add, move, align, number, walk, scale …
draft.py      a model while it is made: all that is wrong, and a drawing of what is right
changes.py    what changed between two editions, in sentences
photograph.py a picture under the drawing: scale from the contact row or two points
placement.py  a component-placement CSV, whatever its headers and units
families.py   what boards with one core share; the walk proposed for a new one
sheet.py      pages of a print at 1:1
mark.py       confirming the mark: typed designator and landmark question
"""
