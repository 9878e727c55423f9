"""The proof: evidence after the last act of any kind, and no pass by what cannot fail."""

from __future__ import annotations

import pytest

from tests.core.case.cards import BOARD, RAILS, READ, did, document, facts, read, run, told
from uvrix.core.boards.document import board_from_document
from uvrix.core.case.facts import Facts

DRAWS = document()["startup"]["nodes"] + [
    {"id": "idle", "kind": "draw", "volts": [0.8, 1.4], "needs": ["core"], "point": "L1"}
]
DRAWN = board_from_document(document(startup={"nodes": DRAWS}))


def state(check, *entries, **more):
    return next(entry for entry in told(*entries, **more)["proof"]["checks"] if entry["check"] == check)["state"]


def test_it_begins_after_the_last_act_wherever_it_was_entered():
    assert told(*READ)["proof"]["since"] is None
    for act in (did("reball", "U13"), did("write", "U50"), did("cut-layers", "C1"), did("cooler-on"), did("bake")):
        assert told(*READ, act, *READ)["proof"]["since"] == 4


def test_readings_from_before_the_repair_prove_nothing():
    assert state("readings", *READ, *RAILS) == "passed"
    assert state("readings", *READ, *RAILS, did("swap", "C8")) == "open"
    assert state("readings", *READ, *RAILS, did("swap", "C8"), *READ) == "passed"
    assert state("readings", *READ, did("swap", "C8"), *READ, read("L2", "20")) == "failed"


def test_no_reference_is_no_pass():
    bare = Facts(facts(*READ, *RAILS).case, BOARD)
    check = next(proof_check for proof_check in bare.proof.checks if proof_check.check == "readings")
    assert check.state == "open"
    assert state("readings", {"checked": {"check": "readings", "passed": True}}) == "open"


def test_a_reading_a_little_outside_may_be_judged_right_by_hand():
    high = [*READ[1:], read("L1", "4k9")]
    assert state("readings", *high) == "failed"
    assert state("readings", *high, {"checked": {"check": "readings", "passed": True}}) == "passed"
    short = [*READ, read("L2", "0R4"), {"checked": {"check": "readings", "passed": True}}]
    assert state("readings", *short) == "failed"


@pytest.mark.parametrize(("amps", "expected"), [(0.09, "failed"), (0.5, "failed"), (1.1, "passed"), (3.0, "failed")])
def test_the_draw_against_the_models_own(amps, expected):
    draw = {"draw": {"volts": 12, "amps": amps, "limit": 5}}
    assert state("current", draw, board=DRAWN) == expected
    assert state("current", draw) == "open", "without an idle figure no draw is a pass"
    assert state("current", {"draw": {"volts": 9, "amps": amps, "limit": amps}}, board=DRAWN) in {"open", expected}


def test_a_rung_below_the_top_is_open_while_the_cooler_is_off():
    assert state("ladder", {"rung": "picture"}) == "failed"
    assert state("ladder", did("cooler-off"), {"rung": "picture"}) == "open"
    assert state("ladder", did("cooler-off"), {"rung": "3d"}) == "passed"
    assert state("ladder", {"rung": "3d"}, did("swap", "C8")) == "open"


def test_memory_by_condition_and_a_refusal_answered():
    refused = {"run": {"result": "refused", "refusal": "not-found", "condition": ["cold"]}}
    assert state("memory-cold", run("pass", "cold")) == "passed"
    assert state("memory-warm", run("pass", "cold")) == "open"
    assert state("memory-cold", run("fail", "cold", channel="B0")) == "failed"
    assert state("memory-cold", refused) == "open"
    assert state("memory-cold", refused, run("pass", "cold")) == "passed"
    assert state("memory-cold", run("pass", "cold"), refused) == "passed"
    assert state("memory-cold", run("pass", "cold"), did("reball", "U13")) == "open"


def test_what_is_said_by_hand():
    assert state("fans", {"checked": {"check": "fans", "passed": True}}) == "passed"
    assert state("fans", {"checked": {"check": "fans", "passed": False}}) == "failed"
    assert state("fans", {"checked": {"check": "fans", "passed": True}}, did("cooler-on")) == "open"
    assert state("ladder", {"rung": "3d"}, {"checked": {"check": "ladder", "passed": False}}) == "failed"


def owed(*entries):
    return {(debt["what"], debt["target"], debt["since"]) for debt in told(*entries)["owed"]}


def test_what_is_owed_before_the_card_leaves():
    assert owed(*READ, *RAILS, did("remove", "C8")) == {("fit", "C8", 7)}
    assert owed(did("solder-lead", "L2"), did("lift-coil", "L4")) == {("unsolder", "L2", 0), ("refit-coil", "L4", 1)}
    assert owed(did("solder-lead", "L2"), did("unsolder-lead", "L2")) == set()
    assert owed(did("cooler-off")) == {("cooler", "cooler", 0)}
    assert owed({"seen": {"kind": "missing-part", "part": "U62"}}) == {("fit", "U62", 0)}
    assert owed(did("remove", "U72"), did("cut-layers", "U72")) == {("tell", "U72", 1)}
    assert owed(did("contact-repaired", "B14")) == {("tell", "B14", 0)}
    assert ("read", "in12", 4) in owed(*READ, did("swap", "U71"))
    assert owed(*READ, did("swap", "C8"), *READ) == set()
