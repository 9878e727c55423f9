"""Shares in words: what is said is the nearest hundredth, and a larger share never sounds smaller."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.values.words import percent


def said(share):
    number, sign = percent(share).split("\N{NO-BREAK SPACE}")
    assert sign == "%"
    return int(number)


@pytest.mark.parametrize("hundredths", range(101))
def test_whole_hundredths_are_said_as_they_are(hundredths):
    assert said(hundredths / 100) == hundredths


@given(st.floats(0, 1), st.floats(0, 1))
def test_the_nearest_hundredth_is_said_and_order_is_kept(one, other):
    assert abs(said(one) - 100 * one) <= 0.5 + 1e-9
    assert (said(one) - said(other)) * (one - other) >= 0
