"""Dates and amounts as a shop writes them."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.values.writing import written_amount, written_day
from uvrix.core.worth.worth import Money


@pytest.mark.parametrize(
    ("style", "text"), [("day-month", "4 Sep 2031"), ("month-day", "Sep 4, 2031"), ("iso", "2031-09-04")]
)
def test_a_day(style, text):
    assert written_day(date(2031, 9, 4), style) == text
    assert Money(dates=style).day(date(2031, 9, 4)) == text


@pytest.mark.parametrize(
    ("amount", "point", "comma"),
    [(120, "120", "120"), (1234.5, "1,234.50", "1.234,50"), (0.05, "0.05", "0,05"), (-40, "-40", "-40")],
)
def test_an_amount(amount, point, comma):
    assert (written_amount(amount, "point"), written_amount(amount, "comma")) == (point, comma)
    assert Money("thalers", decimal="comma").amount(amount) == f"{comma} thalers"


def test_a_rounded_amount_has_no_hundredths():
    assert (Money().rounded(1234.6), Money(decimal="comma").rounded(1234.6)) == ("1,235", "1.235")


@given(st.floats(-1e9, 1e9))
def test_the_two_signs_say_the_same_amount(amount):
    comma = written_amount(amount, "comma")
    assert comma.replace(".", "").replace(",", ".") == written_amount(amount, "point").replace(",", "")
