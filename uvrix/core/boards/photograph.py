"""A photograph that lies under the drawing: pixels to millimetres from two clicked points of known distance.

Pixels are counted from the picture's upper left, y down. The two points may lie along the board's x direction (the
ends of the contact row, whose contacts lie 1 mm apart): then they give the picture's turn as well as its scale. It is
a similarity, so a picture taken at a slant is right only where it was measured; directions round the core, which give
the walk, suffer least.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

from uvrix.core.boards.model import Board, Side
from uvrix.core.errors import Refusal
from uvrix.language import gettext

CONTACT_PITCH_MM = 1.0
LEAST_PX = 8.0
DIGITS = 4
Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Photograph:
    """Where a picture of one side lies: its upper left at (x_mm, y_mm), turned counterclockwise by turn_deg.

    The turn is as seen on the picture's own side; a picture of the back lies mirrored, since x runs through the board.
    """

    side: Side
    width_px: int
    height_px: int
    x_mm: float
    y_mm: float
    mm_per_px: float
    turn_deg: float

    @property
    def matrix(self) -> tuple[float, float, float, float, float, float]:
        """Pixels to the model's millimetres, in the order of an SVG matrix."""
        angle = math.radians(self.turn_deg)
        across = self.mm_per_px if self.side == "front" else -self.mm_per_px
        cos, sin = math.cos(angle), math.sin(angle)
        return (across * cos, self.mm_per_px * sin, across * sin, -self.mm_per_px * cos, self.x_mm, self.y_mm)

    def place(self, pixel: Point) -> Point:
        """Where a pixel lies on the board, in millimetres of the front view."""
        a, b, c, d, e, f = self.matrix
        return a * pixel[0] + c * pixel[1] + e, b * pixel[0] + d * pixel[1] + f

    def pixel(self, at: Point) -> Point:
        """Which pixel shows a place on the board, in millimetres of the front view."""
        a, b, c, d, e, f = self.matrix
        x, y = at[0] - e, at[1] - f
        whole = a * d - b * c
        return (d * x - c * y) / whole, (a * y - b * x) / whole

    def corners(self) -> tuple[Point, ...]:
        """The picture's four corners on the board."""
        width, height = self.width_px, self.height_px
        return tuple(self.place(corner) for corner in ((0, 0), (width, 0), (width, height), (0, height)))


@dataclass(frozen=True, slots=True)
class Scale:
    """Two clicked pixels and their distance; `along`: they lie along the board's x direction, `left` first."""

    left: Point
    right: Point
    mm: float
    along: Literal["x", "any"] = "any"


def contacts_mm(contacts: int) -> float:
    """The distance between the first and the last of this many slot contacts in a row, in millimetres."""
    if contacts < 2:
        raise Refusal("contacts", str(contacts), gettext("at least 2 contacts, the first and the last clicked"))
    return (contacts - 1) * CONTACT_PITCH_MM


def scaled_photograph(side: Side, size_px: tuple[int, int], scale: Scale) -> Photograph:
    """The photograph as the scale lays it, its lower edge at y 0 and its left edge at x 0 as seen on the front.

    Raises Refusal where the two points are too near to measure by, or the distance is not above 0.
    """
    dx, dy = scale.right[0] - scale.left[0], scale.right[1] - scale.left[1]
    far = math.hypot(dx, dy)
    if far < LEAST_PX:
        raise Refusal(
            "scale",
            gettext("two points {far} pixels apart", far=f"{far:.1f}"),
            gettext("points at least {least_px} pixels apart", least_px=f"{LEAST_PX:.0f}"),
        )
    if not (math.isfinite(scale.mm) and scale.mm > 0):
        raise Refusal("scale.mm", str(scale.mm), gettext("a distance above 0 mm"))
    # y runs down on the picture, so a row that sinks to the right is turned back counterclockwise
    turn = math.degrees(math.atan2(dy, dx)) if scale.along == "x" else 0.0
    width, height = size_px
    first = Photograph(side, width, height, 0.0, 0.0, scale.mm / far, turn)
    xs = [x for x, _ in first.corners()]
    ys = [y for _, y in first.corners()]
    return Photograph(side, width, height, -min(xs), -min(ys), first.mm_per_px, turn)


def photograph_from(entry: Mapping[str, Any]) -> Photograph:
    """The photograph that a board file's entry describes."""
    return Photograph(
        entry["side"],
        entry["width_px"],
        entry["height_px"],
        float(entry["x_mm"]),
        float(entry["y_mm"]),
        float(entry["mm_per_px"]),
        float(entry["turn_deg"]),
    )


def photographs_of(board: Board) -> tuple[tuple[str, Photograph], ...]:
    """The photographs that lie under a board's drawing, each with its picture's sha256."""
    return tuple((str(entry["sha256"]), photograph_from(entry)) for entry in board.document.get("photographs", ()))


def entry_of(photograph: Photograph, sha256: str) -> dict[str, Any]:
    """The board file's entry for a photograph, rounded to what a picture can tell."""
    return {
        "side": photograph.side,
        "sha256": sha256,
        "width_px": photograph.width_px,
        "height_px": photograph.height_px,
        "x_mm": round(photograph.x_mm, DIGITS),
        "y_mm": round(photograph.y_mm, DIGITS),
        "mm_per_px": round(photograph.mm_per_px, 7),
        "turn_deg": round(photograph.turn_deg, DIGITS),
    }
