"""Whether a stress run came to a steady temperature: from the log, not from the clock alone (docs/trade §7.6).

Under constant load a cooler comes to its end exponentially. Every time constant is tried; each gives an end
temperature by least squares and a weight by how well it explains the log, and the posterior over them says how much
warmer it would still become. Steady is a card of which that is small with near certainty. Noise is taken from averages
over blocks, so that a sensor that repeats itself does not look like many samples.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from uvrix.core.proving.limits import (
    BUSY_CLOCK_SHARE,
    DIP_S,
    IDLE_MINUTES,
    LEAST_NOISE_C,
    LOAD_RISES_TIMES,
    LOADED_SHARE,
    STEADY_SURE,
)
from uvrix.core.proving.log import Log
from uvrix.language import gettext

Word = Literal["steady", "rising", "too-short", "idle", "no-load-known"]
# Blocks that the loaded part is averaged into; fewer are no curve.
BLOCKS, FEWEST_BLOCKS = 60, 12
Array = NDArray[np.float64]
Mask = NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Steady:
    """What a log shows: the word, minutes under load, where it stands, how much warmer it may yet become, and why.

    `rest_c` is the most that it may still rise with nineteen chances in twenty; None where that cannot be said.
    `more_minutes` is about how long until it would be called steady.
    """

    word: Word
    loaded_minutes: float
    at_c: float | None
    peak_c: float
    rest_c: float | None
    more_minutes: float | None
    why: str


def loaded(log: Log, load_watts: float | None = None) -> Mask | None:
    """Which samples were under load, as booleans; None where neither power nor clock can tell.

    A sample that lacks its power or clock (NaN) is not taken as under load.
    """
    if log.has("watts"):
        watts = np.array(log.figures["watts"])
        if load_watts is not None:
            return np.asarray(watts >= load_watts)
        low, high = _range(watts)
        if not high or high < LOAD_RISES_TIMES * low:
            return None
        return np.asarray(watts >= low + LOADED_SHARE * (high - low))
    if log.has("mhz"):
        clock = np.array(log.figures["mhz"])
        low, high = _range(clock)
        if not high or high < LOAD_RISES_TIMES * low:
            return None
        return np.asarray(clock >= BUSY_CLOCK_SHARE * high)
    return None


def _range(values: Array) -> tuple[float, float]:
    """Least and most of the middles of short stretches: a sample that jumps is neither."""
    parts = np.array_split(values[~np.isnan(values)], min(200, max(1, len(values) // 5)))
    middles = [float(np.median(part)) for part in parts if len(part)]
    return min(middles), max(middles)


def steadiness(log: Log, minutes: float, rest_c: float, load_watts: float | None = None) -> Steady:
    """A log against a protocol: so many minutes under load, and at most so many degrees still to come."""
    seconds, celsius = np.array(log.seconds), np.array(log.figures["celsius"])
    peak = float(np.nanmax(celsius))
    busy = loaded(log, load_watts)
    if busy is None:
        why = gettext(
            "The log shows no load: its power (or clock) never rises from rest. "
            "Idle proves nothing. Let it begin before the load, or say how many watts this model draws under load."
        )
        return Steady("no-load-known", 0.0, None, peak, None, None, why)
    begin, end = _longest(seconds, busy)
    span = (seconds[end] - seconds[begin]) / 60
    if span < IDLE_MINUTES:
        return Steady("idle", span, None, peak, None, None, gettext("It was idle the whole time. Idle proves nothing."))
    part = slice(begin, end + 1)
    curve = _rest(seconds[part] - seconds[begin], celsius[part])
    if curve is None:
        return Steady(
            "too-short",
            span,
            None,
            peak,
            None,
            None,
            gettext("{span} min under load are no curve yet.", span=f"{span:.0f}"),
        )
    most, at, tau = curve
    more = max(0.0, minutes - span)
    if most > rest_c:
        more = max(more, tau * math.log(most / rest_c) / 60)
    figures = gettext(
        "{span} min under load, at {at} °C; at most {most} °C are still to come",
        span=f"{span:.0f}",
        at=f"{at:.1f}",
        most=f"{max(most, 0.1):.1f}",
    )
    if span < minutes:
        why = gettext(
            "{figures}. {minutes} min are wanted: {minutes_2} more.",
            figures=figures,
            minutes=f"{minutes:.0f}",
            minutes_2=f"{minutes - span:.0f}",
        )
        return Steady("too-short", span, at, peak, most, more, why)
    if most > rest_c:
        why = gettext(
            "{figures}, {rest_c} °C are allowed: still rising, about {more} min more.",
            figures=figures,
            rest_c=f"{rest_c:g}",
            more=f"{more:.0f}",
        )
        return Steady("rising", span, at, peak, most, more, why)
    return Steady("steady", span, at, peak, most, 0.0, gettext("{figures}: steady.", figures=figures))


def _longest(seconds: Array, busy: Mask) -> tuple[int, int]:
    """First and last sample of the longest stretch under load; a dip shorter than ten seconds does not end it."""
    best, begin, last = (0, 0), None, 0
    for at, now in enumerate(busy):
        if now:
            begin, last = at if begin is None else begin, at
        elif begin is not None and seconds[at] - seconds[last] > DIP_S:
            if seconds[last] - seconds[begin] > seconds[best[1]] - seconds[best[0]]:
                best = (begin, last)
            begin = None
    if begin is not None and seconds[last] - seconds[begin] > seconds[best[1]] - seconds[best[0]]:
        best = (begin, last)
    return best


def _rest(seconds: Array, celsius: Array) -> tuple[float, float, float] | None:
    """How much warmer it may become (upper bound), where it stands, the likeliest time constant in seconds.

    None where there are too few samples for a curve.
    """
    good = ~np.isnan(celsius)
    seconds, celsius = seconds[good], celsius[good]
    if len(seconds) < FEWEST_BLOCKS:
        return None
    edges = np.linspace(seconds[0], seconds[-1], BLOCKS + 1)
    which = np.clip(np.digitize(seconds, edges) - 1, 0, BLOCKS - 1)
    many = np.bincount(which, minlength=BLOCKS)
    full = many > 0
    if full.sum() < FEWEST_BLOCKS:
        return None
    at = np.bincount(which, seconds, BLOCKS)[full] / many[full]
    mean = np.bincount(which, celsius, BLOCKS)[full] / many[full]
    length = at[-1]
    taus = np.geomspace(max(length / 60, 5.0), 4 * length, 120)
    squares, rests, spreads = _fits(at, mean, taus)
    noise = max(LEAST_NOISE_C, float(np.sqrt(squares.min() / (len(at) - 3))))
    # the fan and the room make neighbouring blocks alike: half of them are taken as saying something of their own
    logs = -squares / (4 * noise**2)
    spreads = spreads * noise * np.sqrt(2)
    weights = np.exp(logs - logs.max())
    weights /= weights.sum()
    # one draw a time constant from its own error, at fixed quantiles: no dice in a verdict
    quantiles = np.array([-1.645, -0.674, 0.0, 0.674, 1.645])
    shares = np.array([0.1, 0.2, 0.4, 0.2, 0.1])
    values = (rests[:, None] + spreads[:, None] * quantiles).ravel()
    mass = (weights[:, None] * shares).ravel()
    order = np.argsort(values)
    most = float(values[order][np.searchsorted(np.cumsum(mass[order]), STEADY_SURE)])
    best = int(np.argmax(logs))
    standing = float(mean[-3:].mean())
    return max(0.0, most), standing, float(taus[best])


def _fits(at: Array, mean: Array, taus: Array) -> tuple[Array, Array, Array]:
    """Least squares of end and rise, by time constant: squares left, what is still to come, its spread a unit of noise.

    A straight line in exp(-t / tau), fitted for all time constants at once.
    """
    left = np.exp(-at[:, None] / taus)
    across = left - left.mean(axis=0)
    along = mean - mean.mean()
    width = np.sum(across**2, axis=0)
    slope = along @ across / width
    squares = np.sum((along[:, None] - slope * across) ** 2, axis=0)
    return squares, -slope * left[-1], left[-1] / np.sqrt(width)
