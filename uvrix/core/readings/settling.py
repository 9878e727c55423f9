"""When a meter's reading has settled (docs/trade §3.4).

A value that creeps is a capacitor charging, one that jumps about is a finding kept as a span, OL is open circuit.
"""

from __future__ import annotations

import itertools
import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from uvrix.core.readings.limits import RESOLVES
from uvrix.core.readings.notation import Quantity

State = Literal["held", "moving", "creeping", "settled", "unsteady", "overload"]
# This many samples over this long must agree, within this share of the value or half of what two leads tell apart.
WINDOW, SETTLE_S, ALIKE_SHARE = 5, 0.4, 0.012
# Nor may it still be on its way: this share a second, by the straight line through the last of it. A capacitor that
# charges with a time constant of two seconds is then within a few per cent of its end.
DRIFT_SHARE_S, DRIFT_S = 0.015, 0.8
# Nearer than this share to the value stored last, the probe has not moved on.
HELD_SHARE = 0.05
# Over-limit must last this long to be more than a probe on its way, and what does not settle in this time is offered.
OPEN_S, PATIENCE_S, CREEP_S = 0.6, 2.5, 8.0


@dataclass(frozen=True, slots=True)
class Sample:
    """What the meter showed at a time: seconds on any clock, the value in the quantity's own unit, None: over-limit."""

    at_s: float
    value: float | None


@dataclass(frozen=True, slots=True)
class Settled:
    """How the reading stands; `low` and `high` are the value, or the span of one that will not settle; None: OL."""

    state: State
    low: float | None
    high: float | None


def settle(samples: Sequence[Sample], quantity: Quantity, held: float | None = None) -> Settled:
    """How a reading stands after its samples, oldest first; only those since the probe last touched count.

    `held` is the value stored last: until the probe is lifted or something else is read, the state is `held`.
    """
    if held is not None and samples and all(_same(sample.value, held, quantity) for sample in samples):
        return Settled("held", None, None)
    touching = _since_touch(samples)
    if not touching:
        long = len(samples) >= WINDOW and samples[-1].at_s - samples[0].at_s >= OPEN_S
        return Settled("overload" if long else "moving", None, None)
    values = [value for _, value in touching]
    begun, end = touching[0][0], touching[-1][0]
    last = [value for at, value in touching if at >= end - SETTLE_S]
    floor = RESOLVES[quantity] / 2
    if end - begun >= SETTLE_S and len(last) >= WINDOW:
        middle = statistics.median(last)
        alike = max(last) - min(last) <= max(ALIKE_SHARE * abs(middle), floor)
        if alike and abs(_slope(touching, end - DRIFT_S)) <= max(DRIFT_SHARE_S * abs(middle), floor):
            return Settled("settled", middle, middle)
    if end - begun < PATIENCE_S:
        return Settled("moving", values[-1], values[-1])
    if _creeps(values) and end - begun < CREEP_S:
        return Settled("creeping", values[-1], values[-1])
    late = [value for at, value in touching if at > begun + (end - begun) / 2]
    return Settled("unsteady", min(late), max(late))


def _slope(touching: Sequence[tuple[float, float]], since_s: float) -> float:
    """The change a second, by the straight line (least squares) through what was read since a time."""
    late = [(at, value) for at, value in touching if at >= since_s]
    middle = statistics.fmean(at for at, _ in late)
    spread = sum((at - middle) ** 2 for at, _ in late)
    return sum((at - middle) * value for at, value in late) / spread if spread else 0.0


def _same(value: float | None, held: float, quantity: Quantity) -> bool:
    return value is not None and abs(value - held) <= max(HELD_SHARE * abs(held), RESOLVES[quantity])


def _since_touch(samples: Sequence[Sample]) -> list[tuple[float, float]]:
    """Times and values after the last over-limit."""
    found: list[tuple[float, float]] = []
    for sample in samples:
        if sample.value is None:
            found.clear()
        else:
            found.append((sample.at_s, sample.value))
    return found


def _creeps(values: Sequence[float]) -> bool:
    """Whether it goes one way: each third of it on from the third before, and hardly a step back.

    A figure that a meter sends twice before its display has changed is no step.
    """
    third = len(values) // 3
    parts = [statistics.median(values[at * third : (at + 1) * third]) for at in range(3)] if third else [0.0, 0.0, 0.0]
    steps = [later - former for former, later in itertools.pairwise(values) if later != former]
    up = sum(step > 0 for step in steps)
    one_way = up > 0.8 * len(steps) or up < 0.2 * len(steps)
    return one_way and (parts[0] < parts[1] < parts[2] or parts[0] > parts[1] > parts[2])
