"""What the powered card's rules say, in whole answers that were read and approved (tests/core/approved.py)."""

from __future__ import annotations

import itertools
import random
from typing import Any

import numpy as np

from tests.core.approved import approve
from tests.core.startup.test_chain import NODES
from tests.core.startup.test_chain import board as plain_board
from tests.core.startup.test_converter_clock_refuted import CHAIN, SCAUP
from tests.core.startup.test_isolate import NOWHERE, random_chain, reading
from uvrix.core.readings.notation import Quantity, Value
from uvrix.core.readings.points import board_places
from uvrix.core.readings.reading_file import Reading
from uvrix.core.startup.chain import Measured, State, chain_of, states
from uvrix.core.startup.clock import clocks_say
from uvrix.core.startup.converter import converter, converters
from uvrix.core.startup.curve import read_curve
from uvrix.core.startup.isolate import as_json, isolate
from uvrix.core.startup.ladder import RUNGS, climbed, judge_draw, limit_to_set
from uvrix.core.startup.layout import layout
from uvrix.core.startup.phases import PhaseRead, compared, shares
from uvrix.core.startup.refuted import behind, without_refuted
from uvrix.core.startup.supervisors import refuses, supervised

PLACES = board_places(SCAUP)


def test_approved_isolation():
    answers: dict[str, object] = {}
    for seed in range(40):
        dice = random.Random(seed)
        chain = random_chain(dice, dice.randint(1, 9))
        names = [node.id for node in chain.nodes]
        read = [reading(name, dice.random() < 0.6) for name in dice.sample(names, dice.randint(0, len(names)))]
        doubt = dice.choice([0.005, 0.005, 0.05])
        answers[f"map {seed}"] = as_json(chain, isolate(chain, read, NOWHERE, doubt))
    for seed in range(12):
        dice = random.Random(seed)
        nodes = dice.sample(list(CHAIN.nodes), 6)
        read = [measured(node, dice.choice([0.0, 0.5, 0.999, 1.0, 1.001, 1.5]), dice) for node in nodes]
        found = isolate(CHAIN, read, PLACES)
        answers[f"scaup {seed}"] = [as_json(CHAIN, found), found.pairs]
    approve(__file__, "isolation", answers)


def measured(node, share, dice):
    """A reading of a node somewhere between nothing and one and a half times the middle of its band."""
    middle = (node.low + node.high) / 2 * share
    scales: dict[str, tuple[Quantity, float]] = {"clock": ("frequency", 1e6), "draw": ("current", 1.0)}
    quantity, scale = scales.get(node.kind, ("voltage", 1.0))
    high = middle * scale * dice.choice([1.0, 1.0, 1.02, 2.0])
    taken = Value(None, None) if dice.random() < 0.1 else Value(middle * scale, high)
    return Reading(node.id, quantity, taken, "", "ground")


def test_approved_maps():
    answers: dict[str, object] = {}
    bare: list[dict[str, Any]] = [{"id": "bare", "needs": ["draw"]}]
    answers["own"] = vars_of(chain_of(plain_board(startup={"nodes": NODES + bare})))
    answers["converters"] = converters(CHAIN)
    rails = [
        {"id": "in12", "name": "Input 12 V", "volts": 12, "points": ["PL1", "C1"]},
        {"id": "minus", "volts": -5, "points": ["L7"]},
        {"id": "core", "volts": 1},
    ]
    answers["rails"] = vars_of(chain_of(plain_board(rails=rails)))
    answers["lent"] = vars_of(chain_of(plain_board(rails=rails), NODES))
    answers["scaup"] = layout(CHAIN)
    for seed in range(5):
        answers[f"layout {seed}"] = layout(random_chain(random.Random(seed), 9))
    for node in CHAIN.nodes:
        answers[f"behind {node.id}"] = behind(CHAIN, node.id)
        answers[f"page {node.id}"] = converter(CHAIN, SCAUP, node.id)
    some = [part for node in CHAIN.nodes for part in node.parts][:6]
    answers["refuted"] = [[node.id, node.weight] for node in without_refuted(CHAIN, some).nodes]
    approve(__file__, "maps", answers)


def vars_of(chain):
    named = ("id", "name", "kind", "needs", "low", "high", "point", "minutes", "parts", "weight")
    return [chain.borrowed, [[getattr(node, name) for name in named] for node in chain.nodes]]


def test_approved_clocks():
    answers: dict[str, object] = {}
    for seed in range(16):
        dice = random.Random(seed)
        words: tuple[State, ...] = dice.choice(
            [("present",), ("present", "present", "present", "missing"), ("present", "unknown")]
        )
        state = {node.id: Measured(dice.choice(words)) for node in CHAIN.nodes}
        clocks = [node for node in CHAIN.nodes if node.kind == "clock"]
        state |= {node.id: Measured(dice.choice(["missing", "missing", "present"])) for node in clocks}
        parts = [part for node in clocks for part in node.parts]
        replaced = frozenset(part for part in parts if dice.random() < 0.6)
        answers[f"clocks {seed}"] = clocks_say(CHAIN, state, replaced)
    approve(__file__, "clocks", answers)


def test_approved_ladder():
    answers: dict[str, object] = {}
    for amps, idle, limit in itertools.product(
        (0.0, 0.24, 0.26, 0.5, 0.98, 1.0, 2.0, 2.9, 3.1), ((1.0, 2.0), None), (None, 0.5, 1.0)
    ):
        answers[f"{amps} {idle} {limit}"] = judge_draw(amps, idle, limit_amps=limit)
    for idle in (None, (0.2, 0.4), (1.0, 2.0)):
        for low in (True, False):
            answers[f"limit {idle} {low}"] = limit_to_set(idle, inputs_low=low)
    for rung in RUNGS:
        for whose in ("card", "other"):
            answers[f"{rung} {whose}"] = climbed(rung, whose)
    approve(__file__, "ladder", answers)


def test_approved_phases_and_supervisors():
    answers: dict[str, object] = {}
    document: dict[str, list[dict[str, Any]]] = {
        "phases": [
            *({"designator": f"U7{n}", "rail": "core", "point": f"L{n}", "amps": 50} for n in range(5)),
            *({"designator": f"U8{n}", "rail": "mem"} for n in range(2)),
        ]
    }
    for seed in range(20):
        dice = random.Random(seed)
        read = {
            phase["designator"]: PhaseRead(
                dice.choice([None, 0.0, 500.0, 500.0, 510.0, 380.0]), dice.choice([None, 60.0, 61.0, 65.5, 52.0])
            )
            for phase in document["phases"]
        }
        empty = {"U73"} if dice.random() < 0.3 else set()
        found = compared(plain_board(**document), read, empty)
        load = {"core": dice.choice([100.0, 240.0, 260.0]), "mem": 20.0, "none": 1.0}
        answers[f"phases {seed}"] = [
            [phase.word for phase in found],
            [phase.says for phase in found],
            shares(found, load),
        ]
    for high, low in itertools.product((None, 9.9, 10.0, 12.0), (None, 9.9, 11.3, 11.5, 12.0)):
        given = {"C1": high, "U60.1": low}
        read_volts = {name: Value(volts, volts) for name, volts in given.items() if volts is not None}
        for threshold in ({"threshold_v": 10.0}, {}):
            entry = {"rail": "in12", "high_point": "C1", "low_point": "U60.1", **threshold}
            supervisors = {"supervisors": [{"designator": "U60", "inputs": [entry]}]}
            found_inputs = supervised(plain_board(**supervisors), read_volts)
            answers[f"supervised {high} {low} {threshold}"] = [found_inputs, refuses(found_inputs)]
    approve(__file__, "phases-and-supervisors", answers)


def test_approved_starts():
    answers: dict[str, object] = {}
    for seed in range(24):
        dice = np.random.default_rng(seed)
        levels = np.sort(dice.uniform(0, 2, int(dice.integers(1, 5))))
        samples, at = [], 0.0
        for level in levels:
            if dice.random() < 0.5:
                samples.append((at, 12.0, float(level) * 2.5))
                at += 0.02
            for _ in range(int(dice.integers(1, 30))):
                samples.append((at, 12.0 - float(level), float(level * dice.normal(1, 0.003))))
                at += 0.02
        answers[f"start {seed}"] = read_curve(samples, float(dice.choice([1.0, 5.0])))
    approve(__file__, "starts", answers)


def test_approved_states():
    answers: dict[str, object] = {}
    for node in CHAIN.nodes:
        for share in (0.0, 0.9, 1.0, 1.1, 2.0):
            read = measured(node, share, random.Random(1))
            found, warnings = states(CHAIN, [read], PLACES)
            answers[f"{node.id} {share}"] = [found[node.id], warnings]
    approve(__file__, "states", answers)


def test_logic_that_makes_an_enable_is_followed_eight_deep():
    names = ["out", *(f"s{number}" for number in range(12))]
    entries: list[dict[str, Any]] = [
        {"id": name, "kind": "signal" if at else "rail", "volts": [1, 2], "needs": names[at + 1 : at + 2]}
        for at, name in enumerate(names)
    ]
    chain = chain_of(plain_board(startup={"nodes": entries}))
    page = converter(chain, SCAUP, "out")
    assert page
    assert [step.node.id for step in page.steps] == names[:10], "the output, its enable, and eight further up"


def test_one_node_alone_and_certainty():
    """A map of one node has no pair; what is certain tells nothing more."""
    alone = random_chain(random.Random(1), 1)
    for present in (True, False):
        found = isolate(alone, [reading("n0", present)], NOWHERE)
        assert not found.pairs
        assert found.probes == ()
        assert [suspect.chance for suspect in found.suspects] == [1.0]
