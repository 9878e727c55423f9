"""Files of readings: agreeing repeats, contradictions with both lines, every misfit by its line; the odd libraries."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.readings.known import Library
from uvrix.core.readings.notation import Value, parse_value, shown
from uvrix.core.readings.points import places_of
from uvrix.core.readings.reading_file import Observation, Reading, read_known, read_readings
from uvrix.core.readings.verdict import judge

PLACES = places_of(
    {
        "points": [{"id": "L1", "kind": "coil"}, {"id": "L2", "kind": "coil"}, {"id": "F1", "kind": "fuse"}],
        "rails": [{"id": "mem", "points": ["L1", "L2"]}],
        "startup": {"nodes": [{"id": "clk", "point": "Y1"}]},
    }
)
HEAD = "point,quantity,value,unit,mode,condition\n"


def readings(*rows, head=HEAD):
    return read_readings((head + "".join(f"{row}\n" for row in rows)).encode(), PLACES)


def test_agreeing_repeats_are_one_and_the_later_one_counts():
    [kept] = readings("L1,resistance,100,ohm,ohms,", "L2,resistance,104,ohm,ohms,")
    assert (kept.point, kept.value.middle) == ("L2", 104)
    assert len(readings("L1,resistance,100,ohm,ohms,", "L1,resistance,300,ohm,ohms,warm")) == 2
    assert len(readings("L1,resistance,100,ohm,ohms,", "L1,resistance,100,ohm,continuity,")) == 2
    pairs = readings("L1/F1,resistance,3,ohm,ohms,", "F1/L1,resistance,3.1,ohm,ohms,", "F1,resistance,0.1,ohm,ohms,")
    assert [(pair.point, pair.to) for pair in pairs] == [("F1/L1", "across"), ("F1", "across")]


@pytest.mark.parametrize(
    ("first", "second"),
    [("100", "106"), ("OL", "100"), ("100", "OL"), ("1..2", "1..2.4"), ("0.3", "0.6")],
)
def test_contradicting_repeats_name_both_lines(first, second):
    with pytest.raises(Refusal, match="of line 2") as refused:
        readings(
            f"L1,resistance,{first},ohm,ohms,", "F1,resistance,0.1,ohm,ohms,", f"mem,resistance,{second},ohm,ohms,"
        )
    assert refused.value.place == "4"


@pytest.mark.parametrize("second", ["104", "0.4k", "95.5"])
def test_near_values_do_not_contradict(second):
    usual = "0.38k" if second == "0.4k" else "100"
    assert len(readings(f"L1,resistance,{usual},ohm,ohms,", f"L1,resistance,{second},ohm,ohms,")) == 1


@pytest.mark.parametrize(
    ("row", "expected"),
    [
        (",resistance,1,ohm,ohms,", "a point"),
        ("X9,resistance,1,ohm,ohms,", "a point, rail or start-up node"),
        ("L1/L2/F1,resistance,1,ohm,ohms,", "or a pair"),
        ("L1,weight,1,ohm,ohms,", "resistance"),
        ("L1,resistance,1,V,ohms,", "ohm"),
        ("L1,resistance,1,ohm,diode,", "ohms or continuity"),
        ("L1,resistance,1x,ohm,ohms,", "a value such as"),
        ("L1,resistance,-1,ohm,ohms,", "a value such as"),
        ("L1,resistance,1..2..3,ohm,ohms,", "a value such as"),
        ("L1,resistance," + "1" * 60 + ",ohm,ohms,", "a value such as"),
        ("L1,resistance,1,ohm,ohms,,,", "as in the header"),
        ('L1,resistance,"1,ohm', "rows with commas"),
    ],
)
def test_what_does_not_fit_is_refused_by_its_line(row, expected):
    with pytest.raises(Refusal) as refused:
        readings("", "F1,resistance,0.1,ohm,ohms,", row)
    assert refused.value.place == "4"
    assert expected in refused.value.expected


@pytest.mark.parametrize(
    ("data", "expected"), [(b"", "the columns"), (b"point,value\n", "the columns"), (b"#x\n", "the")]
)
def test_a_file_without_its_header_is_refused(data, expected):
    with pytest.raises(Refusal, match=expected):
        read_readings(data, PLACES)


@pytest.mark.parametrize("row", [",card,L1,resistance,1,ohm", "teal-8,,L1,resistance,1,ohm"])
def test_a_good_card_has_its_model_and_its_name(row):
    head = "board,card,point,quantity,value,unit\nteal-8,A,L1,resistance,1,ohm\n"
    with pytest.raises(Refusal, match="the model's id and the card's own name") as refused:
        read_known(f"{head}{row}\n".encode(), PLACES)
    assert refused.value.place == "3"


@given(st.binary(max_size=200))
def test_bytes_are_read_or_refused_and_never_anything_else(data):
    for content in (data, HEAD.encode() + data):
        try:
            read_readings(content, PLACES)
        except Refusal as refusal:
            assert refusal.expected


@given(st.floats(0.001, 9e8))
def test_what_the_screen_shows_is_read_back_as_the_same(ohms):
    text = shown(Value(ohms, ohms), "resistance").replace("Ω", "").replace(" ", "")
    assert parse_value(text, "resistance").middle == pytest.approx(ohms, rel=6e-4)


def good(*values, quantity="resistance", mode="ohms", point="L1"):
    parsed = [parse_value(value, quantity) for value in values]
    return [
        Observation("teal-8", f"card {at}", Reading(point, quantity, value, mode, "ground"))
        for at, value in enumerate(parsed)
    ]


def said(text, observations, quantity="resistance", mode="ohms"):
    reading = Reading("L1", quantity, parse_value(text, quantity), mode, "ground")
    return judge(reading, Library(observations, PLACES), ["teal-8"])


def test_where_most_good_cards_are_open_over_limit_is_what_is_right():
    observations = good("OL", "OL", "4M", "OL")
    assert said("OL", observations).verdict == "within"
    low = said("2k", observations)
    assert (low.verdict, "four good cards read OL" in low.why) == ("low", True)


def test_things_that_may_be_nothing_or_below_it_have_a_band_too():
    """Negative rails and leakage currents have no logarithm."""
    observations = good("-5.02", "-4.98", "-5.01", "-5.00", quantity="voltage", mode="")
    found = said("-5.01", observations, "voltage", "")
    assert found.verdict == "within"
    assert found.reference
    assert found.reference.low < -5.02 < -4.98 < found.reference.high
    assert said("-3.9", observations, "voltage", "").verdict == "high"
    assert said("-5.6", observations, "voltage", "").verdict == "low"


def test_each_good_card_counts_once_however_often_it_was_read():
    dice = random.Random(77)
    observations = good("100", "102", "98")
    often = [
        *observations,
        *[Observation("teal-8", "card 0", observations[0].reading) for _ in range(dice.randint(5, 9))],
    ]
    assert said("101", often).reference == said("101", observations).reference


def test_a_remark_may_hold_commas():
    [read] = readings("#,L2,", "L1,resistance,12,ohm,ohms,", head=f"# read on Monday, warm\n{HEAD}")
    assert read.point == "L1"
