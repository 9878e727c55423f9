"""What addresses and words tell beside the masks: where a channel's errors lie, and which lines read alike.

All of it is relative to errors spread evenly over the addresses, in logarithms; without addresses it is 0.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uvrix.core.boards.model import AddressMap
from uvrix.core.memory.evidence import Evidence

Whole = NDArray[np.int64]

# Errors from the first address on lie near to one another, bytes; so few addresses say nothing.
NEAR_BYTES = 1 << 18
FIRST_BYTES = 1 << 24
FEWEST = 3
# How often errors lie densely from the first address, and at which rates an address fails again.
DENSE = {"site": 0.85, "cells": 0.02, "address-line": 0.1}
OTHERWISE_DENSE = 0.25
AGAIN = {"cells": (0.02, 0.5, 0.9)}
OTHERWISE_AGAIN = (0.02, 0.3, 0.6)
# Bits below this may choose the channel where the address map is not known, so that they are constant anyway.
LEAST_ALIAS_BIT = 15
UNSURE_BIT = 0.05
STRAY = 0.08
VARIES = 0.15
# Words of usual patterns differ in two given lines about this often; a bridge is seen only where they do.
DIFFER = 0.55
MOST_LOG = 60.0
# An address line is marched over in both directions this often. Of words that are written at one address only, and are
# read at another, this many come from where just that bit differs, and this many do by chance.
EITHER_WAY = 0.02
SWAPPED, BY_CHANCE = 0.9, 0.05


@dataclass(frozen=True, slots=True)
class Trace:
    """One channel: distinct addresses in order, how many rows had one, and its single-line errors with words.

    `counts` are the errors of each of the 32 lines. `swapped` are address bits with the rows whose word is the one
    that was written where only that bit differs; `strangers` are rows whose word was written anywhere else.
    """

    addresses: Whole
    rows: int
    lines: Whole
    expected: Whole
    counts: Whole
    swapped: tuple[tuple[int, int], ...] = ()
    strangers: int = 0

    def likely_lines(self, lines: int, most: int = 32) -> list[int]:
        """Of a chip's lines those that were wrong, the most often wrong first; all of them where none is known."""
        own = [line for line in range(32) if lines >> line & 1]
        wrong = sorted((line for line in own if self.counts[line]), key=lambda line: -int(self.counts[line]))
        return (wrong or own)[:most]


def trace_of(evidences: Sequence[Evidence], name: str) -> Trace:
    """The trace of a channel over all reports."""
    sample = [row for evidence in evidences if name in evidence.channels for row in evidence.channels[name].sample]
    addresses = [row[4] for row in sample if row[4] is not None]
    single = [(row[0].bit_length() - 1, row[2]) for row in sample if row[0].bit_count() == 1 and row[2] is not None]
    line = np.array([number for number, _ in single], dtype=np.int64)
    expected = np.array([word for _, word in single], dtype=np.int64)
    lines_of = [evidence.channels[name].lines for evidence in evidences if name in evidence.channels]
    counts = np.array(lines_of, dtype=np.int64).reshape(-1, 32).sum(axis=0)
    swapped, strangers = _swapped([(row[4], row[2], row[3]) for row in sample])
    return Trace(
        np.unique(np.array(addresses, dtype=np.int64)), len(addresses), line, expected, counts, swapped, strangers
    )


def _swapped(
    rows: Sequence[tuple[int | None, int | None, int | None]],
) -> tuple[tuple[tuple[int, int], ...], int]:
    """(address bit, rows) of words that belong where one bit differs, and the rows whose words belong elsewhere.

    Words written at more than one address, as solid patterns are, tell nothing of where they come from; nor does one
    wrong line, where a word is its own address.
    """
    written: dict[int, set[int]] = {}
    for address, expected, _ in rows:
        if address is not None and expected is not None:
            written.setdefault(expected, set()).add(address)
    bits: Counter[int] = Counter()
    strangers = 0
    for address, expected, actual in rows:
        if address is None or expected is None or actual is None or (expected ^ actual).bit_count() < 2:
            continue
        if len(written.get(actual, ())) != 1:
            continue
        apart = address ^ next(iter(written[actual]))
        if apart.bit_count() == 1:
            bits[apart.bit_length() - 1] += 1
        else:
            strangers += 1
    return tuple(bits.most_common()), strangers


def word_lines(trace: Trace, lines: int) -> int:
    """The lines of a chip that an aliased word may differ in: where words are told apart, those that did."""
    wrong = sum(1 << line for line in range(32) if trace.counts[line])
    return wrong & lines if trace.swapped and trace.swapped[0][1] > 2 * trace.strangers else lines


def log_placing(trace: Trace, kind: str) -> float:
    """How much better the errors' addresses fit a kind than other kinds: dense from the start, failing again."""
    dense = _log_dense(trace, DENSE.get(kind, OTHERWISE_DENSE)) - _log_dense(trace, OTHERWISE_DENSE)
    return dense + _log_again(trace, AGAIN.get(kind, OTHERWISE_AGAIN)) - _log_again(trace, OTHERWISE_AGAIN)


def _log_dense(trace: Trace, chance: float) -> float:
    if len(trace.addresses) < FEWEST:
        return 0.0
    return math.log(chance if _dense(trace.addresses) else 1 - chance)


def _dense(addresses: Whole) -> bool:
    """Whether the errors lie near to one another from the start; the last fifth may be strays elsewhere."""
    low, high = np.quantile(addresses, (0.0, 0.8), method="lower")
    return bool(low < FIRST_BYTES and high - low < NEAR_BYTES * len(addresses))


def _log_again(trace: Trace, rates: Sequence[float]) -> float:
    if trace.rows < 2:
        return 0.0
    again = trace.rows - len(trace.addresses)
    fresh = len(trace.addresses)
    scale = min(1.0, MOST_LOG / trace.rows)
    logs = [scale * (again * math.log(rate) + fresh * math.log(1 - rate)) for rate in rates]
    return log_mean(logs)


def log_alias(trace: Trace, address_map: AddressMap | None) -> float:
    """How much better an address line explains the addresses and words than chance does.

    A march in one direction finds errors at only one half of the addresses; one in either finds at each half the words
    that were written at the other.
    """
    one_way = _log_one_half(trace, address_map) + math.log(1 - EITHER_WAY)
    either = _log_swapped(trace) + math.log(EITHER_WAY)
    return log_mean([one_way, either]) + math.log(2)


def _log_swapped(trace: Trace) -> float:
    """How much better one address bit explains where the wrong words were written than chance does."""
    if not trace.swapped:
        return 0.0
    most = trace.swapped[0][1]
    others = trace.strangers + sum(many for _, many in trace.swapped[1:])
    scale = min(1.0, MOST_LOG / (most + others))
    return scale * (most * math.log(SWAPPED / BY_CHANCE) + others * math.log((1 - SWAPPED) / (1 - BY_CHANCE)))


def _log_one_half(trace: Trace, address_map: AddressMap | None) -> float:
    """How much better one address bit that never changes explains the addresses than chance does."""
    addresses = trace.addresses
    if len(addresses) < FEWEST:
        return -math.log(2) * 4
    ones = [int((addresses >> bit & 1).sum()) for bit in range(64)]
    # above the highest bit that truly varies the memory ends, below the lowest words are not told apart
    varying = [bit for bit in range(64) if min(ones[bit], len(addresses) - ones[bit]) >= VARIES * len(addresses)]
    choosing = _choosing(address_map)
    scale = min(1.0, MOST_LOG / len(addresses))
    dense = _dense(addresses)
    logs, priors = [], []
    own = [bit for bit in varying if bit not in choosing]
    for bit in range(min(own, default=0) + 1, max(own, default=0)):
        most = max(ones[bit], len(addresses) - ones[bit])
        least = len(addresses) - most
        log = most * math.log(1 - STRAY / 2) + least * math.log(STRAY / 2) + len(addresses) * math.log(2)
        unsure = bit in choosing or (address_map is None and bit < LEAST_ALIAS_BIT)
        if unsure and dense:
            continue
        logs.append(scale * log - math.log(2))
        priors.append(UNSURE_BIT if unsure else 1.0)
    if not logs:
        return -math.log(2) * 4
    return log_mean([log + math.log(prior) for log, prior in zip(logs, priors, strict=True)])


def _choosing(address_map: AddressMap | None) -> set[int]:
    """The address bits that choose the channel, and so may be constant on it without any fault."""
    if address_map is None:
        return set()
    if address_map.stripe_bytes:
        first = address_map.stripe_bytes.bit_length() - 1
        return set(range(first, first + len(address_map.order).bit_length() + 1))
    return {bit for bits in address_map.select for bit in bits}


def log_bridge(trace: Trace, one: int, other: int) -> float:
    """How much better a bridge of two lines explains the words than two lines that have nothing to do with it."""
    here = (trace.lines == one) | (trace.lines == other)
    differ = ((trace.expected >> one) ^ (trace.expected >> other)) & 1
    yes = int((here & (differ == 1)).sum())
    no = int((here & (differ == 0)).sum())
    scale = min(1.0, MOST_LOG / max(1, yes + no))
    return scale * (yes * math.log(0.98 / DIFFER) + no * math.log(0.02 / (1 - DIFFER)))


def log_mean(logs: Sequence[float]) -> float:
    """Logarithm of the mean of what the logarithms stand for."""
    top = max(logs)
    return top + math.log(sum(math.exp(log - top) for log in logs) / len(logs))
