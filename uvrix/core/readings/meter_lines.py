"""Meters that print lines over a serial port, taught like reports: a sample of lines and a few marked words.

A meter reader is a JSON document of our own (docs/formats): rules for a reading (`value`, and `unit` where the line
says it) and for over-limit. Patterns are run by the linear-time engine, as a taught reader's are.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from uvrix.core.errors import Refusal, one_line, quoted
from uvrix.core.readings.notation import Quantity
from uvrix.core.values.patterns import Piece, gap, loosened
from uvrix.core.values.shape import check_shape
from uvrix.language import gettext

Column = Literal["value", "unit", "over"]
COLUMNS: tuple[Column, ...] = ("value", "unit", "over")
MOST_LINES, LONGEST_LINE, LONGEST_PATTERN = 400, 400, 2000
VALUE = r"[-+]?[0-9]*[.,]?[0-9]+(?:[eE][-+]?[0-9]+)?"
UNIT = re.compile(r"\s*(?P<prefix>[mkKMuµ]?)\s*(?P<unit>ohms?|Ohms?|OHMS?|Ω|V)\s*(?:DC|dc)?\s*")
PREFIX = {"": 1.0, "m": 1e-3, "k": 1e3, "K": 1e3, "M": 1e6, "u": 1e-6, "µ": 1e-6}

METER_READER_SCHEMA: dict[str, Any] = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix meter reader",
    "description": "Rules that read the lines a bench meter prints over a serial port; see README.md.",
    "type": "object",
    "required": ["format", "version", "lines"],
    "properties": {
        "format": {"const": "uvrix-meter-reader"},
        "version": {"const": 1},
        "unit": {"type": "string", "maxLength": 8},
        "lines": {
            "type": "array",
            "minItems": 1,
            "maxItems": 40,
            "items": {
                "type": "object",
                "required": ["use", "pattern"],
                "properties": {
                    "use": {"enum": ["reading", "over"]},
                    "pattern": {"type": "string", "minLength": 1, "maxLength": LONGEST_PATTERN},
                },
            },
        },
    },
}


@dataclass(frozen=True, slots=True)
class MeterMark:
    """A span of a line of the sample (line from 0, start and end in characters) and what it is."""

    line: int
    start: int
    end: int
    column: Column


@dataclass(frozen=True, slots=True)
class MeterLine:
    """What a line says: the quantity (None where the line does not say a unit), the value, None where over-limit."""

    quantity: Quantity | None
    value: float | None


@dataclass(frozen=True, slots=True)
class MeterReader:
    """Rules in order; the first that fits a line wins. `document` is what it was made from."""

    rules: tuple[tuple[str, str], ...]
    unit: str = ""
    document: Mapping[str, Any] = field(default_factory=dict, compare=False, repr=False)

    def read(self, line: str) -> MeterLine | None:
        """What a line says; None where no rule fits, or its number or unit is none."""
        import polars as pl

        text = pl.Series([line.rstrip()[:LONGEST_LINE]], dtype=pl.String)
        for use, pattern in self.rules:
            if not text.str.contains(pattern)[0]:
                continue
            if use == "over":
                groups = text.str.extract_groups(pattern)[0] if "(?P<unit>" in pattern else {}
                scale = _scale(groups.get("unit") or self.unit)
                return MeterLine(scale[1] if scale else None, None)
            groups = text.str.extract_groups(pattern)[0]
            scale = _scale(groups.get("unit") or self.unit)
            number = _number(groups.get("value") or "")
            if scale is None or number is None:
                return None
            return MeterLine(scale[1], number * scale[0])
        return None


def read_meter_reader(document: Any) -> MeterReader:
    """The reader in a parsed document; raises Refusal naming the JSON path, what was found and what was expected."""
    check_shape(document, METER_READER_SCHEMA)
    rules = []
    for number, entry in enumerate(document["lines"]):
        _check_pattern(entry["pattern"], f"$.lines[{number}].pattern", needs_value=entry["use"] == "reading")
        rules.append((entry["use"], entry["pattern"]))
    unit = document.get("unit", "")
    if unit and _scale(unit) is None:
        raise Refusal("$.unit", quoted(unit), gettext("ohm or V, with m, k or M before it where it has one"))
    return MeterReader(tuple(rules), unit, document)


def teach_meter(sample: str, marks: Sequence[MeterMark], unit: str = "") -> dict[str, Any]:
    """The document of a reader for lines like those of the sample.

    `unit` is what the number is in, where the meter prints none. Raises Refusal where no value is marked, marked words
    are not in their line or overlap, a value is no number, or a unit is none.
    """
    lines = [line.rstrip() for line in sample.splitlines()[:MOST_LINES]]
    by_line: dict[int, list[MeterMark]] = {}
    for mark in marks:
        if not (0 <= mark.line < len(lines) and 0 <= mark.start < mark.end <= len(lines[mark.line])):
            raise Refusal(
                "marks",
                gettext("line {line}, {start} to {end}", line=mark.line + 1, start=mark.start, end=mark.end),
                gettext("a part of a line of the sample"),
            )
        by_line.setdefault(mark.line, []).append(mark)
    rules = []
    for number, here in sorted(by_line.items()):
        rules.append(_rule(lines, number, here))
    if not any(rule["use"] == "reading" for rule in rules):
        raise Refusal("marks", gettext("no value"), gettext("a number marked as the value in one line"))
    if not unit and any(rule["use"] == "reading" and "(?P<unit>" not in rule["pattern"] for rule in rules):
        raise Refusal("unit", gettext("no unit"), gettext("the unit marked in the line, or given for all lines"))
    unique = list({(rule["use"], rule["pattern"]): rule for rule in rules}.values())
    # over-limit first: its word may stand where a value does
    unique.sort(key=lambda rule: rule["use"] != "over")
    document: dict[str, Any] = {"format": "uvrix-meter-reader", "version": 1, "lines": unique}
    document |= {"unit": unit} if unit else {}
    read_meter_reader(document)
    return document


def _rule(lines: Sequence[str], number: int, marks: Sequence[MeterMark]) -> dict[str, str]:
    line = lines[number]
    columns = [mark.column for mark in marks]
    if len(set(columns)) < len(columns):
        raise Refusal("marks", gettext("{columns} twice in one line", columns=columns[0]), gettext("each once a line"))
    if "value" in columns and "over" in columns:
        raise Refusal("marks", gettext("a value and over-limit in one line"), gettext("one or the other"))
    ordered = sorted(marks, key=lambda mark: (mark.start, mark.end))
    if any(one.end > other.start for one, other in itertools.pairwise(ordered)):
        raise Refusal("marks", gettext("words that overlap"), gettext("words apart from one another"))
    pieces, at = [Piece(r"^")], 0
    for mark in ordered:
        pieces += [*gap(line[at : mark.start]), Piece(_group(line[mark.start : mark.end].strip(), mark.column))]
        at = mark.end
    pieces += [*gap(line[at:]), Piece(r"\s*$")]
    use = "over" if "over" in columns else "reading"
    if use == "reading" and "value" not in columns:
        raise Refusal(
            "marks",
            gettext("{columns} alone in a line", columns=columns[0]),
            gettext("the value or over-limit in the same line"),
        )
    return {"use": use, "pattern": loosened(pieces, lines)}


def _group(word: str, column: Column) -> str:
    if column == "value":
        if not re.fullmatch(VALUE, word):
            raise Refusal("marks", quoted(word), gettext("a number as the value"))
        return f"(?P<value>{VALUE})"
    if column == "unit":
        if _scale(word) is None:
            raise Refusal("marks", quoted(word), gettext("a unit: ohm or V, with m, k or M before it where it has one"))
        return r"(?P<unit>[A-Za-zΩµ]+)"
    return "".join(r"\s*" if sign.isspace() else re.escape(sign) for sign in word)


def _scale(unit: str) -> tuple[float, Quantity] | None:
    """What a unit multiplies by, and the quantity it is of: volts are what diode mode shows."""
    found = UNIT.fullmatch(unit)
    if not found:
        return None
    return PREFIX[found["prefix"]], "diode" if found["unit"] == "V" else "resistance"


def _number(text: str) -> float | None:
    try:
        return float(text.replace(",", "."))
    except ValueError:
        return None


def _check_pattern(pattern: str, path: str, *, needs_value: bool) -> None:
    import polars as pl

    try:
        pl.Series(["", "0"]).str.extract_groups(pattern)
    except pl.exceptions.PolarsError as error:
        said = [line.strip() for line in str(error).splitlines() if line.strip()]
        reason = said[-1].removeprefix("error: ") if said else gettext("no pattern")
        raise Refusal(
            path, f"{quoted(pattern)} ({one_line(reason)})", gettext("a pattern without look-around")
        ) from None
    if needs_value and "(?P<value>" not in pattern:
        raise Refusal(path, quoted(pattern), gettext("a group named value"))
