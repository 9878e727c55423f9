"""What may be wrong: chances that add to 1, the scenes of the two issues, and evidence that weighs as it should."""

from __future__ import annotations

import pytest
from hypothesis import given

from tests.core.boards.strategies import BOARDS
from tests.core.case.cards import RAILS, READ, Entry, did, facts, read, run, told
from tests.core.case.test_counts import ENTRIES
from uvrix.core.boards.document import read_board
from uvrix.core.case.belief.believe import believe
from uvrix.core.case.belief.start_up import as_believed
from uvrix.core.case.plan.order import plan

DEAD: Entry = {"symptom": ["dead"]}
LOOKED: Entry = {"looked": "all"}
SHORT = [read("L1", "0R4"), *READ[1:]]
MISSING: Entry = {"seen": {"kind": "missing-part", "part": "U62"}}
# 1.8 V and all that needs it is missing, and its enable too.
NO_1V8: list[Entry] = [
    {"power": "supply"},
    read("L1", "12", "voltage"),
    read("T1", "0.02", "voltage"),
    read("L2", "0.01", "voltage"),
]


def chances(*entries, **more):
    return {(cause["cause"], *cause["designators"]): cause["chance"] for cause in told(*entries, **more)["causes"]}


def first(*entries, **more):
    best = told(*entries, **more)["causes"][0]
    return best["cause"], *best["designators"]


def glow(part, off_x=0.5, off_y=0.3):
    thing = facts().things[part]
    assert thing.centre
    x, y = (float(coordinate) for coordinate in thing.centre)
    return {"glow": {"side": thing.side, "x_mm": x + off_x, "y_mm": y + off_y}}


FED: Entry = {"injected": {"point": "L1", "volts": 1, "amps": 2}}


@given(ENTRIES)
def test_chances_add_to_one_with_unknown(entries):
    found = believe(facts(*entries))
    assert sum(cause.chance for cause in found) == pytest.approx(1)
    assert all(cause.chance >= 0 for cause in found)
    assert found[-1].cause == "unknown" or found[0].cause == "unknown"
    ranked = [cause.chance for cause in found if cause.cause != "unknown"]
    assert ranked == sorted(ranked, reverse=True)


def test_where_nothing_is_wrong_nothing_is_suspected():
    assert chances() == {("unknown",): 1.0}
    assert chances(DEAD, LOOKED, *READ, *RAILS) == {("unknown",): 1.0}


def test_a_part_that_is_missing_explains_the_node_that_hangs_on_it():
    assert first(DEAD, MISSING, *READ, *RAILS, *NO_1V8) == ("missing", "U62")
    assert first(DEAD, LOOKED, *READ, *RAILS, *NO_1V8) == ("dead-part", "U62")


def test_a_warm_spot_names_the_part_of_the_fed_rail():
    assert first(DEAD, *SHORT, FED, glow("C2")) == ("short", "C2")
    found = chances(DEAD, *SHORT, FED, glow("C2"))
    assert found["short", "C2"] > 0.9
    # the same spot, while another rail was fed, blames nobody here
    other = chances(DEAD, *SHORT, {"injected": {"point": "L2", "volts": 1, "amps": 2}}, glow("C2"))
    assert other["short", "C2"] < 0.3


def test_it_glows_again_where_a_part_came_off():
    found = chances(DEAD, *SHORT, FED, glow("C2"), did("remove", "C2"), read("L1", "0R4"), FED, glow("C2", -0.6, 0.8))
    assert max(found, key=found.__getitem__) == ("layers", "C2")
    assert found["layers", "C2"] > 0.8


def test_a_reading_across_a_stages_own_pins_speaks_of_it_alone():
    both = [DEAD, *SHORT, read("L4", "0R02")]
    named = chances(*both, read("L1/L4", "0R05", to="U71"), read("L1/L5", "520", to="U72"))
    assert named["short", "U71"] > 0.9
    assert named["short", "U72"] < 0.05
    any_of = chances(*both, read("L1/L4", "0R05"))
    assert any_of["short", "U71"] == pytest.approx(any_of["short", "U72"], rel=0.01)
    # once U71 is off, the reading is void for U72 too
    off = chances(*both, read("L1/L4", "0R05"), did("remove", "U71"), read("L1", "0R4"))
    before = chances(*both, did("remove", "U71"), read("L1", "0R4"))
    assert off["short", "U72"] == pytest.approx(before["short", "U72"])


def test_a_short_that_left_with_a_part_is_no_short():
    found = chances(DEAD, *SHORT, did("remove", "C1"), READ[0])
    assert all(cause[0] not in {"short", "layers"} for cause in found)


def test_a_blown_fuse_beside_a_short_is_not_the_first():
    assert first(DEAD, read("L1", "0R4"), read("F1", "OL"), *READ[2:], FED, glow("C1")) == ("short", "C1")
    assert first(DEAD, read("F1", "OL"), READ[0], *READ[2:]) == ("open-fuse", "F1")


def test_a_part_replaced_without_effect_is_hardly_it():
    swapped = [
        *READ,
        *RAILS,
        *NO_1V8,
        did("swap", "U62"),
        *READ,
        read("L1", "12", "voltage"),
        read("T1", "0.02", "voltage"),
    ]
    before, after = chances(DEAD, LOOKED, *READ, *RAILS, *NO_1V8), chances(DEAD, LOOKED, *swapped)
    assert before["dead-part", "U62"] > 0.9
    assert after.get(("dead-part", "U62"), 0) < before["dead-part", "U62"]


def test_memory_by_the_runs_of_the_card_as_it_is():
    failed = run("fail", "cold", channel="B0", line=13)
    before = chances({"symptom": ["artefacts"]}, *READ, failed)
    assert before["chip-joint", "U13"] > before["chip", "U13"]
    cured = chances({"symptom": ["artefacts"]}, *READ, failed, did("reball", "U13"), run("pass", "cold"))
    assert max(cured, key=cured.__getitem__) == ("none",)
    again = chances({"symptom": ["artefacts"]}, *READ, failed, did("reball", "U13"), failed)
    assert again["chip", "U13"] > again["chip-joint", "U13"]
    swapped = chances({"symptom": ["artefacts"]}, failed, did("reball", "U13"), failed, did("swap", "U13"), failed)
    assert swapped["chip", "U13"] < 0.2


def test_a_finding_is_named_by_comparison_with_the_runs_before():
    failed, other = run("fail", "cold", channel="B0", line=13), run("fail", "cold", channel="A1", line=3)

    def said(*entries):
        return [warning for warning in told(*entries)["warnings"] if "failed before" in warning]

    assert said(failed) == []
    assert said(failed, did("reball", "U13")) == []
    assert said(failed, did("reball", "U13"), run("pass", "cold"))[0].startswith("Cured so far: U13")
    assert said(failed, did("reball", "U13"), failed)[0].startswith("The same: U13")
    assert said(failed, did("reball", "U13"), other)[0].startswith("Another fault: U13")


def test_a_lot_that_fails_here_raises_the_chip():
    failed, lot = run("fail", "cold", channel="B0", line=13), {"lot": {"site": "U13", "lot": "K 4471"}}
    shop = {"lots": [{"lot": "k4471", "failed": 9, "of": 24}]}
    plain = chances(failed, lot)
    assert chances(failed, lot, shop=shop)["chip", "U13"] > plain["chip", "U13"]


def test_a_trial_with_another_computer():
    absent = [{"symptom": ["not-listed"]}, *READ, {"rung": "absent"}]
    gone = {"trial": {"changed": "computer", "shows": False}}
    shows = {"trial": {"changed": "computer", "shows": True}}
    assert first(*absent, gone) == ("host",)
    assert chances(*absent, shows)["host",] < chances(*absent)["host",]


def test_every_cause_says_what_it_rests_on():
    for entries in ([DEAD, *SHORT, FED, glow("C2")], [DEAD, MISSING, *READ, *NO_1V8]):
        best = told(*entries)["causes"][0]
        assert best["why"]
        assert best["entries"]
        assert all(0 <= number < len(entries) for number in best["entries"])


@given(ENTRIES)
def test_the_nodes_of_the_map_have_the_chances_of_the_belief(entries):
    found = facts(*entries)
    if found.isolation is None or not found.isolation.suspects:
        return
    plain = found.isolation.suspects
    shown = as_believed(found, plain, believe(found))
    assert {suspect.node.id for suspect in shown} == {suspect.node.id for suspect in plain}
    assert sum(suspect.chance for suspect in shown) == pytest.approx(sum(suspect.chance for suspect in plain))
    assert [suspect.chance for suspect in shown] == sorted((suspect.chance for suspect in shown), reverse=True)


def test_what_was_seen_missing_leads_the_map_as_it_leads_the_belief():
    """The map alone cannot tell the enable from its converter; what Look saw can."""
    entries: list[Entry] = [
        DEAD,
        {"seen": {"kind": "missing-part", "part": "U50"}},
        *READ,
        *RAILS,
        NO_1V8[0],
        NO_1V8[3],
    ]
    found = facts(*entries)
    assert found.isolation
    before = {suspect.node.id: suspect.chance for suspect in found.isolation.suspects}
    shown = as_believed(found, found.isolation.suspects, believe(found))
    assert before["1v8"] < 0.9
    assert (shown[0].node.id, shown[0].chance > 0.95) == ("1v8", True)


def test_a_silent_clock_blames_its_crystal_the_cores_joints_and_a_cracked_corner_together():
    board = read_board((BOARDS / "scaup-24.board.json").read_bytes())
    nodes = {node["id"]: node for node in board.document["startup"]["nodes"]}
    there = [
        read(node["point"], f"{sum(node['volts']) / 2:g}", "voltage")
        for name, node in nodes.items()
        if node.get("point") and node["kind"] not in {"clock", "draw"} and name != "release"
    ]
    silent = {"reading": {"point": nodes["xtal"]["point"], "quantity": "frequency", "value": "0", "unit": "MHz"}}
    entries: list[Entry] = [DEAD, LOOKED, {"power": "supply"}, *there, silent]
    before = {(cause.cause, *cause.designators): cause.chance for cause in believe(facts(*entries, board=board))}
    assert before["dead-part", "Y1"] > before["core-joint", "U1"] > 0.1
    bond: Entry = {"seen": {"kind": "corner-bond", "part": "U1"}}
    after = {(cause.cause, *cause.designators): cause.chance for cause in believe(facts(bond, *entries, board=board))}
    assert after["core-joint", "U1"] > after["dead-part", "Y1"]
    other = did("swap", "Y1")
    replaced = believe(facts(*entries, other, *there, silent, board=board))
    assert next(cause for cause in replaced if cause.cause != "unknown").cause == "core-joint"
    assert ("reball", "U1") in [(step.do, step.target) for step in plan(facts(*GOOD_INPUTS, *entries, other, *there,
                                                                              silent, board=board))]  # fmt: skip


GOOD_INPUTS = [read("PA", "9k"), read("PB", "9k2"), read("C2", "8k1"), read("C8", "640"),
               *(read(fuse, "0R1") for fuse in ("F11", "F12", "F13"))]  # fmt: skip


def test_a_rail_so_low_that_two_leads_cannot_tell_a_short_is_blamed_for_one_until_it_was_fed():
    volts = [("L1", "12"), ("C41", "3.3"), ("T1", "3.3"), ("L2", "1.8"), ("L3", "1.35"), ("L4", "0.01")]
    missing: list[Entry] = [DEAD, LOOKED, *READ, *RAILS, {"power": "supply"}, *(read(*row, "voltage") for row in volts)]
    found = chances(*missing)
    assert sum(chance for cause, chance in found.items() if cause[0] == "short") > 0.2
    assert max(found.values()) < 0.9
    fed: Entry = {"injected": {"point": "L4", "volts": 0.5, "amps": 1}}
    cold: Entry = {"glow": None}
    assert not [cause for cause in chances(*missing, {"power": "off"}, fed, cold) if cause[0] == "short"]
    # where what it needs is missing, that is why
    without = [entry for entry in missing if entry != read("L3", "1.35", "voltage")]
    assert not [cause for cause in chances(*without, read("L3", "0.01", "voltage")) if cause[0] == "short"]


def test_a_supply_that_reads_right_under_power_is_hardly_what_memory_fails_by():
    failed: Entry = run("fail", "cold", channel="A0")
    lines = [30] * 32
    every = ("A0", "A1", "B0", "B1")
    failed["run"] |= {"errors": dict.fromkeys(every, 960), "dq": dict.fromkeys(every, lines)}
    so_far: list[Entry] = [{"symptom": ["artefacts"]}, *READ, {"power": "computer"}, {"rung": "picture"}, failed]

    def supply(*more):
        return sum(chance for cause, chance in chances(*so_far, *more).items() if cause[0] == "supply")

    assert supply() > 0.1
    assert supply(read("L3", "1.35", "voltage")) < 0.4 * supply()
    # where it reads low, what makes it is to blame
    assert first(*so_far, read("L3", "1.0", "voltage"))[0] == "dead-part"


@pytest.mark.parametrize("channels", [("A0", "A1"), ("A0", "B0"), ("A1", "B0", "B1"), ("B1",)])
def test_no_chip_without_an_error_is_suspected(channels):
    failed: Entry = run("fail", "cold", channel="A0")
    failed["run"] |= {"errors": dict.fromkeys(channels, 960), "dq": dict.fromkeys(channels, [30] * 32)}
    so_far: list[Entry] = [{"symptom": ["artefacts"]}, *READ, {"power": "computer"}, {"rung": "picture"}, failed]
    located = facts(*so_far).located
    assert located is not None
    erring = {site.place.site.designator for site in located.counts.sites if site.errors}
    assert len(erring) == len(channels)
    blamed = [names for cause, *names in chances(*so_far) if cause in {"chip", "chip-joint"}]
    assert {name for names in blamed for name in names} <= erring


def test_a_rail_that_does_not_come_up_and_was_never_read_cold_may_be_short():
    volts = [("L1", "12"), ("C41", "3.3"), ("T1", "3.3"), ("L2", "0.01")]
    live: list[Entry] = [{"power": "supply"}, *(read(*row, "voltage") for row in volts)]

    def short(*more):
        return sum(chance for cause, chance in chances(DEAD, LOOKED, *READ, *more).items() if cause[0] == "short")

    assert short(*live) > 0.2
    assert short(*RAILS, *live) == 0
    assert max(chances(DEAD, LOOKED, *READ, *live).values()) < 0.9
