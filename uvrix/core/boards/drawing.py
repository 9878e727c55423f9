"""What the drawing shows, as polygons in the model's millimetres (front view, y up): one shape for one thing.

The views of views.py take them to the bench; nothing that draws computes a place of its own.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

from uvrix.core.boards.model import Board, Core, Part, ProbePoint, Site, Vector
from uvrix.core.boards.photograph import Photograph, photographs_of
from uvrix.core.boards.views import ORIENTATIONS, Orientation, View, edges, view_of
from uvrix.core.boards.walk import CORNERS, places

Point = tuple[float, float]
# How far pin-1 dots lie from the chip's edges, and how large the mark is, as shares of the short side.
DOT_INSET = 0.16
MARK_SHARE = 0.22


@dataclass(frozen=True, slots=True)
class SiteShape:
    """A site as drawn: its four corners, the dot at pin 1, its place on the walk."""

    site: Site
    position: int | None
    channel: str | None
    corners: tuple[Point, ...]
    pin1: Point


@dataclass(frozen=True, slots=True)
class CoreShape:
    """The core's corners and the triangle of its mark."""

    core: Core
    corners: tuple[Point, ...]
    mark: tuple[Point, ...]


@dataclass(frozen=True, slots=True)
class Drawing:
    """Everything a board's drawing needs, in millimetres of the front view."""

    outline: tuple[Point, ...]
    core: CoreShape
    sites: tuple[SiteShape, ...]
    landmarks: tuple[tuple[str, str, tuple[Point, ...]], ...]
    points: tuple[tuple[ProbePoint, Point], ...]
    parts: tuple[tuple[Part, Point], ...]
    photographs: tuple[tuple[str, Photograph], ...]
    views: tuple[tuple[Orientation, View, dict[str, str]], ...]


def draw(board: Board) -> Drawing:
    """The drawing of a board, sites in walking order, with all eight views."""
    return Drawing(
        outline=tuple(_floats(point) for point in board.outline),
        core=_core_shape(board.core),
        sites=tuple(
            SiteShape(place.site, place.position, place.channel, corners_of(place.site), pin1_of(place.site))
            for place in places(board.core, board.walk, board.sites)
        ),
        landmarks=tuple((mark.kind, mark.text, _box(mark.centre, mark.size)) for mark in board.landmarks),
        points=tuple((point, _floats(point.centre)) for point in board.points if point.centre),
        parts=tuple((part, _floats(part.centre)) for part in board.parts if part.centre),
        photographs=photographs_of(board),
        views=tuple(
            (orientation, view_of(board, orientation), dict(edges(board, orientation))) for orientation in ORIENTATIONS
        ),
    )


def corners_of(site: Site) -> tuple[Point, ...]:
    """The four corners of a site, turned by its rotation as seen from its own side; the first is that of pin 1."""
    width, height = float(site.size[0]) / 2, float(site.size[1]) / 2
    return tuple(
        on_side(site, corner) for corner in ((-width, height), (width, height), (width, -height), (-width, -height))
    )


def pin1_of(site: Site) -> Point:
    """Where the pin-1 dot is drawn: top left at 0 degrees as seen from the site's own side."""
    width, height = float(site.size[0]), float(site.size[1])
    inset = DOT_INSET * min(width, height)
    return on_side(site, (inset - width / 2, height / 2 - inset))


def on_side(site: Site, offset: Point) -> Point:
    """A point of the unturned package, from its centre, as it lies on the board in the front view."""
    angle = math.radians(float(site.rotation_deg % 360))
    x = offset[0] * math.cos(angle) - offset[1] * math.sin(angle)
    y = offset[0] * math.sin(angle) + offset[1] * math.cos(angle)
    mirror = 1 if site.side == "front" else -1
    return float(site.centre[0]) + mirror * x, float(site.centre[1]) + y


def _core_shape(core: Core) -> CoreShape:
    across, up = CORNERS[core.mark_corner]
    side = MARK_SHARE * float(min(core.size))
    x = float(core.centre[0] + across * core.size[0] / 2)
    y = float(core.centre[1] + up * core.size[1] / 2)
    return CoreShape(core, _box(core.centre, core.size), ((x, y), (x - across * side, y), (x, y - up * side)))


def _box(centre: Vector, size: Vector) -> tuple[Point, ...]:
    x, y = centre
    half = Fraction(size[0]) / 2, Fraction(size[1]) / 2
    return tuple(
        _floats((x + across * half[0], y + up * half[1])) for across, up in ((-1, 1), (1, 1), (1, -1), (-1, -1))
    )


def _floats(point: Vector) -> Point:
    return float(point[0]), float(point[1])
