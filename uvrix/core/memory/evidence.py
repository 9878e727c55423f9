"""What is kept of a report's rows: counts by channel and line, and the first rows of each channel.

A few kilobytes whatever the size of the report, so that it can be stored with the run and combined with others.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from uvrix.core.boards.model import ALL_LINES
from uvrix.core.memory.words import Counts, Rows

LINES = 32
SAMPLE_ROWS = 400
MOST_CHANNELS = 4096
# BYTE_BITS[value, bit] is 1 where a byte's value has that bit.
BYTE_BITS: NDArray[np.float64] = ((np.arange(256)[:, None] >> np.arange(8)) & 1).astype(np.float64)

SampleRow = tuple[int, int, int | None, int | None, int | None]


@dataclass(slots=True)
class ChannelEvidence:
    """One channel: errors (sums of counts), those of each line, those whose lines are not known.

    `touched` holds, for each mask of lines that a chip of the board carries, the errors that touch it.
    `sample` holds the first rows as (mask, count, expected, actual, address).
    """

    errors: int = 0
    rows: int = 0
    lines: list[int] = field(default_factory=lambda: [0] * LINES)
    unknown: int = 0
    touched: dict[int, int] = field(default_factory=dict)
    sample: list[SampleRow] = field(default_factory=list)

    def touching(self, lines: int) -> int:
        """Errors that count for a chip that carries `lines`: those that touch it, and those of unknown lines."""
        known = self.errors - self.unknown if lines == ALL_LINES else self.touched.get(lines, 0)
        return known + self.unknown


@dataclass(slots=True)
class Evidence:
    """All channels of a report, in the order in which the report lists them.

    `tally` is true for counts by channel, `with_lines` where lines could be told apart at all.
    """

    channels: dict[str, ChannelEvidence] = field(default_factory=dict)
    tally: bool = False
    with_lines: bool = True

    @property
    def errors(self) -> int:
        """Sum of all counts, of channels that the board lacks too."""
        return sum(channel.errors for channel in self.channels.values())


class Gatherer:
    """Adds up blocks of rows; `masks` are the line masks of the board's chips that are not whole channels."""

    def __init__(self, masks: Iterable[int]) -> None:
        self.masks = sorted(set(masks) - {ALL_LINES})
        self.names: list[str] = []
        self.codes: dict[str, int] = {}
        self.parts: dict[str, NDArray[np.float64]] = {}
        self.samples: list[list[SampleRow]] = []
        self.rows = 0
        self.disagree = 0

    def add(self, rows: Rows) -> None:
        """Adds a block of rows."""
        size = len(rows.count)
        if not size:
            return
        self.rows += size
        self.disagree += rows.disagree
        code = self._codes(rows)
        many = len(self.names)
        ones = bool((rows.count == 1).all())
        weights = None if ones else rows.count.astype(np.float64)
        self._sum("errors", np.bincount(code, weights, many))
        self._sum("rows", np.bincount(code, None, many))
        blank = rows.mask == 0
        if blank.any():
            self._sum("unknown", np.bincount(code[blank], None if weights is None else weights[blank], many))
        row_of, parts = code << 8, rows.mask.astype("<u4").view(np.uint8).reshape(-1, 4)
        for byte in range(4):
            table = np.bincount(row_of + parts[:, byte], weights, many * 256).reshape(many, 256)
            self._sum(f"byte{byte}", table @ BYTE_BITS)
        for mask in self.masks:
            hit = (rows.mask & np.uint32(mask)) != 0
            self._sum(f"mask{mask}", np.bincount(code[hit], None if weights is None else weights[hit], many))
        self._keep(rows, code)

    def _codes(self, rows: Rows) -> Counts:
        """Each row's channel as a number that is the same in all blocks; only names that were met get one."""
        met = np.bincount(rows.channel, minlength=len(rows.names))
        own = np.zeros(len(rows.names), dtype=np.int64)
        for at in np.flatnonzero(met).tolist():
            name = rows.names[at]
            if name not in self.codes:
                self.codes[name] = len(self.names)
                self.names.append(name)
                self.samples.append([])
            own[at] = self.codes[name]
        code: Counts = own[rows.channel]
        return code

    def _sum(self, part: str, more: NDArray[Any]) -> None:
        old = self.parts.get(part)
        more = more.astype(np.float64)
        if old is not None:
            more[: len(old)] += old
        self.parts[part] = more

    def _keep(self, rows: Rows, code: Counts) -> None:
        for number, sample in enumerate(self.samples):
            wanted = SAMPLE_ROWS - len(sample)
            if wanted <= 0:
                continue
            for i in np.flatnonzero(code == number)[:wanted].tolist():
                worded = bool(rows.worded[i])
                sample.append(
                    (
                        int(rows.mask[i]),
                        int(rows.count[i]),
                        int(rows.expected[i]) if worded else None,
                        int(rows.actual[i]) if worded else None,
                        rows.address(i) if rows.address is not None else None,
                    )
                )

    def evidence(self) -> Evidence:
        """All that was added."""
        found = Evidence()
        for name in sorted(self.names, key=natural):
            number = self.codes[name]
            found.channels[name] = ChannelEvidence(
                errors=self._of("errors", number),
                rows=self._of("rows", number),
                lines=[line for byte in range(4) for line in self._row(f"byte{byte}", number)],
                unknown=self._of("unknown", number),
                touched={mask: self._of(f"mask{mask}", number) for mask in self.masks},
                sample=self.samples[number],
            )
        return found

    def _of(self, part: str, number: int) -> int:
        values = self.parts.get(part)
        return int(values[number]) if values is not None and number < len(values) else 0

    def _row(self, part: str, number: int) -> list[int]:
        return [int(value) for value in self.parts[part][number]]


def tally_evidence(rows: Sequence[tuple[str, int, Sequence[int]]], with_lines: bool, masks: Iterable[int]) -> Evidence:
    """Evidence of counts by channel: (channel, errors, errors of each line) in the report's order."""
    found = Evidence(tally=True, with_lines=with_lines)
    for name, errors, lines in rows:
        channel = found.channels.setdefault(name, ChannelEvidence())
        channel.errors += errors
        channel.rows += 1
        channel.lines = [old + more for old, more in zip(channel.lines, lines, strict=True)]
    for channel in found.channels.values():
        channel.unknown = 0 if with_lines else channel.errors
        for mask in masks:
            counted = any(count for line, count in enumerate(channel.lines) if mask >> line & 1)
            channel.touched[mask] = channel.errors if counted else 0
    return found


def natural(name: str) -> tuple[str, int, str]:
    """Sort key that puts A2 before A10."""
    head = name.rstrip("0123456789")
    tail = name[len(head) :]
    return head, int(tail) if tail else -1, name
