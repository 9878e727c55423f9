"""Pinouts: pins counted round from pin 1, once each; refusals name what was found; markings in any spelling."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.boards.pinouts import key_of_marking, read_pinout
from uvrix.core.errors import Refusal

SIDES = st.tuples(*[st.integers(0, 12)] * 4).filter(any)
BASE = {"format": "uvrix-pinout", "version": 1, "marking": "GW7K", "sides": [4, 0, 4, 0]}


@given(SIDES)
def test_pins_go_round_counterclockwise_from_the_upper_left(sides):
    found = read_pinout({**BASE, "sides": list(sides)})
    assert [pin.pin for pin in found.pins] == list(range(1, sum(sides) + 1))
    assert [[pin.side for pin in found.pins].count(side) for side in ("left", "lower", "right", "upper")] == list(sides)
    for side, sign in (("left", -1), ("right", 1)):
        ys = [pin.y for pin in found.pins if pin.side == side]
        assert ys == sorted(ys, reverse=sign < 0)
    # seen from the middle, counted from the upper left corner, each lies farther round than the one before
    round_by = [(math.atan2(pin.y, pin.x) - 0.75 * math.pi) % (2 * math.pi) for pin in found.pins]
    assert all(one < other for one, other in pairwise(round_by))


@pytest.mark.parametrize(
    ("change", "found"),
    [
        ({"sides": [0, 0, 0, 0]}, "0 pins"),
        ({"sides": [4, 0, 4]}, "sides"),
        ({"pins": [{"pin": 9}]}, "pin 9"),
        ({"pins": [{"pin": 1}, {"pin": 1}]}, "pin 1 again"),
        ({"pins": [{"pin": 1, "use": "magic"}]}, "magic"),
        ({"marking": "  "}, "marking"),
    ],
)
def test_what_does_not_fit_is_refused_by_name(change, found):
    with pytest.raises(Refusal) as refused:
        read_pinout({**BASE, **change})
    assert found in str(refused.value)


@given(st.text("AbZ09", min_size=1, max_size=6))
def test_a_marking_is_found_whatever_its_case_and_gaps(marking):
    assert key_of_marking(f" {marking.lower()} ") == key_of_marking(" ".join(marking))
