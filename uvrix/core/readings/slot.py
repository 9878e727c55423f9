"""The slot contacts of a card: which contact carries what, and the width that the link will train at.

The order of the contacts is that of the slot's open standard: 82 to a side, the notch after the eleventh, contact 1
next to the bracket; row B on the front (core side), row A behind it. Directions are the card's own: its transmit pairs
leave by row A through series capacitors, its receive pairs come in by row B.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from uvrix.core.boards.model import Board, Side, Vector
from uvrix.core.boards.views import CONTACTS
from uvrix.core.readings.lanes import MOST_LANES, Half, Link, link, widest
from uvrix.core.readings.notation import Value, shown

Kind = Literal["power", "ground", "lane", "clock", "detect", "signal", "reserved"]
Row = Literal["A", "B"]
ROW_SIDE: Mapping[Row, Side] = {"B": "front", "A": "back"}
MOST_CONTACTS, BEFORE_NOTCH = 82, 11
# The notch takes the place of so many contacts.
NOTCH = 2
# Readings at a contact, and on the core's side of its series capacitor (or across that), are named so.
SLOT, CAPACITOR = "slot", "caps"
# Both halves of one pair further apart than this share are not alike.
HALVES_WITHIN = 0.25
SHORT_V = 0.05
# Contacts whose first lane is the given one: (row B, row A) of its p half; n follows.
_FIRST_LANES = ((14, 16), (19, 21), (23, 25), (27, 29), (33, 35), (37, 39), (41, 43), (45, 47))
_LAST_LANES = tuple((50 + 4 * lane, 52 + 4 * lane) for lane in range(8))
_P_HALF: Mapping[int, tuple[int, int]] = dict(enumerate(_FIRST_LANES + _LAST_LANES))
_POWER = {
    **dict.fromkeys(("B1", "B2", "B3", "A2", "A3"), "12 V"),
    **dict.fromkeys(("B8", "A9", "A10"), "3.3 V"),
    "B10": "3.3 V standby",
}
_SIGNALS = {
    "B5": "management clock",
    "B6": "management data",
    "B9": "test reset",
    "B11": "wake",
    "B12": "clock request",
    "A5": "test clock",
    "A6": "test data in",
    "A7": "test data out",
    "A8": "test mode",
    "A11": "reset",
}
# The contact that says how wide a card is, by width; the other end of each is A1.
_DETECT = {1: "B17", 4: "B31", 8: "B48", 16: "B81"}
_RESERVED = frozenset({"A19", "A32", "A33", "A50", "B30", "B82"})
CLOCK_HALVES = ("A13", "A14")
PRESENT = "A1"


@dataclass(frozen=True, slots=True)
class Contact:
    """A contact: its name (row and number), what it carries; lane, pair and half where it is of a lane."""

    row: Row
    number: int
    kind: Kind
    carries: str
    lane: int | None = None
    pair: Literal["tx", "rx", ""] = ""
    half: Literal["p", "n", ""] = ""

    @property
    def name(self) -> str:
        """As printed beside drawings: row and number."""
        return f"{self.row}{self.number}"

    @property
    def place(self) -> int:
        """Its place along the row, counted from 0 in contacts, the notch counted in."""
        return self.number - 1 + (NOTCH if self.number > BEFORE_NOTCH else 0)


@lru_cache
def contacts() -> tuple[Contact, ...]:
    """All contacts of the widest slot, row B then row A, from the bracket on."""
    halves: dict[str, tuple[int, Literal["tx", "rx"], Literal["p", "n"]]] = {}
    for lane, (b, a) in _P_HALF.items():
        halves |= {f"B{b}": (lane, "rx", "p"), f"B{b + 1}": (lane, "rx", "n")}
        halves |= {f"A{a}": (lane, "tx", "p"), f"A{a + 1}": (lane, "tx", "n")}
    detects = {
        name: f"present, {width} lanes" if width > 1 else "present, one lane" for width, name in _DETECT.items()
    } | {PRESENT: "present, common end"}
    found = []
    rows: tuple[Row, Row] = ("B", "A")
    for row in rows:
        for number in range(1, MOST_CONTACTS + 1):
            name = f"{row}{number}"
            if name in halves:
                lane, pair, half = halves[name]
                found.append(Contact(row, number, "lane", f"lane {lane} {pair} {half}", lane, pair, half))
            elif name in CLOCK_HALVES:
                half = "p" if name == CLOCK_HALVES[0] else "n"
                found.append(Contact(row, number, "clock", f"reference clock {half}", half=half))
            elif name in _POWER:
                found.append(Contact(row, number, "power", _POWER[name]))
            elif name in detects:
                found.append(Contact(row, number, "detect", detects[name]))
            elif name in _SIGNALS:
                found.append(Contact(row, number, "signal", _SIGNALS[name]))
            elif name in _RESERVED:
                found.append(Contact(row, number, "reserved", "not used"))
            else:
                found.append(Contact(row, number, "ground", "ground"))
    return tuple(found)


@lru_cache
def by_name() -> Mapping[str, Contact]:
    """Contacts by row and number."""
    return {one.name: one for one in contacts()}


def lanes_of(board: Board | None) -> int:
    """How many lanes a board has wired: `slot.lanes` of its model, else all sixteen."""
    return int(board.document.get("slot", {}).get("lanes", MOST_LANES)) if board else MOST_LANES


def spot_of(board: Board, contact: Contact) -> tuple[Side, float, float] | None:
    """Where a contact lies on the board, by the model's contact row, drawn to its length; None where it has no row."""
    row = next((mark for mark in board.landmarks if mark.kind == CONTACTS), None)
    if row is None:
        return None
    share = (contact.place + 0.5) / (MOST_CONTACTS + NOTCH)
    along_x = row.size[0] >= row.size[1]
    length = float(row.size[0] if along_x else row.size[1])
    x, y = float(row.centre[0]), float(row.centre[1])
    bracket = _bracket(board)
    # contact 1 is the one next to the bracket
    toward = (x - float(bracket[0])) if along_x else (y - float(bracket[1]))
    away = (share - 0.5) * length * (1 if toward >= 0 else -1)
    return ROW_SIDE[contact.row], (x + away if along_x else x), (y if along_x else y + away)


def _bracket(board: Board) -> Vector:
    """The bracket's middle; left of the board by definition where the model does not draw it."""
    found = next((mark.centre for mark in board.landmarks if mark.kind == "bracket"), None)
    left, bottom, _, _ = board.extents
    return found or (left, bottom)


def route(lanes: int) -> tuple[str, ...]:
    """The points to probe, in turn: the clock, then row B's receive halves, then the transmit halves' capacitors."""
    own = [one for one in contacts() if one.lane is not None and one.lane < lanes]
    receive = [f"{SLOT}.{one.name}" for one in own if one.pair == "rx"]
    transmit = [f"{CAPACITOR}.{one.name}" for one in own if one.pair == "tx"]
    return (*(f"{SLOT}.{name}" for name in CLOCK_HALVES), *receive, *transmit)


@dataclass(frozen=True, slots=True)
class AtSlot:
    """What the slot contacts say: the link as read, at best if what was not read works, how many lanes were read.

    `clock` is a verdict on both halves of the reference clock, `notes` are sentences on torn contacts, capacitors and
    what else was found.
    """

    link: Link
    best_width: int
    best_start: int
    lanes_read: int
    torn_lanes: Mapping[int, tuple[str, ...]]
    clock: Literal["works", "open", "short", "odd", "not read", "torn"]
    notes: tuple[str, ...]


def at_slot(
    diode: Mapping[str, Value], across: Mapping[str, Value], torn: Collection[str], lanes: int = MOST_LANES
) -> AtSlot:
    """Judge what was read.

    `diode` are diode readings by point (`slot.B14`, `caps.A16`), `across` ohm readings across capacitors (`caps.A16`),
    `torn` the contacts that are torn (`B14`).
    """
    notes: list[str] = []
    read: dict[int, dict[Half, Value]] = {}
    for one in contacts():
        if one.lane is None or one.lane >= lanes:
            continue
        if one.pair == "rx":
            value = diode.get(f"{SLOT}.{one.name}")
        else:
            value = diode.get(f"{CAPACITOR}.{one.name}")
            outside = diode.get(f"{SLOT}.{one.name}")
            if outside is not None and not outside.ol:
                said = shown(outside, "diode")
                notes.append(f"{one.name} ({one.carries}) reads {said} at the contact: its capacitor lets through.")
            across_it = across.get(f"{CAPACITOR}.{one.name}")
            if across_it is not None and not across_it.ol:
                said = shown(across_it, "resistance")
                notes.append(f"The capacitor of {one.name} ({one.carries}) reads {said} across: OL is right.")
        if value is not None:
            read.setdefault(one.lane, {})[one.pair, one.half] = value
    contacts_torn = [by_name()[name] for name in sorted(torn, key=lambda name: (name[0], int(name[1:])))]
    torn_lanes: dict[int, tuple[str, ...]] = {}
    for one in contacts_torn:
        if one.lane is not None and one.lane < lanes:
            torn_lanes[one.lane] = (*torn_lanes.get(one.lane, ()), one.name)
        notes.append(_torn(one, lanes))
    found = link(read, lanes, torn_lanes)
    unread = {lane for lane in range(lanes) if lane not in found.lanes}
    at_best = [found.lanes.get(lane) == "works" or lane in unread for lane in range(lanes)]
    width, start = widest(at_best)
    whole = sum(1 for lane in range(lanes) if len(read.get(lane, ())) == 4)
    clock = _clock(diode, torn)
    if clock not in {"works", "not read"}:
        notes.insert(0, f"The reference clock comes in by both {' and '.join(CLOCK_HALVES)}: {clock}. No link trains.")
    return AtSlot(found, width, start, whole, torn_lanes, clock, tuple(notes))


def _torn(one: Contact, lanes: int) -> str:
    """What a torn contact means."""
    if one.lane is not None:
        if one.lane >= lanes:
            return f"{one.name} is torn: lane {one.lane}, which this board does not use."
        return f"{one.name} is torn: lane {one.lane} ({one.pair} {one.half}) does not work until it is repaired."
    means = {
        "clock": "half of the reference clock is missing: no link trains, the card is not listed.",
        "ground": "one ground of many: the link may still train.",
        "power": f"one of the contacts for {one.carries}: the others carry its share, and run warmer.",
        "detect": f"{one.carries}: the host may not see that a card is there, or how wide it is.",
        "reserved": "it carries nothing.",
    }
    return f"{one.name} is torn: {means.get(one.kind, f'{one.carries} is missing.')}"


def _clock(
    diode: Mapping[str, Value], torn: Collection[str]
) -> Literal["works", "open", "short", "odd", "not read", "torn"]:
    if set(CLOCK_HALVES) & set(torn):
        return "torn"
    halves = [diode.get(f"{SLOT}.{name}") for name in CLOCK_HALVES]
    values = [one.middle for one in halves if one is not None and not one.ol]
    if any(one is not None and one.ol for one in halves):
        return "open"
    if len(values) < 2:
        return "not read"
    low, high = sorted(value for value in values if value is not None)
    if low < SHORT_V:
        return "short"
    return "works" if high - low <= HALVES_WITHIN * high else "odd"


def known_contacts() -> frozenset[str]:
    """Names of all contacts."""
    return frozenset(by_name())
