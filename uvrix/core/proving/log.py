"""Logs of a test computer: CSV with a column of seconds and columns of temperature, clock, power, fan.

Which column is which is said once per shop (`columns`: our name to the header's). A log is kept as it came; what it
shows of load and steadiness is computed from it (steady.py).
"""

from __future__ import annotations

import csv
import io
import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from uvrix.core.errors import Refusal, quoted
from uvrix.core.values.text import decode
from uvrix.language import gettext

FIGURES = ("celsius", "mhz", "watts", "fan")
COLUMNS = ("seconds", *FIGURES)
WORDS: Mapping[str, str] = {
    "seconds": gettext("time"),
    "celsius": gettext("temperature, °C"),
    "mhz": gettext("core clock, MHz"),
    "watts": gettext("power, W"),
    "fan": gettext("fan"),
}
CLOCK = re.compile(r"(?:\d{4}-\d{2}-\d{2}[ T])?(\d{1,2}):(\d{2}):(\d{2}(?:[.,]\d+)?)")
DAY = 86_400.0
MOST_ROWS = 500_000


class UnknownColumns(Refusal):
    """Nobody has said yet which column is which; `headers` are those of the file."""

    def __init__(self, headers: Sequence[str], missing: Sequence[str]) -> None:
        self.headers = tuple(headers)
        super().__init__(
            "1",
            gettext("the columns {headers}", headers=", ".join(headers)),
            gettext("columns said to be {missing}", missing=", ".join(missing)),
        )


@dataclass(frozen=True, slots=True)
class Log:
    """A log: seconds from its beginning, and each figure that it has, one a sample; NaN where a sample lacks it."""

    seconds: tuple[float, ...]
    figures: Mapping[str, tuple[float, ...]]

    def has(self, name: str) -> bool:
        """Whether it has a figure at all."""
        return name in self.figures


def headers_of(data: bytes) -> tuple[str, ...]:
    """The columns that a log names in its first line."""
    rows, _ = _rows(data)
    return tuple(cell.strip() for cell in rows[0]) if rows else ()


def guess_columns(headers: Sequence[str]) -> dict[str, str]:
    """Columns by the words in their headers, to be confirmed by a person."""
    signs = {
        "seconds": ("second", "time", "elapsed"),
        "celsius": ("temp", "°c", "celsius"),
        "mhz": ("clock", "mhz"),
        "watts": ("power", "watt", "draw"),
        "fan": ("fan", "rpm"),
    }
    found: dict[str, str] = {}
    for name, words in signs.items():
        for header in headers:
            if header not in found.values() and any(word in header.casefold() for word in words):
                found[name] = header
                break
    return found


def read_log(data: bytes, columns: Mapping[str, str]) -> Log:
    """A log by the shop's columns.

    Raises UnknownColumns where its header has none of them, Refusal naming the line for a cell that is no number, a
    time that does not go on, fewer than two samples or too many.
    """
    rows, lines = _rows(data)
    if not rows:
        raise Refusal("1", gettext("an empty file"), gettext("a header and rows"))
    headers = [cell.strip() for cell in rows[0]]
    at = {name: headers.index(header) for name, header in columns.items() if name in COLUMNS and header in headers}
    missing = [WORDS[name] for name in ("seconds", "celsius") if name not in at]
    if missing:
        raise UnknownColumns(headers, missing)
    if len(rows) - 1 > MOST_ROWS:
        raise Refusal(
            str(MOST_ROWS + 2),
            gettext("{number} samples", number=len(rows) - 1),
            gettext("at most {most_rows}", most_rows=MOST_ROWS),
        )
    seconds: list[float] = []
    figures: dict[str, list[float]] = {name: [] for name in at if name != "seconds"}
    for line, row in zip(lines[1:], rows[1:], strict=True):
        seconds.append(_time(_cell(row, at["seconds"]), line, seconds))
        for name, found in figures.items():
            found.append(_number(_cell(row, at[name]), line, headers[at[name]]))
    if len(seconds) < 2:
        raise Refusal(str(lines[-1]), gettext("{number} samples", number=len(seconds)), gettext("at least two"))
    first = seconds[0]
    kept = {name: tuple(found) for name, found in figures.items() if any(not math.isnan(number) for number in found)}
    if "celsius" not in kept:
        raise Refusal(str(lines[-1]), gettext("no temperature in any row"), "temperatures")
    return Log(tuple(second - first for second in seconds), kept)


def _rows(data: bytes) -> tuple[list[list[str]], list[int]]:
    text = decode(data)
    first = next((line for line in text.splitlines() if line.strip() and not line.lstrip().startswith("#")), "")
    between = max(",;\t", key=first.count)
    reader = csv.reader(io.StringIO(text), delimiter=between, strict=True)
    rows, lines = [], []
    try:
        for row in reader:
            if any(cell.strip() for cell in row) and not row[0].lstrip().startswith("#"):
                rows.append(row)
                lines.append(reader.line_num)
    except csv.Error as error:
        raise Refusal(
            str(reader.line_num),
            gettext("a row that is no CSV ({error})", error=error),
            gettext("rows with one separator"),
        ) from None
    return rows, lines


def _cell(row: Sequence[str], at: int) -> str:
    return row[at].strip() if at < len(row) else ""


def _number(text: str, line: int, header: str) -> float:
    if not text or text.casefold() in {"n/a", "nan", "-"}:
        return math.nan
    try:
        found = float(text.replace(",", "."))
    except ValueError:
        raise Refusal(
            str(line), gettext("{text} under {header}", text=quoted(text), header=header), gettext("a number")
        ) from None
    if not math.isfinite(found) or abs(found) > 1e9:
        raise Refusal(
            str(line),
            gettext("{text} under {header}", text=quoted(text), header=header),
            gettext("a number that can be"),
        )
    return found


def _time(text: str, line: int, before: Sequence[float]) -> float:
    """Seconds, or a time of day; one that passes midnight goes on."""
    if clock := CLOCK.fullmatch(text):
        hours, minutes, seconds = clock.groups()
        found = 3600.0 * int(hours) + 60 * int(minutes) + float(seconds.replace(",", "."))
        while before and found < before[-1]:
            found += DAY
    else:
        found = _number(text, line, "time")
    if math.isnan(found):
        raise Refusal(str(line), gettext("no time"), gettext("seconds, or a time of day"))
    if before and found <= before[-1]:
        raise Refusal(
            str(line),
            gettext("the time {found} s after {before} s", found=f"{found:g}", before=f"{before[-1]:g}"),
            gettext("times that go on"),
        )
    return found
