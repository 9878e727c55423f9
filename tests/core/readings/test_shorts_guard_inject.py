"""Which part shorts the rails, what keeps power locked, how to inject, what a card believes it draws."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import board_from_document
from uvrix.core.readings.guard import blocks, first_blocks
from uvrix.core.readings.inject import injection
from uvrix.core.readings.known import Library
from uvrix.core.readings.notation import parse_value
from uvrix.core.readings.points import places_of
from uvrix.core.readings.reading_file import Observation, Reading
from uvrix.core.readings.sense import sense
from uvrix.core.readings.shorts import rail_verdicts, short_suspects
from uvrix.core.readings.verdict import judge

RAILS = ("in12", "5v0", "mem", "core", "1v8")
KINDS = ("power-stage", "converter", "capacitor", "diode")


def board(parts):
    import json

    document = json.loads((BOARDS / "teal-8.board.json").read_text())
    document["rails"] = [{"id": rail, "name": rail, "volts": 1} for rail in RAILS]
    document["parts"] = parts
    return board_from_document(document)


def random_parts(dice):
    return [
        {
            "designator": f"U{number}",
            "kind": dice.choice(KINDS),
            "side": "front",
            "rails": dice.sample(RAILS, dice.randint(1, 3)),
            "weight": dice.choice([1, 2, 3]),
        }
        for number in range(dice.randint(1, 14))
    ]


@given(st.integers(0, 10**6))
def test_suspects_stand_in_the_order_of_the_contract(seed):
    dice = random.Random(seed)
    verdicts = {rail: dice.choice(["short", "partial-short", "within", "low"]) for rail in RAILS}
    found = short_suspects(board(random_parts(dice)), verdicts)
    shorted = {rail for rail, verdict in verdicts.items() if verdict in {"short", "partial-short"}}
    healthy = {rail for rail, verdict in verdicts.items() if verdict == "within"}

    def rank(part):
        kind = {"power-stage": 0, "converter": 1}.get(part.kind, 2)
        return -len(shorted & set(part.rails)), len(healthy & set(part.rails)), kind, -part.weight

    ranks = [rank(suspect.part) for suspect in found]
    assert ranks == sorted(ranks)
    assert all(shorted & set(suspect.part.rails) for suspect in found)
    assert not found or sum(suspect.chance for suspect in found) == pytest.approx(1)
    chances = [suspect.chance for suspect in found]
    assert chances == sorted(chances, reverse=True)


PLACES = places_of(
    {"rails": [{"id": "in12", "points": ["C1"]}], "points": [{"id": "C1", "kind": "pad"}, {"id": "F1", "kind": "fuse"}]}
)


def reading(point, text, to="ground"):
    return Reading(point, "resistance", parse_value(text, "resistance"), "ohms", to)


@pytest.mark.parametrize(
    ("readings", "ticked", "blocking"),
    [
        ([], [], ["in12", "F1"]),
        ([reading("C1", "9k1")], ["F1"], []),
        ([reading("in12", "9k1")], [], ["F1"]),
        ([reading("in12", "99")], ["F1"], ["in12"]),
        ([reading("in12", "12..9k")], ["F1"], ["in12"]),
        ([reading("in12", "OL")], ["F1"], []),
        ([reading("in12", "9k1"), reading("C1", "3")], ["F1"], ["in12"]),
        ([reading("C1", "3"), reading("in12", "9k1")], ["F1"], ["in12"]),
        ([reading("in12", "9k1", to="across")], ["F1"], ["in12"]),
    ],
)
def test_power_stays_locked_until_every_input_is_read_and_every_fuse_ticked(readings, ticked, blocking):
    found = blocks({"in12": "Plug 1"}, ["F1"], readings, ticked, PLACES)
    assert [block.point for block in found] == blocking
    assert all(block.why.endswith(".") for block in found)


@given(st.floats(0.3, 20), st.floats(0, 100), st.one_of(st.none(), st.floats(0.3, 20)))
def test_injection_never_exceeds_what_it_may_reach(rail, ohms, lowest):
    found = injection(rail, ohms, lowest)
    assert 0 < found.volts <= min(1, rail, lowest or 1)
    assert found.watts == pytest.approx(found.volts * found.amps_limit)
    amps = min(found.amps_limit, found.volts / ohms) if ohms else found.amps_limit
    assert found.watts_in_short == pytest.approx(amps**2 * ohms)
    assert found.cautions


@given(st.floats(0.0005, 0.1), st.floats(1, 20), st.floats(0, 15), st.floats(-0.2, 0.2), st.floats(10, 300))
def test_reported_power_is_drop_by_shunt_by_rail(shunt, rail, high, drop, limit):
    found = sense(shunt, rail, high, high - drop, limit)
    assert found.amps == pytest.approx(drop / shunt, abs=1e-6 / shunt)
    assert found.plausible == (-3 * (1 + 1e-9) <= found.watts <= limit * (1 + 1e-9))


RAIL = places_of({"rails": [{"id": "in12", "points": ["C1"]}, {"id": "5v0", "points": ["C2"]}], "points": []})
FIVE = Library([Observation("teal-8", f"card {n}", reading("5v0", "5k")) for n in range(3)], RAIL)


@pytest.mark.parametrize(
    ("point", "readings", "blocked"),
    [
        ("C2", [], True),
        ("C2", ["5k"], False),
        ("C2", ["5k", "200"], True),
        # no good card stands behind it
        ("TP9", ["5k"], True),
        ("TP9", [], True),
        # an input is asked for by its guard, and where no good card is known the guard's word is enough
        ("C1", [], False),
        ("C1", ["5k"], False),
        ("C1", ["3"], False),
    ],
)
def test_a_pad_that_must_read_right_before_power(point, readings, blocked):
    judged = [judge(reading(point, text), FIVE, ["teal-8"]) for text in readings]
    found = first_blocks([point], ["in12"], judged, [], RAIL)
    assert [block.point for block in found] == ([point] if blocked else [])
    assert all(block.may_tick for block in found)
    assert first_blocks([point], ["in12"], judged, [point], RAIL) == ()


def test_a_rails_verdict_is_that_of_its_readings_to_ground():
    judged = [
        judge(one, FIVE, ["teal-8"])
        for one in (reading("5v0", "5k"), reading("C2/C1", "0.1", to="across"), reading("TP9", "1"), reading("C2", "2"))
    ]
    assert rail_verdicts(judged, RAIL) == {"5v0": "short"}
    assert rail_verdicts(judged[:3], RAIL) == {"5v0": "within"}
