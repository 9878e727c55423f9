"""What can be broken behind a finding, and what each action shows or cures.

The numbers are usual practice's orders of magnitude (domain.md §5 and §6: the chip is far easier to lift than the
core; an open ball shifts a reading in circuit by little; a supply shared by the failing chips is quick to read). How
often each cause lies behind a kind of finding is the shop's own (habits.py) and is learned (learning.py); how an
action answers to a cause is not.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

CAUSES = ("chip-joint", "chip", "board", "core-joint", "supply", "other")
Shares = Mapping[str, float]

# Kinds of finding that are alike in what breaks them.
GROUPS = {
    "dq-line": "line",
    "dq-bridge": "line",
    "byte-lane": "lane",
    "half": "half",
    "site": "site",
    "cells": "cells",
    "address-line": "address-line",
    "joint": "joint",
    "controller": "controller",
    "rail-group": "rail-group",
    "everywhere": "everywhere",
    "refused": "refused",
    "unclear": "unclear",
}


def _shares(*parts: float) -> dict[str, float]:
    return dict(zip(CAUSES, parts, strict=True))


USUAL_SHARES: dict[str, dict[str, float]] = {
    "line": _shares(0.50, 0.25, 0.10, 0.13, 0.01, 0.01),
    "lane": _shares(0.40, 0.34, 0.08, 0.16, 0.01, 0.01),
    "half": _shares(0.34, 0.45, 0.05, 0.10, 0.05, 0.01),
    "site": _shares(0.30, 0.40, 0.03, 0.10, 0.15, 0.02),
    "cells": _shares(0.05, 0.88, 0.01, 0.02, 0.03, 0.01),
    "address-line": _shares(0.54, 0.26, 0.10, 0.08, 0.01, 0.01),
    "joint": _shares(0.68, 0.05, 0.05, 0.20, 0.01, 0.01),
    "controller": _shares(0.05, 0.03, 0.05, 0.50, 0.30, 0.07),
    "rail-group": _shares(0.03, 0.02, 0.05, 0.30, 0.55, 0.05),
    "everywhere": _shares(0.01, 0.02, 0.02, 0.40, 0.40, 0.15),
    "refused": _shares(0.01, 0.01, 0.01, 0.12, 0.20, 0.65),
    "unclear": _shares(0.22, 0.24, 0.06, 0.20, 0.12, 0.16),
}

REPAIRS = frozenset({"reball", "replace", "lift-core", "recipe"})


@dataclass(frozen=True, slots=True)
class Effect:
    """What an action does: `says_yes` is the chance, by cause, that it cures (a repair) or reads odd (a test)."""

    says_yes: Mapping[str, float]
    otherwise: float
    why: str
    yes: str
    no: str

    def chance(self, cause: str, outcome: str) -> float:
        """Chance of an outcome (`yes`, `no` or `worse`, which tells no more than `no`) when a cause is true."""
        yes = self.says_yes.get(cause, self.otherwise)
        return yes if outcome == "yes" else 1 - yes


EFFECTS: dict[str, Effect] = {
    "measure-lines": Effect(
        {"chip-joint": 0.55, "chip": 0.45, "board": 0.8, "core-joint": 0.45},
        0.05,
        "Its lines read against those of its equals tell a line that is broken from cells that are.",
        "A line reads odd",
        "All read alike",
    ),
    "reball": Effect(
        {"chip-joint": 0.9, "board": 0.15},
        0.0,
        "The chip comes off and goes back on: that cures its joint, and its pads can be measured meanwhile.",
        "It is cured",
        "It fails as before",
    ),
    "replace": Effect(
        {"chip-joint": 0.9, "chip": 0.95, "board": 0.15},
        0.0,
        "A new chip cures joint and die at once, but costs a part.",
        "It is cured",
        "It fails as before",
    ),
    "rerun": Effect(
        {"chip-joint": 0.75, "core-joint": 0.7, "supply": 0.3, "board": 0.2, "chip": 0.12},
        0.3,
        "What fails every time is one thing; what comes and goes with flexing or warmth is a joint.",
        "It comes and goes",
        "It fails every time",
    ),
    "check-supply": Effect(
        {"supply": 0.9},
        0.03,
        "The supply that these chips share is quicker to read than any chip to lift.",
        "The supply is wrong",
        "The supply is right",
    ),
    "ohms": Effect(
        {"supply": 0.5, "core-joint": 0.15, "chip": 0.15},
        0.02,
        "Memory and core rails are read unpowered before anything is lifted.",
        "A rail reads odd",
        "The rails read right",
    ),
    "volts": Effect(
        {"supply": 0.9, "core-joint": 0.1},
        0.03,
        "The rails that these chips share, read while they run.",
        "A rail is wrong",
        "The rails are right",
    ),
    "lift-core": Effect(
        {"core-joint": 0.65},
        0.0,
        "Renewing the core's joints is the long way: for what no chip and no supply explains.",
        "It is cured",
        "It fails as before",
    ),
    "recipe": Effect(
        {"other": 0.8},
        0.0,
        "The tester did not get as far as the memory: build, index or command first.",
        "The tester runs",
        "It refuses as before",
    ),
}

# What is worth thinking of for each group, before it is ranked.
TRIED_FOR: dict[str, tuple[str, ...]] = {
    "line": ("measure-lines", "rerun", "reball", "replace", "lift-core"),
    "lane": ("measure-lines", "rerun", "reball", "replace", "lift-core"),
    "half": ("measure-lines", "rerun", "reball", "replace", "lift-core"),
    "site": ("check-supply", "reball", "replace", "lift-core"),
    "cells": ("rerun", "reball", "replace"),
    "address-line": ("measure-lines", "rerun", "reball", "replace", "lift-core"),
    "joint": ("rerun", "reball", "replace", "lift-core"),
    "controller": ("check-supply", "ohms", "lift-core"),
    "rail-group": ("check-supply", "volts", "ohms", "lift-core"),
    "everywhere": ("ohms", "volts", "lift-core"),
    "refused": ("recipe", "volts"),
    "unclear": ("rerun", "ohms", "volts"),
}
