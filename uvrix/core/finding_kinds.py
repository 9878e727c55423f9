"""The kinds of finding that a memory report may come to: one entry each, with everything that depends on the kind.

Kinds that break in the same way share a group: its usual shares of causes, and what is worth trying. The shares are
usual practice's orders of magnitude; a shop sets its own (planning/habits.py) and its outcomes correct them. A new kind
is an entry here, its hypotheses in memory/finding/hypotheses.py and, where it can be simulated, its rows in
virtual/faults.py; a test says what is missing.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from uvrix.language import gettext

# What can be broken behind a finding, and how the shop calls it.
CAUSES: Mapping[str, str] = {
    "chip-joint": gettext("the chip's joint"),
    "chip": gettext("the chip itself"),
    "board": gettext("a pad or trace"),
    "core-joint": gettext("the core or its joints"),
    "supply": gettext("a supply"),
    "other": gettext("tester, seating or leads"),
}
Touches = Literal["nothing", "chip", "chips"]


@dataclass(frozen=True, slots=True)
class Group:
    """Kinds that break in the same way: `shares` by cause add to 1, `tried` are actions worth thinking of."""

    name: str
    label: str
    shares: Mapping[str, float]
    tried: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class FindingKind:
    """A kind of finding: its `title`, what it `means`, its group, what it touches, whether it can be simulated.

    `group` is empty where nothing is broken.
    """

    name: str
    title: str
    means: str
    group: str
    touches: Touches
    simulated: bool


def _group(name: str, label: str, shares: tuple[float, ...], *tried: str) -> Group:
    return Group(name, label, dict(zip(CAUSES, shares, strict=True)), tried)


LINES = ("measure-lines", "rerun", "reball", "replace", "lift-core")
GROUPS: Mapping[str, Group] = {
    group.name: group
    for group in (
        _group("line", gettext("One line, or two bridged"), (0.50, 0.25, 0.10, 0.13, 0.01, 0.01), *LINES),
        _group("lane", gettext("One byte lane"), (0.40, 0.34, 0.08, 0.16, 0.01, 0.01), *LINES),
        _group("half", gettext("Half of a chip"), (0.34, 0.45, 0.05, 0.10, 0.05, 0.01), *LINES),
        _group(
            *("site", gettext("A whole chip"), (0.30, 0.40, 0.03, 0.10, 0.15, 0.02)),
            *("check-supply", "measure-lines", "reball", "replace", "lift-core"),
        ),
        _group("cells", gettext("Scattered cells"), (0.05, 0.88, 0.01, 0.02, 0.03, 0.01), "rerun", "reball", "replace"),
        _group("address-line", gettext("An address line"), (0.54, 0.26, 0.10, 0.08, 0.01, 0.01), *LINES),
        _group(
            *("joint", gettext("Comes and goes"), (0.68, 0.05, 0.05, 0.20, 0.01, 0.01)),
            *("rerun", "reball", "replace", "lift-core"),
        ),
        _group(
            *("controller", gettext("Both channels of a controller"), (0.05, 0.03, 0.05, 0.50, 0.30, 0.07)),
            *("check-supply", "ohms", "lift-core"),
        ),
        _group(
            *("rail-group", gettext("All chips of one supply"), (0.03, 0.02, 0.05, 0.30, 0.55, 0.05)),
            *("check-supply", "volts", "ohms", "lift-core"),
        ),
        _group("everywhere", gettext("Everywhere"), (0.01, 0.02, 0.02, 0.40, 0.40, 0.15), "ohms", "volts", "lift-core"),
        _group("refused", gettext("The tester refused"), (0.01, 0.01, 0.01, 0.12, 0.20, 0.65), "recipe", "volts"),
        _group("unclear", gettext("Not clear"), (0.22, 0.24, 0.06, 0.20, 0.12, 0.16), "rerun", "ohms", "volts"),
    )
}
FINDING_KINDS: Mapping[str, FindingKind] = {
    kind.name: kind
    for kind in (
        FindingKind("no-errors", gettext("No errors"), "", "", "nothing", simulated=False),
        FindingKind("refused", gettext("The tester refused"), "", "refused", "nothing", simulated=False),
        FindingKind(
            "dq-line",
            gettext("One data line"),
            gettext("One line alone points at its ball, pad or trace before the chip itself."),
            *("line", "chip"),
            simulated=True,
        ),
        FindingKind(
            "dq-bridge",
            gettext("Two lines bridged"),
            gettext(
                "Two lines that read alike wherever the pattern has them differ are bridged: balls, pads or traces."
            ),
            *("line", "chip"),
            simulated=True,
        ),
        FindingKind(
            "byte-lane",
            gettext("One byte lane"),
            gettext("Eight lines of one byte share an inversion or error-detect line: the first suspect."),
            *("lane", "chip"),
            simulated=True,
        ),
        FindingKind(
            "half",
            gettext("Half of the chip"),
            gettext("Sixteen lines share a write clock; it, or half of the chip, is the suspect."),
            *("half", "chip"),
            simulated=True,
        ),
        FindingKind(
            "site",
            gettext("The whole chip"),
            gettext(
                "Wrong lines all over one chip point at the chip as a whole: "
                "dead, unpowered, unsoldered, an address line."
            ),
            *("site", "chip"),
            simulated=True,
        ),
        FindingKind(
            "cells",
            gettext("Scattered cells"),
            gettext("Single wrong bits on changing lines of one chip point at its die."),
            *("cells", "chip"),
            simulated=True,
        ),
        FindingKind(
            "address-line",
            gettext("An address line"),
            gettext("Errors at only one half of the addresses point at an address line of the chip, or its joint."),
            *("address-line", "chip"),
            simulated=True,
        ),
        FindingKind(
            "joint",
            gettext("A joint"),
            gettext(
                "What comes and goes is a joint: the chip's first, since it is far easier to lift, then the core's."
            ),
            *("joint", "chip"),
            simulated=True,
        ),
        FindingKind(
            "controller",
            gettext("Both channels of one controller"),
            gettext(
                "Both channels of one controller fail together: the core, its joints or their supply, not two chips."
            ),
            *("controller", "chips"),
            simulated=True,
        ),
        FindingKind(
            "rail-group",
            gettext("All chips of one supply"),
            gettext("The chips that share one supply fail together: measure that supply before lifting any of them."),
            *("rail-group", "chips"),
            simulated=True,
        ),
        FindingKind(
            "everywhere",
            gettext("Everywhere"),
            gettext("All chips fail together, so no single chip is the cause: go to Ohms and Volts first."),
            *("everywhere", "chips"),
            simulated=True,
        ),
        FindingKind("unclear", gettext("Not clear yet"), "", "unclear", "nothing", simulated=False),
    )
}
# Kinds that name one chip, so that its mark is confirmed before anything is done to it.
OF_ONE_CHIP = frozenset(kind.name for kind in FINDING_KINDS.values() if kind.touches == "chip")


USUAL_SHARES: Mapping[str, Mapping[str, float]] = {name: group.shares for name, group in GROUPS.items()}


def group_of(kind: str) -> Group | None:
    """The group of a kind of finding; None where nothing is broken, or nobody knows the kind."""
    known = FINDING_KINDS.get(kind)
    return GROUPS.get(known.group) if known else None
