"""A package's ball map as it lies at the bench: turned as its chip lies on the board, or balls up with the chip lifted.

A ball map counts columns to the right and rows down, seen through the package, ball A1 at the upper left; so lies a
chip of rotation 0 seen from its own side (docs/formats §1). A lifted chip lies turned over like a page, its balls up.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from uvrix.core.boards.model import Board, Site
from uvrix.core.boards.model import Corner as MarkCorner
from uvrix.core.boards.views import ORIENTATIONS, Orientation, view_of

Matrix = tuple[float, float, float, float]
Direction = Literal["right", "left", "down", "up"]
Corner = Literal["upper left", "upper right", "lower left", "lower right"]


@dataclass(frozen=True, slots=True)
class BallMapView:
    """How a ball map is seen: X = a*column + c*row, Y = b*column + d*row (the order of an SVG matrix, y down).

    `corner` is where ball A1 is, from which one counts; `rows` and `columns` say which way letters and numbers run.
    """

    orientation: Orientation
    balls_up: bool
    matrix: Matrix
    corner: Corner
    rows: Direction
    columns: Direction


def ball_map_views(board: Board, site: Site) -> tuple[BallMapView, ...]:
    """In each orientation of the board, with the chip or its pads in place and with the chip lifted: 16 views."""
    return tuple(
        _ball_map_view(board, site, orientation, balls_up=up) for orientation in ORIENTATIONS for up in (False, True)
    )


# Where the core's mark is, turned counterclockwise from the upper left.
MARK_TURN: Mapping[MarkCorner, int] = {"top-left": 0, "bottom-left": 90, "bottom-right": 180, "top-right": 270}


def core_site(board: Board) -> Site:
    """The core as a site, so that its ball map lies by its mark as a chip's does by pin 1."""
    core = board.core
    turn = Fraction(MARK_TURN[core.mark_corner])
    return Site(core.designator, "front", core.centre, core.size, turn, True, None, 0, board.core_package)


def _ball_map_view(board: Board, site: Site, orientation: Orientation, *, balls_up: bool) -> BallMapView:
    angle = math.radians(float(site.rotation_deg % 360))
    mirror = 1 if site.side == "front" else -1
    # one column to the right and one row down, on the front with y up
    column = mirror * math.cos(angle), math.sin(angle)
    row = mirror * math.sin(angle), -math.cos(angle)
    a, b, c, d, _, _ = (float(number) for number in view_of(board, orientation).matrix)
    flip = -1 if balls_up else 1
    along = flip * (a * column[0] + c * column[1]), b * column[0] + d * column[1]
    down = flip * (a * row[0] + c * row[1]), b * row[0] + d * row[1]
    return BallMapView(
        orientation,
        balls_up,
        (_exact(along[0]), _exact(along[1]), _exact(down[0]), _exact(down[1])),
        _corner(-along[0] - down[0], -along[1] - down[1]),
        _direction(*down),
        _direction(*along),
    )


def _exact(number: float) -> float:
    """Quarter turns are exact."""
    near = round(number)
    return float(near) if abs(number - near) < 1e-12 else number


def _direction(x: float, y: float) -> Direction:
    if abs(x) > abs(y):
        return "right" if x > 0 else "left"
    return "down" if y > 0 else "up"


def _corner(x: float, y: float) -> Corner:
    if y < 0:
        return "upper left" if x < 0 else "upper right"
    return "lower left" if x < 0 else "lower right"
