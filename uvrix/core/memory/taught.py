"""Reads any text by a taught reader (docs/formats §7), many lines at once."""

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
from uvrix.language import gettext

NO_SIGN = "\x01"
# What tells of the card: rows and refusals, and the keys that say how the tester ended.
ROWS_OR_REFUSAL = frozenset({"error", "tally", "refusal"})
TELLING_KEYS = frozenset({"result", "refusal"})
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


@dataclass(slots=True)
class _Whole:
    """What all blocks of a file give together."""

    gatherer: Gatherer
    unread: Unread = field(default_factory=Unread)
    tally: list[TallyRow] = field(default_factory=list)
    keys: dict[str, str] = field(default_factory=dict)
    places: dict[str, str] = field(default_factory=dict)
    refusal: str = ""
    fitted: int = 0

    def add(self, part: _Part) -> None:
        """Adds a block of lines."""
        for rows in part.rows:
            self.gatherer.add(rows)
        self.tally += part.tally
        for key, (value, line) in part.keys.items():
            if not _keeps_failing(key, self.keys.get(key)):
                self.keys[key], self.places[key] = value, str(line)
        self.refusal = self.refusal or part.refusal
        for line, text in sorted(part.unread):
            self.unread.add(line, text)
        self.unread.count += part.unread_count - len(part.unread)
        self.fitted += part.fitted


def read_taught(blocks: Iterator[Block], channels: Channels, reader: TaughtReader) -> Report:
    """The report in a file's blocks; raises Refusal where the reader fits no line of it that tells of the card."""
    whole = _Whole(Gatherer(channels.masks))

    def read(block: Block) -> _Part:
        return _read_block(block, channels, reader)

    for part in side_by_side(read, blocks):
        whole.add(part)
    gatherer, unread, tally = whole.gatherer, whole.unread, whole.tally
    if whole.refusal:
        whole.keys |= {"result": "refused", "refusal": whole.refusal}
    meta = metadata(whole.keys, whole.places)
    if not whole.fitted:
        line, text = unread.quotes[0] if unread.quotes else (1, "")
        found = gettext("no line of an error, count or result that the reader {name} knows", name=quoted(reader.name))
        raise Refusal(
            str(line),
            gettext("{found} (first {text})", found=found, text=quoted(text)),
            gettext("a report that it was taught on"),
        )
    # a tester that tells no more than how it ended was taught so
    rows_are_known = any(rule.use in {"error", "tally"} for rule in reader.rules)
    if rows_are_known and (meta.result == "fail" or not whole.keys):
        unread.check(
            gatherer.rows + len(tally),
            gettext("a line of an error that this reader knows, or a result that is no fail"),
        )
    warnings = disagreement(gatherer.disagree)
    if tally and any(rule.use == "tally" and "errors" not in rule.groups for rule in reader.rules):
        warnings.append(
            gettext("the table has no total: an error with several wrong lines counts once for each of them")
        )
    if tally and gatherer.rows:
        warnings.append(
            gettext(
                "{number} tally lines beside single errors were passed over, so that nothing counts twice",
                number=len(tally),
            )
        )
    if tally and not gatherer.rows:
        with_lines = any(group.startswith("dq") for rule in reader.rules for group in rule.groups)
        evidence = tally_evidence(tally, with_lines, channels.masks)
        return Report(reader.name, meta, len(tally), unread, evidence, tuple(warnings))
    return Report(reader.name, meta, gatherer.rows, unread, gatherer.evidence(), tuple(warnings))


@dataclass(frozen=True, slots=True)
class Fit:
    """How a reader fits a sample: lines that are not blank, those that a rule knows, those that tell of the card.

    A reader fits by lines of errors, counts, results or refusals alone: *name: value* is in any text.
    """

    filled: int
    known: int
    telling: int

    @property
    def mostly_unread(self) -> bool:
        """Whether more lines are unknown to it than known."""
        return self.known * 2 < self.filled


def fit_of(sample: bytes, reader: TaughtReader) -> Fit:
    """How well a reader fits a sample of a file, to choose among readers."""
    lines = _filled(_lines_of(Block(sample, 1, sample.count(b"\n") + 1)))[0]
    chosen = rule_of_lines(lines, reader.rules)
    telling = 0
    for number, rule in enumerate(reader.rules):
        here = np.flatnonzero(chosen == number)
        if rule.use in ROWS_OR_REFUSAL:
            telling += len(here)
        elif rule.use == "meta" and len(here):
            telling += _telling(rule, _fitted(rule, lines.gather(here))[0], len(here))
    return Fit(lines.len(), int((chosen >= 0).sum()), telling)


def _telling(rule: Rule, cells: pl.DataFrame, many: int) -> int:
    """How many lines of a key say how the tester ended."""
    if "key" not in rule.groups:
        return many if rule.key in TELLING_KEYS else 0
    return sum((name or "").strip().lower() in TELLING_KEYS for name in cells["key"])


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
        cells = _cells(rules[rule], text) if use in ("error", "tally", "meta") and rules[rule].groups else {}
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
        part.fitted += len(hit) if rule.use in ROWS_OR_REFUSAL else 0
        cells = cells.filter(pl.Series(fits)) if cells.width and not fits.all() else cells
        bad = _use(part, rule, cells, channels, reader)
        if rule.use == "refusal" and len(hit):
            part.refusal = part.refusal or rule.means
        if rule.use == "meta" and len(hit):
            part.fitted += _telling(rule, cells, len(hit))
            for key, told in _keys(rule, cells, numbers[hit]):
                if not _keeps_failing(key, part.keys.get(key, ("", 0))[0]):
                    part.keys[key] = told
        _not_read(part, hit[bad], lines, numbers)
        left = left[~fits]
        if not len(left):
            break
    filled = lines.gather(left).str.contains(r"\S").to_numpy() if len(left) else np.zeros(0, dtype=np.bool_)
    _not_read(part, left[filled], lines, numbers)
    return part


def _fitted(rule: Rule, lines: pl.Series) -> tuple[pl.DataFrame, Flags]:
    """The cells of a rule's groups in each line (none for a rule that takes none), and which lines it fits."""
    if rule.use not in ("error", "tally", "meta") or not rule.groups:
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
    part.unread += [(int(numbers[entry]), lines[int(entry)]) for entry in at[:MOST_QUOTED]]


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


def _keys(rule: Rule, cells: pl.DataFrame, numbers: Places) -> Iterator[tuple[str, tuple[str, int]]]:
    """Keys of meta lines, each with its value and line number."""
    if not cells.width:
        yield from ((rule.key, (rule.value, int(number))) for number in numbers)
        return
    for row, number in zip(cells.iter_rows(named=True), numbers, strict=True):
        key = (row.get("key") or rule.key).strip().lower()
        value = (row.get("value") or rule.value).strip()
        yield key, (value, int(number))


def _keeps_failing(key: str, value: str | None) -> bool:
    """Whether a key's former value stands: a pass after a fail is of another part of the run."""
    return key == "result" and (value or "").strip().lower() == "fail"


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
    lines = [whole((row.get(f"dq{line}") or "0").strip()) for line in range(LINES)]
    counts = [count for count in lines if count is not None]
    errors = whole((row["errors"] or "").strip()) if "errors" in row else sum(counts)
    if not name or errors is None or len(counts) != LINES:
        return None
    return reader.channels.get(name, name), errors, counts
