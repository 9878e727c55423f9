"""Whether power is allowed: every scene in which it stayed unlocked by what was true no more."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.case.cards import READ, did, document, facts, read, told
from tests.core.case.test_counts import ENTRIES
from uvrix.core.boards.document import board_from_document
from uvrix.core.case.plan.order import plan
from uvrix.core.case.shop import Shop


def about(*entries, **more):
    return [block["about"] for block in told(*entries, **more)["power"]["blocks"]]


def test_every_input_read_and_every_fuse_ticked_or_read():
    assert about() == ["in12", "in3v3", "F1", "F2"]
    assert about(*READ) == []
    assert about(READ[0], READ[2], {"ticked": "F1"}, {"ticked": "F2"}) == []
    assert about(READ[0], READ[2], READ[1]) == ["F2"]


def test_whether_power_is_allowed_waits_for_nothing_that_the_shop_knows_beside_the_card():
    asked = []

    def shop():
        asked.append("shop")
        return Shop(school="reball-first")

    known = facts(*READ, shop=shop)
    assert (known.allowed, known.counted.void, asked) == (True, {}, [])
    assert plan(known) == plan(known) == plan(facts(*READ, shop={"school": "reball-first"}))
    assert asked == ["shop"]


@pytest.mark.parametrize(
    "act",
    [
        did("swap", "U71"),
        did("remove", "U72"),
        did("swap", "C1"),
        did("lift-coil", "L1"),
        did("solder-lead", "L1"),
        did("cut-layers", "C1"),
        did("swap", "F1"),
        did("renew-joint", "U50"),
        did("bake"),
    ],
)
def test_after_an_act_the_inputs_concerned_are_read_again(act):
    assert "in12" in about(*READ, act)
    assert about(*READ, act, *READ) == []
    if act["did"] != "bake":
        assert "in3v3" not in about(*READ, act)


def test_a_fuse_that_was_swapped_is_looked_at_again():
    ticked = [READ[0], READ[2], {"ticked": "F1"}, {"ticked": "F2"}]
    assert about(*ticked, did("swap", "F1"), READ[0]) == ["F1"]
    assert about(*ticked, did("swap", "C1"), READ[0]) == []


@pytest.mark.parametrize("point", ["RS1", "F1.1", "F1.2", "in12", "L1"])
def test_a_low_reading_anywhere_on_an_inputs_net_locks(point):
    assert about(*READ, read(point, "0R2", to="ground")) == ["in12"]


def test_one_point_that_reads_well_does_not_answer_for_another():
    assert about(*READ, read("RS1", "0R2", to="ground"), READ[0]) == ["in12"]
    assert about(*READ, read("RS1", "0R2", to="ground"), read("RS1", "4k2", to="ground")) == []
    assert about(read("in12", "0R2"), *READ) == []


def test_a_shorted_junction_locks_too():
    assert about(*READ, read("L1", "0.002", "diode")) == ["in12"]
    assert about(*READ, read("L1", "0.45", "diode")) == []


def test_a_span_that_dips_below_the_guard_locks():
    assert about(READ[1], *READ[2:], read("L1", "55..4k")) == ["in12"]


@pytest.mark.parametrize(
    "how", [read("F1", "OL"), read("F1", "OL", mode="continuity"), read("F1", "OL", "diode", to="across")]
)
def test_a_fuse_that_reads_open_is_not_good_by_a_tick(how):
    assert about(READ[0], *READ[2:], how, {"ticked": "F1"}) == ["F1"]


def test_a_sick_fuse_warns_and_does_not_lock():
    found = told(READ[0], *READ[2:], read("F1", "1.4"))
    assert found["power"]["allowed"]
    assert any("F1" in warning for warning in found["warnings"])


def test_inputs_are_those_of_the_map_where_no_rail_is_marked():
    rails = [{**rail, "input": False} for rail in document()["rails"]]
    board = board_from_document(document(rails=rails))
    assert about(board=board)[:2] == ["in12", "in3v3"]
    assert about(*READ, board=board) == []
    nothing = board_from_document(document(rails=[], startup={"nodes": []}))
    assert "inputs" in about(*READ, board=nothing)


def test_a_pad_that_must_read_first():
    points = [{**point, "first": point["id"] == "L2"} for point in document()["points"]]
    board = board_from_document(document(points=points))
    assert about(*READ, board=board) == ["L2"]
    assert about(*READ, read("L2", "160"), board=board) == []
    assert about(*READ, read("L2", "20"), board=board) == ["L2"]


def test_a_board_that_nobody_has_drawn():
    assert about(board=None) == ["slot 12 V", "slot 3.3 V"]
    good = [read("slot 12V", "5k"), read("slot 3.3 V", "700")]
    assert about(*good, board=None) == []
    assert about(*good, read("PL1", "0R4"), board=None) == ["PL1"]
    assert about(*good, did("swap", "U7"), board=None) == ["slot 12 V", "slot 3.3 V"]
    assert about(*good, did("contact-repaired", "B14"), board=None) == []


@given(ENTRIES, st.sampled_from(["U71", "U50", "C1", "F1", "U73"]))
def test_no_order_of_entries_unlocks_power_after_an_act_on_an_input(entries, site):
    assert not facts(*entries, did("swap", site)).allowed
    assert "in12" in about(*entries, did("swap", site))
