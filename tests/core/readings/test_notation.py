"""Shop notation: what is written is what is read, and what is none is refused."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.readings.notation import OL, Value, parse_value, shown, shown_number, typed


@pytest.mark.parametrize(
    ("text", "ohms"),
    [
        ("2.2k", 2200), ("2k2", 2200), ("0R47", 0.47), ("1.2M", 1_200_000), ("430m", 0.43), ("4M7", 4_700_000),
        ("220", 220), ("220R", 220), ("0", 0), (" 56 ", 56), (".5", 0.5), ("3K3", 3300), ("12u", 12e-6),
        ("1k02", 1020), ("2,2k", 2200),
    ],
)  # fmt: skip
def test_resistances(text, ohms):
    found = parse_value(text, "resistance")
    assert found.low == pytest.approx(ohms)
    assert found.high == found.low


@pytest.mark.parametrize("text", ["OL", "ol", "O.L"])
def test_over_limit(text):
    assert parse_value(text, "resistance") is OL
    assert OL.ol


def test_spans_have_both_ends_in_shop_notation():
    assert parse_value("12..55", "resistance") == Value(12, 55)
    assert parse_value("0R9..1k2", "resistance") == Value(0.9, 1200)
    assert parse_value("12..55", "resistance").span
    with pytest.raises(Refusal, match="smaller end first"):
        parse_value("55..12", "resistance")


@pytest.mark.parametrize(
    ("text", "volts"), [("450", 0.45), ("0.45", 0.45), ("450m", 0.45), ("3", 3), ("3.1", 0.0031), ("1", 1)]
)
def test_a_bare_number_over_3_in_diode_mode_is_millivolts(text, volts):
    assert parse_value(text, "diode").low == pytest.approx(volts)


def test_units_scale_and_signs_go_where_they_may():
    assert parse_value("100", "frequency", "MHz").low == 1e8
    assert parse_value("-12.1", "voltage").low == -12.1
    with pytest.raises(Refusal):
        parse_value("-5", "resistance")


@pytest.mark.parametrize(
    "text", ["", "k", "2k2k", "2kk", "1..2..3", "..", "12..", "abc", "1,2,3", "1.5,2", "nan", "9" * 50]
)
def test_what_is_no_value_is_refused(text):
    with pytest.raises(Refusal, match="expected"):
        parse_value(text, "resistance")


@given(st.integers(1, 9999), st.integers(-3, 6))
def test_what_is_shown_reads_back_as_the_same_figure(digits, power):
    number = digits * 10.0**power
    text = shown_number(number, "resistance").replace("Ω", "").replace(" ", "")
    assert parse_value(text, "resistance").low == pytest.approx(number, rel=1e-3)


@given(st.text(max_size=12))
def test_any_text_is_a_value_or_a_refusal(text):
    try:
        found = parse_value(text, "voltage")
    except Refusal:
        return
    assert found.ol or (found.low is not None and found.high is not None and found.low <= found.high)


def test_values_are_written_as_the_bench_writes_them():
    assert [shown_number(one, "resistance") for one in (2200, 0.47, 0.047, 212, 1e6, 0)] == [
        "2.2 kΩ", "0.47 Ω", "47 mΩ", "212 Ω", "1 MΩ", "0 Ω",
    ]  # fmt: skip
    assert shown(Value(12, 55), "resistance") == "12 Ω to 55 Ω"
    assert (shown(OL, "diode"), shown_number(0.45, "diode"), shown_number(38.5, "temperature")) == (
        "OL", "0.45 V", "38.5 °C",
    )  # fmt: skip


@given(st.floats(math.log(1e-3), math.log(1e8)).map(math.exp), st.sampled_from(["resistance", "diode", "voltage"]))
def test_what_a_meter_shows_is_typed_as_a_person_would_and_reads_back(value, quantity):
    text = typed(Value(value, value), quantity)
    assert parse_value(text, quantity).middle == pytest.approx(value, rel=6e-4)


@given(st.floats(0.01, 1e6), st.floats(1.2, 5.0))
def test_a_span_is_typed_with_its_ends_and_reads_back(low, factor):
    text = typed(Value(low, low * factor), "resistance")
    found = parse_value(text, "resistance")
    assert found.low == pytest.approx(low, rel=0.06)
    assert found.high == pytest.approx(low * factor, rel=0.06)
    assert typed(Value(None, None), "resistance") == "OL"


@pytest.mark.parametrize(
    ("text", "quantity", "read"),
    [
        ("1G", "resistance", 1e9),
        ("3R5", "diode", 3.5),  # a letter says that volts are meant
        ("0" * 39 + "7", "resistance", 7.0),  # forty characters
        ("12..12", "resistance", 12.0),
    ],
)
def test_what_may_be_typed(text, quantity, read):
    assert parse_value(text, quantity) == Value(read, read)


def test_what_is_longer_than_forty_characters_is_no_value():
    with pytest.raises(Refusal, match="a value such as"):
        parse_value("0" * 40 + "7", "resistance")


@pytest.mark.parametrize(
    ("span", "text"),
    [((12.34, 55.67), "12..56"), ((0.123, 0.456), "0.12..0.46"), ((12.0, 12.04), "12")],
)
def test_the_ends_of_a_span_are_typed_with_two_digits(span, text):
    assert typed(Value(*span), "resistance") == text
