"""What of the evidence is weighed: distinct (channel, mask) pairs with their weights, over all reports."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uvrix.core.memory.evidence import ChannelEvidence, Evidence

Floats = NDArray[np.float64]

# Errors of one fault are alike, not independent: more than so many tell nothing new.
MOST_WEIGHT = 300.0


@dataclass(frozen=True, slots=True)
class Events:
    """`channel` indexes `names`; `mask` 0 means that the lines are not known; `weight` is in errors that count."""

    names: tuple[str, ...]
    channel: NDArray[np.int64]
    mask: NDArray[np.int64]
    weight: Floats

    @property
    def size(self) -> int:
        """Distinct events."""
        return len(self.weight)

    def share(self) -> Floats:
        """Each channel's share of the weight."""
        sums = np.bincount(self.channel, self.weight, len(self.names))
        return sums / max(float(sums.sum()), 1e-9)


def events_of(evidences: Sequence[Evidence], names: Sequence[str]) -> Events:
    """The events on the channels `names`; those of other channels say nothing about this board's chips."""
    weights: dict[tuple[int, int], float] = {}
    for evidence in evidences:
        for number, name in enumerate(names):
            if name in evidence.channels:
                for mask, weight in _masks(evidence.channels[name], evidence):
                    weights[number, mask] = weights.get((number, mask), 0.0) + weight
    total = sum(weights.values())
    scale = min(1.0, MOST_WEIGHT / total) if total else 1.0
    keys = np.array(list(weights), dtype=np.int64).reshape(-1, 2)
    return Events(tuple(names), keys[:, 0], keys[:, 1], np.array(list(weights.values())) * scale)


def _masks(channel: ChannelEvidence, evidence: Evidence) -> list[tuple[int, float]]:
    """(mask, weight) of one channel: its sample scaled to all its errors, or a tally's counts line by line."""
    if not channel.errors:
        return []
    if not evidence.tally:
        sampled = sum(row[1] for row in channel.sample)
        return [(row[0], row[1] * channel.errors / sampled) for row in channel.sample]
    counted = sum(channel.lines)
    if not counted:
        return [(0, float(channel.errors))]
    return [(1 << line, channel.errors * count / counted) for line, count in enumerate(channel.lines) if count]
