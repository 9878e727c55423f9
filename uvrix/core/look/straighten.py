"""Straightening a photograph: the board's four corners say how it was held, so it is seen from straight above again."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from uvrix.core.errors import Refusal
from uvrix.language import gettext

Point = tuple[float, float]
LONGEST_PX = 4000
# A quadrilateral thinner than this, as a share of its longest side, is a slip of the hand.
LEAST_SHARE = 0.02


def straightening(corners: Sequence[Point], aspect: float | None = None) -> tuple[tuple[int, int], tuple[float, ...]]:
    """Size of the straightened picture and the eight coefficients that take its pixels to the photograph's.

    `corners` are the board's on the photograph, clockwise from the upper left; `aspect` is width by height where it is
    known, else it is taken from the sides' lengths. A new pixel (x, y) comes from
    ((a x + b y + c) / (g x + h y + 1), (d x + e y + f) / (g x + h y + 1)).
    Raises Refusal where the corners do not go round clockwise or enclose next to nothing.
    """
    _check(corners)
    top, right, bottom, left = (math.dist(corners[at], corners[(at + 1) % 4]) for at in range(4))
    width, height = max(top, bottom), max(left, right)
    if aspect is not None:
        height = width / aspect
    scale = min(1.0, LONGEST_PX / max(width, height))
    size = (max(1, round(width * scale)), max(1, round(height * scale)))
    new = [(0.0, 0.0), (float(size[0]), 0.0), (float(size[0]), float(size[1])), (0.0, float(size[1]))]
    rows, target = [], []
    for (x, y), (u, v) in zip(new, corners, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        target += [u, v]
    found = np.linalg.solve(np.array(rows, dtype=float), np.array(target, dtype=float))
    return size, tuple(float(entry) for entry in found)


def _check(corners: Sequence[Point]) -> None:
    expected = gettext("the board's four corners, clockwise from the upper left")
    longest = max(math.dist(corners[at], corners[(at + 1) % 4]) for at in range(4))
    for at in range(4):
        (ax, ay), (bx, by), (cx, cy) = (corners[(at + step) % 4] for step in range(3))
        # y runs down on a picture, so a turn to the right is above 0
        if (bx - ax) * (cy - by) - (by - ay) * (cx - bx) <= (LEAST_SHARE * longest) ** 2:
            raise Refusal("corners", gettext("corners that do not go round the board"), expected)
