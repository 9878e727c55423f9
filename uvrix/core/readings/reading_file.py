"""Readings and known-good observations as CSV (docs/formats §11)."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import cast

from uvrix.core.errors import Refusal, quoted
from uvrix.core.readings.limits import CONTRADICT, CONTRADICT_SHARE
from uvrix.core.readings.notation import MODES, QUANTITIES, UNITS, Mode, Quantity, Value, parse_value, shown
from uvrix.core.readings.points import Key, Places
from uvrix.core.values.edges import over
from uvrix.core.values.text import decode
from uvrix.language import gettext

NEEDED = ("point", "quantity", "value", "unit")
KNOWN_NEEDED = ("board", "card", *NEEDED)
TO = ("ground", "across", "")
POLARITY = ("red", "black", "")


@dataclass(frozen=True, slots=True)
class Reading:
    """One reading: where, what, its value in the quantity's own unit, and how it was taken."""

    point: str
    quantity: Quantity
    value: Value
    mode: Mode
    to: str
    polarity: str = ""
    meter: str = ""
    condition: frozenset[str] = frozenset()
    note: str = ""


@dataclass(frozen=True, slots=True)
class Observation:
    """A reading of a card that is known to be good: `board` is its model's id, `card` names the card."""

    board: str
    card: str
    reading: Reading


def read_readings(data: bytes, places: Places, check: Callable[[str], object] | None = None) -> tuple[Reading, ...]:
    """The readings of a file, each thing once: an agreeing later one replaces the former.

    `check` looks at names that are no points of a board and raises Refusal where one does not fit.
    Raises Refusal naming the line: a column that is missing, a value, unit, mode or point that does not fit, two
    readings of one thing that contradict each other.
    """
    kept: dict[tuple[object, ...], tuple[int, Reading]] = {}
    for line, row in rows_of(data, NEEDED):
        reading = _reading(line, row, places)
        if check:
            try:
                check(reading.point)
            except Refusal as refusal:
                raise Refusal(str(line), refusal.found, refusal.expected) from None
        elif not places.known(reading.point):
            raise Refusal(
                str(line), quoted(reading.point), gettext("a point, rail or start-up node of the board, or a pair")
            )
        same = (
            places.key(reading.point, reading.to),
            reading.quantity,
            reading.mode,
            reading.polarity,
            reading.condition,
        )
        if same in kept:
            first, former = kept.pop(same)
            if contradict(former, reading):
                found = gettext(
                    "{shown} for {point}", shown=shown(reading.value, reading.quantity), point=reading.point
                )
                raise Refusal(
                    str(line),
                    found,
                    gettext(
                        "about the {shown} of line {first}", shown=shown(former.value, former.quantity), first=first
                    ),
                )
        kept[same] = (line, reading)
    return tuple(reading for _, reading in kept.values())


def read_known(data: bytes, places: Places) -> tuple[Observation, ...]:
    """Known-good observations; points of other models are taken as they are named. Raises Refusal naming the line."""
    found = []
    for line, row in rows_of(data, KNOWN_NEEDED):
        for name in ("board", "card"):
            if not row[name].strip():
                raise Refusal(str(line), "no " + name, gettext("the model's id and the card's own name"))
        found.append(Observation(row["board"].strip(), row["card"].strip(), _reading(line, row, places)))
    return tuple(found)


def contradict(one: Reading, other: Reading) -> bool:
    """Whether two readings of one thing cannot both be right."""
    if one.value.ol or other.value.ol:
        return one.value.ol != other.value.ol
    least = CONTRADICT.get(one.quantity, 0.0)
    pairs = [(one.value.low, other.value.low), (one.value.high, other.value.high)]
    for a, b in pairs:
        assert a is not None
        assert b is not None
        if over(abs(a - b), least) and over(abs(a - b), CONTRADICT_SHARE * max(abs(a), abs(b))):
            return True
    return False


def _reading(line: int, row: dict[str, str], places: Places) -> Reading:
    quantity = cast("Quantity", _word(line, row["quantity"], QUANTITIES))
    unit = _word(line, row["unit"], tuple(UNITS[quantity]))
    mode = cast("Mode", _word(line, row.get("mode", ""), MODES[quantity]))
    point = row["point"].strip()
    if not point:
        raise Refusal(str(line), gettext("no point"), gettext("a point, rail or start-up node of the board"))
    to = _word(line, row.get("to", ""), TO) or places.usual_to(point)
    try:
        value = parse_value(row["value"], quantity, unit)
    except Refusal as refusal:
        raise Refusal(str(line), refusal.found, refusal.expected) from None
    condition = frozenset(word.strip().casefold() for word in row.get("condition", "").split(",") if word.strip())
    polarity = _word(line, row.get("polarity", ""), POLARITY)
    meter, note = row.get("meter", "").strip(), row.get("note", "").strip()
    return Reading(point, quantity, value, mode, to, polarity, meter, condition, note)


def _word(line: int, text: str, words: Sequence[str]) -> str:
    word = text.strip()
    if word not in words:
        raise Refusal(str(line), quoted(word), gettext(" or ").join(name for name in words if name) or "nothing")
    return word


def rows_of(data: bytes, needed: Sequence[str]) -> Iterator[tuple[int, dict[str, str]]]:
    """Line numbers and rows by lower-case column names; blank lines and lines that begin with # are passed over."""
    text = decode(data)
    reader = csv.reader(io.StringIO(text), strict=True)
    columns: list[str] | None = None
    while True:
        line = reader.line_num + 1
        try:
            row = next(reader)
        except StopIteration:
            break
        except csv.Error as error:
            raise Refusal(
                str(line), gettext("a row that is no CSV ({error})", error=error), gettext("rows with commas between")
            ) from None
        if not any(cell.strip() for cell in row) or row[0].lstrip().startswith("#"):
            continue
        if columns is None:
            columns = [cell.strip().casefold() for cell in row]
            if missing := [name for name in needed if name not in columns]:
                raise Refusal(
                    str(line),
                    gettext("a header without {missing}", missing=missing[0]),
                    gettext("the columns {needed}", needed=", ".join(needed)),
                )
            continue
        if len(row) > len(columns):
            raise Refusal(
                str(line),
                gettext("{number} fields", number=len(row)),
                gettext("{number}, as in the header", number=len(columns)),
            )
        yield line, dict(zip(columns, [*row, *[""] * (len(columns) - len(row))], strict=True))
    if columns is None:
        raise Refusal("1", gettext("no header"), gettext("the columns {needed}", needed=", ".join(needed)))


def key_of(reading: Reading, places: Places) -> Key:
    """What a reading counts for."""
    return places.key(reading.point, reading.to)
