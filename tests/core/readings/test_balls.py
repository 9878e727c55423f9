"""Balls judged by their fellows, and what lifting says, against virtual chips whose faults are known."""

from __future__ import annotations

import random
from collections import Counter
from pathlib import Path

import pytest

from tests.conftest import THOROUGH
from uvrix.core.boards.document import read_board
from uvrix.core.boards.packages import read_package
from uvrix.core.readings.balls import Kinds, judge_balls, strangers
from uvrix.core.readings.lifting import Answer, after_lifting
from uvrix.core.readings.notation import Value
from uvrix.core.readings.reading_file import Reading
from uvrix.core.virtual.pins import PIN_KINDS, Line, PinFault, PinKind, Pins, parse_pin_fault

DATA = Path(__file__).parents[3] / "data"
TEAL = read_board((DATA / "boards/teal-8.board.json").read_bytes())
FB180 = read_package((DATA / "packages/fb180.csv").read_bytes(), "fb180")
CHIPS = [site.designator for site in TEAL.sites]
LINES = frozenset(FB180.lines.values())
KINDS = Kinds(dict.fromkeys(CHIPS, "fb180"), dict.fromkeys(CHIPS, LINES))
# What lifting must say of each fault.
TRUTH: dict[PinKind, Answer] = {
    "joint": "joint",
    "dead-pin": "chip",
    "leaky-pin": "chip",
    "trace": "board",
    "leaky-line": "board",
}


def bench(dice, pins, chips, balls, *, state=""):
    """Diode readings of some balls of some chips, with a meter's noise."""
    condition = frozenset({state} if state else ())
    found = []
    for chip in chips:
        for ball in balls:
            volts = pins.line(chip, ball, "fb180", alone=state == "chip alone").diode_v
            read = None if volts is None else volts + dice.gauss(0, 0.001)
            found.append(Reading(f"{chip}.{ball}", "diode", Value(read, read), "diode", "ground", condition=condition))
    return found


def lifted(dice, fault, *, alone_lines):
    """A card with one fault at a data line: read in circuit, then the chip lifted, pads and chip read."""
    chip, ball = fault.pin.split(".")
    seed, lines = dice.randrange(9999), sorted(LINES)
    others = [ball, *dice.sample([line for line in lines if line != ball], alone_lines - 1)]
    whole = bench(dice, Pins("teal-8", seed, [fault], {"fb180": FB180}), CHIPS, lines)
    off = Pins("teal-8", seed, [fault], {"fb180": FB180}, off=[chip])
    pads = bench(dice, off, [chip], others, state="site pads")
    alone = bench(dice, off, [chip], others, state="chip alone")
    said = judge_balls([*whole, *pads, *alone], KINDS)
    by_state = {judgement.state: judgement for judgement in said if (judgement.chip, judgement.pin) == (chip, ball)}
    odd = [judgement for judgement in said if judgement.state == "in circuit" and judgement.odd]
    return by_state, odd


def test_lifting_tells_board_chip_and_joint():
    dice = random.Random(20_261)
    right, found, wrong = Counter[str](), Counter[str](), 0
    tries = 60 if THOROUGH else 12
    for kind, answer in TRUTH.items():
        for _ in range(tries):
            fault = PinFault(kind, f"{dice.choice(CHIPS)}.{dice.choice(sorted(LINES))}")
            by_state, odd = lifted(dice, fault, alone_lines=8)
            found[kind] += any(f"{entry.chip}.{entry.pin}" == fault.pin for entry in odd)
            wrong += sum(f"{entry.chip}.{entry.pin}" != fault.pin for entry in odd)
            said = after_lifting(by_state["in circuit"], by_state["site pads"], by_state["chip alone"])
            right[kind] += said.answer == answer
    print(f"lifting: odd ball found {dict(found)}, right answer {dict(right)} of {tries} each; {wrong} others odd")
    # a ball that is open shifts what core and chip read together by a few tens of millivolts only
    assert min(found["joint"], found["dead-pin"]) >= 0.8 * tries
    assert min(found["leaky-pin"], found["trace"], found["leaky-line"]) >= 0.95 * tries
    assert min(right.values()) >= 0.95 * tries
    assert wrong <= 0.01 * tries * len(TRUTH) * len(CHIPS) * len(LINES)


@pytest.mark.parametrize(("kind", "answer"), [("trace", "board"), ("leaky-line", "board"), ("leaky-pin", "left")])
def test_without_fellows_the_pad_is_held_against_what_was_read_before(kind, answer):
    dice = random.Random(7)
    for _ in range(30):
        fault = PinFault(kind, f"{dice.choice(CHIPS)}.{dice.choice(sorted(LINES))}")
        by_state, _ = lifted(dice, fault, alone_lines=1)
        assert by_state["site pads"].verdict == "no-reference"
        said = after_lifting(by_state["in circuit"], by_state["site pads"], None)
        assert said.answer == answer, said.says


def test_before_lifting_it_says_what_to_lift():
    dice = random.Random(3)
    by_state, _ = lifted(dice, PinFault("joint", f"U14.{min(LINES)}"), alone_lines=8)
    said = after_lifting(by_state["in circuit"], None, None)
    assert said.answer == "lift"
    assert said.says.startswith("Lift U14, measure ")
    by_pads = after_lifting(by_state["in circuit"], by_state["site pads"], None)
    assert by_pads.answer == "left"
    assert "tells the chip from its joint" in by_pads.says


def test_clean_chips_raise_no_alarm():
    dice = random.Random(11)
    alarms = 0
    for _ in range(20):
        pins = Pins("teal-8", dice.randrange(9999), packages={"fb180": FB180})
        alarms += any(judgement.odd for judgement in judge_balls(bench(dice, pins, CHIPS, sorted(LINES)), KINDS))
    assert alarms <= 1


def test_one_chip_alone_is_judged_by_its_own_data_lines():
    dice = random.Random(5)
    lines = sorted(LINES)
    pins = Pins("teal-8", 1, [PinFault("leaky-line", f"U11.{lines[4]}")], {"fb180": FB180})
    said = {judgement.pin: judgement for judgement in judge_balls(bench(dice, pins, ["U11"], lines[:8]), KINDS)}
    assert [pin for pin, judgement in said.items() if judgement.odd] == [lines[4]]
    assert said[lines[4]].among == "lines"
    assert "seven other data lines of U11 read" in said[lines[4]].why
    few = judge_balls(bench(dice, pins, ["U11"], lines[:3]), KINDS)
    assert {judgement.verdict for judgement in few} == {"no-reference"}


def test_a_chip_odd_nearly_everywhere_is_another_part():
    dice = random.Random(6)
    pins, other = (Pins("teal-8", seed, packages={"fb180": FB180}) for seed in (1, 2))
    lines = sorted(LINES)[:12]
    readings = bench(dice, pins, ["U11", "U12", "U13"], lines)
    for entry in bench(dice, other, ["U14"], lines):
        moved = (entry.value.low or 0) + 0.08
        readings.append(Reading(entry.point, "diode", Value(moved, moved), "diode", "ground"))
    said = strangers(judge_balls(readings, KINDS))
    assert list(said) == ["U14"]
    assert "12 of 12 balls" in said["U14"]


def test_two_junctions_side_by_side_drop_a_little_less_than_one():
    alone, both = Line((0.45,)).diode_v or 0, Line((0.45, 0.45)).diode_v or 0
    assert alone == pytest.approx(0.45, abs=1e-6)
    assert 0.02 < alone - both < 0.05
    assert Line(()).diode_v is None
    assert Line((0.45,), (120.0,)).diode_v == pytest.approx(0.12, abs=0.002)


def test_a_pin_fault_is_read_from_its_words():
    assert {parse_pin_fault(f"{kind}:U14.K3") for kind in PIN_KINDS} == {PinFault(kind, "U14.K3") for kind in PIN_KINDS}
    assert parse_pin_fault("joined:U73") is None
    assert parse_pin_fault("torn:B14") is None


def read_at(pin, volts, *, first=11, quantity="diode", mode="diode", state=""):
    """One value a chip from U11 on, at one ball."""
    condition = frozenset({state} if state else ())
    return [
        Reading(f"U{number}.{pin}", quantity, Value(entry, entry), mode, "ground", condition=condition)
        for number, entry in enumerate(volts, first)
    ]


ALL_ALIKE = Kinds(dict.fromkeys((f"U{number}" for number in range(11, 30)), "kind"), {})


@pytest.mark.parametrize(("chips", "many"), [(13, "twelve other chips"), (14, "13 other chips")])
def test_how_many_fellows_there_are_is_said_in_words_up_to_twelve(chips, many):
    judged = judge_balls(read_at("A1", [0.4] * chips), ALL_ALIKE)
    assert {judgement.fellows for judgement in judged} == {chips - 1}
    assert f"{many} at A1 read" in judged[0].why


def test_two_chips_and_two_groups_say_how_many_fellows_there_were():
    few = judge_balls(read_at("A1", [0.4, 0.4]), ALL_ALIKE)
    assert [(judgement.fellows, judgement.verdict) for judgement in few] == [(1, "no-reference")] * 2
    assert "one other chip was read at A1" in few[0].why
    split = judge_balls(read_at("A1", [0.4, 0.4, 0.5, 0.5]), ALL_ALIKE)
    assert {judgement.fellows for judgement in split} == {3}
    assert "At A1 U11 and U12 read 0.4 V" in split[0].why


def test_a_chips_lines_are_its_own_data_lines_read_the_same_way():
    names = [f"D{number}" for number in range(8)]
    kinds = Kinds({"U11": "kind", "U12": "kind"}, {"U11": names, "U12": names})
    lines = [entry for name in names[:6] for entry in read_at(name, [0.4])]
    # a ball that is no data line, another chip's line, and the same lines in ohms
    others = [*read_at("X1", [0.9]), *read_at("D7", [0.9], first=12)]
    ohms = [
        entry
        for number, name in enumerate(names[:6])
        for entry in read_at(name, [100.0 if number else 103.0], quantity="resistance", mode="diode")
    ]
    judged = judge_balls([*lines, *others, *ohms], kinds)
    assert {(judgement.verdict, judgement.fellows, judgement.among) for judgement in judged[:6]} == {
        ("within", 5, "lines")
    }
    assert {judgement.usual for judgement in judged[:6]} == {0.4}
    assert {(judgement.verdict, judgement.usual) for judgement in judged[8:]} == {("within", 100.0)}, "by shares"


@pytest.mark.parametrize(
    ("quantity", "usual", "read", "word"),
    [
        ("resistance", 1000.0, 9.9, "short"),
        ("resistance", 1000.0, 10.0, "low"),
        ("diode", 0.4, 0.009, "short"),
        ("diode", 0.4, 0.01, "low"),
        ("voltage", 1.0, 0.01, "low"),  # a short is a matter of ohms and junctions
        ("voltage", 1.0, 1.2, "high"),
    ],
)
def test_the_word_for_a_ball_that_is_odd(quantity, usual, read, word):
    judged = judge_balls(read_at("A1", [usual, usual, usual, read], quantity=quantity, mode=""), ALL_ALIKE)
    assert judged[3].verdict == word


def test_pads_and_lines_say_nothing_of_another_part():
    """Six odd balls of eleven in circuit: what was read of its pads, or against its own lines, is not counted."""
    balls = [entry for ball in range(11) for entry in read_at(f"A{ball}", [0.4] * 4 + [0.7 if ball < 6 else 0.4])]
    lines = [f"D{number}" for number in range(6)]
    kinds = Kinds(ALL_ALIKE.kind, {"U15": lines})
    more = [entry for line in lines for entry in read_at(line, [0.4], first=15)]
    more += [entry for ball in range(6) for entry in read_at(f"A{ball}", [0.4] * 5, state="site pads")]
    assert "6 of 11 balls" in strangers(judge_balls([*balls, *more], kinds))["U15"]


@pytest.mark.parametrize(
    ("pad", "answer"),
    [(0.7, "left"), (0.6, "left"), (0.59, "left"), (0.588, "left"), (0.56, "unclear"), (None, "board")],
)
def test_a_ball_that_read_high_is_held_against_itself(pad, answer):
    """Where 0.4 V is usual and 0.6 V was read, the chip took no part in it as long as the pad reads no less."""
    in_circuit = read_at("A1", [0.4, 0.4, 0.4, 0.6])
    judged = judge_balls([*in_circuit, *read_at("A1", [pad], first=14, state="site pads")], ALL_ALIKE)
    assert after_lifting(judged[3], judged[4], None).answer == answer
