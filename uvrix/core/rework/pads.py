"""The pad survey: how each pad below a chip or the core looks, counted by class; good, fixable, marginal or donor."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from uvrix.core.boards.packages import CLASSES, Package
from uvrix.core.rework.limits import PADS_SHARE_FIXABLE, PADS_SHARE_MARGINAL, SIGNALS_FIXABLE, SIGNALS_MARGINAL
from uvrix.core.values.words import percent
from uvrix.language import gettext

PadState = Literal["good", "torn", "grey", "repaired", "unused"]
PAD_STATES: tuple[PadState, ...] = ("good", "torn", "grey", "repaired", "unused")
PadVerdict = Literal["not-surveyed", "good", "fixable", "marginal", "donor"]


@dataclass(frozen=True, slots=True)
class PadRule:
    """What the shop repairs: torn signal pads, shares of supply and ground that may be gone, for fixable and marginal.

    Supply and ground are joined in many places, so a share of them may be missing; a signal has one ball.
    """

    signals_fixable: int = SIGNALS_FIXABLE
    signals_marginal: int = SIGNALS_MARGINAL
    share_fixable: float = PADS_SHARE_FIXABLE
    share_marginal: float = PADS_SHARE_MARGINAL


@dataclass(frozen=True, slots=True)
class ClassCount:
    """Pads of a class by state."""

    pad_class: str
    total: int
    torn: int
    grey: int
    repaired: int


@dataclass(frozen=True, slots=True)
class Survey:
    """Counts by class, the verdict with its reasons, and what each torn signal breaks."""

    counts: tuple[ClassCount, ...]
    verdict: PadVerdict
    why: tuple[str, ...]
    broken: tuple[str, ...]


def survey(package: Package, states: Mapping[str, str], rule: PadRule) -> Survey:
    """The verdict on a survey; pads that nobody marked count as good, and none marked at all is no survey.

    A pad marked as unused leads nowhere on this board: it counts among the unused ones, whatever the package says.
    """
    by_class: dict[str, Counter[str]] = {name: Counter() for name in CLASSES}
    for ball, pad_class in package.classes.items():
        state = states.get(ball, "good")
        by_class["unused" if state == "unused" else pad_class][state] += 1
    counts = tuple(
        ClassCount(name, found.total(), found["torn"], found["grey"], found["repaired"])
        for name, found in by_class.items()
        if found.total()
    )
    torn = [ball for ball, state in states.items() if state == "torn" and ball in package.classes]
    broken = tuple(_breaks(package, ball) for ball in sorted(torn) if package.classes[ball] == "signal")
    if not states:
        return Survey(counts, "not-surveyed", (gettext("no pad was marked yet"),), broken)
    verdict, why = _verdict({count.pad_class: count for count in counts}, rule)
    return Survey(counts, verdict, why, broken)


def by_eye(states: Mapping[str, str]) -> PadVerdict:
    """The verdict on pads of which no ball map is known: nobody can count them by class."""
    if not states:
        return "not-surveyed"
    return "fixable" if {"torn", "grey"} & set(states.values()) else "good"


def comes_to(verdict: PadVerdict) -> str:
    """A survey's verdict as a case says it (docs/formats §17): good, fixable or donor; empty where there is none.

    What is marginal is repaired as well, at a risk.
    """
    return {"not-surveyed": "", "marginal": "fixable"}.get(verdict, verdict)


def _verdict(counts: Mapping[str, ClassCount], rule: PadRule) -> tuple[PadVerdict, tuple[str, ...]]:
    none = ClassCount("signal", 0, 0, 0, 0)
    signal = counts.get("signal", none)
    why = [
        gettext(
            "{torn} of {total} signal pads torn; up to {signals_fixable} are repaired",
            torn=signal.torn,
            total=signal.total,
            signals_fixable=rule.signals_fixable,
        )
    ]
    worst = _rank(signal.torn, rule.signals_fixable, rule.signals_marginal)
    for name in ("supply", "ground"):
        marked = counts.get(name, none)
        share = marked.torn / marked.total if marked.total else 0.0
        allowed = gettext("up to {share_fixable} may go", share_fixable=percent(rule.share_fixable))
        why.append(
            gettext(
                "{torn} of {total} {name} pads torn, {share}; {allowed}",
                torn=marked.torn,
                total=marked.total,
                name=name,
                share=percent(share),
                allowed=allowed,
            )
        )
        worst = max(worst, _rank(share, rule.share_fixable, rule.share_marginal))
    grey = sum(count.grey for count in counts.values())
    if grey:
        why.append(gettext("{grey} pads grey: scrape and tin each, or they will not wet", grey=grey))
    if unused := counts.get("unused", none).torn:
        why.append(gettext("{unused} torn pads are unused and count for nothing", unused=unused))
    verdicts: tuple[PadVerdict, ...] = ("fixable", "marginal", "donor")
    harmed = any(count.torn or count.grey for name, count in counts.items() if name != "unused")
    return verdicts[worst] if harmed else "good", tuple(why)


def _rank(value: float, fixable: float, marginal: float) -> int:
    return 0 if value <= fixable else 1 if value <= marginal else 2


def _breaks(package: Package, ball: str) -> str:
    """What a torn signal pad breaks, by the ball's name in the package."""
    name = package.signals.get(ball, "") or gettext("a signal without a name")
    line = next((number for number, own in package.lines.items() if own == ball), None)
    if line is not None:
        return gettext(
            "{ball} {name}: data line {line}, byte lane {line_2}", ball=ball, name=name, line=line, line_2=line // 8
        )
    upper = name.upper()
    if "DQ" in upper:
        return gettext("{ball} {name}: a data line", ball=ball, name=name)
    if upper.startswith(("RX", "TX", "PEX")):
        return gettext("{ball} {name}: a lane of the slot; the link trains narrower", ball=ball, name=name)
    if "CLK" in upper or upper.startswith(("CK", "WCK", "XTAL")):
        return gettext("{ball} {name}: a clock; what it drives does not run", ball=ball, name=name)
    return gettext("{ball} {name}: a signal of its own", ball=ball, name=name)
