"""A card whose board nobody has drawn: the bench plan judges, guards, hunts, isolates, and accuses nobody by itself."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from uvrix.core.case.answer import answer
from uvrix.core.case.case_file import case_from
from uvrix.core.case.facts import Facts
from uvrix.core.case.generic import Undrawn, judge_undrawn, nodes_of, order_of, read_plan, usual
from uvrix.core.case.usual_plan import DOCUMENTS, USUAL
from uvrix.core.errors import Refusal
from uvrix.core.readings.notation import Value
from uvrix.core.readings.reading_file import Reading


def ohms(point, value):
    return {"reading": {"point": point, "quantity": "resistance", "mode": "ohms", "unit": "ohm", "value": value}}


def volts(point, value):
    return {"reading": {"point": point, "quantity": "voltage", "unit": "V", "value": value}}


DEAD = [{"symptom": ["dead"]}, {"looked": "all"}]
INPUTS = [ohms("slot 12 V", "1k4"), ohms("slot 3.3 V", "420")]
ON = [*DEAD, *INPUTS, {"power": "supply"}, {"draw": {"volts": 12, "amps": 0.3, "limit": 2}}]
SHORT = [*DEAD, ohms("slot 12 V", "0.4"), ohms("slot 3.3 V", "420")]
FED = [*SHORT, {"injected": {"point": "slot 12 V", "volts": 0.5, "amps": 1.2}}]
WARM = [*FED, {"glow": {"side": "front", "x_mm": 100, "y_mm": 50}}]


def facts(*entries, **more):
    document = {"format": "uvrix-case", "version": 1, "board": None, "entries": list(entries)}
    return Facts(case_from(document, None), None, **more)


def steps(*entries, **more):
    return [(entry["do"], entry["target"]) for entry in answer(facts(*entries, **more))["next"]]


def first(*entries, **more):
    return steps(*entries, **more)[0]


@pytest.mark.parametrize("document", DOCUMENTS, ids=[document["id"] for document in DOCUMENTS])
def test_every_plan_that_ships_is_read_and_says_of_each_node_where_it_is_found(document):
    plan = read_plan(document)
    assert [node.id for node in plan.inputs][:2] == ["slot 12 V", "slot 3.3 V"]
    assert all(node.where and node.wrong and node.leads for node in plan.nodes)
    assert len({node.id for node in plan.nodes}) == len(plan.nodes)
    for node in plan.nodes:
        assert plan.meant(node.id) is node, "its own name means it and nothing before it"
        assert not (node.low_below or 0) < (node.short_below or 0)
    assert nodes_of(plan)[0]["volts"] == list(plan.nodes[0].volts or ())


@pytest.mark.parametrize(
    ("change", "place"),
    [
        ({"needs": ["core phases"]}, "$.nodes[0].needs"),
        ({"volts": [13.0, 11.0]}, "$.nodes[0].volts"),
        ({"id": "slot 3.3 V"}, "$.nodes[1].id"),
        ({"kind": "fuse"}, "$.nodes[0].kind"),
    ],
)
def test_a_plan_that_does_not_hold_together_is_refused_by_its_path(change, place):
    nodes = [{**USUAL["nodes"][0], **change}, *USUAL["nodes"][1:]]
    with pytest.raises(Refusal) as refusal:
        read_plan({**USUAL, "nodes": nodes})
    assert refusal.value.place == place


@pytest.mark.parametrize(
    ("name", "node"),
    [
        ("slot 12 V", "slot 12 V"),
        ("12V", "slot 12 V"),
        ("IN12", "slot 12 V"),
        ("B1", "slot 12 V"),
        ("slot 3.3 V", "slot 3.3 V"),
        ("3V3", "slot 3.3 V"),
        ("PL1", "plug 1"),
        ("plug 2", "plug 1"),
        ("1V8", "1.8 V"),
        ("Mem", "memory supply"),
        ("vcore", "core phases"),
        ("U73", None),
        ("C12", None),
    ],
)
def test_what_a_name_means(name, node):
    found = usual().meant(name)
    assert (found and found.id) == node


@pytest.mark.parametrize(
    ("point", "value", "verdict"),
    [
        ("slot 12 V", 9.99, "short"),
        ("slot 12 V", 10.0, "low"),
        ("slot 12 V", 99.9, "low"),
        ("slot 12 V", 100.0, "no-reference"),
        ("plug 1", 0.2, "short"),
        ("5 V", 0.99, "short"),
        ("5 V", 9.9, "low"),
        ("5 V", 10.0, "no-reference"),
        ("memory supply", 0.09, "short"),
        ("memory supply", 0.9, "low"),
        ("memory supply", 1.0, "no-reference"),
        ("core phases", 0.05, "no-reference"),
        ("1.8 V", 0.3, "no-reference"),
        ("U73", 0.3, "no-reference"),
    ],
)
def test_only_what_is_wrong_on_every_card_is_said(point, value, verdict):
    judged = judge_undrawn(Reading(point, "resistance", Value(value, value), "ohms", "ground"))
    assert judged.verdict == verdict
    assert judged.verdict != "within", "an order of magnitude is no band of good cards"


def test_an_order_of_magnitude_is_said_in_words():
    assert [order_of(each) for each in (0.2, 3, 30, 300, 3e3, 3e4, 3e5, 3e6)] == [
        "less than an ohm", "ohms", "tens of ohms", "hundreds of ohms", "kilohms", "tens of kilohms",
        "hundreds of kilohms", "megohms",
    ]  # fmt: skip


def test_the_inputs_are_asked_for_before_power_whatever_is_wrong():
    for entries in (DEAD, [{"symptom": ["artefacts"]}], [*DEAD, ohms("5 V", "0.3")], [*DEAD, ohms("F1", "OL")]):
        told = answer(facts(*entries))
        assert told["power"]["allowed"] is False
        at = [entry["do"] for entry in told["next"]]
        assert not {"power", "draw", "rung", "run"} & set(at)


@given(st.sets(st.sampled_from(["slot 12 V", "slot 3.3 V", "plug 1", "5 V", "1.8 V"])), st.booleans())
@settings(max_examples=40, deadline=None)
def test_power_is_allowed_by_the_slots_inputs_alone_and_never_with_one_low(read, short):
    entries = [*DEAD, *(ohms(point, "1k4") for point in sorted(read))]
    allowed = answer(facts(*entries))["power"]["allowed"]
    assert allowed == ({"slot 12 V", "slot 3.3 V"} <= read)
    if short:
        assert answer(facts(*entries, ohms("plug 2", "0.3")))["power"]["allowed"] is False


def test_a_short_is_fed_seen_named_taken_off_and_replaced():
    assert first(*SHORT) == ("inject", "slot 12 V")
    assert first(*FED) == ("glow", "slot 12 V")
    assert first(*WARM) == ("look", "all")
    named = [*WARM, {"seen": {"kind": "burn", "part": "Q7"}}]
    assert first(*named) == ("remove", "Q7")
    off = [*named, {"did": "remove", "site": "Q7"}]
    assert [target for do, target in steps(*off)] == ["slot 12 V", "slot 3.3 V"], "nothing goes back before it is read"
    assert first(*off, *INPUTS) == ("swap", "Q7")
    still = [*off, ohms("slot 12 V", "0.4"), ohms("slot 3.3 V", "420")]
    assert ("place", "Q7") in steps(*still)
    assert first(*still) == ("inject", "slot 12 V"), "it was not the one: fed again"


def test_a_part_marked_by_the_warm_spot_is_named_without_a_word():
    beside = Undrawn(marked={"Q7": ("front", 101.0, 51.0), "Q9": ("front", 160.0, 51.0), "Q8": ("back", 100.0, 50.0)})
    assert first(*WARM, undrawn=beside) == ("remove", "Q7")


def test_a_missing_supply_is_followed_to_its_place_and_its_parts():
    missing = [*ON, volts("12 V", "12.1"), volts("slot 3.3 V", "3.3"), volts("5 V", "5.0"), volts("1.8 V", "0.0")]
    told = answer(facts(*missing))
    assert told["causes"][0]["cause"] == "dead-part"
    assert told["causes"][0]["designators"] == [], "nobody named its parts"
    assert told["causes"][0]["chance"] < 0.95, "the order is lent"
    assert ("look", "1.8 V") in steps(*missing)
    looked = [*missing, {"looked": "1.8 V"}]
    assert {("read", "1.8 V supply"), ("read", "1.8 V enable")} <= set(steps(*looked))
    both = [*looked, volts("1.8 V supply", "5"), volts("1.8 V enable", "3.3"), {"power": "off"}, ohms("1.8 V", "90")]
    assert ("swap", "1.8 V converter") in steps(*both)
    named = Undrawn(parts={"1.8 V": ("U501",)})
    causes = answer(facts(*missing, undrawn=named))["causes"]
    assert next(cause["designators"] for cause in causes if cause["cause"] == "dead-part") == ["U501"]
    assert ("look", "U501") in steps(*missing, undrawn=named)


def test_a_point_clicked_for_a_node_is_of_that_node_whatever_it_is_called():
    entries = [*ON, volts("12 V", "12"), volts("slot 3.3 V", "3.3"), volts("5 V", "5"), volts("P4", "0.0")]
    assert answer(facts(*entries))["causes"][0]["cause"] == "unknown"
    clicked = Undrawn(nodes={"P4": "1.8 V"})
    assert answer(facts(*entries, undrawn=clicked))["causes"][0]["cause"] == "dead-part"


def test_a_blown_fuse_is_two_nets_and_is_replaced_once_both_sides_read_right():
    blown = [*DEAD, *INPUTS, ohms("F1.1/F1.2", "OL")]
    assert answer(facts(*blown))["causes"][0] == {
        **answer(facts(*blown))["causes"][0], "cause": "open-fuse", "designators": ["F1"],
    }  # fmt: skip
    assert steps(*blown)[:2] == [("read", "F1.1"), ("read", "F1.2")]
    assert first(*blown, ohms("F1.1", "9k"), ohms("F1.2", "8k")) == ("swap", "F1")
    behind = [*blown, ohms("F1.1", "9k"), ohms("F1.2", "0.3")]
    assert first(*behind) == ("inject", "F1.2"), "what is short behind it comes first, or the next one blows"
    assert answer(facts(*behind))["power"]["allowed"] is False
    assert "open-fuse" not in {
        cause["cause"] for cause in answer(facts(*DEAD, *INPUTS, ohms("F1.1/F1.2", "0.02")))["causes"]
    }


def test_where_nothing_is_wrong_nobody_is_suspected():
    causes = answer(facts(*ON, volts("12 V", "12"), volts("1.8 V", "1.8")))["causes"]
    assert [cause["cause"] for cause in causes] == ["unknown"]
