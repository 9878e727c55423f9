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
from uvrix.core.memory.finding.traces import log_mean

Floats = NDArray[np.float64]

# The background's share of all errors, and how often it is so large.
BACKGROUND_SHARES = (0.002, 0.03, 0.1, 0.25, 0.45)
SHARE_PRIORS = (0.3, 0.3, 0.25, 0.12, 0.03)
# How alike a fault of several channels hits them, and errors of no one fault (concentrations of Dirichlet's).
EVEN, UNEVEN = 8.0, 0.5
MIXED_PRIOR = 0.02
# Faults that nobody thought of are always possible: no named one gets more than the rest of this.
UNFORESEEN = 0.015
LEAST = 1e-300
# Averaging over unknown rates and shares leaves chances too flat; measured on simulated reports (docs/calibration.md).
SHARPENED = 1.25


@dataclass(frozen=True, slots=True)
class Weighed:
    """A hypothesis with its chance; None stands for `mixed`."""

    hypothesis: Hypothesis | None
    chance: float


def weigh(events: Events, hypotheses: Sequence[Hypothesis]) -> list[Weighed]:
    """Chances of all hypotheses and of `mixed`, likeliest first; they add to 1."""
    background = noise(events.mask) / len(events.names)
    logs = [
        _log_likelihood(events, hypothesis, background) + hypothesis.trace + math.log(hypothesis.prior)
        for hypothesis in hypotheses
    ]
    logs.append(_log_mixed(events) + math.log(MIXED_PRIOR))
    chances = np.exp(SHARPENED * (np.array(logs) - max(logs)))
    chances *= (1 - UNFORESEEN) / chances.sum()
    chances[-1] += UNFORESEEN
    found = [
        Weighed(hypothesis, float(chance)) for hypothesis, chance in zip((*hypotheses, None), chances, strict=True)
    ]
    return sorted(found, key=lambda hypothesis: -hypothesis.chance)


def _log_likelihood(events: Events, hypothesis: Hypothesis, background: Floats) -> float:
    shares, cost = _shares(events, list(hypothesis.channels), EVEN)
    rows = _rows(events, hypothesis, shares)
    logs = _logs(events, hypothesis, _mixed_in(rows, background), rows)
    weighted = logs + np.log(np.array(SHARE_PRIORS) * len(SHARE_PRIORS))[:, None]
    return log_mean(weighted.ravel().tolist()) - cost


def _logs(events: Events, hypothesis: Hypothesis, mixed: Floats, rows: Floats) -> Floats:
    """Log-likelihood for each share of background and each rate.

    Where a fault has its own addresses, one that fails again as before was bound to: only its first time counts.
    """
    own = (rows > 0).any(axis=0)
    weight = np.where(own, events.fresh, events.weight) if hypothesis.fresh else events.weight
    return np.asarray(np.log(np.maximum(mixed, LEAST)) @ weight)


def _rows(events: Events, hypothesis: Hypothesis, shares: dict[str, float]) -> Floats:
    """Likelihood of each event (columns) under each unknown rate of the fault's shape (rows)."""
    rows: Floats = np.zeros((1, len(events.mask)))
    for name, shape in hypothesis.channels.items():
        here = np.flatnonzero(events.channel == events.names.index(name))
        part = shape(events.mask[here]) * shares[name]
        if len(rows) < len(part):
            rows = np.repeat(rows, len(part), axis=0)
        rows[:, here] += part
    return rows


def _mixed_in(rows: Floats, background: Floats) -> Floats:
    """Each row with each share of background: (shares, rates, events)."""
    share = np.array(BACKGROUND_SHARES)[:, None, None]
    return (1 - share) * rows[None] + share * background


def explained(events: Events, hypothesis: Hypothesis) -> Floats:
    """For each event the chance that the fault made it and not the background, at the likeliest rates."""
    background = noise(events.mask) / len(events.names)
    rows = _rows(events, hypothesis, _shares(events, list(hypothesis.channels), EVEN)[0])
    mixed = _mixed_in(rows, background)
    logs = _logs(events, hypothesis, mixed, rows)
    share, rate = np.unravel_index(int(logs.argmax()), logs.shape)
    return np.asarray(1 - BACKGROUND_SHARES[share] * background / np.maximum(mixed[share, rate], LEAST))


def _shares(events: Events, names: Sequence[str], evenness: float) -> tuple[dict[str, float], float]:
    """Each channel's share of a fault of several, and what fitting the shares to what was met costs.

    The shares are the means of a Dirichlet distribution with `evenness` for each channel; the cost makes the
    likelihood of the channels that of the Dirichlet-multinomial, so that more channels are not better for nothing.
    """
    met = np.bincount(events.channel, events.weight, len(events.names))
    counts = np.array([met[events.names.index(name)] for name in names])
    shares = (counts + evenness) / (counts.sum() + evenness * len(names))
    whole = evenness * len(names)
    exact = math.lgamma(whole) - math.lgamma(whole + float(counts.sum()))
    exact += sum(math.lgamma(count + evenness) - math.lgamma(evenness) for count in counts.tolist())
    cost = float(counts @ np.log(shares)) - exact
    return dict(zip(names, shares.tolist(), strict=True)), cost


def _log_mixed(events: Events) -> float:
    """Any channels, any lines: shares as met, paid for like those of the others."""
    shares, cost = _shares(events, events.names, UNEVEN)
    likelihood = noise(events.mask) * np.array([shares[name] for name in events.names])[events.channel]
    return float(np.log(np.maximum(likelihood, LEAST)) @ events.weight) - cost
