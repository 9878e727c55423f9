"""Which past card read like this one (docs/trade §9.4).

Cards are compared over the whole pattern of their cold readings. Each thing that both were read of is taken as its
distance from what is usual (the middle of all cards at hand), in spreads, squeezed so that the far end does not
outweigh the rest; over-limit is as far as can be. Where either stands out, agreeing counts for much and disagreeing
against; where neither does, for next to nothing: that two cards share a healthy rail says little of their faults.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

# A healthy reading's usual spread as a share; beyond this many spreads it stands out; this far is as far as can be.
SPREAD, STANDS_OUT, FARTHEST = 0.08, 3.0, 400.0
# Squeezed distances agree to within this; a thing that stands out and that the other was not read of costs this.
AGREES, UNREAD = 0.25, 1.0
# What both being healthy there is worth, beside both standing out alike.
HEALTHY_WORTH = 0.05
# Ohms of the test leads: added to both values, so that two fuses of hundredths of an ohm count as alike.
LEADS_OHMS = 0.3

Thing = Hashable
Pattern = Mapping[Any, float | None]


@dataclass(frozen=True, slots=True)
class Likeness:
    """A past card by its place in the list given: how like it is (0 to 1, all adding to at most 1), and by what."""

    card: int
    share: float
    agree: tuple[Thing, ...]
    differ: tuple[Thing, ...]


def usual(patterns: Sequence[Pattern]) -> dict[Thing, float]:
    """The middle, in ohms, of every thing over cards that were read of it; left out where most of them were open."""
    found: dict[Thing, list[float]] = {}
    many: dict[Thing, int] = {}
    for pattern in patterns:
        for thing, value in pattern.items():
            many[thing] = many.get(thing, 0) + 1
            if value is not None:
                found.setdefault(thing, []).append(max(value, 0.0))
    return {thing: statistics.median(values) for thing, values in found.items() if 2 * len(values) > many[thing]}


def alike(own: Pattern, past: Sequence[Pattern], healthy: Mapping[Any, float] | None = None) -> tuple[Likeness, ...]:
    """Past cards, nearest first; those that share no thing that stands out are left out.

    `healthy` is what good cards read, where that is known; else the middle of all cards takes its place.
    """
    middle = {**usual([own, *past]), **(healthy or {})}
    here = _squeezed(own, middle)
    scored = []
    for number, pattern in enumerate(past):
        there = _squeezed(pattern, middle)
        score, agree, differ = _compare(here, there)
        if agree:
            scored.append((score, number, agree, differ))
    scored.sort(key=lambda row: (-row[0], row[1]))
    best = scored[0][0] if scored else 0.0
    weights = [math.exp(score - best) for score, *_ in scored]
    whole = sum(weights)
    return tuple(
        Likeness(number, weight / whole, agree, differ)
        for weight, (_, number, agree, differ) in zip(weights, scored, strict=True)
    )


def _squeezed(pattern: Pattern, middle: Mapping[Thing, float]) -> dict[Thing, float]:
    found = {}
    for thing, value in pattern.items():
        if thing not in middle:
            continue
        away = (
            FARTHEST
            if value is None
            else math.log((max(value, 0.0) + LEADS_OHMS) / (middle[thing] + LEADS_OHMS)) / SPREAD
        )
        found[thing] = math.asinh(max(-FARTHEST, min(FARTHEST, away)) / STANDS_OUT)
    return found


# Where a squeezed distance begins to stand out.
EDGE = math.asinh(1.0)


def _compare(
    here: Mapping[Thing, float], there: Mapping[Thing, float]
) -> tuple[float, tuple[Thing, ...], tuple[Thing, ...]]:
    score = 0.0
    agree: list[Thing] = []
    differ: list[Thing] = []
    for thing, number in here.items():
        other = there.get(thing)
        if other is None:
            score -= UNREAD if abs(number) > EDGE else 0.0
            continue
        if abs(number) <= EDGE and abs(other) <= EDGE:
            score += HEALTHY_WORTH
            continue
        away = abs(number - other) / AGREES
        score += 1.0 - min(away**2 / 2, 4.0)
        (agree if away < 2.0 and abs(number) > EDGE and abs(other) > EDGE else differ).append(thing)
    score -= sum(UNREAD for thing, other in there.items() if thing not in here and abs(other) > EDGE)
    return score, tuple(agree), tuple(differ)
