"""What the cold bench says, in whole answers that were read and approved (tests/core/approved.py)."""

from __future__ import annotations

import dataclasses
import itertools
import random

import numpy as np

from tests.core.approved import approve
from tests.core.readings.test_balls import CHIPS, FB180, KINDS, LINES, bench
from tests.core.readings.test_hunt import (
    CAPACITORS,
    HEALTHY,
    INPUTS,
    KNOWN,
    LIBRARY,
    PLACES,
    RAILS,
    TEAL,
)
from tests.core.readings.test_slot import read_all
from tests.core.readings.test_verdicts import PLACES as PLAIN
from tests.core.readings.test_verdicts import known, reading, value
from uvrix.core.errors import Refusal
from uvrix.core.readings.alike import alike, usual
from uvrix.core.readings.balls import judge_balls, strangers
from uvrix.core.readings.beside import beside
from uvrix.core.readings.check import as_json as check_json
from uvrix.core.readings.check import check
from uvrix.core.readings.fuses import fuse_state
from uvrix.core.readings.guard import blocks, first_blocks, low_inputs
from uvrix.core.readings.hunt import bridges, coil_side, empty_phases, glowed, hunted, possibly_killed, proofs
from uvrix.core.readings.inject import injection
from uvrix.core.readings.known import Library
from uvrix.core.readings.lanes import as_json as link_json
from uvrix.core.readings.lanes import link, read_lanes
from uvrix.core.readings.lifting import after_lifting
from uvrix.core.readings.meter_lines import MeterMark, read_meter_reader, teach_meter
from uvrix.core.readings.morning import check_card, check_leads, check_resistor
from uvrix.core.readings.notation import QUANTITIES, Value, parse_value, shown, shown_number, typed
from uvrix.core.readings.peers import as_json as peers_json
from uvrix.core.readings.peers import odd_ones
from uvrix.core.readings.reading_file import Reading, read_readings
from uvrix.core.readings.route import Stop, length, route
from uvrix.core.readings.sense import sense
from uvrix.core.readings.settling import Sample, settle
from uvrix.core.readings.shorts import rail_verdicts, short_suspects
from uvrix.core.readings.slips import slip
from uvrix.core.readings.slot import judge_contacts, slot_context
from uvrix.core.readings.sweeps import compare
from uvrix.core.readings.verdict import judge
from uvrix.core.virtual.card import Fault, VirtualCard
from uvrix.core.virtual.pins import PIN_KINDS, PinFault, Pins

FACTORS = (0.0, 0.0009, 0.02, 0.049, 0.051, 0.3, 0.8, 0.93, 1.0, 1.07, 1.3, 4.0, 1000.0)


def test_approved_verdicts():
    answers: dict[str, object] = {}
    for name, rail in RAILS.items():
        point = rail["points"][0]
        centre = judge(reading_of(point, 1.0), LIBRARY, ["teal-8"]).reference
        assert centre
        for factor in FACTORS:
            read = reading_of(point, (centre.centre or 1.0) * factor)
            judged = judge(read, LIBRARY, ["teal-8"])
            answers[f"{name} x {factor}"] = [judged.verdict, judged.why, slip(read, judged.reference)]
        for low, high in ((0.1, 0.5), (0.5, 2.0)):
            span = Value((centre.centre or 1.0) * low, (centre.centre or 1.0) * high)
            judged = judge(reading_of(point, span), LIBRARY, ["teal-8"])
            answers[f"{name} {low} to {high}"] = [judged.verdict, judged.why]
        answers[f"{name} open"] = judge(reading_of(point, Value(None, None)), LIBRARY, ["teal-8"]).why
    for fuse in ("F1", "F2", "F3"):
        for ohms in (0.0, 0.03, 0.2, 0.31, 3.0, None):
            read = Reading(fuse, "resistance", Value(ohms, ohms), "ohms", "across")
            judged = judge(read, LIBRARY, ["teal-8"])
            answers[f"{fuse} {ohms}"] = [judged.verdict, judged.why, fuse_state(read)]
    approve(__file__, "verdicts", answers)


def reading_of(point, ohms):
    return Reading(point, "resistance", ohms if isinstance(ohms, Value) else Value(ohms, ohms), "ohms", "ground")


def test_approved_references():
    """Libraries of one to nine cards: spread, wrong entries, open ones, other modes, meters and leads, lenders."""
    answers: dict[str, object] = {}
    dice = random.Random(311)
    for number in range(40):
        entries, quantity, mode = [], *dice.choice([("resistance", "ohms"), ("diode", "diode"), ("voltage", "")])
        for card in range(dice.randint(1, 9)):
            read = dice.choice([0.0, 1.0, 1.0, 1.0, 1.0, 30.0]) * 0.4 * dice.gauss(1, 0.04)
            taken = value(read) if dice.random() < 0.8 else Value(None, None)
            more = {"meter": dice.choice(["", "", "M1", "M2"]), "polarity": dice.choice(["", "", "red", "black"])}
            other = dice.choice([mode, mode, mode, ""])
            board = dice.choice(["teal-8", "teal-8", "teal-12"])
            [one] = known("r1", taken, board=board, quantity=quantity, mode=other, **more)
            entries.append(dataclasses.replace(one, card=f"card {card}"))
        asked = reading("r1", value(0.4), quantity=quantity, mode=mode, meter=dice.choice(["", "M1"]), polarity="red")
        library = Library(entries, PLAIN)
        answers[f"library {number}"] = [library.reference(asked, ["teal-8", "teal-12"]), library.spread]
    approve(__file__, "references", answers)


def test_approved_notation():
    answers: dict[str, object] = {}
    texts = ["2.2k", "2k2", "0R47", "OL", "ol", "1.2M", "430m", "12..55", "1k..2k", "3", "3.1", "412", "2,5", "47u"]
    texts += ["", "-1", "5 k", "1e3", "2kk2", "55..12", "OL..3", "..", "1..", "9" * 41, "0", "0.0", "100 ohm", "4.7Ω"]
    for quantity, text in itertools.product(QUANTITIES, texts):
        try:
            read = parse_value(text, quantity)
        except Refusal as refusal:
            answers[f"{quantity} {text}"] = str(refusal)
        else:
            answers[f"{quantity} {text}"] = [read, shown(read, quantity), typed(read, quantity)]
    for quantity in QUANTITIES:
        for power in range(-8, 11):
            for number in (1.0, 1.2345678, 9.9996):
                answers[f"{quantity} {number}e{power}"] = shown_number(number * 10**power, quantity)
    approve(__file__, "notation", answers)


def test_approved_ways_of_a_hunt():
    answers: dict[str, object] = {}
    for ends in itertools.product((0.0, 0.4, 1.1, 1.3, 3.5, None), repeat=2):
        answers[f"coil {ends}"] = coil_side("L9", *(Value(end, end) for end in ends))
    for part in TEAL.parts[:30]:
        if part.centre:
            x, y = (float(coordinate) for coordinate in part.centre)
            answers[f"glow at {part.designator}"] = glowed(TEAL, "front", (x + 1.5, y - 2.0), ("mem", "in12a"))
    answers["killed"] = possibly_killed(TEAL, TEAL.parts)
    phases = [phase["designator"] for phase in TEAL.document["phases"]]
    for many in range(len(phases) + 1):
        answers[f"{many} phases empty"] = empty_phases(TEAL, phases[:many])
    for seed in range(6):
        dice = random.Random(seed)
        read = [
            judge(reading_of(rail["points"][0], dice.choice([0.4, 0.5, 40.0, 4000.0])), LIBRARY, ["teal-8"])
            for rail in RAILS.values()
        ]
        verdicts = rail_verdicts(read, PLACES)
        joined = bridges(TEAL, read, PLACES)
        low = low_inputs(INPUTS, [judgement.reading for judgement in read], PLACES)
        suspects = short_suspects(TEAL, hunted(verdicts, low, joined)[1])
        answers[f"rails {seed}"] = [
            verdicts,
            joined,
            hunted(verdicts, low, joined),
            suspects[:6],
            proofs(TEAL, suspects),
        ]
    for rail, ohms, lowest in itertools.product((0.4, 3.3, 12.0), (0.0, 0.02, 0.4, 20.0), (None, 0.3, 0.9, 5.0)):
        answers[f"inject {rail} {ohms} {lowest}"] = injection(rail, ohms, lowest)
    for drop in (-0.01, -0.0012, 0.0, 0.01, 0.0275, 0.0276, 0.3):
        answers[f"sense {drop}"] = sense(0.005, 12.0, 12.1, 12.1 - drop)
    approve(__file__, "ways-of-a-hunt", answers)


def test_approved_locks():
    answers: dict[str, object] = {}
    inputs = {name: RAILS[name]["name"] for name in INPUTS}
    for seed in range(12):
        dice = random.Random(seed)
        read = [
            reading_of(RAILS[name]["points"][0], dice.choice([3.0, 99.9, 100.0, 8100.0, 9000.0]))
            for name in (*INPUTS, *INPUTS)
            if dice.random() < 0.6
        ]
        ticked = [fuse for fuse in ("F1", "F2", "F3") if dice.random() < 0.5]
        judged = [judge(entry, LIBRARY, ["teal-8"]) for entry in read]
        first = [point.id for point in TEAL.points[:14]]
        answers[f"locks {seed}"] = [
            blocks(inputs, ("F1", "F2", "F3"), read, ticked, PLACES),
            low_inputs(INPUTS, read, PLACES),
            first_blocks(first, INPUTS, judged, ticked, PLACES),
        ]
    approve(__file__, "locks", answers)


def test_approved_check():
    dice = np.random.default_rng(17)
    answers: dict[str, object] = {}
    for fault in (None, Fault("joined", "U73"), Fault("partial", CAPACITORS[2])):
        card = VirtualCard(TEAL, HEALTHY, (fault,) if fault else (), 9)
        lines = ["point,quantity,value,unit,mode,condition,note"]
        for rail in RAILS.values():
            ohms = card.between(rail["points"][0], "ground").ohms
            lines.append(f"{rail['points'][0]},resistance,{(ohms or 0) * dice.normal(1, 0.01):.3f},ohm,ohms,cold,")
        read = read_readings("\n".join(lines).encode(), PLACES)
        answers[str(fault)] = check_json(*check(TEAL, read, KNOWN))
    approve(__file__, "check", answers)


def test_approved_chips():
    answers: dict[str, object] = {}
    balls = sorted(LINES)[:9]
    for number, kind in enumerate(PIN_KINDS):
        dice = random.Random(number)
        fault = PinFault(kind, f"{CHIPS[number]}.{balls[number]}")
        read = bench(dice, Pins("teal-8", number, [fault], {"fb180": FB180}), CHIPS, balls)
        off = Pins("teal-8", number, [fault], {"fb180": FB180}, off=[CHIPS[number]])
        pads = bench(dice, off, [CHIPS[number]], balls, state="site pads")
        alone = bench(dice, off, [CHIPS[number]], balls, state="chip alone")
        judged = judge_balls([*read, *pads, *alone], KINDS)
        by_state = {
            judgement.state: judgement
            for judgement in judged
            if (judgement.chip, judgement.pin) == (CHIPS[number], balls[number])
        }
        circuit = by_state["in circuit"]
        answers[f"{kind} {fault.pin}"] = [
            [
                [judgement.chip, judgement.pin, judgement.verdict, judgement.why]
                for judgement in judged
                if judgement.odd
            ],
            after_lifting(circuit, None, None),
            after_lifting(circuit, by_state.get("site pads"), None),
            after_lifting(circuit, by_state.get("site pads"), by_state.get("chip alone")),
            peers_json(odd_ones(read)),
            strangers(judged),
        ]
    for seed in range(25):
        dice = random.Random(seed)
        centre = 10 ** dice.uniform(-1, 5)
        read = [
            Reading(f"U{chip}.{pin}", "resistance", odd_value(dice, centre), "ohms", "ground")
            for pin in ("A1", "B2", "C3")
            for chip in range(11, 11 + dice.randint(2, 6))
        ]
        kinds = dataclasses.replace(
            KINDS, kind=dict.fromkeys((f"U{chip}" for chip in range(11, 17)), "plain"), lines={}
        )
        answers[f"table {seed}"] = [peers_json(odd_ones(read)), [ball.why for ball in judge_balls(read, kinds)]]
    for before, pad, usual_v in itertools.product((0.1, 0.4, 0.8, None), (0.1, 0.24, 0.3, 0.41, 0.8, None), (0.4,)):
        read = [Reading(f"U{chip}.A1", "diode", value(usual_v), "diode", "ground") for chip in (11, 12, 13)]
        read.append(Reading("U14.A1", "diode", Value(before, before), "diode", "ground"))
        on_pads = Reading("U14.A1", "diode", Value(pad, pad), "diode", "ground", condition=frozenset({"site pads"}))
        kinds = dataclasses.replace(KINDS, kind=dict.fromkeys(("U11", "U12", "U13", "U14"), "plain"), lines={})
        judged = judge_balls([*read, on_pads], kinds)
        answers[f"lifted {before} {pad}"] = after_lifting(judged[3], judged[4], None)
    approve(__file__, "chips", answers)


def odd_value(dice, centre):
    if dice.random() < 0.1:
        return Value(None, None)
    ohms = centre * dice.gauss(1, 0.02) * dice.choice([1, 1, 1, 1, 0.02, 0.4, 3])
    return Value(ohms, ohms * 2) if dice.random() < 0.1 else value(ohms)


def test_approved_slot():
    answers: dict[str, object] = {}
    for seed in range(14):
        dice = random.Random(seed)
        names = dice.sample([f"{row}{number}" for row in "AB" for number in range(12, 82)], 3)
        kinds = [dice.choice(["trace", "torn"]) for _ in names]
        lanes = dice.choice([4, 8, 16])
        read = read_all([(kind, name) for kind, name in zip(kinds, names, strict=True)], lanes, seed)
        for point in dice.sample(sorted(read), 3):
            read[point] = value(dice.choice([0.0, 0.02, 0.05, 0.2, 0.9]))
        for point in dice.sample(sorted(read), 5):
            del read[point]
        across = {f"caps.A{number}": value(dice.choice([0.5, 900.0])) for number in dice.sample(range(16, 30), 2)}
        torn = [name for kind, name in zip(kinds, names, strict=True) if kind == "torn"]
        answers[f"slot {seed}"] = slot_context(read, across, torn, lanes)
        answers[f"contacts {seed}"] = dict(list(judge_contacts(read).items())[:12])
    rows = [f"{lane},{pair},{half},{0.5 + lane / 90}" for lane in range(16) for pair in ("tx", "rx") for half in "pn"]
    for number, change in enumerate(((5, "OL"), (0, "0.04"), (60, "0.05"), (63, "0.9"), (22, "OL"))):
        changed = list(rows)
        changed[change[0]] = ",".join([*changed[change[0]].split(",")[:3], change[1]])
        answers[f"lanes {number}"] = link_json(
            link(read_lanes("\n".join(["lane,pair,half,diode_v", *changed]).encode()))
        )
    approve(__file__, "slot", answers)


def test_approved_settling():
    answers: dict[str, object] = {}
    for seed in range(60):
        dice = np.random.default_rng(seed)
        kind = seed % 6
        times = np.arange(0, 9, 0.08)[: int(dice.integers(3, 110))]
        level = 10 ** dice.uniform(-2, 5)
        shapes = [
            level * dice.normal(1, 0.002, len(times)),
            level * (1 - np.exp(-(times + 0.05) / dice.uniform(0.3, 4))),
            level * (1 + dice.uniform(0.1, 0.6) * dice.uniform(-1, 1, len(times))),
            level * (1 + 0.03 * times),
            np.where(times < 0.5, np.nan, level),
            np.full(len(times), np.nan),
        ]
        samples = [
            Sample(float(at), None if np.isnan(entry) else float(entry))
            for at, entry in zip(times, shapes[kind], strict=True)
        ]
        held = level if seed % 7 == 0 else None
        answers[f"{kind} {seed}"] = [settle(samples, quantity, held) for quantity in ("resistance", "diode", "voltage")]
    approve(__file__, "settling", answers)


def test_approved_two_sweeps_and_two_cards():
    answers: dict[str, object] = {}
    for seed in range(10):
        dice = random.Random(seed)
        first, second = (
            [drawn(dice, name) for name in ("r1", "r2", "r3", "F1", "r1/r2") if dice.random() < 0.8] for _ in "ab"
        )
        library = Library(known("r1", "40", "41", "42"), PLAIN)
        sweeps = [[judge(entry, library, ["teal-8"]) for entry in read] for read in (first, second)]
        answers[f"sweeps {seed}"] = [change.says for change in compare(sweeps[0], sweeps[1], PLAIN)]
        answers[f"cards {seed}"] = [
            [comparison.word, comparison.apart, comparison.says] for comparison in beside(first, second, PLAIN)
        ]
    approve(__file__, "two-sweeps-and-two-cards", answers)


def drawn(dice, name):
    ohms = dice.choice([0.1, 0.3, 40.0, 41.0, 60.0, 900.0])
    taken = dice.choice([value(ohms), value(ohms), value(ohms), Value(ohms, 2 * ohms), Value(None, None)])
    quantity, mode = dice.choice([("resistance", "ohms"), ("resistance", "ohms"), ("diode", "diode")])
    return reading(name, taken, quantity=quantity, mode=mode)


def test_approved_alike():
    answers: dict[str, object] = {}
    dice = np.random.default_rng(5)
    things = [f"t{number}" for number in range(9)]
    for number in range(12):
        past = [
            {
                thing: None if dice.random() < 0.1 else 100.0 * float(np.exp(dice.normal(0, 0.5)))
                for thing in things
                if dice.random() < 0.8
            }
            for _ in range(6)
        ]
        own = past[int(dice.integers(6))] | {"t0": 3.0}
        answers[f"card {number}"] = [alike(own, past), usual(past)]
    approve(__file__, "alike", answers)


def test_approved_morning_and_meters():
    answers: dict[str, object] = {}
    for ohms, past in itertools.product((0.0, 0.2, 0.41, 1.0, 1.2, None), ([], [0.1, 0.2], [0.1, 0.2, 0.3])):
        answers[f"leads {ohms} {past}"] = check_leads(Value(ohms, ohms), past)
    answers["leads that jump"] = check_leads(Value(0.1, 0.4), [])
    for ohms, tolerance in itertools.product((98.9, 99.0, 100.0, 101.0, 101.2, None), (0.01, 0.001)):
        answers[f"resistor {ohms} {tolerance}"] = check_resistor(Value(ohms, ohms), 100.0, tolerance)
        answers[f"card {ohms} {tolerance}"] = check_card(Value(ohms, ohms), value(100.0), "L9")
    sample = "R 12.4 kOhm\nR OL kOhm\nV 0.412 V\n+1.2E+03\n"
    value_at, unit_at = MeterMark(0, 2, 6, "value"), MeterMark(0, 7, 11, "unit")
    marks = {
        "a value": ([value_at], "k"),
        "a value and its unit": ([value_at, unit_at], ""),
        "over-limit too": ([value_at, unit_at, MeterMark(1, 2, 4, "over")], ""),
        "another line": ([value_at, unit_at, MeterMark(2, 2, 7, "value"), MeterMark(2, 8, 9, "unit")], ""),
        "no unit": ([value_at], ""),
        "none": ([], "V"),
        "overlapping": ([value_at, MeterMark(0, 4, 8, "unit")], ""),
        "beyond the line": ([MeterMark(0, 2, 60, "value")], "V"),
        "beyond the sample": ([MeterMark(9, 0, 1, "value")], "V"),
        "no number": ([MeterMark(0, 0, 1, "value")], "V"),
        "a bare number": ([MeterMark(3, 0, 8, "value")], "V"),
    }
    for name, (chosen, unit) in marks.items():
        try:
            taught = teach_meter(sample, chosen, unit)
        except Refusal as refusal:
            answers[name] = str(refusal)
        else:
            reader = read_meter_reader(taught)
            answers[name] = [taught, [reader.read(line) for line in (*sample.splitlines(), "R 3.3 MOhm", "hello")]]
    approve(__file__, "morning-and-meters", answers)


def test_approved_routes():
    answers: dict[str, object] = {}
    for seed in range(8):
        dice = random.Random(seed)
        stops = tuple(
            Stop(
                f"P{number}",
                dice.choice(["outside", "cooler-off", "microscope"]),
                dice.choice(["front", "back"]),
                dice.uniform(0, 200),
                dice.uniform(0, 100),
            )
            for number in range(14)
        )
        way = route(stops)
        by_name = {stop.name: stop for stop in stops}
        answers[f"route {seed}"] = [way, length([by_name[name] for name in way], (0.0, 0.0))]
    approve(__file__, "routes", answers)
