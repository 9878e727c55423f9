"""Runs compared under their conditions: what stays, what comes and goes, what rework changed.

A chip that fails in every run is one thing; one that fails with flexing, pressing or warmth and not without is a
joint. Runs after rework speak of the card as it is now, so the finding is theirs; the runs before say what changed.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from uvrix.core.boards.model import Board, Site
from uvrix.core.memory.report import Report
from uvrix.core.memory.sites import BoardCounts, SiteCount, count_sites

AFTER = "after-rework"
WARMTH = frozenset({"cold", "warm"})
# A fault that stays is missed by a run once in so many; a joint shows in about half of them.
MISSED = 0.03
SHOWS = 0.5
# How often a failing chip is a joint, before the runs are seen, where they differ by force, by warmth or by nothing.
PRIOR_FORCE, PRIOR_WARMTH, PRIOR_SAME = 0.3, 0.12, 0.04
# So few errors, or so small a share, may be stray and do not make a chip fail in a run.
FEW, LITTLE = 2, 0.04


@dataclass(frozen=True, slots=True)
class Run:
    """One report against the board: its condition in words, and the chips that fail in it."""

    condition: tuple[str, ...]
    counts: BoardCounts
    failing: frozenset[str]
    refused: bool

    @property
    def words(self) -> str:
        """The condition as it is said."""
        return ", ".join(self.condition) or "without a condition"


@dataclass(frozen=True, slots=True)
class Compared:
    """What the runs say of one chip: `stays`, `comes-and-goes`, `appears-after-rework` or `gone-after-rework`."""

    designator: str
    verdict: str
    why: str


def runs_of(board: Board, reports: Sequence[Report]) -> list[Run]:
    """Each report as a run; one that the tester refused tells nothing of chips."""
    runs = []
    for report in reports:
        counts = count_sites(board, [report])
        failing = frozenset(site.place.site.designator for site in counts.sites if _fails(site))
        runs.append(Run(report.meta.condition, counts, failing, report.meta.result == "refused"))
    return runs


def _fails(site: SiteCount) -> bool:
    return site.errors > 0 and (site.errors > FEW or site.share > 0.5) and site.share >= LITTLE


def current(reports: Sequence[Report]) -> list[Report]:
    """The reports that speak of the card as it is: those after rework, where there are any."""
    after = [report for report in reports if AFTER in report.meta.condition]
    return after or list(reports)


def joint_chance(runs: Sequence[Run], designators: Sequence[str]) -> float:
    """The chance that what fails there comes and goes, by the runs in which it fails and those in which it does not."""
    told = [run for run in runs if not run.refused]
    shown = [run for run in told if run.failing & set(designators)]
    clean = [run for run in told if not run.failing & set(designators)]
    if not shown or not clean:
        return 0.0
    prior = _prior(shown, clean)
    stays = len(shown) * math.log(1 - MISSED) + len(clean) * math.log(MISSED)
    joint = len(told) * math.log(SHOWS)
    return 1 / (1 + (1 - prior) / prior * math.exp(stays - joint))


def _prior(shown: Sequence[Run], clean: Sequence[Run]) -> float:
    with_it = {word for run in shown for word in run.condition}
    without = {word for run in clean for word in run.condition}
    differs = with_it ^ without
    if not differs:
        return PRIOR_SAME
    return PRIOR_WARMTH if differs <= WARMTH else PRIOR_FORCE


def comes_and_goes(runs: Sequence[Run], designators: Sequence[str]) -> str:
    """The sentence that says in which runs it fails and in which not."""
    told = [run for run in runs if not run.refused]
    shown = [run for run in told if run.failing & set(designators)]
    clean = [run for run in told if not run.failing & set(designators)]
    names = " and ".join(designators[:4])
    return f"{names} fails {_listed(shown, designators)}, and not {_listed(clean, ())}."


def _listed(runs: Sequence[Run], designators: Sequence[str]) -> str:
    parts = []
    for run in runs:
        errors = sum(site.errors for site in run.counts.sites if site.place.site.designator in designators)
        parts.append(f"{run.words} ({errors} errors)" if designators else run.words)
    return "; ".join(parts)


def compare(board: Board, runs: Sequence[Run]) -> list[Compared]:
    """What several runs say of each chip that fails in any of them; nothing for a single run."""
    told = [run for run in runs if not run.refused]
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
        return Compared(name, "stays", f"{name} fails in all {len(runs)} runs.")
    return Compared(name, "comes-and-goes", comes_and_goes(runs, [name]))


def _across_rework(board: Board, name: str, before: Sequence[Run], after: Sequence[Run]) -> Compared:
    was = any(name in run.failing for run in before)
    is_now = any(name in run.failing for run in after)
    if was and is_now:
        return Compared(name, "stays", f"{name} fails before and after the rework: it did not cure it.")
    if was:
        return Compared(name, "gone-after-rework", f"{name} failed before the rework and not in the runs after it.")
    worked = {one for run in before for one in run.failing} - {name}
    site = board.by_designator[name]
    near = min((board.by_designator[one] for one in worked), key=lambda one: _apart(site, one), default=None)
    beside = (
        f" It lies {_apart(site, near):.0f} mm from {near.designator}: the heat of that work is a suspect."
        if near
        else ""
    )
    return Compared(name, "appears-after-rework", f"{name} had no error before the rework and fails after it.{beside}")


def _apart(one: Site, other: Site) -> float:
    return math.hypot(*(float(a - b) for a, b in zip(one.centre, other.centre, strict=True)))
