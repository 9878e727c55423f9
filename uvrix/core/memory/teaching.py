"""A reader learned from a sample and a few marked words (docs/formats §7).

A mark says which words of a line are which column. The line becomes a pattern: marked words become groups of their
kind, numbers and blanks between them become any numbers and blanks, words stay words. Then what hides further lines
of the sample is loosened, word by word, as long as more lines fit and their cells still make sense.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from uvrix.core.errors import Refusal, quoted
from uvrix.core.memory.metadata import REFUSALS, RESULTS
from uvrix.core.memory.reader_file import ERROR_GROUPS, TALLY_GROUPS
from uvrix.core.memory.words import HEX_COLUMNS
from uvrix.core.values.patterns import Piece, gap, loosened
from uvrix.language import gettext

NUMBER_COLUMNS = frozenset({"count", "errors", "pass", *(f"dq{line}" for line in range(32))})
KEY_COLUMNS = frozenset({"condition", "result", "board", "tester", "build", "device", "tested_mib"})
COLUMNS = (*sorted(ERROR_GROUPS | TALLY_GROUPS - {f"dq{n}" for n in range(1, 31)}), *sorted(KEY_COLUMNS))
KEY_BEFORE = re.compile(r"([A-Za-z_]+)\s*[:=]\s*$")
BINARY = re.compile(r"[01]{32}")
MOST_LINES = 20_000
# No tester prints a longer line of results; its pattern would be too large to match by.
LONGEST_LINE = 2_000


@dataclass(frozen=True, slots=True)
class Mark:
    """A span of a line of the sample (line from 0, start and end in characters) and what it is.

    `column` is a column of a report, a key of one, `result:MEANS`, `refusal`, `refusal:MEANS` or `skip`.
    """

    line: int
    start: int
    end: int
    column: str


def find_marks(sample: str, texts: Sequence[tuple[str, str]]) -> list[Mark]:
    """Marks of (text, column) pairs: all those of one row are looked for in the first line that holds them all.

    Raises Refusal where a text is not in the sample or a column is not known.
    """
    lines = sample.splitlines()[:MOST_LINES]
    for text, column in texts:
        check_column(column)
        if not any(text in line for line in lines):
            raise Refusal(
                "--mark",
                gettext("{text}, which is in no line of the sample", text=quoted(text)),
                gettext("words of the sample"),
            )
    rows = [pair for pair in texts if is_row(pair[1])]
    marks = list(_in_one_line(lines, rows)) if rows else []
    for text, column in texts:
        if not is_row(column):
            number = next(n for n, line in enumerate(lines) if text in line)
            start = lines[number].index(text)
            marks.append(Mark(number, start, start + len(text), column))
    return marks


def is_row(column: str) -> bool:
    """Whether a column belongs to a row (an error or a count) and not to the report as a whole."""
    return column in ERROR_GROUPS | TALLY_GROUPS


def check_column(column: str) -> None:
    """Raise Refusal where a mark names no column."""
    name, _, means = column.partition(":")
    known = column in COLUMNS or column in TALLY_GROUPS or column in ("refusal", "skip")
    known |= name == "result" and means in RESULTS
    known |= name == "refusal" and (means in REFUSALS or means.startswith("other:"))
    if not known:
        more = gettext("result:{results}, refusal, refusal:MEANS or skip", results=gettext(", result:").join(RESULTS))
        raise Refusal("--mark", gettext("the column {column}", column=quoted(column)), f"{', '.join(COLUMNS)}, {more}")


def _in_one_line(lines: Sequence[str], rows: Sequence[tuple[str, str]]) -> Iterator[Mark]:
    for number, line in enumerate(lines):
        spans = _spans(line, [text for text, _ in rows])
        if spans:
            for (start, end), (_, column) in zip(spans, rows, strict=True):
                yield Mark(number, start, end, column)
            return
    found = gettext(" and ").join(quoted(text) for text, _ in rows)
    raise Refusal(
        "--mark",
        gettext("no line that holds {found} apart from one another", found=found),
        gettext("marks of one line of the sample"),
    )


def _spans(line: str, texts: Sequence[str]) -> list[tuple[int, int]] | None:
    """Spans of the texts in a line that do not overlap, whole words before parts of words, or None."""
    places: list[list[tuple[int, int]]] = []
    for text in texts:
        found = [(match.start(), match.end()) for match in re.finditer(re.escape(text), line)]
        places.append(sorted(found, key=lambda span: (not _is_whole(line, span), span[0])))
    for chosen in itertools.islice(itertools.product(*places), 2000):
        ordered = sorted(chosen)
        if all(one[1] <= other[0] for one, other in itertools.pairwise(ordered)):
            return list(chosen)
    return None


def _is_whole(line: str, span: tuple[int, int]) -> bool:
    before, after = line[: span[0]][-1:], line[span[1] :][:1]
    return not (before.isalnum() or after.isalnum())


def teach(sample: str, marks: Sequence[Mark], name: str, channels: Mapping[str, str] | None = None) -> dict[str, Any]:
    """The document of a reader that reads lines like those marked.

    Raises Refusal where the marks of a row name neither a channel nor an address, or overlap.
    """
    lines = sample.splitlines()[:MOST_LINES]
    rules: list[dict[str, Any]] = []
    base = 16
    by_line: dict[int, list[Mark]] = {}
    for mark in sorted(marks, key=lambda candidate: (candidate.line, candidate.start)):
        _check_mark(mark, lines)
        by_line.setdefault(mark.line, []).append(mark)
    for number, here in by_line.items():
        rows = [mark for mark in here if is_row(mark.column)]
        if rows:
            rules.append(_row_rule(lines, number, rows))
            words = [lines[number][mark.start : mark.end] for mark in rows if mark.column in HEX_COLUMNS]
            base = 2 if words and all(BINARY.fullmatch(word) for word in words) else base
        rules += [_line_rule(lines, mark) for mark in here if not is_row(mark.column)]
    unique = list({(rule["use"], rule["pattern"]): rule for rule in rules}.values())
    order = {"skip": 0, "refusal": 1, "error": 2, "tally": 3, "meta": 4}
    return {
        "format": "uvrix-reader",
        "version": 1,
        "name": name,
        "encoding": "utf-8",
        "lines": sorted(unique, key=lambda rule: order[rule["use"]]),
        "channels": channels or {},
        "number_base": base,
        "word_order": "dq0-right",
    }


def _check_mark(mark: Mark, lines: Sequence[str]) -> None:
    check_column(mark.column)
    if not (0 <= mark.line < len(lines) and 0 <= mark.start < mark.end <= len(lines[mark.line])):
        raise Refusal(
            "--mark",
            gettext("line {line}, {start} to {end}", line=mark.line + 1, start=mark.start, end=mark.end),
            gettext("a part of a line of the sample"),
        )
    if len(lines[mark.line]) > LONGEST_LINE:
        found = gettext("a line of {number} signs", number=len(lines[mark.line]))
        raise Refusal("--mark", found, gettext("words of a line of at most {longest_line}", longest_line=LONGEST_LINE))


def _row_rule(lines: Sequence[str], number: int, marks: Sequence[Mark]) -> dict[str, Any]:
    columns = [mark.column for mark in marks]
    if len(set(columns)) < len(columns):
        raise Refusal(
            "--mark",
            gettext("the column {twice} twice in one line", twice=_twice(columns)),
            gettext("each column once a line"),
        )
    if any(one.end > other.start for one, other in itertools.pairwise(marks)):
        raise Refusal("--mark", gettext("words that overlap"), gettext("words apart from one another"))
    if "channel" not in columns and "address" not in columns:
        raise Refusal("--mark", ", ".join(columns), gettext("a channel or an address among the marks of a row"))
    tally = "errors" in columns or any(column.startswith("dq") for column in columns)
    pieces = _pieces(lines[number], _with_lines(lines[number], marks))
    return {"use": "tally" if tally else "error", "pattern": loosened(pieces, lines)}


def _twice(columns: Sequence[str]) -> str:
    return next(column for column in columns if columns.count(column) > 1)


def _with_lines(line: str, marks: Sequence[Mark]) -> list[Mark]:
    """The marks, and where dq0 is marked and 31 numbers follow, those as dq1 to dq31."""
    first = next((mark for mark in marks if mark.column == "dq0"), None)
    if first is None or any(mark.column != "dq0" and mark.column.startswith("dq") for mark in marks):
        return list(marks)
    numbers = list(re.finditer(r"[0-9]+", line[first.end :]))[:31]
    if len(numbers) < 31:
        return list(marks)
    more = [
        Mark(first.line, first.end + match.start(), first.end + match.end(), f"dq{n}")
        for n, match in enumerate(numbers, 1)
    ]
    return sorted([*marks, *more], key=lambda mark: mark.start)


def _pieces(line: str, marks: Sequence[Mark]) -> list[Piece]:
    pieces = [Piece(r"^")]
    at = 0
    for mark in marks:
        pieces += gap(line[at : mark.start])
        pieces.append(Piece(f"(?P<{mark.column}>{_kind(line[mark.start : mark.end], mark.column)})"))
        at = mark.end
    return [*pieces, *gap(line[at:]), Piece(r"\s*$")]


def _kind(word: str, column: str) -> str:
    """What a column's words look like in general."""
    if column in HEX_COLUMNS:
        return "[01]{32}" if BINARY.fullmatch(word) else "[0-9A-Fa-fxX]+"
    if column in NUMBER_COLUMNS:
        return "[0-9]+"
    signs = "".join(sorted({re.escape(sign) for sign in word if not (sign.isalnum() or sign in "_ ")}))
    return f"[A-Za-z0-9_{signs}]+" + ("(?: [A-Za-z0-9_]+)*" if " " in word else "")


def _line_rule(lines: Sequence[str], mark: Mark) -> dict[str, Any]:
    """The rule of a mark that is about the report as a whole: a key, a refusal, or lines to pass over."""
    line, word = lines[mark.line], lines[mark.line][mark.start : mark.end]
    if mark.column == "skip":
        return {"use": "skip", "pattern": f"^\\s*{_words(word)}"}
    if mark.column.startswith("refusal"):
        means = mark.column.partition(":")[2] or gettext("other: {word}", word=word.strip())
        return {"use": "refusal", "pattern": _words(word), "means": means}
    name, _, means = mark.column.partition(":")
    key = KEY_BEFORE.search(line[: mark.start])
    if name == "result" and key is None and word.strip().lower() in RESULTS:
        means = means or word.strip().lower()
    if means:
        end = r"\s*$" if not line[mark.end :].strip() else ""
        return {"use": "meta", "pattern": f"^{_words(line[: mark.end])}{end}", "means": f"{name}: {means}"}
    if name == "result" and word.strip().lower() not in RESULTS:
        found = gettext("{word} as result", word=quoted(word))
        raise Refusal(
            "--mark",
            found,
            gettext("which result it means: result:{results}", results=gettext(", result:").join(RESULTS)),
        )
    if key is None:
        raise Refusal(
            "--mark",
            gettext("{word} as {name}", word=quoted(word), name=name),
            gettext("words with : or = before them in their line"),
        )
    sign = "".join(r"\s*" if sign.isspace() else re.escape(sign) for sign in line[key.end(1) : mark.start].strip())
    if key[1].lower() == name:
        taken = f"^{_words(line[: key.start(1)])}(?P<key>[A-Za-z_]+)\\s*{sign}\\s*(?P<value>.*?)\\s*$"
        return {"use": "meta", "pattern": taken}
    taken = f"^{_words(line[: key.end(1)])}\\s*{sign}\\s*(?P<value>.*?)\\s*$"
    return {"use": "meta", "pattern": taken, "means": name}


def _words(text: str) -> str:
    """Words as they are, with any blanks and any numbers between them."""
    return "".join(piece.pattern for piece in gap(text))
