"""The crosswise order: every screw once, each second one the most opposite of those left."""

from __future__ import annotations

import math

from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.teardown.recipe import crosswise

PLACE = st.tuples(st.integers(0, 300), st.integers(0, 120)).map(lambda xy: (float(xy[0]), float(xy[1])))


@given(st.lists(PLACE, max_size=12, unique=True))
def test_every_screw_is_tightened_once(places):
    assert sorted(crosswise(places)) == list(range(len(places)))


@given(st.lists(PLACE, min_size=4, max_size=12, unique=True))
def test_each_second_screw_lies_most_nearly_across(places):
    middle = (sum(x for x, _ in places) / len(places), sum(y for _, y in places) / len(places))

    def away(index, other):
        turn = [math.atan2(places[entry][1] - middle[1], places[entry][0] - middle[0]) for entry in (index, other)]
        apart = abs(turn[0] - turn[1]) % (2 * math.pi)
        return math.pi - min(apart, 2 * math.pi - apart)  # 0 where they lie straight across

    order = crosswise(places)
    for at in range(0, len(order) - 1, 2):
        best = min(away(order[at], other) for other in order[at + 1 :])
        assert away(order[at], order[at + 1]) <= best + 1e-6


@given(st.integers(3, 60), st.integers(3, 60), st.integers(0, 200), st.integers(0, 90))
def test_four_corners_go_by_their_diagonals(width, height, x, y):
    corners = [(x, y + height), (x + width, y + height), (x + width, y), (x, y)]
    assert crosswise([(float(a), float(b)) for a, b in corners]) == (0, 2, 1, 3)


def test_six_screws_go_pair_by_pair():
    ring = [(math.cos(turn), math.sin(turn)) for turn in (math.radians(90 - 60 * step) for step in range(6))]
    order = crosswise(ring)
    assert order[0] == 0
    assert [abs(order[at] - order[at + 1]) for at in (0, 2, 4)] == [3, 3, 3]
