"""What Rework's rules say, in whole answers that were read and approved (tests/core/approved.py)."""

from __future__ import annotations

import itertools
import json
import random
from datetime import timedelta
from typing import Any

from tests.core.approved import approve
from tests.core.boards.strategies import BOARDS
from tests.core.rework.test_events import START
from tests.core.rework.test_near_pads_settings import CORE, SCAUP, TEAL
from uvrix.core.boards.packages import read_package
from uvrix.core.errors import Refusal
from uvrix.core.rework.acts import ACTS
from uvrix.core.rework.curve import BUILT_IN, judge_curve, read_alloys, read_curve, soak_seconds
from uvrix.core.rework.events import Event, check, replay, unbaked, worked_on
from uvrix.core.rework.image_file import ImageFacts, byte_lines, facts_of, fit, made_image, texts_in
from uvrix.core.rework.images import compare, explain
from uvrix.core.rework.near import Limits, alloy_warnings, apart, hot_places, neighbours
from uvrix.core.rework.pads import PAD_STATES, PadRule, survey
from uvrix.core.rework.settings import as_document, read_settings

FB180 = read_package((BOARDS.parent / "packages/fb180.csv").read_bytes(), "fb180")


def said(ask, *given, **more):
    """What a rule answers, or how it refuses."""
    try:
        return ask(*given, **more)
    except Refusal as refusal:
        return str(refusal)


def test_approved_neighbours():
    answers: dict[str, object] = {}
    dice = random.Random(2)
    for board in (TEAL, SCAUP):
        names = [site.designator for site in board.sites[:8]] + [part.designator for part in board.parts[:14]]
        cycles = {name: dice.randint(0, 5) for name in names}
        warmed = {name: dice.randint(0, 3) for name in names}
        for name in (*names, board.core.designator, "U999"):
            answers[f"{board.id} {name}"] = [
                [
                    neighbour.designator,
                    neighbour.kind,
                    neighbour.behind,
                    neighbour.away_mm,
                    neighbour.shield,
                    neighbour.why,
                ]
                for neighbour in neighbours(board, name, Limits(), cycles, warmed)
            ]
        answers[f"{board.id} hot"] = hot_places(board)
    for off, on in itertools.product(("leaded", "lead-free", "low-melt", ""), repeat=2):
        for hot, low_melt in itertools.product((True, False), repeat=2):
            answers[f"alloys {off} {on} {hot} {low_melt}"] = alloy_warnings(off, on, hot=hot, low_melt=low_melt)
    square = ((0.0, 0.0), (2.0, 0.0), (2.0, 2.0), (0.0, 2.0))
    for x, y in itertools.product((-3.0, 0.5, 1.0, 2.0, 5.0), repeat=2):
        moved = tuple((px + x, py + y) for px, py in square)
        answers[f"apart {x} {y}"] = [apart(square, moved), apart(square, ((x, y),)), apart(((x, y),), ((0.0, 0.0),))]
    approve(__file__, "neighbours", answers)


def test_approved_pads():
    answers: dict[str, object] = {}
    for package in (FB180, CORE):
        balls = sorted(package.classes)
        for seed in range(16):
            dice = random.Random(seed)
            many = dice.choice([0, 1, 2, 5, 9, 30, 80])
            states = {ball: dice.choice(PAD_STATES) for ball in dice.sample(balls, min(many, len(balls)))}
            found = survey(package, states, dice.choice([PadRule(), PadRule(1, 3, 0.05, 0.1)]))
            answers[f"{package.name} {seed}"] = found
        for ball in balls[::7]:
            answers[f"{package.name} {ball} torn"] = survey(package, {ball: "torn"}, PadRule()).broken
    approve(__file__, "pads", answers)


def test_approved_events():
    answers: dict[str, object] = {}
    for seed in range(30):
        dice = random.Random(seed)
        events: list[Event] = []
        refused = []
        for number in range(14):
            do = dice.choice(list(ACTS))
            site = dice.choice(["U11", "U12", "U12", ""])
            chip = dice.choice(["", "", "A/U11", "S-1"])
            chip_in = dice.choice(["A/U11", "A/U12", "S-1", "S-2", ""]) if do in {"place", "swap"} else ""
            alloys: dict[str, Any] = {
                name: dice.choice(["leaded", "lead-free", "low-melt", ""]) for name in ("alloy_on", "alloy_off")
            }
            at = START + timedelta(hours=5 * number)
            event = Event(at, do, dice.choice("AB"), site, chip, chip_in, id=str(number), **alloys)
            ledger = replay(events)
            why = said(check, ledger, event)
            if why is None:
                events.append(event)
            else:
                refused.append([do, site, chip, chip_in, why])
        ledger = replay(events)
        late = START + timedelta(hours=90)
        answers[f"history {seed}"] = [
            {str(key): value for key, value in ledger.site_cycles.items()},
            ledger.chip_cycles,
            {str(key): name for key, name in ledger.on_site.items()},
            {str(key): name for key, name in {**ledger.low_melt, **ledger.owes_flush, **ledger.emptied_by}.items()},
            [[chip, ledger.where(chip), unbaked(ledger, chip, late)] for chip in ("A/U11", "A/U12", "S-1", "S-2")],
            [worked_on(ledger, event) for event in events],
            refused,
        ]
    approve(__file__, "events", answers)


def test_approved_curves():
    answers: dict[str, object] = {}
    for seed in range(30):
        dice = random.Random(seed)
        samples = [(0.0, 25.0)]
        for _ in range(dice.randint(2, 9)):
            seconds, celsius = samples[-1]
            samples.append((seconds + dice.choice([10.0, 30.0, 60.0]), max(20.0, celsius + dice.uniform(-60, 90))))
        answers[f"curve {seed}"] = [judge_curve(samples, alloy) for alloy in BUILT_IN.values()]
        answers[f"soak {seed}"] = soak_seconds(samples, 100.0, 150.0)
    for text in ("seconds,celsius\n0,25\n10,30\n", "seconds,celsius\n0,25\n", "seconds,celsius\n5,25\n5,26\n",
                 "seconds,celsius\n0,25\n10,hot\n", "a,b\n0,1\n", "seconds,celsius\n0,1e400\n1,2\n"):  # fmt: skip
        answers[repr(text)] = said(read_curve, text.encode())
    alloy = {"reference_c": 138, "min_peak_c": 150, "max_peak_c": 170, "min_above_s": 20, "max_above_s": 60}
    for change in ({}, {"min_peak_c": 180}, {"min_above_s": 61}, {"max_ramp_c_per_s": "fast"}):
        document = {"own": {**alloy, "max_ramp_c_per_s": 2, **change}}
        answers[str(change)] = said(read_alloys, json.dumps(document).encode())
    approve(__file__, "curves", answers)


def test_approved_images():
    answers: dict[str, object] = {}
    for seed in range(24):
        dice = random.Random(seed)
        old = bytes(dice.randrange(256) for _ in range(600))
        new = bytearray(old if seed % 5 else old[:560])
        for _ in range(dice.choice([0, 1, 3, 20, 70])):
            at, many = dice.randrange(len(new) - 20), dice.choice([1, 1, 1, 4, 12])
            for place in range(at, at + many):
                new[place] = new[place] ^ (1 << dice.randrange(8)) if many == 1 else dice.randrange(32, 127)
        found = compare(old, bytes(new))
        answers[f"images {seed}"] = [found.size, found.differing_bytes, found.kind, found.why, found.runs[:4]]
        answers[f"runs {seed}"] = [explain(run) for run in found.runs[:8]]
        answers[f"lines {seed}"] = byte_lines(old, bytes(new), dice.randrange(600), 2)
    wanted = ImageFacts("256", "type G", ("Ousel", "Marram"), 1500.0, 1750.0, "TEAL 8")
    for seed in range(20):
        dice = random.Random(seed)
        facts = {
            "bus": dice.choice(["256", "128", ""]),
            "memory": dice.choice(["type G", "TYPE G", "type H"]),
            "vendors": dice.choice([["ousel"], ["Ousel", "Marram"], []]),
            "core_mhz": dice.choice([1500, 1500.4, 1500.6, 1400]),
            "text": dice.choice(["TEAL 8 1.02", "teal 8", "other"]),
        }
        image = made_image(facts, b"\x00\x01READABLE TEXT\x00ab\x00ANOTHER ONE")
        answers[f"fit {seed}"] = [fit(wanted, facts_of(image)), texts_in(image), len(image)]
    approve(__file__, "images", answers)


def test_approved_settings():
    answers: dict[str, object] = {"usual": as_document(read_settings({}))}
    for change in (
        {"near_mm": 9, "shield_mm": 5}, {"near_mm": 3, "shield_mm": 5}, {"site_cycles": 0}, {"soak_c": [150, 90]},
        {"soak_c": [90, 150]}, {"open_hours": 0}, {"pads": {"signals_fixable": 7}}, {"pads": {"share_fixable": 0.5}},
        {"templates": [{"name": "x", "do": "drill", "steps": ["a"]}]}, {"near_mm": 101}, {"chip_cycles": 1001},
        {"templates": [{"name": "x", "do": "drilled", "steps": ["a"], "preheat_c": 150}]},
        {"alloys": {"own": dict.fromkeys(("reference_c", "min_peak_c", "max_peak_c"), 140)}},
    ):  # fmt: skip
        read = said(read_settings, change)
        answers[str(change)] = read if isinstance(read, str) else as_document(read)
    approve(__file__, "settings", answers)
