"""How likely a kind of fault writes a given mask of wrong lines.

Each shape gives one row for each of its unknown rates; weigh.py averages over them. A mask of 0 (lines not known)
has likelihood 1 under every shape: it says nothing about lines.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Masks = NDArray[np.int64]
Shape = Callable[[Masks], Floats]

WIDE_RATES = (0.15, 0.3, 0.5, 0.7, 0.9)
LINES = 32
# Of errors that are not of the fault at all: mostly single lines anywhere.
SINGLE_NOISE = 0.7
# Of scattered cells: words with one wrong bit, the rest with a few.
SINGLE_CELLS = 0.85


def _noise_by_count() -> Floats:
    """Likelihood of one mask by how many lines are wrong: one mostly, a few now and then, any number rarely."""
    count = np.arange(LINES + 1)
    few = np.where(count > 0, 0.5**count, 0.0)
    share = SINGLE_NOISE * (count == 1) + (1 - SINGLE_NOISE) * (0.8 * few + 0.2 / LINES * (count > 0))
    return np.array(share / [math.comb(LINES, int(wrong)) for wrong in count])


def popcount(masks: Masks) -> NDArray[np.int64]:
    """Number of wrong lines in each mask."""
    return np.bitwise_count(masks).astype(np.int64)


NOISE_BY_COUNT = _noise_by_count()


def one_line(line: int) -> Shape:
    """Always the same line and no other."""

    def shape(masks: Masks) -> Floats:
        return _known((masks == 1 << line).astype(np.float64)[None, :], masks)

    return shape


def two_lines(one: int, other: int) -> Shape:
    """Either of two lines, one at a time, about evenly."""

    def shape(masks: Masks) -> Floats:
        first, second = masks == 1 << one, masks == 1 << other
        rows = [share * first + (1 - share) * second for share in (0.3, 0.5, 0.7)]
        return _known(np.array(rows), masks)

    return shape


def wide(lines: int) -> Shape:
    """Each of a set of lines wrong on its own account, at an unknown rate; at least one is."""
    size = lines.bit_count()

    def shape(masks: Masks) -> Floats:
        inside = (masks & ~lines) == 0
        wrong = popcount(masks)
        rows = [rate**wrong * (1 - rate) ** (size - wrong) / (1 - (1 - rate) ** size) for rate in WIDE_RATES]
        return _known(np.array(rows) * inside, masks)

    return shape


def one_of(chips: Sequence[Shape], together: Shape) -> Shape:
    """Chips that share a channel: each error lies in one of them, or in all of them together."""

    def shape(masks: Masks) -> Floats:
        alone = np.mean([chip(masks) for chip in chips], axis=0)
        return np.asarray(0.5 * alone + 0.5 * together(masks))

    return shape


def scattered(lines: int) -> Shape:
    """One line at a time, any of a set, now and then a few together: weak cells."""
    size = lines.bit_count()
    few = wide(lines)

    def shape(masks: Masks) -> Floats:
        inside = (masks & ~lines) == 0
        single = (popcount(masks) == 1) * inside / size
        return _known((SINGLE_CELLS * single + (1 - SINGLE_CELLS) * few(masks)[0])[None, :], masks)

    return shape


def marginal(lines: int) -> Shape:
    """A tally's counts line by line: any of a set, evenly."""
    size = lines.bit_count()

    def shape(masks: Masks) -> Floats:
        return _known((((masks & ~lines) == 0) / size)[None, :], masks)

    return shape


def noise(masks: Masks) -> Floats:
    """Likelihood of a mask that has nothing to do with the fault."""
    return _known(NOISE_BY_COUNT[popcount(masks)], masks)


def _known(likelihood: Floats, masks: Masks) -> Floats:
    return np.where(masks == 0, 1.0, likelihood)
