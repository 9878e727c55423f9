"""The two sides of a board that nobody has drawn, laid over each other by three holes that go through it."""

from __future__ import annotations

import math
from collections.abc import Sequence

from uvrix.core.errors import Refusal
from uvrix.core.look.overlay import Affine, Point, affine_of
from uvrix.language import gettext


def through(front: Sequence[Point], back: Sequence[Point]) -> Affine:
    """Where a pixel of the front photograph lies on the back one, by the same three holes clicked on both.

    Raises Refusal where they are not three on each, lie nearly in a line, or go round the same way on both: seen from
    behind a board is mirrored, so that one of them was taken for another.
    """
    wide, other = _across(front), _across(back)
    # both as if photographed from equally near, so that holes in a line are judged alike
    scale = wide / other if other else 1.0
    size = math.ceil(wide) or 1
    found = affine_of(front, [(x * scale, y * scale) for x, y in back], (size, size))
    if _turn(front) * _turn(back) > 0:
        raise Refusal(
            "back",
            gettext("holes that go round as on the front"),
            gettext("the same three in the same order, seen mirrored"),
        )
    return Affine(*(value / scale for value in (found.a, found.b, found.c, found.d, found.e, found.f)))


def _across(holes: Sequence[Point]) -> float:
    """How far apart the holes are along the wider of the two directions, in pixels; 0 for none."""
    return max((abs(one[axis] - two[axis]) for one in holes for two in holes for axis in (0, 1)), default=0.0)


def _turn(holes: Sequence[Point]) -> float:
    """Twice the area of their triangle, its sign saying which way round they go."""
    (x1, y1), (x2, y2), (x3, y3) = holes
    return (x2 - x1) * (y3 - y1) - (x3 - x1) * (y2 - y1)
