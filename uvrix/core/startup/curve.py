"""The current at a start, as a supply logs it: what it settles at, its peak, whether it stood at the limit."""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from dataclasses import dataclass

from uvrix.core.startup.ladder import at_limit
from uvrix.core.startup.limits import SETTLED_S, STEP_HOLD_S, STEP_SHARE
from uvrix.language import gettext

# [seconds, volts, amperes] since the output was switched on.
Sample = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class StartCurve:
    """What a log says; amperes, seconds."""

    settled_amps: float
    peak_amps: float
    peak_at_s: float
    at_limit: bool
    steps: int
    says: str


def read_curve(samples: Sequence[Sample], limit_amps: float) -> StartCurve:
    """What the current did. Raises ValueError where there is no sample."""
    if not samples:
        raise ValueError(gettext("no samples"))
    end = samples[-1][0]
    late = [sample for sample in samples if sample[0] >= end - SETTLED_S]
    settled = statistics.median(amps for _, _, amps in late)
    peak = max(samples, key=lambda sample: sample[2])
    limited = at_limit(settled, limit_amps)
    steps = _steps(samples, peak[2])
    shown = gettext(
        "{settled} A after {end} s; peak {peak} A at {peak_2} s",
        settled=f"{settled:.3g}",
        end=f"{end:.1f}",
        peak=f"{peak[2]:.3g}",
        peak_2=f"{peak[0]:.2f}",
    )
    if limited:
        volts = statistics.median(row[1] for row in late)
        says = gettext(
            "{shown}. It stands at the limit of {limit_amps} A and its voltage fell to {volts} V.",
            shown=shown,
            limit_amps=f"{limit_amps:g}",
            volts=f"{volts:.1f}",
        )
    elif steps < 2:
        says = gettext("{shown}. It comes up in no steps: nothing starts after the first.", shown=shown)
    else:
        says = gettext("{shown}. It comes up in {steps} steps.", shown=shown, steps=steps)
    return StartCurve(settled, peak[2], peak[0], limited, steps, says)


def _steps(samples: Sequence[Sample], peak: float) -> int:
    """How often the current rises to a level that it does not fall below again; inrush alone is no step."""
    floor = [min(sample[2] for sample in samples[at:]) for at in range(len(samples))]
    level, steps = 0.0, 0
    for at, value in enumerate(floor):
        if value - level > STEP_SHARE * peak:
            held = [sample for sample in samples[at:] if sample[0] <= samples[at][0] + STEP_HOLD_S]
            if len(held) > 1 or at == len(samples) - 1:
                level, steps = value, steps + 1
    return steps
