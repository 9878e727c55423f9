"""Pairs of photographs with one part lost, and what was lost where."""

from __future__ import annotations

import io
import json

import numpy as np
from PIL import Image

from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.standins.camera import Light, photograph

KINDS = ("capacitor", "resistor", "fuse", "shunt", "converter")


def grey(shot):
    return np.asarray(Image.open(io.BytesIO(shot.jpeg)).convert("L"), dtype=np.float32)


def populated(rng, name="teal-8", parts=150):
    """A demo board with small parts at random places that touch nothing else."""
    document = json.loads((BOARDS / f"{name}.board.json").read_text())
    width = max(x for x, _ in document["outline_mm"])
    height = max(y for _, y in document["outline_mm"])
    taken = [(site["x_mm"], site["y_mm"], 10.0) for site in document["sites"]]
    taken.append((document["core"]["x_mm"], document["core"]["y_mm"], 0.75 * max(document["core"]["size_mm"])))
    taken += [(mark["x_mm"], mark["y_mm"], max(mark["size_mm"]) * 0.75) for mark in document["landmarks"]]
    found = []
    while len(found) < parts:
        x, y = rng.uniform(5, width - 5), rng.uniform(12, height - 5)
        if all((x - at[0]) ** 2 + (y - at[1]) ** 2 > at[2] ** 2 for at in taken):
            taken.append((x, y, 3.2))
            kind = KINDS[int(rng.integers(len(KINDS)))]
            part = {"designator": f"Z{len(found) + 1}", "kind": kind, "side": "front"}
            found.append({**part, "x_mm": round(x, 2), "y_mm": round(y, 2)})
    return read_board(json.dumps({**document, "parts": found}).encode())


def landmark_points(board):
    """Three places that a person would click: two chips far apart and a corner of the board."""
    left, bottom, right, top = (float(edge) for edge in board.extents)
    return [(left + 2, top - 2), (right - 2, top - 2), ((left + right) / 2, bottom + 9)]


def pair(seed, *, lost=1, turn=2.0, px_per_mm=6.0, click_px=3.0):
    """(board, reference shot, photograph shot, landmarks on both, designators lost)."""
    rng = np.random.default_rng(seed)
    board = populated(rng)
    reference = photograph(board, px_per_mm, light=Light(seed=int(rng.integers(2**31))))
    gone = [f"Z{number + 1}" for number in rng.choice(len(board.parts), lost, replace=False)]
    light = Light(lamp=rng.uniform(0.6, 0.9), slope=rng.uniform(-0.3, 0.3), seed=int(rng.integers(2**31)))
    shift = (float(rng.uniform(-40, 40)), float(rng.uniform(-25, 25)))
    other = photograph(board, px_per_mm * rng.uniform(0.92, 1.08), turn, shift_px=shift, light=light, without=gone)
    clicks = [
        [tuple(np.array(shot.pixel(at)) + rng.normal(0, click_px, 2)) for at in landmark_points(board)]
        for shot in (reference, other)
    ]
    return board, reference, other, clicks, gone
