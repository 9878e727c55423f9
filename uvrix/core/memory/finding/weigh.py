"""Hypotheses against events: the chance of each, by Bayes' rule.

An error is either of the fault or of the background (any channel, mostly single lines); the background's share is
not known and is averaged over, and so are the rates inside a shape. Against all named faults stands `mixed`: errors
in any channels with any lines, which no single fault explains.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uvrix.core.memory.finding.events import Events
from uvrix.core.memory.finding.hypotheses import Hypothesis
from uvrix.core.memory.finding.shapes import noise

Floats = NDArray[np.float64]

BACKGROUND_SHARES = (0.002, 0.03, 0.1, 0.25)
# A fault of several channels need not hit them alike: half its weight is shared evenly, half as it was met.
EVEN_SHARE = 0.5
MIXED_PRIOR = 0.05
# Faults that nobody thought of are always possible: no named one gets more than the rest of this.
UNFORESEEN = 0.015
LEAST = 1e-300


@dataclass(frozen=True, slots=True)
class Weighed:
    """A hypothesis with its chance; None stands for `mixed`."""

    hypothesis: Hypothesis | None
    chance: float


def weigh(events: Events, hypotheses: Sequence[Hypothesis]) -> list[Weighed]:
    """Chances of all hypotheses and of `mixed`, likeliest first; they add to 1."""
    background = noise(events.mask) / len(events.names)
    logs = [_log_likelihood(events, one, background) + math.log(one.prior) for one in hypotheses]
    logs.append(_log_mixed(events) + math.log(MIXED_PRIOR))
    chances = np.exp(np.array(logs) - max(logs))
    chances *= (1 - UNFORESEEN) / chances.sum()
    chances[-1] += UNFORESEEN
    found = [Weighed(one, float(chance)) for one, chance in zip((*hypotheses, None), chances, strict=True)]
    return sorted(found, key=lambda one: -one.chance)


def _log_likelihood(events: Events, hypothesis: Hypothesis, background: Floats) -> float:
    shares = _shares(events, hypothesis)
    rows: Floats | None = None
    for name, shape in hypothesis.channels.items():
        here = events.channel == events.names.index(name)
        part = np.where(here, shape(events.mask), 0.0) * shares[name]
        rows = part if rows is None else rows + part
    if rows is None:
        return -math.inf
    logs = [
        float(np.log(np.maximum((1 - share) * row + share * background, LEAST)) @ events.weight)
        for row in rows
        for share in BACKGROUND_SHARES
    ]
    return _log_mean(logs) - _freedom(len(hypothesis.channels), events)


def _shares(events: Events, hypothesis: Hypothesis) -> dict[str, float]:
    met = dict(zip(events.names, events.share().tolist(), strict=True))
    inside = sum(met[name] for name in hypothesis.channels) or 1.0
    even = EVEN_SHARE / len(hypothesis.channels)
    return {name: even + (1 - EVEN_SHARE) * met[name] / inside for name in hypothesis.channels}


def _freedom(channels: int, events: Events) -> float:
    """What a fault pays for shares fitted to what was met: half a logarithm of the weight for each but one."""
    return (channels - 1) / 2 * math.log(max(float(events.weight.sum()), 1.0))


def _log_mixed(events: Events) -> float:
    """Any channels, any lines: shares as met, paid for like those of the others."""
    shares = np.maximum(events.share(), 1e-3)
    likelihood = noise(events.mask) * shares[events.channel]
    return float(np.log(np.maximum(likelihood, LEAST)) @ events.weight) - _freedom(len(events.names), events)


def _log_mean(logs: Sequence[float]) -> float:
    top = max(logs)
    return top + math.log(sum(math.exp(one - top) for one in logs) / len(logs))
