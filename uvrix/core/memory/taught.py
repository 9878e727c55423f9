"""Reads any text by a taught reader (formats.md §5), many lines at once."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
import polars as pl
from numpy.typing import NDArray

from uvrix.core.errors import Refusal, quoted
from uvrix.core.memory.evidence import LINES, Gatherer, tally_evidence
from uvrix.core.memory.fixed_width import read_fixed_width
from uvrix.core.memory.lines import Block, side_by_side
from uvrix.core.memory.metadata import metadata
from uvrix.core.memory.own_csv import whole
from uvrix.core.memory.reader_file import Rule, TaughtReader
from uvrix.core.memory.report import MOST_QUOTED, Channels, Report, Unread, disagreement
from uvrix.core.memory.words import USED_COLUMNS, Flags, Mask32, Rows, decode

NO_SIGN = "\x01"
TallyRow = tuple[str, int, list[int]]
Places = NDArray[np.int64]


@dataclass(slots=True)
class _Part:
    """What one block gives: decoded rows, tally rows, keys, a refusal, lines that no rule fits or none could read."""

    rows: list[Rows] = field(default_factory=list)
    tally: list[TallyRow] = field(default_factory=list)
    keys: dict[str, tuple[str, int]] = field(default_factory=dict)
    refusal: str = ""
    unread: list[tuple[int, str]] = field(default_factory=list)
    unread_count: int = 0
    fitted: int = 0


def read_taught(blocks: Iterator[Block], channels: Channels, reader: TaughtReader) -> Report:
    """The report in a file's blocks; raises Refusal where the reader fits no line of it."""
    gatherer, unread, tally = Gatherer(channels.masks), Unread(), []
    keys: dict[str, str] = {}
    places: dict[str, str] = {}
    refusal, fitted = "", 0

    def read(block: Block) -> _Part:
        return _read_block(block, channels, reader)

    for part in side_by_side(read, blocks):
        for rows in part.rows:
            gatherer.add(rows)
        tally += part.tally
        keys |= {key: value for key, (value, _) in part.keys.items()}
        places |= {key: str(line) for key, (_, line) in part.keys.items()}
        refusal = refusal or part.refusal
        for line, text in sorted(part.unread):
            unread.add(line, text)
        unread.count += part.unread_count - len(part.unread)
        fitted += part.fitted
    if refusal:
        keys |= {"result": "refused", "refusal": refusal}
    meta = metadata(keys, places)
    if not fitted:
        line, text = unread.quotes[0] if unread.quotes else (1, "")
        found = f"no line that the reader {quoted(reader.name)} knows (first {quoted(text)})"
        raise Refusal(str(line), found, "a report that it was taught on")
    if meta.result == "fail" or not keys:
        unread.check(
            gatherer.rows + len(tally), "a line of an error that this reader knows, or a result that is no fail"
        )
    warnings = disagreement(gatherer.disagree)
    if tally and gatherer.rows:
        warnings.append(f"{len(tally)} tally lines beside single errors were passed over, so that nothing counts twice")
    if tally and not gatherer.rows:
        with_lines = any("dq0" in rule.groups or any(g.startswith("dq") for g in rule.groups) for rule in reader.rules)
        evidence = tally_evidence(tally, with_lines, channels.masks)
        return Report(reader.name, meta, len(tally), unread, evidence, tuple(warnings))
    return Report(reader.name, meta, gatherer.rows, unread, gatherer.evidence(), tuple(warnings))


def fitting_lines(sample: bytes, reader: TaughtReader) -> tuple[int, int]:
    """(lines that rules other than skip fit, lines that are not blank) of a sample, to choose among readers."""
    lines = _filled(_lines_of(Block(sample, 1, sample.count(b"\n") + 1)))[0]
    rule = rule_of_lines(lines, reader.rules)
    useful = [number for number, one in enumerate(reader.rules) if one.use != "skip"]
    return int(np.isin(rule, useful).sum()), lines.len()


@dataclass(frozen=True, slots=True)
class ReadLine:
    """One line of a sample: the use of the rule that fits it (None: no rule does), and the cells it gives."""

    number: int
    text: str
    use: str | None
    cells: dict[str, str]


def explain(sample: str, reader: TaughtReader | None) -> list[ReadLine]:
    """What a reader makes of each line of a sample that is not blank."""
    data = sample.encode()
    lines, numbers = _filled(_lines_of(Block(data, 1, data.count(b"\n") + 1)))
    rules = reader.rules if reader else ()
    chosen = rule_of_lines(lines, rules).tolist()
    found = []
    for text, number, rule in zip(lines.to_list(), numbers.tolist(), chosen, strict=True):
        use = rules[rule].use if rule >= 0 else None
        cells = _cells(rules[rule], text) if use in ("error", "tally", "meta") else {}
        found.append(ReadLine(int(number), text, use, cells))
    return found


def _cells(rule: Rule, text: str) -> dict[str, str]:
    row = pl.Series([text]).str.extract_groups(rule.pattern).struct.unnest().row(0, named=True)
    return {name: row[name] for name in row if name in rule.groups and row[name] is not None}


def rule_of_lines(lines: pl.Series, rules: Sequence[Rule]) -> Places:
    """The number of the first rule that fits each line, or -1."""
    found = np.full(lines.len(), -1, dtype=np.int64)
    left = np.arange(lines.len())
    for number, rule in enumerate(rules):
        fits = lines.gather(left).str.contains(rule.pattern).fill_null(False).to_numpy()
        found[left[fits]] = number
        left = left[~fits]
    return found


def _lines_of(block: Block) -> pl.Series:
    """The lines of a block without their ends."""
    if NO_SIGN.encode() in block.data:
        text = pl.Series("line", [line.decode("utf-8") for line in block.lines()], dtype=pl.String)
    else:
        frame = pl.read_csv(
            block.data, has_header=False, schema={"line": pl.String}, separator=NO_SIGN, quote_char=None
        )
        text = frame["line"]
        if text.len() != block.height:
            text = pl.Series("line", [line.decode("utf-8") for line in block.lines()], dtype=pl.String)
    text = text.fill_null("")
    return text.str.strip_suffix("\r") if b"\r" in block.data else text


def _filled(lines: pl.Series) -> tuple[pl.Series, Places]:
    """The lines that are not blank, and their numbers from 1."""
    filled = lines.str.contains(r"\S")
    return lines.filter(filled), np.flatnonzero(filled.to_numpy()) + 1


def _read_block(block: Block, channels: Channels, reader: TaughtReader) -> _Part:
    part = _Part()
    if (rows := read_fixed_width(block.data, block.height, channels, reader)) is not None:
        part.rows.append(rows)
        part.fitted = block.height
        return part
    lines = _lines_of(block)
    numbers = np.arange(block.first_line, block.first_line + lines.len())
    left = np.arange(lines.len())
    for rule in reader.rules:
        here = lines if len(left) == lines.len() else lines.gather(left)
        cells, fits = _fitted(rule, here)
        hit = left[fits]
        part.fitted += len(hit)
        cells = cells.filter(pl.Series(fits)) if cells.width and not fits.all() else cells
        bad = _use(part, rule, cells, channels, reader)
        if rule.use == "refusal" and len(hit):
            part.refusal = part.refusal or rule.means
        if rule.use == "meta" and len(hit):
            part.keys |= _keys(cells, numbers[hit])
        _not_read(part, hit[bad], lines, numbers)
        left = left[~fits]
        if not len(left):
            break
    filled = lines.gather(left).str.contains(r"\S").to_numpy() if len(left) else np.zeros(0, dtype=np.bool_)
    _not_read(part, left[filled], lines, numbers)
    return part


def _fitted(rule: Rule, lines: pl.Series) -> tuple[pl.DataFrame, Flags]:
    """The cells of a rule's groups in each line (none for a rule that takes none), and which lines it fits."""
    if rule.use not in ("error", "tally", "meta"):
        return pl.DataFrame(), lines.str.contains(rule.pattern).fill_null(False).to_numpy()
    # the engine takes a pattern held at the line's start several times faster, and a match there is the first one
    cells, fits = _extracted(rule, f"^(?:{rule.pattern})", lines)
    rest = np.flatnonzero(~fits)
    if rule.pattern.startswith("^") or not len(rest):
        return cells, fits
    later = rest[lines.gather(rest).str.contains(rule.pattern).fill_null(False).to_numpy()]
    if len(later):
        more, more_fits = _extracted(rule, rule.pattern, lines.gather(later))
        at = pl.Series(later).cast(pl.UInt32)
        cells = pl.DataFrame([cells[name].scatter(at, more[name]) for name in cells.columns])
        fits[later] = more_fits
    return cells, fits


def _extracted(rule: Rule, pattern: str, lines: pl.Series) -> tuple[pl.DataFrame, Flags]:
    cells = lines.str.extract_groups(pattern).struct.unnest().select(sorted(rule.groups))
    fits = cells.select(pl.any_horizontal(pl.all().is_not_null())).to_series().to_numpy().copy()
    return cells, fits


def _not_read(part: _Part, at: Places, lines: pl.Series, numbers: Places) -> None:
    part.unread_count += len(at)
    part.unread += [(int(numbers[one]), lines[int(one)]) for one in at[:MOST_QUOTED]]


def _use(part: _Part, rule: Rule, cells: pl.DataFrame, channels: Channels, reader: TaughtReader) -> Places:
    """Take what a rule's lines say; returns which of them could not be read."""
    if rule.use == "error" and cells.height:
        rows, good = _errors(cells, channels, reader)
        part.rows.append(rows)
        return np.flatnonzero(~good)
    if rule.use == "tally":
        counted = [_tally_row(row, reader) for row in cells.iter_rows(named=True)]
        part.tally += [row for row in counted if row is not None]
        return np.array([at for at, row in enumerate(counted) if row is None], dtype=np.int64)
    return np.zeros(0, dtype=np.int64)


def _keys(cells: pl.DataFrame, numbers: Places) -> dict[str, tuple[str, int]]:
    """Keys and values of meta lines, with their line numbers."""
    return {
        (row["key"] or "").strip().lower(): ((row["value"] or "").strip(), int(number))
        for row, number in zip(cells.iter_rows(named=True), numbers, strict=True)
    }


def _errors(cells: pl.DataFrame, channels: Channels, reader: TaughtReader) -> tuple[Rows, Flags]:
    table = cells.select(name for name in cells.columns if name in USED_COLUMNS)
    if "channel" in table.columns and reader.channels:
        table = table.with_columns(pl.col("channel").replace(dict(reader.channels)))
    address_map = channels.board.address_map if channels.board else None
    rows, good = decode(table, channels.known, address_map, base=reader.number_base, any_name=True)
    if reader.dq0_left:
        words = mirrored(rows.mask), mirrored(rows.expected), mirrored(rows.actual)
        rows = replace(rows, mask=words[0], expected=words[1], actual=words[2])
    return rows, good


def mirrored(words: Mask32) -> Mask32:
    """Words with their 32 bits in the other order."""
    turned = words.astype(np.uint32)
    for shift, mask in ((1, 0x55555555), (2, 0x33333333), (4, 0x0F0F0F0F), (8, 0x00FF00FF), (16, 0x0000FFFF)):
        low = np.uint32(mask)
        turned = ((turned >> np.uint32(shift)) & low) | ((turned & low) << np.uint32(shift))
    return turned


def _tally_row(row: dict[str, str | None], reader: TaughtReader) -> TallyRow | None:
    name = (row["channel"] or "").strip()
    errors = whole((row["errors"] or "").strip())
    lines = [whole((row.get(f"dq{line}") or "0").strip()) for line in range(LINES)]
    counts = [count for count in lines if count is not None]
    if not name or errors is None or len(counts) != LINES:
        return None
    return reader.channels.get(name, name), errors, counts
