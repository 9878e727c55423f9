"""Runs compared under their conditions: what stays, what comes and goes, what rework changed.

A chip that fails in every run is one thing; one that fails with flexing, pressing or warmth and not without is a
joint. Runs after rework speak of the card as it is now, so the finding is theirs; the runs before say what changed.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from uvrix.core.boards.model import Board
from uvrix.core.memory.report import Report
from uvrix.core.memory.sites import BoardCounts, count_sites
from uvrix.core.rework.near import apart, footprint
from uvrix.language import gettext

AFTER = "after-rework"
FORCE = ("flexed", "pressed", "tapped")
# A fault that stays is missed by a run once in this many.
MISSED = 0.03
# How a joint comes and goes, and how often so: with force, gone with force, with warmth, with cold, or as it likes.
OPEN, SHUT = 0.85, 0.1
MANNERS = {"force": 0.4, "no force": 0.1, "warm": 0.15, "cold": 0.1, "": 0.25}
# How often a failing chip is a joint, before the runs are seen, where their conditions differ and where they do not.
PRIOR_DIFFERENT, PRIOR_SAME = 0.3, 0.04
# So small a share of a run's errors, or of the chip's errors in its worst run, may be stray; more than a few
# errors that are that share of their own run are not, however many a longer run of another day counted.
LITTLE, OF_MOST = 0.04, 0.25
FEW, NOT_STRAY = 3, 0.3


@dataclass(frozen=True, slots=True)
class Run:
    """One report against the board: its condition in words, and the chips that fail in it.

    `told` is false where it says nothing of chips: the tester refused, or it has neither errors nor a pass.
    """

    condition: tuple[str, ...]
    counts: BoardCounts
    failing: frozenset[str]
    told: bool

    @property
    def words(self) -> str:
        """The condition as it is said."""
        return ", ".join(self.condition) or gettext("without a condition")


@dataclass(frozen=True, slots=True)
class Compared:
    """What the runs say of one chip: `stays`, `comes-and-goes`, `appears-after-rework` or `gone-after-rework`."""

    designator: str
    verdict: str
    why: str


def runs_of(board: Board, reports: Sequence[Report]) -> list[Run]:
    """Each report as a run."""
    counted = [count_sites(board, [report]) for report in reports]
    most: dict[tuple[bool, str], int] = {}
    for report, counts in zip(reports, counted, strict=True):
        for site in counts.sites:
            key = report.evidence.tally, site.place.site.designator
            most[key] = max(most.get(key, 0), site.errors)
    return [
        Run(report.meta.condition, counts, _failing(report.evidence.tally, counts, most), _told(report))
        for report, counts in zip(reports, counted, strict=True)
    ]


def _told(report: Report) -> bool:
    if report.meta.result == "refused":
        return False
    zeros = report.evidence.tally and report.rows > 0
    return report.errors > 0 or report.meta.result == "pass" or zeros


def _failing(tally: bool, counts: BoardCounts, most: Mapping[tuple[bool, str], int]) -> frozenset[str]:
    """The chips that fail in a run: not by a stray error or two among many, here or of what they had in other runs.

    `most` is by kind of report: a tally of every error and the first rows of a list are no counts of one thing.
    """
    return frozenset(
        site.place.site.designator
        for site in counts.sites
        if (site.errors and site.share >= LITTLE and site.errors >= OF_MOST * most[tally, site.place.site.designator])
        or (site.errors >= FEW and site.share >= NOT_STRAY)
    )


def current(reports: Sequence[Report]) -> list[Report]:
    """The reports that speak of the card as it is: those after rework, where there are any."""
    after = [report for report in reports if AFTER in report.meta.condition]
    return after or list(reports)


def joint_chance(runs: Sequence[Run], designators: Sequence[str]) -> float:
    """The chance that what fails there comes and goes, by the runs in which it fails and those in which it does not."""
    told = [run for run in runs if run.told]
    shown = [run for run in told if run.failing & set(designators)]
    clean = [run for run in told if not run.failing & set(designators)]
    if not shown or not clean:
        return 0.0
    differ = {word for run in shown for word in run.condition} != {word for run in clean for word in run.condition}
    prior = PRIOR_DIFFERENT if differ else PRIOR_SAME
    stays = (1 - MISSED) ** len(shown) * MISSED ** len(clean)
    joint = sum(share * _likelihood(manner, shown, clean) for manner, share in MANNERS.items())
    return prior * joint / (prior * joint + (1 - prior) * stays)


def _likelihood(manner: str, shown: Sequence[Run], clean: Sequence[Run]) -> float:
    """How likely a joint of that manner fails in just these runs."""
    fails = math.prod(_open(manner, run.condition) for run in shown)
    return fails * math.prod(1 - _open(manner, run.condition) for run in clean)


def _open(manner: str, condition: Sequence[str]) -> float:
    """The chance that a joint of a manner is open under a condition."""
    force = any(word.startswith(FORCE) for word in condition)
    if not manner:
        return 0.5
    is_open = {"force": force, "no force": not force}.get(manner, manner in condition)
    return OPEN if is_open else SHUT


def comes_and_goes(runs: Sequence[Run], designators: Sequence[str]) -> str:
    """The sentence that says in which runs it fails and in which not."""
    told = [run for run in runs if run.told]
    shown = [run for run in told if run.failing & set(designators)]
    clean = [run for run in told if not run.failing & set(designators)]
    names = gettext(" and ").join(designators[:4])
    failing = "; ".join(
        gettext("{words} ({errors} errors)", words=run.words, errors=_errors(run, designators)) for run in shown
    )
    same = {run.words for run in shown}
    without = "; ".join(
        gettext("another time {words}", words=run.words) if run.words in same else run.words for run in clean
    )
    return gettext("{names} fails {failing}, and not {without}.", names=names, failing=failing, without=without)


def _errors(run: Run, designators: Sequence[str]) -> int:
    return sum(site.errors for site in run.counts.sites if site.place.site.designator in designators)


def compare(board: Board, runs: Sequence[Run]) -> list[Compared]:
    """What several runs say of each chip that fails in any of them; nothing for a single run."""
    told = [run for run in runs if run.told]
    if len(told) < 2:
        return []
    before = [run for run in told if AFTER not in run.condition]
    after = [run for run in told if AFTER in run.condition]
    names = [site.place.site.designator for site in told[0].counts.sites]
    found = []
    for name in names:
        failing = [run for run in told if name in run.failing]
        if not failing:
            continue
        found.append(_across_rework(board, name, before, after) if before and after else _across(name, told))
    return found


def _across(name: str, runs: Sequence[Run]) -> Compared:
    failing = [run for run in runs if name in run.failing]
    if len(failing) == len(runs):
        return Compared(
            name,
            "stays",
            gettext("{name} fails in both runs.", name=name)
            if len(runs) == 2
            else gettext("{name} fails in all {number} runs.", name=name, number=len(runs)),
        )
    return Compared(name, "comes-and-goes", comes_and_goes(runs, [name]))


def _across_rework(board: Board, name: str, before: Sequence[Run], after: Sequence[Run]) -> Compared:
    was = any(name in run.failing for run in before)
    is_now = any(name in run.failing for run in after)
    if was and is_now:
        return Compared(
            name, "stays", gettext("{name} fails before and after the rework: it did not cure it.", name=name)
        )
    if was:
        return Compared(
            name,
            "gone-after-rework",
            gettext("{name} failed before the rework and not in the runs after it.", name=name),
        )
    worked = {site for run in before for site in run.failing} - {name}
    near = min(worked, key=lambda word: _apart(board, name, word), default=None)
    beside = (
        gettext(
            " It lies {apart} mm from {near}, edge to edge: the heat of that work is a suspect.",
            apart=f"{_apart(board, name, near):.0f}",
            near=near,
        )
        if near
        else ""
    )
    return Compared(
        name,
        "appears-after-rework",
        gettext("{name} had no error before the rework and fails after it.{beside}", name=name, beside=beside),
    )


def _apart(board: Board, one: str, other: str) -> float:
    """Millimetres between two chips, edge to edge."""
    shapes = [found[1] for name in (one, other) if (found := footprint(board, name))]
    return apart(*shapes) if len(shapes) == 2 else math.inf
