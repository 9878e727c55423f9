"""A component-placement CSV: designators with x, y, side and rotation, whatever its headers and units are called.

Headers are recognised by their words, in any case and order; values may carry a unit. Without a unit in header or
value the unit is judged by size: no graphics card is longer than half a metre, and no card's parts lie within half an
inch. The columns and the unit that were taken are said. x and y are read as seen from the front, through the board.
"""

from __future__ import annotations

import csv
import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from statistics import median
from typing import Any, Literal

from uvrix.core.boards.edit import Document
from uvrix.core.errors import Refusal, quoted
from uvrix.core.values.text import decode
from uvrix.language import gettext

Unit = Literal["mm", "mil", "inch"]
MM = {"mm": 1.0, "mil": 0.0254, "inch": 25.4}
LONGEST_CARD_MM, SHORTEST_CARD_MM = 500.0, 20.0
MOST_QUOTED, HEADER_WITHIN, MOST_CELL = 20, 60, 400
WORDS: dict[str, tuple[str, ...]] = {
    "designator": ("designator", "ref", "refs", "reference", "refdes", "component", "name", "item"),
    "x": ("x", "midx", "centrex", "centerx", "posx", "xpos", "xcoord", "xlocation", "locationx", "xcentre", "xcenter"),
    "y": ("y", "midy", "centrey", "centery", "posy", "ypos", "ycoord", "ylocation", "locationy", "ycentre", "ycenter"),
    "side": ("side", "layer", "tb", "face", "surface", "boardside", "mountside"),
    "rotation": ("rotation", "rot", "angle", "orientation", "theta", "rotationdeg", "rotationdegrees"),
    "value": ("value", "val", "comment", "part", "partnumber", "description", "type"),
    "package": ("package", "footprint", "pattern", "shape", "case"),
}
FRONT = {"front", "top", "t", "f", "1", "component", "primary", "toplayer", "topside"}
BACK = {"back", "bottom", "b", "bot", "2", "solder", "secondary", "bottomlayer", "bottomside"}
UNIT_WORDS = {"mm": "mm", "millimetre": "mm", "millimeter": "mm", "millimetres": "mm", "millimeters": "mm"}
UNIT_WORDS |= {"mil": "mil", "mils": "mil", "thou": "mil", "in": "inch", "inch": "inch", "inches": "inch"}
NUMBER = re.compile(r"\s*([-+]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][-+]?\d+)?)\s*([A-Za-z]*)\s*")
KINDS = {"R": "resistor", "C": "capacitor", "L": "coil", "F": "fuse", "D": "diode", "Q": "transistor"}
KINDS |= {"Y": "crystal", "X": "crystal", "J": "connector", "P": "connector", "RS": "shunt", "FB": "coil"}
# Chips that may be a board's memory: this many alike, lying round one part.
LEAST_ALIKE, MOST_ALIKE = 2, 32
# Letters of chips; holes and test points may lie round the core as evenly.
CHIP_LETTERS = frozenset({"U", "M", "IC", "G"})


@dataclass(frozen=True, slots=True)
class Placed:
    """One component, millimetres and degrees as in a board model."""

    designator: str
    x_mm: float
    y_mm: float
    side: str
    rotation_deg: float
    value: str = ""
    package: str = ""


@dataclass(frozen=True)
class Placement:
    """A placement file as read; `columns` names the header taken for each column, `unit_why` what told the unit."""

    rows: tuple[Placed, ...]
    columns: Mapping[str, str]
    unit: Unit
    unit_why: str
    unread: tuple[tuple[int, str], ...]
    unread_count: int
    memory: tuple[str, ...] = ()
    core: str | None = None


@dataclass(slots=True)
class _Raw:
    rows: list[tuple[Placed, str | None]] = field(default_factory=list)
    unread: list[tuple[int, str]] = field(default_factory=list)
    count: int = 0


def read_placement(data: bytes, unit: Unit | None = None) -> Placement:
    """The components of a placement file; `unit` overrides what the file says or shows.

    Raises Refusal where no line names the columns designator, x and y, or where none of the rows can be read.
    """
    text = decode(data)
    lines = text.splitlines()
    at, separator, columns = _header(lines)
    named = {
        column: lines_cells[number]
        for column, number in columns.items()
        for lines_cells in [_cells(lines[at], separator)]
    }
    raw = _rows(lines[at + 1 :], at + 2, separator, columns)
    if not raw.rows:
        found = gettext("{number} rows of which none can be read", number=raw.count) if raw.count else gettext("no row")
        raise Refusal(str(at + 2), found, gettext("rows with a designator and numbers for x and y"))
    chosen, why = _unit(raw, named, unit)
    rows = tuple(_in_mm(row, own or chosen) for row, own in raw.rows)
    memory, core = suggested(rows)
    return Placement(rows, named, chosen, why, tuple(raw.unread), raw.count, memory, core)


def _cells(line: str, separator: str) -> list[str]:
    if separator == " ":
        return line.split()
    try:
        return [cell.strip() for cell in next(csv.reader([line], delimiter=separator), [])]
    except csv.Error:  # a field longer than any placement file has
        return [line[:MOST_CELL]]


def _word(cell: str) -> str:
    """A header without its unit, signs and case."""
    bare = re.sub(r"\(.*?\)|\[.*?\]", "", cell.lower())
    bare = re.sub(r"[\s_-]+(mm|mils?|inch(es)?|in|deg)$", "", bare.strip())
    return re.sub(r"[^a-z0-9]", "", bare)


def _header(lines: Sequence[str]) -> tuple[int, str, dict[str, int]]:
    """Line index, separator and column numbers of the first line that names designator, x and y."""
    for at, line in enumerate(lines[:HEADER_WITHIN]):
        for separator in (",", ";", "\t", " "):
            try:
                words = [_word(cell) for cell in _cells(line.lstrip("#").strip(), separator)]
            except csv.Error:
                continue
            columns: dict[str, int] = {}
            for column, names in WORDS.items():
                hits = [number for number, word in enumerate(words) if word in names and number not in columns.values()]
                if hits:
                    columns[column] = min(hits, key=lambda number: names.index(words[number]))
            if {"designator", "x", "y"} <= columns.keys():
                return at, separator, columns
    raise Refusal(
        "1",
        gettext("no line that names its columns"),
        gettext("a header with designator, x and y (side, rotation, value)"),
    )


def _rows(lines: Sequence[str], first: int, separator: str, columns: Mapping[str, int]) -> _Raw:
    raw = _Raw()
    met: set[str] = set()
    for number, line in enumerate(lines, first):
        if not line.strip() or line.lstrip().startswith("#"):
            continue
        try:
            row = _row(_cells(line, separator), columns)
        except csv.Error:
            row = None
        if row is None or row[0].designator in met:
            raw.count += 1
            if len(raw.unread) < MOST_QUOTED:
                raw.unread.append((number, line[:90]))
            continue
        met.add(row[0].designator)
        raw.rows.append(row)
    return raw


def _row(cells: Sequence[str], columns: Mapping[str, int]) -> tuple[Placed, str | None] | None:
    if len(cells) <= max(columns[column] for column in ("designator", "x", "y")):
        return None

    def cell(column: str) -> str:
        number = columns.get(column)
        return cells[number] if number is not None and number < len(cells) else ""

    name, x, y = cell("designator").strip(), NUMBER.fullmatch(cell("x")), NUMBER.fullmatch(cell("y"))
    side, turn = _side(cell("side")), NUMBER.fullmatch(cell("rotation") or "0")
    if not name or len(name) > 80 or not x or not y or side is None or not turn:
        return None
    units = [word.lower() for word in (x[2], y[2]) if word]
    if any(word not in UNIT_WORDS for word in units):
        return None
    place = [float(match[1].replace(",", ".")) for match in (x, y, turn)]
    if not all(math.isfinite(number) and abs(number) < 1e7 for number in place):
        return None
    placed = Placed(name, place[0], place[1], side, place[2] % 360, cell("value")[:80], cell("package")[:80])
    return placed, UNIT_WORDS[units[0]] if units else None


def _side(word: str) -> str | None:
    bare = re.sub(r"[^a-z0-9]", "", word.lower())
    if not bare or bare in FRONT:
        return "front"
    return "back" if bare in BACK else None


def _unit(raw: _Raw, named: Mapping[str, str], chosen: Unit | None) -> tuple[Unit, str]:
    if chosen:
        return chosen, gettext("as chosen")
    for header in (named["x"], named["y"]):
        for word in re.findall(r"[a-z]+", header.lower()):
            if word in UNIT_WORDS:
                return UNIT_WORDS[word], gettext("the header {header}", header=quoted(header))  # type: ignore[return-value]
    if any(own for _, own in raw.rows):
        return "mm", gettext("the values' own units")
    xs = [row.x_mm for row, _ in raw.rows]
    ys = [row.y_mm for row, _ in raw.rows]
    extent = max(max(xs) - min(xs), max(ys) - min(ys))
    if extent > LONGEST_CARD_MM:
        return "mil", gettext("an extent of {extent}, too long for a card in millimetres", extent=f"{extent:.0f}")
    if 0 < extent < SHORTEST_CARD_MM:
        return "inch", gettext("an extent of {extent}, too short for a card in millimetres", extent=f"{extent:.1f}")
    return "mm", gettext("an extent of {extent}, right for a card in millimetres", extent=f"{extent:.0f}")


def _in_mm(row: Placed, unit: str) -> Placed:
    return replace(row, x_mm=round(row.x_mm * MM[unit], 4), y_mm=round(row.y_mm * MM[unit], 4))


def suggested(rows: Sequence[Placed]) -> tuple[tuple[str, ...], str | None]:
    """Which components look like the memory and which like the core: a group of equals round one single part.

    Equals share value, package and the letters of their designator. Of all groups of a fitting size the one whose
    members lie most evenly round a single chip is taken: the longest gap between neighbouring
    directions is smallest for chips that go round a core.
    """
    groups: dict[tuple[str, str, str], list[Placed]] = {}
    for row in rows:
        letters = re.match(r"[A-Za-z]*", row.designator)
        groups.setdefault((letters[0].upper() if letters else "", row.value, row.package), []).append(row)
    alone = [group[0] for key, group in groups.items() if len(group) == 1 and key[0] in CHIP_LETTERS]
    best: tuple[float, tuple[str, ...], str | None] = (math.inf, (), None)
    for key, group in groups.items():
        if key[0] not in CHIP_LETTERS or not LEAST_ALIKE <= len(group) <= MOST_ALIKE:
            continue
        for core in alone:
            score = _unevenness(core, group)
            if score < best[0]:
                best = (score, tuple(placement.designator for placement in group), core.designator)
    return best[1], best[2]


def _unevenness(core: Placed, group: Sequence[Placed]) -> float:
    """Longest gap in degrees between neighbouring directions from the core, and how unlike the distances are."""
    away = [(placement.x_mm - core.x_mm, placement.y_mm - core.y_mm) for placement in group]
    far = [math.hypot(x, y) for x, y in away]
    if min(far) == 0:
        return math.inf
    angles = sorted(math.degrees(math.atan2(y, x)) for x, y in away)
    gaps = [after - before for before, after in zip(angles, [*angles[1:], angles[0] + 360], strict=True)]
    return max(gaps) + 60 * (max(far) / median(far) - 1) - 2 * len(group)


def taken_in(document: Mapping[str, Any], rows: Sequence[Placed], memory: Sequence[str], core: str | None) -> Document:
    """The document with a placement's components: memory sites, the core, and parts whose kind their letters tell.

    Things that the model has already keep their size, channel and rails and move to where the file has them. The
    file's own origin is kept where the model has known things to lie by: everything is shifted so that those agree as
    well as they can (the median of their differences).
    """
    found: Document = dict(document)
    chosen = set(memory)
    dx, dy = _shift(document, rows)
    sites = {site.get("designator"): dict(site) for site in document.get("sites", ())}
    parts = {part.get("designator"): dict(part) for part in document.get("parts", ())}
    for row in rows:
        place = {"side": row.side, "x_mm": round(row.x_mm + dx, 4), "y_mm": round(row.y_mm + dy, 4)}
        name = row.designator
        if name in chosen:
            before = sites.get(name, {"designator": name, "size_mm": [14, 12]})
            sites[name] = {**before, **place, "rotation_deg": row.rotation_deg}
        elif name == core:
            keep = {key: place[key] for key in ("x_mm", "y_mm")}
            found["core"] = {**document.get("core", {}), "designator": name, **keep}
        elif kind := kind_of(name):
            more = {"value": row.value} if row.value else {}
            parts[name] = {**parts.get(name, {"designator": name, "kind": kind}), **place, **more}
    taken = {*chosen, core}
    found["sites"] = [site for site in sites.values() if site["designator"] != core]
    listed = [part for part in parts.values() if part["designator"] not in taken]
    if listed or "parts" in found:
        found["parts"] = listed
    return found


def _shift(document: Mapping[str, Any], rows: Sequence[Placed]) -> tuple[float, float]:
    """The shift that brings the file's known designators onto the model's."""
    known = {entry.get("designator"): entry for entry in [*document.get("sites", ()), *document.get("parts", ())]}
    pairs = [(known[row.designator], row) for row in rows if "x_mm" in known.get(row.designator, {})]
    if not pairs:
        return 0.0, 0.0
    return (
        median(float(entry["x_mm"]) - row.x_mm for entry, row in pairs),
        median(float(entry["y_mm"]) - row.y_mm for entry, row in pairs),
    )


def kind_of(designator: str) -> str | None:
    """The kind that a designator's letters tell; chips (U) tell none."""
    letters = re.match(r"[A-Za-z]*", designator)
    return KINDS.get(letters[0].upper()) if letters else None
