"""What of the evidence is weighed: distinct (channel, mask) pairs with their weights, over all reports."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from uvrix.core.memory.evidence import ChannelEvidence, Evidence

Floats = NDArray[np.float64]

# Errors of one fault are alike, not independent: more than this many tell nothing new.
MOST_WEIGHT = 300.0


@dataclass(frozen=True, slots=True)
class Events:
    """`channel` indexes `names`; `mask` 0 means that the lines are not known.

    `weight` is in errors that count; `fresh` counts an address that fails the same way again only once.
    """

    names: tuple[str, ...]
    channel: NDArray[np.int64]
    mask: NDArray[np.int64]
    weight: Floats
    fresh: Floats

    def share(self) -> Floats:
        """Each channel's share of the weight."""
        sums = np.bincount(self.channel, self.weight, len(self.names))
        return sums / max(float(sums.sum()), 1e-9)

    def left(self, explained: Floats) -> Events:
        """The same events with the shares that are explained taken off."""
        return replace(self, weight=self.weight * (1 - explained), fresh=self.fresh * (1 - explained))


def events_of(evidences: Sequence[Evidence], names: Sequence[str]) -> Events:
    """The events on the channels `names`; those of other channels say nothing about this board's chips.

    A report of very many errors, a tally of all of them say, does not drown one that lists its first few hundred.
    """
    weights: dict[tuple[int, int], list[float]] = {}
    for evidence in evidences:
        own = sum(evidence.channels[name].errors for name in names if name in evidence.channels)
        part = min(1.0, MOST_WEIGHT / own) if own else 1.0
        for number, name in enumerate(names):
            if name in evidence.channels:
                for mask, weight, fresh in _masks(evidence.channels[name], evidence):
                    entry = weights.setdefault((number, mask), [0.0, 0.0])
                    entry[0] += weight * part
                    entry[1] += fresh * part
    total = sum(weight for weight, _ in weights.values())
    scale = min(1.0, MOST_WEIGHT / total) if total else 1.0
    keys = np.array(list(weights), dtype=np.int64).reshape(-1, 2)
    values = np.array(list(weights.values())).reshape(-1, 2) * scale
    return Events(tuple(names), keys[:, 0], keys[:, 1], values[:, 0], values[:, 1])


def _masks(channel: ChannelEvidence, evidence: Evidence) -> Iterator[tuple[int, float, float]]:
    """(mask, weight, fresh) of one channel: its sample scaled to all its errors, or a tally's counts by line."""
    if not channel.errors:
        return
    counted = sum(channel.lines)
    if evidence.tally and counted:
        for line, count in enumerate(channel.lines):
            if count:
                weight = channel.errors * count / counted
                yield 1 << line, weight, weight
        return
    if evidence.tally:
        yield 0, float(channel.errors), float(channel.errors)
        return
    scale = channel.errors / sum(row[1] for row in channel.sample)
    seen: set[tuple[int, int]] = set()
    for mask, count, _, _, address in channel.sample:
        again = address is not None and (address, mask) in seen
        if address is not None:
            seen.add((address, mask))
        yield mask, count * scale, 0.0 if again else (1.0 if address is not None else float(count)) * scale
