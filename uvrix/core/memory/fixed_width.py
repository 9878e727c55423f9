"""Blocks whose lines are all of one length, read as a matrix of bytes: what most testers write, and much faster.

A pattern is taken apart into literal signs and runs of classes. Where no run can take a sign of what follows it, a line
has one way to fit; so lines that have the right class of sign in every column of the first line's parts fit with the
same parts. Anything else (other patterns, lines of other lengths, words that are no hex) is left to taught.py.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from uvrix.core.boards.model import ALL_LINES
from uvrix.core.memory.reader_file import Rule, TaughtReader
from uvrix.core.memory.report import Channels
from uvrix.core.memory.words import HEX_COLUMNS, Rows, disagreeing

Bytes = NDArray[np.uint8]
Allowed = NDArray[np.bool_]

PART = re.compile(
    r"(?P<group>\(\?P<(?P<name>\w+)>)?"
    r"(?:\[(?P<set>[^\]\\^]+)\]|(?P<blank>\\s)|\\(?P<escaped>[^\w\s])|(?P<sign>[\w ,:;=/<>@#%&!\"'~`-]))"
    r"(?P<many>[+*]|\{\d+\})?(?(group)\))"
)
BLANKS = b" \t\n\r\x0b\x0c"
NEW_LINE, NO_DIGIT, PIECE = 10, 255, 256
HEX = np.full(256, NO_DIGIT, dtype=np.uint8)
for _value, _sign in enumerate("0123456789abcdef"):
    HEX[ord(_sign)] = HEX[ord(_sign.upper())] = _value
LONGEST_HEX, WORD_DIGITS = 16, 8


@dataclass(frozen=True, slots=True)
class Part:
    """One part of a pattern: the group it is, the signs it takes, whether it may be a run, and an empty one."""

    name: str
    allowed: Allowed
    run: bool
    optional: bool


@lru_cache(64)
def parts_of(pattern: str) -> tuple[Part, ...] | None:
    """The parts of a pattern whose lines have one way to fit, from line start to line end; None for other patterns."""
    inner = pattern.removeprefix("^")
    ended = inner.endswith("$")
    inner = inner.removesuffix("$")
    if not ended or not pattern.startswith("^"):
        return None
    found: list[Part] = []
    at = 0
    while at < len(inner):
        match = PART.match(inner, at)
        if match is None:
            return None
        many = match["many"] or ""
        found.append(Part(match["name"] or "", _allowed(match), many in ("+", "*"), many == "*"))
        at = match.end()
    for n, part in enumerate(found):
        for later in found[n + 1 :]:
            if part.run and (part.allowed & later.allowed).any():
                return None
            if not later.optional:
                break
    return tuple(found)


def _allowed(match: re.Match[str]) -> Allowed:
    allowed = np.zeros(256, dtype=np.bool_)
    if match["blank"]:
        signs = BLANKS
    elif match["set"]:
        signs = bytes(code for code in range(128) if re.match(f"[{match['set']}]", chr(code)))
    else:
        signs = (match["escaped"] or match["sign"]).encode()
    allowed[list(signs)] = True
    return allowed


def read_fixed_width(data: bytes, height: int, channels: Channels, reader: TaughtReader) -> Rows | None:
    """The rows of a block whose lines all fit the reader's first rule in the same columns, or None."""
    rule = reader.rules[0]
    parts = parts_of(rule.pattern) if rule.use == "error" else None
    if parts is None or not height or len(data) % height or not data.endswith(b"\n") or reader.dq0_left:
        return None
    width = len(data) // height
    first = re.match(_python(rule), data[: width - 1].decode("ascii", "replace"))
    columns = _columns(np.frombuffer(data, np.uint8).reshape(height, width))
    if first is None or not (columns[-1] == NEW_LINE).all():
        return None
    at = 0
    for number, part in enumerate(parts, 1):
        end = at + len(first[f"part{number}"])
        if not all((column == column[0]).all() or part.allowed[column].all() for column in columns[at:end]):
            return None
        at = end
    spans = {part.name: slice(*first.span(f"part{number}")) for number, part in enumerate(parts, 1) if part.name}
    return _rows({name: columns[span] for name, span in spans.items()}, height, channels, reader)


def _columns(lines: Bytes) -> Bytes:
    """The columns of a matrix, each lying together in memory; turned piece by piece, as the cache likes it."""
    turned = np.empty(lines.shape[::-1], dtype=np.uint8)
    for first in range(0, len(lines), PIECE):
        turned[:, first : first + PIECE] = lines[first : first + PIECE].T
    return turned


@lru_cache(64)
def _python(rule: Rule) -> re.Pattern[str]:
    """The pattern with each part as a group of its own; it has one way to fit, so any engine agrees."""
    written = []
    inner = rule.pattern.removeprefix("^").removesuffix("$")
    for number, match in enumerate(PART.finditer(inner), 1):
        body = match[0][len(match["group"]) : -1] if match["group"] else match[0]
        written.append(f"(?P<part{number}>{body})")
    return re.compile("".join(written) + r"\Z", re.ASCII)


def _rows(cells: dict[str, Bytes], height: int, channels: Channels, reader: TaughtReader) -> Rows | None:
    """Rows of cells that are given as columns of signs, or None where they are not all words and known channels."""
    if reader.number_base != 16 or "channel" not in cells or "count" in cells:
        return None
    code = _channel(cells["channel"], channels, reader)
    words = {name: _hex(columns) for name, columns in cells.items() if name in HEX_COLUMNS}
    found = {name: word for name, word in words.items() if word is not None}
    if code is None or len(found) < len(words):
        return None
    if any(name != "address" and len(cells[name]) > WORD_DIGITS and (found[name] > ALL_LINES).any() for name in found):
        return None
    nothing = np.zeros(height, dtype=np.uint32)
    short = {
        name: found[name].astype(np.uint32) if name in found else nothing for name in ("expected", "actual", "bits")
    }
    worded = "expected" in found and "actual" in found
    address = found.get("address")
    return Rows(
        names=tuple(sorted(channels.known)),
        channel=code,
        mask=short["expected"] ^ short["actual"] if worded else short["bits"],
        count=np.ones(height, dtype=np.int64),
        expected=short["expected"],
        actual=short["actual"],
        worded=np.full(height, worded),
        address=(lambda row: int(address[row])) if address is not None else None,
        disagree=disagreeing(tuple(sorted(channels.known)), code, address, channels.board),
    )


def _hex(columns: Bytes) -> NDArray[np.int64] | None:
    """The numbers in columns of hex digits, an `0x` before all of them passed over; None where a sign is none."""
    if len(columns) > 2 and (columns[0] == ord("0")).all() and np.isin(columns[1], (ord("x"), ord("X"))).all():
        columns = columns[2:]
    if len(columns) >= LONGEST_HEX:
        return None
    digits = np.take(HEX, columns)
    if digits.max(initial=0) == NO_DIGIT:
        return None
    # two digits a byte, bytes side by side in one word
    padded = np.zeros((LONGEST_HEX, columns.shape[1]), dtype=np.uint8)
    padded[LONGEST_HEX - len(digits) :] = digits
    packed = (padded[0::2] << 4) | padded[1::2]
    total: NDArray[np.int64] = np.ascontiguousarray(packed.T).view(">i8").ravel().astype(np.int64)
    return total


def _channel(columns: Bytes, channels: Channels, reader: TaughtReader) -> NDArray[np.int64] | None:
    """The index of each row's channel among the board's, or None where one is not among them."""
    names = sorted(channels.known)
    words = {**{name: name for name in names}, **reader.channels}
    code = np.full(columns.shape[1], -1, dtype=np.int64)
    for word, name in words.items():
        written = word.encode()
        if len(written) == len(columns) and name in channels.known:
            same = np.logical_and.reduce([column == sign for column, sign in zip(columns, written, strict=True)])
            code[same] = names.index(name)
    return code if (code >= 0).all() else None
