"""What to do next about a finding.

Minutes and chances are usual practice's orders of magnitude until the shop's own take over.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Action:
    """One thing to do: `chance` that it cures or settles the matter, in how many minutes, and why."""

    do: str
    designators: tuple[str, ...]
    chance: float
    minutes: float
    why: str


@dataclass(frozen=True, slots=True)
class _Row:
    do: str
    share: float
    minutes: float
    why: str


MEASURE = _Row(
    "measure-lines", 0.6, 10, "Its lines read against those of its equals tell ball, pad or trace from chip."
)
REBALL = _Row("reball", 0.55, 50, "The chip comes off and goes back on: cures the joint, and its pads can be measured.")
REPLACE = _Row("replace", 0.85, 55, "A new chip cures the joint and the die at once, but costs a part.")
RERUN_WARM = _Row("rerun", 0.4, 10, "A second run under another condition tells what stays from what comes and goes.")
RERUN_FLEXED = _Row("rerun", 0.4, 10, "Run it flexed and pressed again: the chip that follows the flexing is the one.")
OHMS = _Row("ohms", 0.5, 15, "Read the memory and core rails unpowered before anything is lifted.")
VOLTS = _Row("volts", 0.5, 15, "Read the rails that these chips share while they run.")
SUPPLY = _Row("check-supply", 0.6, 10, "The supply that these chips share is quicker to read than any chip to lift.")
LIFT = _Row("lift-core", 0.5, 180, "If the supplies are right, the core's joints on that side are left.")
RECIPE = _Row("recipe", 0.8, 5, "The tester did not get as far as the memory: build, index or command first.")

STEPS: dict[str, tuple[_Row, ...]] = {
    "dq-line": (MEASURE, REBALL, REPLACE),
    "dq-bridge": (MEASURE, REBALL, REPLACE),
    "address-line": (REBALL, REPLACE),
    "joint": (REBALL, RERUN_FLEXED, LIFT),
    "byte-lane": (MEASURE, REBALL, REPLACE),
    "half": (MEASURE, REBALL, REPLACE),
    "site": (SUPPLY, REBALL, REPLACE),
    "cells": (REPLACE, RERUN_WARM),
    "controller": (SUPPLY, OHMS, LIFT),
    "rail-group": (SUPPLY, VOLTS, OHMS),
    "everywhere": (OHMS, VOLTS),
    "refused": (RECIPE, VOLTS),
    "unclear": (RERUN_WARM,),
    "no-errors": (
        _Row("rerun", 0.5, 20, "One clean run proves little: run it warm and cold again before trusting it."),
    ),
}


def actions_for(kind: str, designators: tuple[str, ...], chance: float) -> list[Action]:
    """What to do about a finding of this kind, in the order to try it."""
    certain = kind in ("refused", "unclear", "no-errors")
    return [
        Action(row.do, designators, round(row.share * (1.0 if certain else chance), 3), row.minutes, row.why)
        for row in STEPS[kind]
    ]
