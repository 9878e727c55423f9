"""The two sides of a board that nobody has drawn, laid over each other by three holes that go through it."""

from __future__ import annotations

from collections.abc import Sequence

from uvrix.core.errors import Refusal
from uvrix.core.look.overlay import Affine, Point, affine_of


def through(front: Sequence[Point], back: Sequence[Point]) -> Affine:
    """Where a pixel of the front photograph lies on the back one, by the same three holes clicked on both.

    Raises Refusal where they are not three on each, lie nearly in a line, or go round the same way on both: seen from
    behind a board is mirrored, so that one of them was taken for another.
    """
    across = (
        [max(hole[axis] for hole in front) - min(hole[axis] for hole in front) for axis in (0, 1)] if front else [0]
    )
    found = affine_of(front, back, (int(max(across)), int(max(across))))
    if _turn(front) * _turn(back) > 0:
        raise Refusal("back", "holes that go round as on the front", "the same three in the same order, seen mirrored")
    return found


def _turn(holes: Sequence[Point]) -> float:
    """Twice the area of their triangle, its sign saying which way round they go."""
    (x1, y1), (x2, y2), (x3, y3) = holes
    return (x2 - x1) * (y3 - y1) - (x3 - x1) * (y2 - y1)
