"""An entry of a case as the step that it came of, and what steps cost: minutes, parts, heat."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from uvrix.core.boards.model import Board
from uvrix.core.case.plan.steps import (
    CHIP_SWAP_MINUTES,
    CORE_MINUTES,
    LOOK_SIDE_MINUTES,
    MINUTES,
    PROOF_MINUTES,
)

Step = dict[str, Any]
# Acts that lift a part or put one on, and so heat its place and what stands near.
HEATS = frozenset({"remove", "place", "swap", "reball"})
# Minutes of a step that has no figure of its own.
OTHER_MINUTES = 5.0
# Steps that measure: they change nothing, and are worth what they tell.
MEASURES = frozenset({"trial", "look", "read", "tick", "inject", "glow", "draw", "rung", "run"})


def step_of(entry: Mapping[str, Any]) -> Step:
    """The step that brings an entry of a case (docs/formats §17), with what carries it out."""
    if "did" in entry:
        return {"do": entry["did"], "target": entry.get("site", ""), "shields": list(entry.get("shields", ()))}
    key = next(key for key in _OBSERVED if key in entry)
    return _OBSERVED[key](entry[key])


def _reading(value: Mapping[str, Any]) -> Step:
    return {"do": "read", "target": value["point"], "quantity": value["quantity"]}


def _injected(value: Mapping[str, Any]) -> Step:
    return {"do": "inject", "target": value["point"], "volts": value["volts"], "amps_limit": value["amps"]}


def _run(value: Mapping[str, Any]) -> Step:
    condition = list(value.get("condition", ())) or ["cold"]
    return {"do": "run", "target": condition[0], "condition": condition}


def _seen(value: Mapping[str, Any]) -> Step:
    return {"do": "look", "target": value.get("part") or value.get("side", "")}


_OBSERVED: Mapping[str, Callable[[Any], Step]] = {
    "symptom": lambda _: {"do": "symptom", "target": "card"},
    "trial": lambda value: {"do": "trial", "target": value["changed"]},
    "looked": lambda value: {"do": "look", "target": value},
    "seen": _seen,
    "lot": lambda value: {"do": "look", "target": value["site"]},
    "answered": lambda value: {"do": value["do"], "target": str(value.get("answer", ""))},
    "reading": _reading,
    "ticked": lambda value: {"do": "tick", "target": value},
    "injected": _injected,
    "glow": lambda _: {"do": "glow", "target": ""},
    "power": lambda value: {"do": "power", "target": value},
    "draw": lambda _: {"do": "draw", "target": "supply"},
    "rung": lambda _: {"do": "rung", "target": "computer"},
    "run": _run,
    "pads": lambda value: {"do": "pads", "target": value["site"]},
    "checked": lambda value: {"do": "proof", "target": value["check"]},
}


def minutes_of(step: Mapping[str, Any], board: Board) -> float:
    """What a step usually takes, whoever does it: the same figures for a person and for the advice."""
    do, target = str(step["do"]), str(step["target"])
    if do == "proof":
        return PROOF_MINUTES.get(target, OTHER_MINUTES)
    if do in HEATS and target == board.core.designator:
        return CORE_MINUTES
    if do == "swap" and target in board.by_designator:
        return CHIP_SWAP_MINUTES
    if do == "look" and target in {"front", "back", "all"}:
        return LOOK_SIDE_MINUTES
    return MINUTES.get(do, OTHER_MINUTES)


@dataclass(frozen=True, slots=True)
class Cost:
    """What steps came to: minutes of work, parts used up, times that a place was heated."""

    minutes: float
    parts: int
    heats: int


def cost_of(steps: Sequence[Mapping[str, Any]], board: Board) -> Cost:
    """The cost of some steps; a part that goes back where it came from is none used up."""
    lifted: set[str] = set()
    parts = 0
    for step in steps:
        do, target = step["do"], str(step["target"])
        if do == "remove":
            lifted.add(target)
        elif do == "place" and target in lifted:
            lifted.discard(target)
        elif do in {"place", "swap"}:
            lifted.discard(target)
            parts += 1
    heats = sum(step["do"] in HEATS for step in steps)
    return Cost(sum(minutes_of(step, board) for step in steps), parts, heats)
