"""Straightening: the four corners come to the picture's corners, whatever the camera did."""

from __future__ import annotations

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.look.straighten import straightening

SHIFT = st.floats(-60, 60)
CORNERS = st.tuples(*[st.tuples(SHIFT, SHIFT)] * 4).map(
    lambda moved: [
        (x + dx, y + dy)
        for (x, y), (dx, dy) in zip([(200, 200), (1400, 200), (1400, 800), (200, 800)], moved, strict=True)
    ]
)


def from_where(coefficients, x, y):
    a, b, c, d, e, f, g, h = coefficients
    below = g * x + h * y + 1
    return (a * x + b * y + c) / below, (d * x + e * y + f) / below


@given(CORNERS, st.sampled_from([None, 2.27, 1.5]))
def test_corners_come_to_corners(corners, aspect):
    (width, height), coefficients = straightening(corners, aspect)
    if aspect:
        assert width / height == pytest.approx(aspect, rel=0.01)
    for new, old in zip([(0, 0), (width, 0), (width, height), (0, height)], corners, strict=True):
        assert from_where(coefficients, *new) == pytest.approx(old, abs=1e-4)


@given(CORNERS)
def test_a_point_on_a_diagonal_stays_on_it(corners):
    (width, height), coefficients = straightening(corners)
    x, y = from_where(coefficients, width / 2, height / 2)
    (ax, ay), _, (cx, cy), _ = corners
    assert (x - ax) * (cy - ay) == pytest.approx((y - ay) * (cx - ax), abs=1.0)


@given(CORNERS, st.sampled_from([(3, 2, 1, 0), (0, 2, 1, 3), (1, 0, 3, 2)]))
def test_corners_in_another_order_are_refused(corners, order):
    assume(all(isinstance(corner, tuple) for corner in corners))
    with pytest.raises(Refusal, match="clockwise from the upper left"):
        straightening([corners[at] for at in order])
