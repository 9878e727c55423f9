"""Shares of causes and minutes of actions, learned from a shop's own outcomes.

A case is one finding with what was tried on it: repairs that did not cure, and the one that did, if any. A case
seldom names its cause (a replaced chip cures joint and die alike), so shares are found by expectation maximisation:
each case is dealt out over the causes that explain it, with usual practice counted as so many cases more. Minutes are
a geometric mean that leans on the set time while there are few.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from uvrix.core.finding_kinds import CAUSES
from uvrix.core.planning.causes import EFFECTS, Shares
from uvrix.core.planning.habits import Cost, Habits

# Usual practice counts as this many cases; below this many of its own, a shop's outcomes are counted but not used.
STRENGTH, ENOUGH = 8.0, 5
TIME_STRENGTH, ENOUGH_TIMES = 3.0, 3
ROUNDS = 60


@dataclass(frozen=True, slots=True)
class Case:
    """`times` findings of a group with the same history: repairs that failed, and the one that cured or None."""

    group: str
    failed: tuple[str, ...]
    cured: str | None
    times: int = 1


@dataclass(frozen=True, slots=True)
class Times:
    """Minutes taken by `times` doings of an action: the sum of their natural logarithms."""

    do: str
    times: int
    log_minutes: float


def learned(habits: Habits, cases: Sequence[Case], times: Sequence[Times]) -> Habits:
    """The habits with what the shop's own outcomes say, where there are enough of them."""
    shares: dict[str, Shares] = dict(habits.shares)
    outcomes: dict[str, int] = {}
    for group in habits.shares:
        own = [case for case in cases if case.group == group]
        outcomes[group] = sum(case.times for case in own)
        if outcomes[group] >= ENOUGH:
            shares[group] = learned_shares(habits.shares[group], own)
    costs = dict(habits.costs)
    for timing in times:
        if timing.do in costs and timing.times >= ENOUGH_TIMES:
            costs[timing.do] = Cost(learned_minutes(costs[timing.do].minutes, timing), costs[timing.do].risk)
    timed = {timing.do: timing.times for timing in times}
    return replace(habits, shares=shares, costs=costs, outcomes=outcomes, timed=timed)


def explains(cause: str, case: Case) -> float:
    """Chance of a case's history when `cause` is true."""
    chance = EFFECTS[case.cured].chance(cause, "yes") if case.cured else 1.0
    for do in case.failed:
        chance *= EFFECTS[do].chance(cause, "no")
    return chance


def learned_shares(usual: Shares, cases: Sequence[Case], strength: float = STRENGTH) -> Shares:
    """The shares of causes behind a group, from its cases and `strength` cases' worth of usual practice."""
    whole = strength + sum(case.times for case in cases)
    shares = dict(usual)
    for _ in range(ROUNDS):
        parts = {cause: strength * usual[cause] for cause in CAUSES}
        for case in cases:
            dealt = {cause: shares[cause] * explains(cause, case) for cause in CAUSES}
            total = sum(dealt.values())
            for cause in CAUSES:
                parts[cause] += case.times * (dealt[cause] / total if total else shares[cause])
        shares = {cause: part / whole for cause, part in parts.items()}
    return shares


def learned_minutes(usual: float, times: Times) -> float:
    """Minutes of an action, from the shop's own doings and the set time."""
    total = TIME_STRENGTH * math.log(usual) + times.log_minutes
    return round(math.exp(total / (TIME_STRENGTH + times.times)), 1)


def cases_of(history: Mapping[tuple[str, tuple[str, ...], str | None], int]) -> list[Case]:
    """Cases from counted histories (group, failed, cured)."""
    return [Case(group, failed, cured, times) for (group, failed, cured), times in history.items()]
