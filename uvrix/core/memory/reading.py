"""Any memory report: looks at the first sign of the file and hands it to the reader that takes it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import BinaryIO

from uvrix.core.errors import Refusal
from uvrix.core.memory.lines import BLOCK_BYTES, Block, blocks
from uvrix.core.memory.own_csv import EXPECTED_HEADER, read_csv
from uvrix.core.memory.own_json import read_lines
from uvrix.core.memory.reader_file import TaughtReader
from uvrix.core.memory.report import Channels, Report
from uvrix.core.memory.taught import read_taught
from uvrix.language import gettext


def read_report(
    stream: BinaryIO, channels: Channels, block_bytes: int = BLOCK_BYTES, *, reader: TaughtReader | None = None
) -> Report:
    """The report in a binary stream, read once from here to its end, by a taught reader where one is given.

    Raises Refusal naming the line, what was found and what was expected.
    """
    parts = blocks(stream, block_bytes)
    first = next(parts, None)
    if first is None or not first.data.strip():
        raise Refusal("1", gettext("an empty file"), EXPECTED_HEADER)
    everything = _all(first, parts)
    if reader is not None:
        return read_taught(everything, channels, reader)
    own = read_lines if first.data.lstrip()[:1] == b"{" else read_csv
    return own(everything, channels)


def _all(first: Block, rest: Iterator[Block]) -> Iterator[Block]:
    yield first
    yield from rest
