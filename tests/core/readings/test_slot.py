"""The slot's contacts, and the width predicted with torn ones, against a plain count."""

from __future__ import annotations

import itertools
import random
from collections import Counter
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.boards.contacts import by_name, contact_at, contacts, lanes_of, spot_of
from uvrix.core.boards.document import read_board
from uvrix.core.readings.notation import Value
from uvrix.core.readings.slot import judge_contacts, pins, route, slot_context
from uvrix.core.virtual.pins import PinFault, Pins

TEAL = read_board((Path(__file__).parents[3] / "data/boards/teal-8.board.json").read_bytes())
LANE_CONTACTS = [contact.name for contact in contacts() if contact.kind == "lane"]


def read_all(faults=(), lanes=16, seed=1):
    """Every point of the route in diode mode, on a virtual card."""
    pins = Pins("teal-8", seed, [PinFault(kind, f"slot.{name}") for kind, name in faults])
    found = {}
    for point in route(lanes):
        where, name = point.split(".")
        volts = pins.contact(where, name).diode_v
        found[point] = Value(volts, volts)
    return found


def plain_width(bad, lanes):
    """Counted with fingers: from the first lane, then from the last."""
    best = (0, 0)
    for start, order in ((0, range(lanes)), (lanes - 1, range(lanes - 1, -1, -1))):
        run = 0
        for lane in order:
            if lane in bad:
                break
            run += 1
        width = max((number for number in (16, 8, 4, 2, 1) if number <= run), default=0)
        best = max(best, (width, -start))
    return best[0], -best[1]


def test_the_contacts_are_those_of_the_slot():
    kinds = Counter(contact.kind for contact in contacts())
    assert (len(contacts()), kinds["lane"], kinds["clock"], kinds["detect"]) == (164, 64, 2, 5)
    assert len({contact.name for contact in contacts()}) == 164
    # the halves of a pair are neighbours, and every pair has a ground on either side
    for lane in range(16):
        for pair in ("tx", "rx"):
            p, n = sorted(
                (contact for contact in contacts() if (contact.lane, contact.pair) == (lane, pair)),
                key=lambda contact: contact.number,
            )
            assert (p.half, n.half, n.number) == ("p", "n", p.number + 1)
            assert by_name()[f"{p.row}{p.number - 1}"].kind in {"ground", "detect", "signal", "reserved"}
            assert by_name()[f"{n.row}{n.number + 1}"].kind == "ground"
    assert by_name()["A13"].carries == "reference clock p"
    # a lane's contacts lie the farther from the bracket the higher its number
    first = [min(contact.number for contact in contacts() if contact.lane == lane) for lane in range(16)]
    assert first == sorted(first)


def test_contacts_lie_along_the_row_from_the_bracket_on():
    spots = {contact.name: spot for contact in contacts() if (spot := spot_of(TEAL, contact))}
    assert len(spots) == 164
    front = [spots[f"B{number}"][1] for number in range(1, 83)]
    assert front == sorted(front)
    assert {side for name, (side, _, _) in spots.items() if name[0] == "A"} == {"back"}
    # the same x on either side, and the row's whole length
    assert spots["A40"][1:] == spots["B40"][1:]
    assert front[0] == pytest.approx(82.5 - 42.5, abs=1)
    assert front[-1] == pytest.approx(82.5 + 42.5, abs=1)
    steps = {round(b - a, 3) for a, b in itertools.pairwise(front)}
    assert len(steps) == 2
    assert max(steps) == pytest.approx(3 * min(steps), abs=0.01)


def test_a_whole_card_trains_at_sixteen():
    said = slot_context(read_all(), {}, [], 16)
    assert (said.link.width, said.best_width, said.lanes_read, said.clock) == (16, 16, 16, "works")
    assert said.notes == ()


@given(st.sets(st.sampled_from(LANE_CONTACTS), max_size=4), st.sampled_from([4, 8, 16]), st.integers(0, 999))
def test_torn_and_open_contacts_cost_their_lanes(bad, lanes, seed):
    dice = random.Random(seed)
    torn = {name for name in bad if dice.random() < 0.5}
    faults = [("trace", name) for name in bad - torn]
    said = slot_context(read_all(faults, lanes, seed), {}, torn, lanes)
    lost = {lane for name in bad if (lane := by_name()[name].lane) is not None and lane < lanes}
    assert (said.link.width, said.link.start) == plain_width(lost, lanes)
    for name in torn:
        assert any(note.startswith(f"{name} is torn") for note in said.notes)
    assert {lane for lane, word in said.link.lanes.items() if word == "open"} == lost


def test_domain_example_lane_five_dead():
    b = next(contact.name for contact in contacts() if contact.lane == 5 and contact.pair == "rx")
    nothing_read = slot_context({}, {}, [b], 16)
    assert (nothing_read.link.width, nothing_read.lanes_read) == (0, 0)
    assert (nothing_read.best_width, nothing_read.best_start) == (8, 15)
    read = slot_context(read_all([("torn", b)]), {}, [b], 16)
    assert (read.link.width, read.link.start) == (8, 15)
    assert "From lane 0 5 lanes work (width 4)" in read.link.why
    assert f"5 torn ({b})" in read.link.why


@pytest.mark.parametrize(
    ("halves", "clock"),
    [
        ((0.41, 0.42), "works"),
        ((None, 0.42), "open"),
        ((0.02, 0.41), "short"),
        ((0.2, 0.41), "odd"),
        ((0.41,), "not read"),
    ],
)
def test_both_halves_of_the_clock_count(halves, clock):
    diode = {f"slot.A{13 + at}": Value(value, value) for at, value in enumerate(halves)}
    said = slot_context(diode, {}, [])
    assert said.clock == clock
    assert any("reference clock" in note for note in said.notes) == (clock not in {"works", "not read"})


def test_a_torn_clock_half_a_ground_and_what_a_capacitor_lets_through():
    diode = read_all() | {"slot.A16": Value(0.38, 0.38)}
    said = slot_context(diode, {"caps.A17": Value(3.0, 3.0)}, ["A13", "B4", "B2", "B17", "A50", "B14"])
    assert said.clock == "torn"
    words = "\n".join(said.notes)
    for part in (
        "No link trains",
        "A16 (lane 0 tx p) reads 0.38 V at the contact: its capacitor lets through",
        "The capacitor of A17 (lane 0 tx n) reads 3 Ω across: OL is right",
        "B4 is torn: one ground of many",
        "B2 is torn: one of the contacts for 12 V",
        "B17 is torn: present, one lane",
        "A50 is torn: it carries nothing",
        "B14 is torn: lane 0 (rx p)",
    ):
        assert part in words
    narrow = slot_context({}, {}, ["B50"], 8)
    assert "lane 8, which this board does not use" in narrow.notes[0]


def test_lanes_are_the_models_own():
    assert lanes_of(None) == 16
    assert lanes_of(TEAL) == TEAL.document.get("slot", {}).get("lanes", 16)
    assert len(route(4)) == 2 + 4 * 4


def test_a_click_on_the_row_names_its_contact():
    for contact in contacts():
        side, x, y = spot_of(TEAL, contact) or ("front", 0, 0)
        for off in (-0.4, 0.4):
            assert contact_at(TEAL, side, x + off, y + 3) == contact
    assert contact_at(TEAL, "front", 60.0, 50.0) is None


def test_contacts_are_judged_by_the_same_half_of_other_lanes():
    read = read_all([("trace", "B14"), ("leaky-line", "A21")])
    said = judge_contacts(read | {"slot.A16": Value(None, None), "slot.A17": Value(0.4, 0.4)})
    assert {point for point, judged in said.items() if judged.verdict not in {"within", "no-reference"}} == {
        *("slot.B14", "caps.A21", "slot.A17"),
    }
    assert (said["slot.B14"].verdict, said["caps.A21"].verdict, said["slot.A16"].verdict) == ("open", "low", "within")
    assert "rx p of 15 lanes" in said["slot.B19"].why
    assert "OL is right before the capacitor" in said["slot.A16"].why
    few = judge_contacts({"slot.B14": Value(0.4, 0.4), "slot.B4": Value(0.0, 0.0), "slot.A13": Value(0.4, 0.4)})
    assert {judged.verdict for judged in few.values()} == {"no-reference"}
    clock = judge_contacts({"slot.A13": Value(0.4, 0.4), "slot.A14": Value(0.1, 0.1)})
    assert (clock["slot.A13"].verdict, clock["slot.A14"].verdict) == ("high", "low")


def test_the_verdicts_of_contacts_and_lanes_agree():
    for seed in range(20):
        dice = random.Random(seed)
        faults = [(dice.choice(["trace", "leaky-line"]), name) for name in dice.sample(LANE_CONTACTS, 3)]
        read = read_all(faults, seed=seed)
        bad = {
            by_name()[p.split(".")[1]].lane for p, judged in judge_contacts(read).items() if judged.verdict != "within"
        }
        assert bad == {lane for lane, word in slot_context(read, {}, []).link.lanes.items() if word != "works"}


def test_what_may_be_read_at_the_slot():
    assert {where: len(names or ()) for where, names in pins().items()} == {"slot": 164, "caps": 32}


def test_a_board_of_eight_lanes_has_no_ninth():
    read = {point: value for point, value in read_all().items() if point.startswith("slot.")}
    lane_8 = next(contact for contact in contacts() if (contact.lane, contact.pair, contact.half) == (8, "rx", "p"))
    found = slot_context(read, {}, [lane_8.name], 8)
    assert set(found.link.lanes) == set(range(8))
    assert found.torn_lanes == {}
    assert any("lane 8, which this board does not use" in note for note in found.notes)
