"""The full and the tally report (docs/formats §5 and §6): CSV with `# key: value` lines before the header."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import polars as pl

from uvrix.core.errors import NotOurs, Refusal, quoted
from uvrix.core.memory.evidence import LINES, Gatherer, tally_evidence
from uvrix.core.memory.lines import LONGEST_FIELD_LINES, Block, side_by_side
from uvrix.core.memory.metadata import Metadata, metadata
from uvrix.core.memory.report import MOST_QUOTED, Channels, Report, Unread, disagreement, ignored
from uvrix.core.memory.words import CHANNEL_NAME, KNOWN_COLUMNS, LARGEST_COUNT, USED_COLUMNS, Flags, Rows, decode
from uvrix.language import gettext

META_LINE = re.compile(r"#\s*([A-Za-z][A-Za-z0-9_-]*)\s*:\s*(.*?)\s*$")
TALLY_COLUMNS = ("channel", "errors", *(f"dq{line}" for line in range(LINES)))
ROW_COLUMNS = {"expected", "actual", "bits", "address"}
EXPECTED_HEADER = gettext("a header with channel or address (full), or channel,errors (tally)")
MOST_COLUMNS = 400


@dataclass(frozen=True, slots=True)
class Head:
    """What stands before the rows: keys with their lines, the header's names in lower case, its line."""

    keys: dict[str, str]
    places: dict[str, str]
    columns: list[str]
    line: int

    @property
    def tally(self) -> bool:
        """Whether the rows are counts by channel."""
        return {"channel", "errors"} <= set(self.columns) and not ROW_COLUMNS & set(self.columns)


@dataclass(frozen=True, slots=True)
class Table:
    """Rows of text, the number of the line where each starts, and their lines as they came."""

    frame: pl.DataFrame
    numbers: Sequence[int]
    lines: Sequence[bytes] | None
    block: Block

    def text(self, row: int) -> str:
        """A row as it came."""
        lines = self.lines if self.lines is not None else self.block.lines()
        return lines[row].decode("utf-8", "replace")


def read_csv(blocks: Iterator[Block], channels: Channels) -> Report:
    """The report in a file's blocks.

    Raises Refusal where there is no usable header, a key holds an unknown word, or no row can be read.
    """
    head, rest = _head(blocks)
    meta = metadata(head.keys, head.places)
    return _read_tally(head, rest, channels, meta) if head.tally else _read_full(head, rest, channels, meta)


def _head(blocks: Iterator[Block]) -> tuple[Head, Iterator[Block]]:
    keys: dict[str, str] = {}
    places: dict[str, str] = {}
    last = 1
    for block in blocks:
        used = 0
        for number, raw in enumerate(block.data.split(b"\n"), block.first_line):
            used += len(raw) + 1
            text = raw.decode("utf-8").strip()
            last = number if raw else last
            if text.startswith("#"):
                if found := META_LINE.match(text):
                    key = found[1].lower()
                    keys[key], places[key] = found[2], str(number)
            elif text:
                head = Head(keys, places, _header(text, number), number)
                after = Block(block.data[used:], number + 1, block.first_line + block.height - number - 1)
                return head, _after(after, blocks)
    raise Refusal(str(last), gettext("no header") if keys else gettext("an empty file"), EXPECTED_HEADER)


def _after(first: Block, blocks: Iterator[Block]) -> Iterator[Block]:
    if first.data:
        yield first
    yield from blocks


def _header(text: str, number: int) -> list[str]:
    try:
        names = [name.strip().lower() for name in next(csv.reader([text]))]
    except csv.Error:  # a bare carriage return inside a field, or a field without end
        raise NotOurs(str(number), quoted(text), EXPECTED_HEADER) from None
    if not {"channel", "address"} & set(names):
        raise NotOurs(str(number), quoted(text), EXPECTED_HEADER)
    if len(names) > MOST_COLUMNS:
        raise Refusal(
            str(number),
            gettext("{number} columns", number=len(names)),
            gettext("at most {most_columns}", most_columns=MOST_COLUMNS),
        )
    for name in (*KNOWN_COLUMNS, *TALLY_COLUMNS):
        if names.count(name) > 1:
            raise Refusal(
                str(number),
                gettext("{number} columns named {name}", number=names.count(name), name=name),
                gettext("each column once"),
            )
    return names


def _read_full(head: Head, blocks: Iterator[Block], channels: Channels, meta: Metadata) -> Report:
    gatherer = Gatherer(channels.masks)
    unread = Unread()
    address_map = channels.board.address_map if channels.board else None

    def read(block: Block) -> tuple[Table, Rows, Flags]:
        table = _table(block, head.columns, USED_COLUMNS)
        return table, *decode(table.frame, channels.known, address_map)

    for table, rows, good in side_by_side(read, _whole_rows(blocks)):
        gatherer.add(rows)
        _quote_bad(table, good, unread)
    unread.check(gatherer.rows, gettext("a row with a channel (as A0) or an address on a board with an address map"))
    warnings = _unknown_columns(head, KNOWN_COLUMNS) + disagreement(gatherer.disagree)
    return Report("full", meta, gatherer.rows, unread, gatherer.evidence(), tuple(warnings))


def _quote_bad(table: Table, good: Flags, unread: Unread) -> None:
    if good.all():
        return
    bad = np.flatnonzero(~good)
    for row in bad[: max(0, MOST_QUOTED - len(unread.quotes))].tolist():
        unread.add(table.numbers[row], table.text(row))
        bad = bad[1:]
    unread.count += len(bad)


def _unknown_columns(head: Head, known: Sequence[str]) -> list[str]:
    return [ignored(name) for name in head.columns if name and name not in known]


def _read_tally(head: Head, blocks: Iterator[Block], channels: Channels, meta: Metadata) -> Report:
    rows: list[tuple[str, int, list[int]]] = []
    unread = Unread()
    for block in _whole_rows(blocks):
        table = _table(block, head.columns, TALLY_COLUMNS)
        for number, cells in enumerate(table.frame.iter_rows(named=True)):
            row = _tally_row(cells, channels.known)
            if row is None:
                unread.add(table.numbers[number], table.text(number))
            else:
                rows.append(row)
    unread.check(len(rows), gettext("a row with a channel (as A0) and a number of errors"))
    with_lines = any(name in TALLY_COLUMNS[2:] for name in head.columns)
    evidence = tally_evidence(rows, with_lines, channels.masks)
    return Report("tally", meta, len(rows), unread, evidence, tuple(_unknown_columns(head, TALLY_COLUMNS)))


def _tally_row(cells: dict[str, str | None], known: frozenset[str]) -> tuple[str, int, list[int]] | None:
    """One row of a tally, or None where it cannot be read; an empty line count is none."""
    channel = cells["channel"] or ""
    errors = whole(cells["errors"] or "")
    lines = [whole(cells.get(name) or "0") for name in TALLY_COLUMNS[2:]]
    if errors is None or (channel not in known and not re.match(CHANNEL_NAME, channel)):
        return None
    counts = [line for line in lines if line is not None]
    return (channel, errors, counts) if len(counts) == LINES else None


def whole(text: str) -> int | None:
    """A whole number from 0, or None."""
    return int(text) if re.fullmatch(r"[0-9]{1,16}", text) and int(text) <= LARGEST_COUNT else None


def _whole_rows(blocks: Iterator[Block]) -> Iterator[Block]:
    """Blocks that end with a row: a quoted field that goes over a block's end is kept for the next block."""
    kept = Block(b"", 0, 0)
    for block in blocks:
        first = kept.first_line if kept.height else block.first_line
        whole = Block(kept.data + block.data, first, kept.height + block.height)
        at = _open_row(whole.lines()) if b'"' in whole.data else None
        if at is None:
            kept = Block(b"", 0, 0)
            yield whole
            continue
        tail = b"\n".join(whole.data.split(b"\n", at)[at:])
        kept = Block(tail, first + at, whole.height - at)
        if at:
            yield Block(whole.data[: len(whole.data) - len(tail)], first, at)
    if kept.height:
        yield kept


def _open_row(lines: Sequence[bytes]) -> int | None:
    """The number of the line where a row begins that may go on after the last line, or None."""
    at = 0
    while at < len(lines):
        taken = _lines_of_row(lines, at)
        if taken is None:
            return at
        at += taken
    return None


def _lines_of_row(lines: Sequence[bytes], at: int) -> int | None:
    """How many lines the row at a line takes; 1 where its quote does not close in time, None where the lines end."""
    if not _is_row(lines[at]) or lines[at].count(b'"') % 2 == 0:
        return 1
    quotes = 0
    for more, line in enumerate(lines[at : at + LONGEST_FIELD_LINES], 1):
        quotes += line.count(b'"')
        if quotes % 2 == 0:
            return more
    return 1 if len(lines) - at >= LONGEST_FIELD_LINES else None


def _table(block: Block, columns: list[str], used: Sequence[str]) -> Table:
    """The rows of a block as text columns, those used only; blank lines and `#` lines are passed over."""
    if b'"' in block.data:
        return _quoted_table(block, columns, used)
    if b"#" not in block.data:
        frame = _parse(block.data, columns, used)
        if frame.height == block.height and not _has_blank(frame):
            return Table(frame, range(block.first_line, block.first_line + frame.height), None, block)
    kept = [(n, line) for n, line in enumerate(block.lines(), block.first_line) if _is_row(line)]
    lines = [line for _, line in kept]
    return Table(_parse(b"\n".join(lines), columns, used), [n for n, _ in kept], lines, block)


def _has_blank(frame: pl.DataFrame) -> bool:
    """Whether a row has nothing in any column: a blank line, perhaps."""
    first = frame.to_series(0)
    if first.null_count() == 0 and not (first == "").any():
        return False
    return bool(frame.select(pl.all_horizontal(pl.all().fill_null("") == "").any()).item())


def _is_row(line: bytes) -> bool:
    stripped = line.strip()
    return bool(stripped) and not stripped.startswith(b"#")


def _parse(data: bytes, columns: list[str], used: Sequence[str]) -> pl.DataFrame:
    wanted = [number for number, name in enumerate(columns) if name in used]
    if not data:
        return pl.DataFrame(schema={columns[number]: pl.String for number in wanted})
    frame = pl.read_csv(
        io.BytesIO(data),
        has_header=False,
        schema={f"c{number}": pl.String for number in range(len(columns))},
        columns=wanted,
        quote_char=None,
        truncate_ragged_lines=True,
        missing_columns="insert",
        extra_columns="ignore",
    )
    frame = frame.rename({f"c{number}": columns[number] for number in wanted})
    spaced = any(sign in data for sign in (b" ", b"\t", b"\r"))
    return frame.with_columns(pl.all().str.strip_chars()) if spaced else frame


def _quoted_table(block: Block, columns: list[str], used: Sequence[str]) -> Table:
    """The rows of a block with quoted fields, by the standard library's CSV reader, row by row."""
    wanted = [(number, name) for number, name in enumerate(columns) if name in used]
    cells: dict[str, list[str | None]] = {name: [] for _, name in wanted}
    numbers: list[int] = []
    lines: list[bytes] = []
    for number, line, fields in _quoted_rows(block):
        numbers.append(number)
        lines.append(line)
        for place, name in wanted:
            cells[name].append(fields[place].strip() if place < len(fields) else None)
    return Table(pl.DataFrame(cells, schema=dict.fromkeys(cells, pl.String)), numbers, lines, block)


def _quoted_rows(block: Block) -> Iterator[tuple[int, bytes, list[str]]]:
    """(line number, text, fields) of each row; a quote that does not close within a few lines ends with its line."""
    lines = block.lines()
    at = 0
    while at < len(lines):
        taken = _lines_of_row(lines, at) or 1
        line = b"\n".join(lines[at : at + taken])
        if not _is_row(line):
            at += 1
            continue
        try:
            fields = next(csv.reader(io.StringIO(line.decode("utf-8"), newline=""), strict=True))
        except csv.Error:
            fields = []
        yield block.first_line + at, line, fields
        at += taken
