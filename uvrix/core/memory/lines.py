"""A binary stream in blocks of whole lines: bounded memory whatever the size of the file."""

from __future__ import annotations

import codecs
import itertools
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from typing import BinaryIO, TypeVar

import numpy as np

from uvrix.core.errors import Refusal
from uvrix.core.values.text import check_encoding, check_start
from uvrix.language import gettext

BLOCK_BYTES = 1 << 22
LONGEST_LINE = 1 << 20
# A row of the largest report takes more than this many bytes on average; a report has few blank lines.
MOST_LINES, MOST_BLANK = 60_000_000, 500_000
# A block holds at most this many lines: a short one costs as much memory as a long one once it is read.
TALLEST = 1 << 18
# A quoted field may go over line ends (RFC 4180); one that is still open after this many lines was not meant.
LONGEST_FIELD_LINES = 20
# Blocks that are worked on at once, and that wait read or done; more would only take memory.
AT_ONCE = 3
WAITING = 5
NEW_LINE = 10

Item = TypeVar("Item")
Result = TypeVar("Result")


@dataclass(frozen=True, slots=True)
class Block:
    """`height` whole lines, without the byte-order mark; `first_line` is the number of the first, from 1."""

    data: bytes
    first_line: int
    height: int

    def lines(self) -> list[bytes]:
        """The lines without their ends."""
        lines = self.data.split(b"\n")
        return [line.removesuffix(b"\r") for line in (lines if lines[-1] else lines[:-1])]


def blocks(stream: BinaryIO, block_bytes: int = BLOCK_BYTES) -> Iterator[Block]:
    """The stream's lines in blocks of about `block_bytes`.

    Raises Refusal on UTF-16, NUL bytes, bytes that are not UTF-8, on lines longer than a mebibyte, and on more lines or
    blank lines than a report has.
    """
    line, rest, first, blank = 1, b"", True, 0
    while data := stream.read(block_bytes):
        data = rest + data
        if first:
            check_start(data)
            data, first = data.removeprefix(codecs.BOM_UTF8), False
        cut = data.rfind(b"\n") + 1
        whole, rest = data[:cut], data[cut:]
        if len(rest) > LONGEST_LINE:
            check_encoding(rest[:64], line + whole.count(b"\n"))
            raise _giant(line + whole.count(b"\n"), len(rest))
        if whole:
            block = _checked(whole, line)
            line += block.height
            blank += 2 * whole.count(b"\n\n")
            _check_counts(line, blank)
            yield from _not_too_tall(block)
    if rest:
        yield _checked(rest, line)


def _check_counts(line: int, blank: int) -> None:
    if blank > MOST_BLANK:
        raise Refusal(
            str(line),
            gettext("over {most_blank} blank lines", most_blank=MOST_BLANK),
            gettext("a report of a memory test"),
        )
    if line > MOST_LINES:
        raise Refusal(
            str(line),
            gettext("over {most_lines} lines", most_lines=MOST_LINES),
            gettext("at most {most_lines}", most_lines=MOST_LINES),
        )


def _not_too_tall(block: Block) -> Iterator[Block]:
    """The block, split into blocks that are not too tall."""
    if block.height <= TALLEST:
        yield block
        return
    ends = np.flatnonzero(np.frombuffer(block.data, np.uint8) == NEW_LINE) + 1
    cuts = [0, *ends[TALLEST - 1 : -1 : TALLEST].tolist(), len(block.data)]
    for number, (start, end) in enumerate(itertools.pairwise(cuts)):
        height = min(TALLEST, block.height - number * TALLEST)
        yield Block(block.data[start:end], block.first_line + number * TALLEST, height)


def _checked(data: bytes, line: int) -> Block:
    check_encoding(data, line)
    start = 0
    while len(data) - start > LONGEST_LINE:
        end = data.rfind(b"\n", start, start + LONGEST_LINE + 1)
        if end < 0:
            raise _giant(line + data.count(b"\n", 0, start), LONGEST_LINE)
        start = end + 1
    ends = int(np.count_nonzero(np.frombuffer(data, np.uint8) == NEW_LINE))
    return Block(data, line, ends + (not data.endswith(b"\n")))


def _giant(line: int, size: int) -> Refusal:
    return Refusal(
        str(line),
        gettext("a line of over {size} bytes", size=size),
        gettext("lines of at most {longest_line} bytes", longest_line=LONGEST_LINE),
    )


def side_by_side(work: Callable[[Item], Result], items: Iterable[Item]) -> Iterator[Result]:
    """`work` done on a few items at once, results in order; it should spend its time outside the interpreter's lock."""
    with ThreadPoolExecutor(AT_ONCE) as pool:
        waiting: deque[Future[Result]] = deque()
        for item in items:
            waiting.append(pool.submit(work, item))
            if len(waiting) > WAITING:
                yield waiting.popleft().result()
        while waiting:
            yield waiting.popleft().result()
