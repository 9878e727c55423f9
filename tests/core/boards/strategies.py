"""Boards made at random: sizes, cores, marks, walks, places; each with its document."""

from __future__ import annotations

import json
from pathlib import Path

from hypothesis import strategies as st

BOARDS = Path(__file__).parents[3] / "data/boards"
CORNERS = ["top-left", "top-right", "bottom-left", "bottom-right"]
STARTS = ["mark", "opposite-mark", "mark+1", "mark-1"]
DIRECTIONS = ["clockwise", "counterclockwise"]
tenths = st.integers(-400, 400).map(lambda tenth: tenth / 10)


@st.composite
def documents(draw, *, clamshell: bool | None = None, landmarks: bool = True):
    """A valid `.board.json` document; the core stands at (100, 60) within 80 mm of every site."""
    offsets = draw(st.lists(st.tuples(tenths, tenths), min_size=2, max_size=12, unique=True))
    offsets = [offset for offset in offsets if offset != (0, 0)] or [(10, 5)]
    twins = draw(st.booleans()) if clamshell is None else clamshell
    sites = [
        {
            "designator": f"U{10 + number}",
            "side": "front",
            "x_mm": round(100 + x, 1),
            "y_mm": round(60 + y, 1),
            "rotation_deg": draw(st.sampled_from([0, 90, 180, 270, 30])),
            "fitted": draw(st.booleans()),
            "dq": [0, 15] if twins else [0, 31],
        }
        for number, (x, y) in enumerate(offsets)
    ]
    if twins:
        sites += [
            {**site, "designator": f"U{50 + number}", "side": "back", "dq": [16, 31]}
            for number, site in enumerate(sites)
        ]
        draw(st.randoms(use_true_random=False)).shuffle(sites)
    marks = [
        {"kind": "bracket", "x_mm": 0, "y_mm": 60, "size_mm": [3, 90]},
        {"kind": "edge-contacts", "x_mm": 70, "y_mm": 4, "size_mm": [80, 8]},
    ]
    return {
        "format": "uvrix-board",
        "version": 1,
        "id": "made-up",
        "name": "Made up",
        "outline_mm": [[0, 0], [200, 0], [200, 120], [0, 120]],
        "core": {
            "designator": "U1",
            "x_mm": 100,
            "y_mm": 60,
            "size_mm": [draw(st.integers(10, 50)), draw(st.integers(10, 50))],
            "mark_corner": draw(st.sampled_from(CORNERS)),
        },
        "landmarks": marks if landmarks else [],
        "sites": sites,
        "walk": {
            "start": draw(st.sampled_from(STARTS)),
            "direction": draw(st.sampled_from(DIRECTIONS)),
            "order": [f"{chr(65 + n // 2)}{n % 2}" for n in range(len(offsets))],
        },
    }


def data_of(document) -> bytes:
    return json.dumps(document).encode()
