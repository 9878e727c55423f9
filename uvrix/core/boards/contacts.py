"""The slot contacts of a card: which contact carries what, and where it lies.

The order of the contacts is that of the slot's open standard: 82 to a side, the notch after the eleventh, contact 1
next to the bracket; row B on the front (core side), row A behind it. Directions are the card's own: its transmit pairs
leave by row A through series capacitors, its receive pairs come in by row B.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from uvrix.core.boards.model import Board, Side, Vector
from uvrix.core.boards.views import BRACKET, CONTACTS
from uvrix.language import gettext, ngettext

Kind = Literal["power", "ground", "lane", "clock", "detect", "signal", "reserved"]
Row = Literal["A", "B"]
ROW_SIDE: Mapping[Row, Side] = {"B": "front", "A": "back"}
MOST_LANES, MOST_CONTACTS, BEFORE_NOTCH = 16, 82, 11
# The notch takes the place of this many contacts.
NOTCH = 2
# A click so far beside the row still means it.
BESIDE_MM = 2.0
# Contacts whose first lane is the given one: (row B, row A) of its p half; n follows.
_FIRST_LANES = ((14, 16), (19, 21), (23, 25), (27, 29), (33, 35), (37, 39), (41, 43), (45, 47))
_LAST_LANES = tuple((50 + 4 * lane, 52 + 4 * lane) for lane in range(8))
_P_HALF: Mapping[int, tuple[int, int]] = dict(enumerate(_FIRST_LANES + _LAST_LANES))
_POWER = {
    **dict.fromkeys(("B1", "B2", "B3", "A2", "A3"), "12 V"),
    **dict.fromkeys(("B8", "A9", "A10"), "3.3 V"),
    "B10": gettext("3.3 V standby"),
}
_SIGNALS = {
    "B5": gettext("management clock"),
    "B6": gettext("management data"),
    "B9": gettext("test reset"),
    "B11": gettext("wake"),
    "B12": gettext("clock request"),
    "A5": gettext("test clock"),
    "A6": gettext("test data in"),
    "A7": gettext("test data out"),
    "A8": gettext("test mode"),
    "A11": gettext("reset"),
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
        name: ngettext("present, one lane", "present, {count} lanes", width) for width, name in _DETECT.items()
    } | {PRESENT: gettext("present, common end")}
    found = []
    rows: tuple[Row, Row] = ("B", "A")
    for row in rows:
        for number in range(1, MOST_CONTACTS + 1):
            name = f"{row}{number}"
            if name in halves:
                lane, pair, half = halves[name]
                found.append(
                    Contact(
                        row,
                        number,
                        "lane",
                        gettext("lane {lane} {pair} {half}", lane=lane, pair=pair, half=half),
                        lane,
                        pair,
                        half,
                    )
                )
            elif name in CLOCK_HALVES:
                half = "p" if name == CLOCK_HALVES[0] else "n"
                found.append(Contact(row, number, "clock", gettext("reference clock {half}", half=half), half=half))
            elif name in _POWER:
                found.append(Contact(row, number, "power", _POWER[name]))
            elif name in detects:
                found.append(Contact(row, number, "detect", detects[name]))
            elif name in _SIGNALS:
                found.append(Contact(row, number, "signal", _SIGNALS[name]))
            elif name in _RESERVED:
                found.append(Contact(row, number, "reserved", gettext("not used")))
            else:
                found.append(Contact(row, number, "ground", "ground"))
    return tuple(found)


@lru_cache
def by_name() -> Mapping[str, Contact]:
    """Contacts by row and number."""
    return {contact.name: contact for contact in contacts()}


def contact_words(name: str) -> str:
    """A slot contact with what it carries; any other name as it is."""
    found = by_name().get(name)
    return f"{name} ({found.carries})" if found else name


def lanes_of(board: Board | None) -> int:
    """How many lanes a board has wired: `slot.lanes` of its model, else all sixteen."""
    return board.lanes if board and board.lanes is not None else MOST_LANES


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


def contact_at(board: Board, side: Side, x_mm: float, y_mm: float) -> Contact | None:
    """The contact that a place on the contact row belongs to; None off the row."""
    row = next((mark for mark in board.landmarks if mark.kind == CONTACTS), None)
    if row is None:
        return None
    off_x, off_y = abs(x_mm - float(row.centre[0])), abs(y_mm - float(row.centre[1]))
    if off_x > float(row.size[0]) / 2 + BESIDE_MM or off_y > float(row.size[1]) / 2 + BESIDE_MM:
        return None
    # along the row only: the click may lie anywhere on the contact's length
    at, place = (1, x_mm) if row.size[0] >= row.size[1] else (2, y_mm)
    spots = [(contact, spot_of(board, contact)) for contact in contacts() if ROW_SIDE[contact.row] == side]
    return min(spots, key=lambda spot: abs(float(spot[1][at]) - place) if spot[1] else 0.0)[0]


def _bracket(board: Board) -> Vector:
    """The bracket's middle; left of the board by definition where the model does not draw it."""
    found = next((mark.centre for mark in board.landmarks if mark.kind == BRACKET), None)
    left, bottom, _, _ = board.extents
    return found or (left, bottom)
