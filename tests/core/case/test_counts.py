"""What still counts: docs/trade §8.1, and the card replayed."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.case.cards import BOARD, RAILS, READ, did, facts, read, run, told
from uvrix.core.case.entries import Did, Measured

ACTS = (
    "remove",
    "place",
    "swap",
    "reball",
    "renew-joint",
    "clean-pads",
    "lift-coil",
    "fit-coil",
    "solder-lead",
    "wire",
)


def void(*entries, **more):
    return {(entry["entry"], entry["by"]) for entry in told(*entries, **more)["void"]}


def test_an_act_voids_what_its_rails_read_and_nothing_else():
    assert void(*READ, *RAILS, did("remove", "C8")) == {(4, 7)}
    # the fuse lies on the input's net; the tick of a fuse that stays is no reading
    assert void(*READ, {"ticked": "F1"}, *RAILS, did("swap", "C1")) == {(0, 8), (1, 8)}
    assert void(*READ, *RAILS, did("swap", "U73")) == {(0, 7), (1, 7), (5, 7)}
    assert void(*READ, *RAILS, did("cooler-off"), did("contact-repaired", "B14")) == set()


def test_an_oven_voids_everything_that_was_measured():
    entries = [*READ, *RAILS, {"ticked": "F1"}, run("pass", "cold"), {"draw": {"volts": 12, "amps": 1}}, did("bake")]
    assert void(*entries) == {(number, 10) for number in range(10)}


def test_the_first_act_is_the_one_that_voids():
    assert void(read("L1", "0R4"), did("remove", "C1"), did("remove", "C2")) == {(0, 1)}


def test_volts_and_draw_of_whatever_needs_the_touched_one():
    volts = [read("L1", "12", "voltage"), read("T1", "3.3", "voltage"), read("L2", "1.8", "voltage")]
    volts += [read("L4", "0.9", "voltage"), {"draw": {"volts": 12, "amps": 1.1}}]
    # the gate has no rail: its enable and all that needs it are touched, what is before it is not
    assert void(*volts, did("swap", "U62")) == {(number, 5) for number in (1, 2, 3, 4)}
    assert void(read("C41", "3.3", "voltage"), *volts, did("swap", "U50")) >= {(3, 6), (4, 6), (5, 6)}
    assert (0, 6) not in void(read("C41", "3.3", "voltage"), *volts, did("swap", "U50"))
    # cold readings behind the gate stay
    assert void(*RAILS, did("swap", "U62")) == set()


def test_the_tick_of_a_fuse_goes_with_the_fuse():
    assert void({"ticked": "F1"}, {"ticked": "F2"}, did("swap", "F1")) == {(0, 2)}
    assert void({"ticked": "F1"}, did("swap", "C1")) == set()


def test_a_pair_is_void_once_a_stage_that_joins_the_two_is_touched():
    assert void(read("L1/L4", "0R1"), did("remove", "U71")) == {(0, 1)}
    assert void(read("L1/L4", "0R1"), did("remove", "U72")) == {(0, 1)}
    assert void(read("L1/L4", "0R1", to="U71"), did("swap", "C8")) == set()


def test_a_glow_speaks_of_the_rail_that_was_fed():
    glow = {"glow": {"side": "front", "x_mm": 140, "y_mm": 20}}
    fed = {"injected": {"point": "L1", "volts": 1, "amps": 2}}
    assert void(fed, glow, did("remove", "C1")) == {(1, 2)}
    assert void(fed, glow, did("remove", "C8")) == set()
    # a glow under power speaks of the inputs
    assert void({"power": "supply"}, glow, did("remove", "C1")) == {(1, 2)}
    assert void(fed, {"power": "off"}, glow, did("remove", "C1")) == {(2, 3)}
    closed = facts(read("L1", "0R4"), fed, glow, {"injected": {"point": "L1", "volts": 1, "amps": 2}})
    assert closed.glows == ()


@pytest.mark.parametrize(
    ("act", "ends"),
    [
        (did("reball", "U13"), True),
        (did("swap", "U1"), True),
        (did("swap", "U73"), True),
        (did("remove", "U71"), True),
        (did("swap", "C8"), False),
        (did("cooler-on"), False),
        (did("contact-repaired", "A7"), False),
        (did("bake"), True),
    ],
)
def test_a_run_counts_for_the_card_as_it_was(act, ends):
    assert ((0, 1) in void(run("fail", "cold", channel="B0", line=13), act)) is ends


def test_a_refusal_is_answered_by_a_later_run():
    refused = {"run": {"result": "refused", "refusal": "not-found", "condition": ["cold"]}}
    found = facts({"symptom": ["artefacts"]}, refused, run("pass", "cold"))
    assert found.located is not None
    assert found.located.finding.kind == "no-errors"


def card(*entries):
    return told(*entries)["card"]


def test_the_card_replayed():
    assert card(did("remove", "U71"), did("place", "U71"))["swapped"] == []
    assert card(did("remove", "U71"), did("place", "U71", chip="D3"))["swapped"] == ["U71"]
    assert card(did("swap", "U71"), did("remove", "U71"), did("place", "U71"))["swapped"] == ["U71"]
    assert card(did("remove", "U71"), did("swap", "U71")) | {"void": 0} == {
        **{name: [] for name in ("off", "missing", "lifted", "leads", "wires", "cut")},
        "swapped": ["U71"],
        "power": "off",
        "void": 0,
    }
    missing = {"seen": {"kind": "missing-part", "part": "U62"}}
    assert card(missing)["missing"] == ["U62"]
    assert card(missing, did("place", "U62")) == card(missing, did("swap", "U62"))
    assert card(missing, did("place", "U62"), did("remove", "U62"))["off"] == ["U62"]
    assert card(did("remove", "U72"), did("cut-layers", "U72"))["cut"] == ["U72"]
    assert card(did("cut-layers", "U72"), did("place", "U72"))["cut"] == ["U72"]
    assert card(did("lift-coil", "L4"), did("solder-lead", "L1"), did("wire", "C1"))["lifted"] == ["L4"]
    assert card(did("lift-coil", "L4"), did("fit-coil", "L4"))["lifted"] == []
    assert card({"power": "supply"})["power"] == "supply"


def test_what_is_not_on_the_card_cannot_come_off():
    missing = {"seen": {"kind": "missing-part", "part": "U62"}}
    found = told(missing, did("remove", "U62"))
    assert found["card"]["off"] == []
    assert found["card"]["missing"] == ["U62"]
    assert any("U62 is not on the card" in warning for warning in found["warnings"])


SITES = st.sampled_from(["U71", "U72", "U73", "U50", "U62", "C1", "C8", "U13", "U1", "F1", "L4", "B14"])
ENTRIES = st.lists(
    st.one_of(
        st.sampled_from([*READ, *RAILS, read("L1/L4", "0R1"), read("T1", "3.3", "voltage"), run("pass", "cold")]),
        st.sampled_from([{"ticked": "F1"}, {"draw": {"volts": 12, "amps": 1}}, {"looked": "all"}, {"power": "supply"}]),
        st.sampled_from([{"injected": {"point": "L1", "volts": 1, "amps": 1}}, {"glow": None}]),
        st.builds(did, st.sampled_from(ACTS), SITES),
    ),
    max_size=25,
)


@given(ENTRIES)
def test_what_was_void_stays_void_and_acts_alone_void(entries):
    before = {}
    for many in range(len(entries) + 1):
        counted = facts(*entries[:many]).counted.void
        assert {number: candidate.by for number, candidate in counted.items() if number in before} == before
        new = set(counted) - set(before)
        assert not new or "did" in entries[many - 1]
        assert all(counted[number].by == many - 1 and number < many - 1 for number in new)
        before = {number: candidate.by for number, candidate in counted.items()}


@given(ENTRIES, st.integers(0, 24))
def test_an_act_taken_back_voids_nothing_any_more(entries, place):
    """Without one act, what is void is void by another: nothing names the act that was taken back, or hangs on it."""
    acts = [number for number, entry in enumerate(entries) if "did" in entry]
    if not acts:
        return
    gone = acts[place % len(acts)]
    left = [entry for number, entry in enumerate(entries) if number != gone]
    by_others = {
        number - (number > gone) for number, candidate in facts(*entries).counted.void.items() if candidate.by != gone
    }
    void = facts(*left).counted.void
    assert by_others <= set(void)
    for number in set(void) - by_others:
        assert void[number].by >= gone, "only a later act can void what the one taken back had voided"


@given(ENTRIES)
def test_who_does_not_touch_a_reading_leaves_it(entries):
    """Each reading that is void shares a rail, net or node with the act that voided it, or needs one that does."""
    found = facts(*entries)
    for candidate in found.counted.void.values():
        act, what = found.entries[candidate.by].what, found.entries[candidate.entry].what
        assert isinstance(act, Did)
        if not isinstance(what, Measured) or not act.site:
            continue
        reading = what.reading
        touched = found.touches.of_site(act.site)
        reach = touched if reading.quantity in {"resistance", "diode"} else found.touches.behind(touched)
        assert reach & found.touches.of_reading(reading.point)


def test_every_name_of_the_board_touches_what_it_lies_on():
    touches = facts().touches
    assert touches.of_site("U71") == {"in12", "core"}
    assert touches.of_site("U50") == {"in12", "1v8"}
    assert touches.of_site("U62") == {"en_1v8"}
    assert touches.of_site("L4") == {"core"}
    assert touches.of_site("U13") == {"mem"}
    assert touches.of_site("U1") == {"core", "mem"}
    assert touches.of_site("B14") == {"B14"}
    assert touches.behind(frozenset({"en_1v8"})) == {"en_1v8", "1v8", "mem", "core"}
    assert set(touches.inputs) == {"in12", "in3v3"}
    assert BOARD.id == "grebe-4"
