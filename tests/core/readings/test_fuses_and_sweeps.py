"""Fuses by what is read across them; a sweep before against one after."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.readings.test_limits import a_board
from tests.core.readings.test_verdicts import PLACES, RAILS, known, reading, value
from uvrix.core.readings.check import fuses_of
from uvrix.core.readings.fuses import fuse_state, judge_fuse
from uvrix.core.readings.known import Library
from uvrix.core.readings.notation import Value
from uvrix.core.readings.sweeps import CONVERTER_PAD, compare, thing_of
from uvrix.core.readings.verdict import judge

LIBRARY = Library(known("F1", "0R02", "0R03", "0R02"), PLACES)


def judged(point, ohms, **more):
    return judge(reading(point, ohms, **more), LIBRARY, ["teal-8"])


@pytest.mark.parametrize(
    ("ohms", "state"),
    [("0", "good"), ("0R05", "good"), ("0R29", "good"), ("0R5", "sick"), ("4R7", "sick"), ("OL", "blown")],
)
def test_a_fuse_is_good_sick_or_blown(ohms, state):
    one = judged("F1", ohms)
    found = fuse_state(one.reading)
    assert found is not None
    assert found.state == state
    assert fuse_state(one.reading) == found, "a figure of good cards never makes the limit narrower"


def test_only_a_reading_across_says_how_a_fuse_is():
    assert fuse_state(reading("F1", "0R02", to="ground")) is None


@pytest.mark.parametrize(
    ("readings", "state"),
    [
        ([], "unread"),
        ([("F1", "0.04", "diode")], "good"),
        ([("F1", "0.06", "diode")], "sick"),
        ([("F1", "OL", "diode")], "blown"),
        ([("F1", "0.049", "voltage")], "good"),
        ([("F1", "0.2", "voltage")], "sick"),
        ([("F1.1", "12.1", "voltage"), ("F1.2", "12.05", "voltage")], "good"),
        ([("F1.1", "12.1", "voltage"), ("F1.2", "11.5", "voltage")], "sick"),
        ([("F1.1", "12.1", "voltage"), ("F1.2", "0.4", "voltage")], "blown"),
        ([("F1.1", "12.1", "voltage")], "unread"),
        ([("F1.1", "0.01", "voltage"), ("F1.2", "0.02", "voltage")], "unread"),
        ([("F1", "1k", "resistance")], "blown"),
        ([("F1", "999", "resistance")], "sick"),
        ([("F1", "0R05", "resistance"), ("F1", "0.2", "voltage")], "sick"),
        ([("F1.1/F1.2", "OL", "resistance")], "blown"),
        ([("F2", "OL", "resistance")], "unread"),
    ],
)
def test_a_fuse_by_all_that_was_read_at_it_the_worst_stands(readings, state):
    made = [
        reading(point, value, quantity=quantity, mode={"diode": "diode", "resistance": "ohms"}.get(quantity, ""),
                to="ground" if point in {"F1.1", "F1.2"} else "across")
        for point, value, quantity in readings
    ]  # fmt: skip
    assert judge_fuse("F1", made).state == state


@given(st.lists(st.tuples(st.sampled_from(RAILS), st.floats(1, 1e4)), min_size=1, max_size=12))
def test_the_same_sweep_twice_changed_nothing(pairs):
    sweep = [judged(rail, value(ohms)) for rail, ohms in pairs]
    changes = compare(sweep, sweep, PLACES)
    assert {change.same for change in changes} == {True}
    assert len(changes) == len({rail for rail, _ in pairs})


@given(st.sampled_from(RAILS), st.floats(10, 1e4), st.floats(1.2, 50))
def test_a_rail_that_moved_is_told_first_with_both_values(rail, ohms, factor):
    others = [judged(name, value(100.0)) for name in RAILS if name != rail]
    changes = compare([*others, judged(rail, value(ohms))], [*others, judged(rail, value(ohms * factor))], PLACES)
    assert [change.same for change in changes] == [False, *[True] * len(others)]
    assert "became" in changes[0].says


def test_what_only_one_sweep_has_is_said():
    (change,) = compare([judged("r1", "40")], [], PLACES)
    assert (change.same, change.says) == (None, "40 Ω, read only before.")
    assert compare([], [judged("r1", "40")], PLACES)[0].says == "40 Ω, read only after."


def test_a_pad_of_a_lifted_coil_is_a_thing_of_its_own_and_warmth_is_not():
    whole, warm = reading("L-r1", "40"), reading("L-r1", "40", condition=frozenset({"warm"}))
    pad = reading("L-r1", "40", condition=frozenset({"coil lifted", CONVERTER_PAD}))
    assert thing_of(whole, PLACES) == thing_of(warm, PLACES) == thing_of(reading("r1", "41"), PLACES)
    assert thing_of(whole, PLACES) != thing_of(pad, PLACES)
    assert thing_of(whole, PLACES) != thing_of(reading("L-r1", Value(None, None), polarity="red"), PLACES)


@pytest.mark.parametrize(
    ("one", "other"),
    [
        (("12", "resistance", "ground"), ("12", "resistance", "ground")),
        (("12", "voltage", "across"), ("0.1", "voltage", "across")),
        (("12", "voltage", "ground"), ("OL", "voltage", "ground")),
        (("OL", "voltage", "ground"), ("12", "voltage", "ground")),
    ],
)
def test_the_ends_of_a_fuse_are_told_by_volts_to_ground(one, other):
    read = [reading(f"F1.{end}", text, quantity, "", to=to) for end, (text, quantity, to) in enumerate((one, other), 1)]
    assert judge_fuse("F1", read).state == "unread"


def test_every_fuse_of_a_board_is_asked_for_once():
    points = [{"id": "F1", "kind": "fuse"}, {"id": "L1", "kind": "coil"}]
    board = a_board([("F9", "fuse", {}), ("F1", "fuse", {}), ("C1", "capacitor", {})], points=points)
    assert [fuse.designator for fuse in fuses_of(board, [])] == ["F1", "F9"]
