"""The start-up map: what is absent behind a dead node on maps in any order, states by band and unit, borrowed rails."""

from __future__ import annotations

import random
from decimal import Decimal
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.boards.model import Board, Core, Part, ProbePoint
from uvrix.core.errors import Refusal
from uvrix.core.readings.notation import Value, parse_value
from uvrix.core.readings.points import places_of
from uvrix.core.readings.reading_file import Reading
from uvrix.core.startup.chain import Chain, Measured, Node, chain_of, contradicted, states
from uvrix.core.startup.isolate import isolate

NODES = [
    {"id": "in12", "name": "Input 12 V", "volts": [11.4, 12.6], "point": "PL1", "parts": ["F1", "L1"]},
    {"id": "v5", "volts": [4.75, 5.25], "needs": ["in12"], "point": "L9"},
    {"id": "clk", "name": "Crystal", "kind": "clock", "volts": [26.9, 27.1], "needs": ["v5"], "point": "Y1"},
    {"id": "draw", "kind": "draw", "volts": [0.4, 2], "needs": ["clk"]},
]
RAILS = [
    {"id": "in12", "name": "Input 12 V", "volts": 12, "points": ["PL1", "C1"]},
    {"id": "minus", "volts": -5, "points": ["L7"]},
    {"id": "core", "volts": 1},
]


def board(**document):
    zero = (Fraction(0), Fraction(0))
    parts = tuple(
        Part(name, "", "front", None, "", (), Fraction(weight)) for name, weight in (("F1", "3"), ("L1", "1.5"))
    )
    points = tuple(
        ProbePoint(name, "front", None, "", "", "outside", Fraction(minutes), first=False)
        for name, minutes in (("PL1", "0.5"), ("L9", "2"))
    )
    core = Core("U1", zero, zero, "top-left")
    return Board("some-board", "Some board", "", (), core, (), points=points, parts=parts, document=document)


def read(point, text, quantity="voltage"):
    return Reading(point, quantity, parse_value(text, quantity), "", "ground")


@given(st.integers(0, 10**6), st.integers(1, 14))
def test_what_needs_a_dead_node_at_any_depth_is_absent_whatever_the_order_of_the_file(seed, many):
    dice = random.Random(seed)
    needs = {f"n{at}": [f"n{number}" for number in range(at) if dice.random() < 0.25] for at in range(many)}
    order = dice.sample(sorted(needs), many)
    chain = Chain(
        tuple(Node(name, name, "rail", tuple(needs[name]), 0, 1, None, 1.0, (), 1.0) for name in order), borrowed=False
    )
    for row, dead in enumerate(order):
        gone = {dead}
        while more := {name for name in order if name not in gone and gone & set(needs[name])}:
            gone |= more
        assert {order[column] for column in range(many) if chain.absent[row, column]} == gone


def test_a_map_far_deeper_than_the_stack_is_closed():
    many = 5000
    nodes = tuple(
        Node(f"n{at}", "", "rail", (f"n{at + 1}",) if at + 1 < many else (), 0, 1, None, 1.0, (), 1.0)
        for at in range(many)
    )
    absent = Chain(nodes, borrowed=False).absent
    assert absent[many - 1].all()
    assert absent[0].sum() == 1


def test_the_boards_map_gives_weights_of_parts_and_minutes_of_points():
    chain = chain_of(board(startup={"nodes": NODES}, rails=RAILS))
    assert not chain.borrowed
    first, second, clock, draw = chain.nodes
    assert (first.name, first.weight, first.minutes, first.parts) == ("Input 12 V", 4.5, 0.5, ("F1", "L1"))
    assert (second.name, second.kind, second.weight, second.minutes, second.needs) == ("v5", "rail", 1, 2, ("in12",))
    assert (clock.kind, clock.minutes, draw.point) == ("clock", 1, None)


def test_without_a_map_the_rails_stand_in_each_needing_the_one_before():
    chain = chain_of(board(rails=RAILS))
    assert chain.borrowed
    assert [(node.id, node.needs, node.point) for node in chain.nodes] == [
        ("in12", (), "PL1"), ("minus", ("in12",), "L7"), ("core", ("minus",), None),
    ]  # fmt: skip
    first, minus, _ = chain.nodes
    assert [first.low, first.high, first.minutes] == pytest.approx([10.8, 13.2, 0.5])
    assert [minus.low, minus.high] == pytest.approx([-5.5, -4.5])
    with pytest.raises(Refusal, match="neither a start-up map nor rails"):
        chain_of(board())


@pytest.mark.parametrize(
    ("reading", "node", "state", "over"),
    [
        (read("PL1", "11.4"), "in12", "present", False),
        (read("in12", "12.6"), "in12", "present", False),
        (read("C1", "12.1"), "in12", "present", False),
        (read("PL1", "11.39"), "in12", "missing", False),
        (read("PL1", "12.61"), "in12", "missing", True),
        (read("PL1", "11.2..12"), "in12", "missing", False),
        (read("PL1", "12.5..13"), "in12", "missing", False),
        (read("PL1", "OL"), "in12", "missing", False),
        (read("Y1", "27M", "frequency"), "clk", "present", False),
        (read("Y1", "27", "frequency"), "clk", "missing", False),
        (read("draw", "430m", "current"), "draw", "present", False),
        (read("draw", "2.5", "current"), "draw", "missing", True),
    ],
)
def test_a_nodes_state_is_its_reading_in_its_band_in_its_unit(reading, node, state, over):
    document = {"startup": {"nodes": NODES}, "rails": RAILS}
    found, warnings = states(chain_of(board(**document)), [reading], places_of(document))
    assert (found[node].state, found[node].over) == (state, over)
    assert {measurement.state for name, measurement in found.items() if name != node} == {"unknown"}
    assert bool(warnings) is over


@given(st.integers(1, 15_000), st.sampled_from([1, -1]))
def test_a_reading_right_at_the_end_of_its_band_is_present(thousandths, sign):
    """As people write them: a tenth of the volts, megahertz with two places."""
    volts, ten = Decimal(thousandths * sign) / 1000, Decimal("0.1")
    document = {"rails": [{"id": "rail", "volts": volts}]}
    clocks = {"startup": {"nodes": [{"id": "clk", "kind": "clock", "volts": [float(abs(volts)), 99]}]}}
    for whole, reading, node in (
        (document, read("rail", str(volts * (1 - ten))), "rail"),
        (document, read("rail", str(volts * (1 + ten))), "rail"),
        (clocks, Reading("clk", "frequency", parse_value(str(abs(volts)), "frequency", "MHz"), "", "ground"), "clk"),
    ):
        found, _ = states(chain_of(board(**whole)), [reading], places_of(whole))
        assert found[node] == Measured("present")


@pytest.mark.parametrize("reading", [read("PL1", "3", "resistance"), read("Y1", "1.2"), read("L99", "5")])
def test_a_reading_that_says_nothing_of_a_node_is_said(reading):
    document = {"startup": {"nodes": NODES}}
    found, [warning] = states(chain_of(board(**document)), [reading], places_of(document))
    assert {measurement.state for measurement in found.values()} == {"unknown"}
    assert warning == f"The reading of {reading.point} ({reading.quantity}) is of no node of the map."


def test_the_later_reading_of_a_node_counts():
    document = {"startup": {"nodes": NODES}}
    chain, places = chain_of(board(**document)), places_of(document)
    found, _ = states(chain, [read("PL1", "0.2"), read("in12", "12")], places)
    assert found["in12"].state == "present"


def test_what_is_read_is_never_inferred_and_what_is_inferred_is_never_said_as_read():
    """A rail that is missing makes those behind it likely missing; their state stays unknown."""
    document = {"startup": {"nodes": NODES}}
    chain = chain_of(board(**document))
    found = isolate(chain, [Reading("L9", "voltage", Value(0.1, 0.1), "", "ground")], places_of(document))
    assert {name: measurement.state for name, measurement in found.measured.items()} == {
        "in12": "unknown", "v5": "missing", "clk": "unknown", "draw": "unknown",
    }  # fmt: skip
    assert {suspect.node.id for suspect in found.suspects if suspect.chance > 0.01} == {"in12", "v5"}
    assert found.suspects[0].node.id == "in12", "its parts weigh more"


def test_a_lent_order_is_refuted_by_what_cannot_be():
    nodes = (
        Node("a", "12 V", "input", (), 11, 13, "a", 1, (), 1),
        Node("b", "5 V", "rail", ("a",), 4.8, 5.2, "b", 1, (), 1),
        Node("c", "1.8 V", "rail", ("b",), 1.7, 1.9, "c", 1, (), 1),
    )
    chain = Chain(nodes, borrowed=False, lender="Teal 8")

    def cannot(**volts):
        found = {node.id: Measured("unknown") for node in nodes} | {
            name: Measured(said) for name, said in volts.items()
        }
        return [(node.id, need.id) for node, need in contradicted(chain, found)]

    assert cannot(a="present", b="present") == []
    assert cannot(a="present", b="missing", c="missing") == []
    assert cannot(b="missing", c="present") == [("c", "b")]
    assert cannot(a="missing", b="present", c="present") == [("b", "a")]
