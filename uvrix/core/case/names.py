"""The names that a case may carry: those of the model, of its connectors and landmarks, of the slot's contacts.

Case and spaces do not make another part: `output 4` is OUTPUT 4. On a board that nobody has drawn any name may stand,
and the first spelling of it is kept.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from uvrix.core.boards.contacts import MOST_CONTACTS
from uvrix.core.boards.model import Board
from uvrix.core.case.entries import Entry, Measured, Ticked
from uvrix.core.look.regions import SIDES, regions
from uvrix.core.readings.points import board_places

CONTACT = re.compile(r"(?:SLOT\.|CAPS\.)?([AB])([1-9][0-9]?)")
FUSE_END = re.compile(r"(.+)\.([12])")
COIL_PADS = ("converter", "rail")
LONGEST = 60


def key_of(name: str) -> str:
    """What makes two spellings one name."""
    return "".join(name.split()).upper()


def contact(name: str) -> str | None:
    """The slot contact that is meant (`B14`), None where none is."""
    found = CONTACT.fullmatch(key_of(name))
    return f"{found[1]}{found[2]}" if found and int(found[2]) <= MOST_CONTACTS else None


class Names:
    """Finds the model's own spelling of a name; `board` None: nobody has drawn it, and the first spelling counts.

    `points` are named on the job itself, clicked on its photographs; `declared` are parts that the model lacks.
    """

    def __init__(self, board: Board | None, points: Iterable[str] = (), declared: Iterable[str] = ()) -> None:
        self.board = board
        self._sites: dict[str, str] = {}
        self._points: dict[str, str] = {}
        self._regions: dict[str, str] = {}
        self.fuses: frozenset[str] = frozenset()
        if board is not None:
            self._add(self._sites, designators(board))
            places = board_places(board)
            self._add(self._points, [*places.rails, *places.nodes, *places.points])
            self.fuses = frozenset(fuses(board))
            self._add(self._regions, [*(region.id for region in regions(board)), *SIDES])
        self._add(self._points, points)
        self._add(self._sites, declared)
        self._add(self._regions, ["all"])

    @staticmethod
    def _add(found: dict[str, str], names: Iterable[str]) -> None:
        for name in names:
            found[key_of(name)] = name

    def site(self, name: str) -> str | None:
        """A site, part, fuse, coil, contact or plug; None where the model has none of that name."""
        if found := self._sites.get(key_of(name)) or contact(name):
            return found
        return self._first(self._sites, name)

    def looked(self, name: str) -> str | None:
        """A region, a designator or `all`."""
        return self._regions.get(key_of(name)) or self.site(name)

    def point(self, name: str) -> str | None:
        """A point, rail, node, fuse end, contact, pin of a part, pad of a coil, or two of them with a slash between."""
        ends = [self._end(end.strip()) for end in name.split("/")]
        return "/".join(end for end in ends if end) if len(ends) <= 2 and all(ends) else None

    def _end(self, name: str) -> str | None:
        if found := self._points.get(key_of(name)) or contact(name):
            return found
        if pad := self._pad(name):
            return pad
        head, dot, pin = name.partition(".")
        owner = self._points.get(key_of(head)) or self._sites.get(key_of(head))
        if dot and owner and pin.strip():
            return f"{owner}.{pin.strip()}"
        if self.board is not None:
            return self._sites.get(key_of(name))
        return self._first(self._points, name)

    def _pad(self, name: str) -> str | None:
        words = name.split()
        coil = self._points.get(key_of(words[0])) if len(words) > 1 else None
        return f"{coil} {' '.join(words[1:])}" if coil and words[1] in {*COIL_PADS, "alone"} else None

    def _first(self, known: dict[str, str], name: str) -> str | None:
        """On a board that is not drawn the first spelling of a name is the name."""
        plain = " ".join(name.split())
        if self.board is not None or not plain or len(plain) > LONGEST:
            return None
        return known.setdefault(key_of(plain), plain)


def designators(board: Board) -> tuple[str, ...]:
    """Everything on a board that an act may name: chips, parts, points that are parts, plugs, sockets."""
    return tuple(
        dict.fromkeys(
            [
                board.core.designator,
                *(site.designator for site in board.sites),
                *(part.designator for part in board.parts),
                *(point.id for point in board.points),
                *(mark.text for mark in board.landmarks if mark.text),
                *(phase.designator for phase in board.phases),
                *(supervisor.designator for supervisor in board.supervisors),
                *(part for node in board.startup_nodes.values() for part in node.parts),
            ]
        )
    )


FUSE = re.compile(r"(F[A-Z]?\d{1,5})(\.[12])?", re.IGNORECASE)


def fuses_named(entries: Iterable[Entry]) -> frozenset[str]:
    """The fuses that entries name, read across, at an end, or ticked: of an undrawn board there is no list."""
    found = set()
    for entry in entries:
        if isinstance(entry.what, Ticked):
            found.add(entry.what.fuse)
        elif isinstance(entry.what, Measured):
            ends = [FUSE.fullmatch(end) for end in entry.what.reading.point.split("/")]
            alone = entry.what.reading.to == "across"
            found |= {end[1] for end in ends if end and (end[2] or alone)}
    return frozenset(found)


def fuses(board: Board) -> tuple[str, ...]:
    """The fuses of a board: points and parts of that kind."""
    return tuple(
        dict.fromkeys(
            [
                *(point.id for point in board.points if point.kind == "fuse"),
                *(part.designator for part in board.parts if part.kind == "fuse"),
            ]
        )
    )
