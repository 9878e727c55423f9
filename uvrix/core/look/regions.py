"""The regions of a board, looked at one by one so that none is skipped: both sides, along a route the eye can follow.

Regions are cells of a grid over the outline, none larger than a hand covers; the route runs from the bracket to the far
end and back, the front first. Each is named by where it lies and by what lies in it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from uvrix.core.boards.model import Board, Side, Vector
from uvrix.language import gettext, ngettext

LARGEST_MM = 70.0
SIDES: tuple[Side, ...] = ("front", "back")
SIDE_WORDS: dict[Side, str] = {"front": gettext("front"), "back": gettext("back")}
UPPER, MIDDLE, LOWER = gettext("upper"), gettext("middle"), gettext("lower")
HEIGHT_WORDS: dict[int, tuple[str, ...]] = {1: ("",), 2: (UPPER, LOWER), 3: (UPPER, MIDDLE, LOWER)}
THINGS = {
    "edge-contacts": gettext("slot contacts"),
    "power-plug": gettext("power plug"),
    "display-socket": gettext("display sockets"),
    "fan-plug": gettext("fan plug"),
    "hole": gettext("screw holes"),
    "bracket": gettext("bracket"),
}
# Columns between the ends, counted from the bracket.
ORDINALS = {1: gettext("second"), 2: gettext("third")}
MOST_NAMED = 4


@dataclass(frozen=True, slots=True)
class Region:
    """One region: the id is the same for every card of a model; the box is in millimetres of the front view."""

    id: str
    side: Side
    name: str
    holds: tuple[str, ...]
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    # kinds of landmarks in it
    kinds: frozenset[str] = frozenset()

    def contains(self, x: float, y: float) -> bool:
        """Whether a point lies in it; the left and lower edges belong to it."""
        return self.x_mm <= x < self.x_mm + self.width_mm and self.y_mm <= y < self.y_mm + self.height_mm


# The attribute in which a board keeps its regions: a model does not change while it is looked at.
KEPT = "regions"


def regions(board: Board) -> tuple[Region, ...]:
    """All regions in the order of the route."""
    if KEPT not in vars(board):
        vars(board)[KEPT] = _regions(board)
    found: tuple[Region, ...] = vars(board)[KEPT]
    return found


def _regions(board: Board) -> tuple[Region, ...]:
    xs, ys = [float(x) for x, _ in board.outline], [float(y) for _, y in board.outline]
    left, bottom, width, height = min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys)
    columns, rows = max(1, math.ceil(width / LARGEST_MM)), max(1, math.ceil(height / LARGEST_MM))
    found = []
    for side in SIDES:
        for step in range(columns):
            column = step if side == "front" else columns - 1 - step
            for place in range(rows):
                # down one column and up the next, so that the eye never jumps
                row = place if step % 2 == 0 else rows - 1 - place
                box = (
                    left + column * width / columns,
                    bottom + (rows - 1 - row) * height / rows,
                    width / columns,
                    height / rows,
                )
                found.append(_region(board, side, (column, columns), (row, rows), box))
    return tuple(found)


# A photograph counts as so wide, in millimetres, where nobody has drawn the board: about a card's length. It is good
# for what lies near, and for nothing else.
PHOTO_MM = 250.0
PHOTO_COLUMNS: tuple[str, ...] = (gettext("far left"), gettext("mid left"), gettext("mid right"), gettext("far right"))


def photo_regions(side: Side, aspect: float) -> tuple[Region, ...]:
    """The regions of a photograph that serves as a board: a grid over it, its rows from the top downwards.

    `aspect` is its height over its width; the boxes are measured from its upper left corner.
    """
    rows = max(1, math.ceil(PHOTO_MM * aspect / LARGEST_MM / 1.5))
    width, height = PHOTO_MM / len(PHOTO_COLUMNS), PHOTO_MM * aspect / rows
    found = []
    for column, word in enumerate(PHOTO_COLUMNS):
        for place in range(rows):
            row = place if column % 2 == 0 else rows - 1 - place
            high = HEIGHT_WORDS[rows][row] if rows in HEIGHT_WORDS else gettext("row {row}", row=row + 1)
            name = ", ".join(part for part in (SIDE_WORDS[side], word, high) if part)
            box = (column * width, row * height, width, height)
            found.append(Region(f"{side}-{column + 1}-{row + 1}", side, name, (), *box))
    return tuple(found)


def region_at(board: Board, side: Side, x: float, y: float) -> Region | None:
    """The region that a point lies in; points on the outline's far edges and beside it belong to the nearest."""
    own = [region for region in regions(board) if region.side == side]
    for region in own:
        if region.contains(x, y):
            return region
    return min(own, key=lambda region: _away(region, x, y), default=None)


def _away(region: Region, x: float, y: float) -> float:
    across = max(region.x_mm - x, 0.0, x - region.x_mm - region.width_mm)
    up = max(region.y_mm - y, 0.0, y - region.y_mm - region.height_mm)
    return math.hypot(across, up)


def _region(
    board: Board, side: Side, column: tuple[int, int], row: tuple[int, int], box: tuple[float, float, float, float]
) -> Region:
    words = [_across(*column), HEIGHT_WORDS[row[1]][row[0]] if row[1] <= 3 else gettext("row {row}", row=row[0] + 1)]
    name = ", ".join(word for word in (SIDE_WORDS[side], *words) if word)
    bare = Region(f"{side}-{column[0] + 1}-{row[0] + 1}", side, name, (), *box)
    kinds = frozenset(mark.kind for mark in board.landmarks if _in(bare, mark.centre))
    return Region(bare.id, side, name, _holds(board, bare, kinds), *box, kinds)


def _across(column: int, columns: int) -> str:
    if columns == 1:
        return ""
    if column == 0:
        return gettext("bracket end")
    if column == columns - 1:
        return gettext("far end")
    return MIDDLE if columns == 3 else ORDINALS.get(column) or gettext("{number}th", number=column + 1)


def _holds(board: Board, region: Region, kinds: frozenset[str]) -> tuple[str, ...]:
    """What lies in it: the core, chips, plugs, sockets; seen from either side for what goes through the board."""
    found = []
    if _in(region, board.core.centre):
        found.append(gettext("core") if region.side == "front" else gettext("below the core"))
    chips = [site.designator for site in board.sites if site.side == region.side and _in(region, site.centre)]
    if chips:
        found.append(", ".join(chips[:MOST_NAMED]) + (" …" if len(chips) > MOST_NAMED else ""))
    found += [word for kind, word in THINGS.items() if kind in kinds]
    parts = sum(_in(region, part.centre) for part in board.parts if part.side == region.side and part.centre)
    if parts:
        found.append(ngettext("1 small part", "{count} small parts", parts))
    return tuple(found)


def _in(region: Region, centre: Vector) -> bool:
    return region.contains(float(centre[0]), float(centre[1]))
