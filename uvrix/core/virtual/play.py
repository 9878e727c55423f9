"""Plays virtual cards with hidden faults by the plan's own advice: what it comes to, in minutes, harm and probes."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from uvrix.core.boards.document import board_from_document
from uvrix.core.boards.model import Board
from uvrix.core.case.answer import step_json
from uvrix.core.case.belief.believe import believe
from uvrix.core.case.belief.weighing import Cause
from uvrix.core.case.case_file import case_document, case_from
from uvrix.core.case.facts import Facts
from uvrix.core.case.plan.order import plan
from uvrix.core.case.shop import Shop
from uvrix.core.readings.notation import Value
from uvrix.core.readings.reading_file import Observation, Reading
from uvrix.core.virtual.bench import Bench, hidden_faults
from uvrix.core.virtual.card import VirtualCard, healthy_ohms
from uvrix.core.virtual.whole_boards import whole_board

MOST_STEPS = 160
GOOD_CARDS = 5


@dataclass
class Played:
    """A card played to its end: the faults it had, how it ended, steps, minutes, harm, causes stated on the way."""

    faults: str
    ended: str = ""
    repaired: bool = False
    right: bool = False
    minutes: float = 0.0
    harm: list[str] = field(default_factory=list)
    steps: list[dict[str, Any]] = field(default_factory=list)
    entries: list[dict[str, Any]] = field(default_factory=list)
    stated: list[tuple[float, bool, str]] = field(default_factory=list)


def known_cards(board: Board, many: int = GOOD_CARDS) -> tuple[Observation, ...]:
    """What good cards of a model read: every rail to ground."""
    healthy = healthy_ohms(board, {})
    found = []
    for seed in range(1000, 1000 + many):
        card = VirtualCard(board, healthy, seed=seed)
        for rail in card.rails:
            ohms = card.between(rail, "ground").ohms
            assert ohms is not None
            reading = Reading(rail, "resistance", Value(ohms, ohms), "ohms", "ground", meter="")
            found.append(Observation(board.id, f"G{seed}", reading))
    return tuple(found)


Chooser = Callable[[Facts, Sequence[Cause]], Mapping[str, Any]]


def by_the_plan(facts: Facts, causes: Sequence[Cause]) -> Mapping[str, Any]:
    """The first step of the plan."""
    return step_json(plan(facts, causes)[0])


def play(
    board: Board, faults: str, seed: int, choose: Chooser = by_the_plan, known: Sequence[Observation] | None = None
) -> Played:
    """Plays one card from the parcel to its return."""
    known = known_cards(board) if known is None else known
    good: dict[str, list[float]] = {}
    for observation in known:
        if observation.reading.value.middle is not None:
            good.setdefault(observation.reading.point, []).append(observation.reading.value.middle)
    bench = Bench(board, hidden_faults(board, faults), seed, good)
    played = Played(faults)
    truth = {fault.of for fault in bench.faults} | {fault.kind for fault in bench.faults if fault.kind == "host"}
    for _ in range(MOST_STEPS):
        facts = Facts(case_from(case_document(board.id, played.entries), board), board, known, Shop())
        causes = believe(facts)
        step = choose(facts, causes)
        if causes and causes[0].cause not in {"unknown", "none"}:
            played.stated.append((causes[0].chance, _true(causes[0], bench, board, truth), step["step"]))
        played.steps.append(dict(step))
        answered = bench.answer(step)
        played.minutes += answered["minutes"]
        if answered["harm"]:
            played.harm.append(f"{step['do']} {step['target']}: {answered['harm']}")
        played.entries += answered["entries"]
        if step["do"] == "return":
            played.ended = str(step["target"])
            break
    played.repaired = bench.well() and not bench.active("host")
    played.right = (played.ended == "repaired" and bench.well()) or (
        played.ended == "no-fix" and not [fault for fault in bench.faults if fault.kind != "host"] and not bench.off
    )
    return played


def _true(cause: Cause, bench: Bench, board: Board, truth: set[str]) -> bool:
    if cause.cause == "host":
        # a card with nothing wrong shows nothing at the bench: what its owner saw comes from outside
        return "host" in truth or not bench.faults
    if cause.cause in {"core-joint", "core"}:
        return any(fault.kind == "core-joint" for fault in bench.faults)
    return bool(set(cause.designators) & {fault.of for fault in bench.faults})


def random_faults(board: Board, rng: np.random.Generator) -> str:
    """Hidden faults as cards come in: single, following, two at once, nothing wrong."""
    parts = {part.designator: part for part in board.parts}
    stages = [name for name, part in parts.items() if part.kind == "power-stage"]
    small = [name for name, part in parts.items() if part.kind == "capacitor"]
    on_map = [part for node in board.startup_nodes.values() for part in node.parts]
    fuses = [point.id for point in board.points if point.kind == "fuse"]
    chips = [site.designator for site in board.sites]
    of_net = {point.net: point.id for point in board.points if point.kind == "fuse"}

    def picked(names: Sequence[str]) -> str:
        return str(rng.choice(list(names)))

    def short_behind_fuse() -> str:
        inputs = [name for name in small if set(parts[name].rails) & set(of_net)]
        if not inputs:
            return f"blown:{picked(fuses)}"
        name = picked(inputs)
        return f"short:{name},blown:{of_net[parts[name].rails[0]]}"

    controller = chr(65 + int(rng.integers(len(chips) // 2)))
    makes: dict[str, tuple[float, Callable[[], str]]] = {
        "short": (0.14, lambda: f"short:{picked(small)}"),
        "stage": (0.06, lambda: f"joined:{picked(stages)}"),
        "partial": (0.04, lambda: f"partial:{picked(small)}"),
        "layers": (0.03, lambda: f"short:{(name := picked(small))},layers:{name}"),
        "blown": (0.05, lambda: f"blown:{picked(fuses)}"),
        "following": (0.05, short_behind_fuse),
        "sick": (0.03, lambda: f"sick:{picked(fuses)}"),
        "missing": (0.08, lambda: f"missing:{picked(on_map)}"),
        "dead": (0.12, lambda: f"dead:{picked(on_map)}"),
        "torn": (0.03, lambda: f"torn:{rng.choice(['A', 'B'])}{int(rng.integers(12, 82))}"),
        "line": (0.09, lambda: f"dq-line:{picked(chips)}:{int(rng.integers(32))}"),
        "cells": (0.07, lambda: f"cells:{picked(chips)}"),
        "joint": (0.07, lambda: f"joint:{picked(chips)}"),
        "core": (0.03, lambda: f"core-joint:{controller}"),
        "host": (0.03, lambda: "host"),
        "two": (0.05, lambda: f"short:{picked(small)},dead:{picked(on_map)}"),
        "late": (0.05, lambda: f"dq-line:{picked(chips)}:{int(rng.integers(32))},short:{picked(small)}"),
        "later": (0.05, lambda: f"cells:{picked(chips)},dead:{picked(on_map)}"),
        "none": (0.03, lambda: ""),
    }
    weights = np.array([weight for weight, _ in makes.values()])
    return list(makes.values())[int(rng.choice(len(weights), p=weights / weights.sum()))][1]()


def random_card(seed: int) -> tuple[Board, str]:
    """A board at random and faults on it."""
    rng = np.random.default_rng(seed)
    board = board_from_document(whole_board(rng))
    return board, random_faults(board, rng)
