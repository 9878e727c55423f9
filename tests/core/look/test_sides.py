"""The sides of a board laid over each other by three holes: exact where the photographs are, mirrored, or refused."""

from __future__ import annotations

import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.look.sides import through

PX = st.floats(0, 4000)
HOLES = st.lists(st.tuples(PX, PX), min_size=3, max_size=3)


def behind(point, turn, scale, shift):
    """A pixel of the front as the back's photograph shows it: mirrored, turned, nearer or farther."""
    x, y = -point[0], point[1]
    cos, sin = math.cos(turn), math.sin(turn)
    return scale * (x * cos - y * sin) + shift[0], scale * (x * sin + y * cos) + shift[1]


@given(HOLES, st.tuples(PX, PX), st.floats(-3, 3), st.floats(0.3, 3), st.tuples(PX, PX))
def test_any_point_lies_where_the_back_shows_it(front, point, turn, scale, shift):
    back = [behind(hole, turn, scale, shift) for hole in front]
    try:
        found = through(front, back)
    except Refusal as refusal:
        assume("line" not in refusal.found and "line" not in refusal.expected)
        raise
    assert found.place(point) == pytest.approx(behind(point, turn, scale, shift), abs=0.5)
    assert found.inverse.place(found.place(point)) == pytest.approx(point, abs=0.5)


FRONT = [(100.0, 100.0), (2000.0, 120.0), (1900.0, 900.0)]
BACK = [behind(hole, 0.1, 1.1, (2500, 50)) for hole in FRONT]


@pytest.mark.parametrize(
    ("front", "back", "found"),
    [
        (FRONT[:2], BACK, "2 and 3"),
        (FRONT, [*BACK, BACK[0]], "3 and 4"),
        (FRONT, [BACK[1], BACK[0], BACK[2]], "round as on the front"),
        ([(0, 0), (1000, 10), (2000, 15)], BACK, "in line"),
        (FRONT, [(5, 5)] * 3, "in line"),
    ],
)
def test_what_cannot_be_is_refused(front, back, found):
    with pytest.raises(Refusal) as refusal:
        through(front, back)
    assert found in refusal.value.found
