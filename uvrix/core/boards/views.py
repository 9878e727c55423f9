"""How the card lies and what is then where: pure geometry, exact in millimetres.

A view takes a point of the model (x right, y up, front side) to the drawing (x right, y down, origin at the
drawing's upper left). Seen from the back the board is its mirror image; then it is turned counterclockwise by
quarters.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from uvrix.core.boards.model import Board, Landmark, Side, Vector

Edge = Literal["left", "right", "up", "down"]
CONTACTS = "edge-contacts"
BRACKET = "bracket"


@dataclass(frozen=True, slots=True)
class Orientation:
    """The side that faces the technician, and quarter turns counterclockwise (0-3)."""

    side: Side = "front"
    turns: int = 0

    def turned(self, quarters: int = 1) -> Orientation:
        """The card turned on the bench, counterclockwise."""
        return Orientation(self.side, (self.turns + quarters) % 4)

    def flipped(self) -> Orientation:
        """The card turned over like a page: what lay left lies right, up stays up."""
        return Orientation("back" if self.side == "front" else "front", -self.turns % 4)


ORIENTATIONS = tuple(Orientation(side, turns) for side in ("front", "back") for turns in range(4))


@dataclass(frozen=True, slots=True)
class View:
    """An affine map to the drawing: X = a*x + c*y + e, Y = b*x + d*y + f (the order of an SVG matrix)."""

    matrix: tuple[Fraction, Fraction, Fraction, Fraction, Fraction, Fraction]
    width_mm: Fraction
    height_mm: Fraction

    def place(self, point: Vector) -> Vector:
        """Where a point of the model lies on the drawing."""
        a, b, c, d, e, f = self.matrix
        x, y = point
        return a * x + c * y + e, b * x + d * y + f

    def direction(self, vector: Vector) -> Vector:
        """A direction of the model as it points on the drawing (y down)."""
        a, b, c, d, _, _ = self.matrix
        x, y = vector
        return a * x + c * y, b * x + d * y


def view_of(board: Board, orientation: Orientation) -> View:
    """The view of a board in an orientation; the whole outline fills (0, 0) to (width_mm, height_mm)."""
    left, bottom, right, top = board.extents
    # linear part: mirror, then quarter turns counterclockwise, both with y up
    a, b = Fraction(1 if orientation.side == "front" else -1), Fraction(0)
    c, d = Fraction(0), Fraction(1)
    for _ in range(orientation.turns % 4):
        a, b, c, d = -b, a, -d, c
    b, d = -b, -d
    corners = [(a * x + c * y, b * x + d * y) for x in (left, right) for y in (bottom, top)]
    least_x, most_x = min(x for x, _ in corners), max(x for x, _ in corners)
    least_y, most_y = min(y for _, y in corners), max(y for _, y in corners)
    return View((a, b, c, d, -least_x, -least_y), most_x - least_x, most_y - least_y)


def edge_of(board: Board, landmark: Landmark) -> Vector:
    """The outward direction, on the front, of the outline's edge that a landmark lies nearest to."""
    left, bottom, right, top = board.extents
    x, y = landmark.centre
    gaps: list[tuple[Fraction, Vector]] = [
        (abs(x - left), (Fraction(-1), Fraction(0))),
        (abs(y - bottom), (Fraction(0), Fraction(-1))),
        (abs(right - x), (Fraction(1), Fraction(0))),
        (abs(top - y), (Fraction(0), Fraction(1))),
    ]
    return min(gaps, key=lambda gap: gap[0])[1]


def edges(board: Board, orientation: Orientation) -> dict[str, Edge]:
    """On which edge of the drawing bracket and contacts lie; the bracket is left on the front by definition."""
    view = view_of(board, orientation)
    found = {BRACKET: _edge(view.direction((Fraction(-1), Fraction(0))))}
    contacts = next((mark for mark in board.landmarks if mark.kind == CONTACTS), None)
    if contacts:
        found[CONTACTS] = _edge(view.direction(edge_of(board, contacts)))
    return found


def _edge(direction: Vector) -> Edge:
    x, y = direction
    if x:
        return "right" if x > 0 else "left"
    return "down" if y > 0 else "up"
