"""What stands near a place that is heated: millimetres from edge to edge, on its side and behind it; what to shield."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from uvrix.core.boards.drawing import corners_of
from uvrix.core.boards.model import Board, Landmark
from uvrix.core.rework.limits import CHIP_CYCLES, HOT_PLACE_MM, NEAR_MM, SHIELD_MM, SITE_CYCLES
from uvrix.language import gettext

Point = tuple[float, float]
Polygon = tuple[Point, ...]
# Parts of which the heat of a neighbour makes a new fault; others bear it.
TENDER = frozenset({"connector", "crystal", "memory", "core"})
# A point so near to a plug is one of its pins.
AT_PLUG_MM = 3.0


@dataclass(frozen=True, slots=True)
class Neighbour:
    """Something near a heated place; `behind` on the other side of the board, `cycles` and `warmed` so far."""

    designator: str
    kind: str
    side: str
    behind: bool
    away_mm: float
    cycles: int
    warmed: int
    shield: bool
    why: str


def footprint(board: Board, designator: str) -> tuple[str, Polygon] | None:
    """The side and corners of a site, part, plug, socket or the core; None where unknown.

    A part without a size is its centre, and so is a point that is a part; a point at a plug is the plug.
    """
    if designator == board.core.designator:
        x, y = (float(coordinate) for coordinate in board.core.centre)
        w, h = (float(number) / 2 for number in board.core.size)
        return "front", ((x - w, y - h), (x + w, y - h), (x + w, y + h), (x - w, y + h))
    site = board.by_designator.get(designator)
    if site:
        return site.side, tuple((float(x), float(y)) for x, y in corners_of(site))
    part = next((candidate for candidate in board.parts if candidate.designator == designator), None)
    if part and part.centre:
        return part.side, ((float(part.centre[0]), float(part.centre[1])),)
    connector = next((mark for mark in board.connectors if mark.text == designator), None)
    return ("front", box_of(connector)) if connector else _of_point(board, designator)


def _of_point(board: Board, name: str) -> tuple[str, Polygon] | None:
    """Where a point that is a part lies: a fuse, a coil; one at a plug is the plug."""
    point = next((probe_point for probe_point in board.points if probe_point.id == name), None)
    if point is None or point.centre is None:
        return None
    spot = (float(point.centre[0]), float(point.centre[1]))
    plugs = (box_of(mark) for mark in board.connectors if mark.kind == "power-plug")
    plug = min(plugs, key=lambda box: apart(box, (spot,)), default=None) if point.kind == "plug" else None
    if plug and apart(plug, (spot,)) <= AT_PLUG_MM:
        return "front", plug
    return point.side, (spot,)


def box_of(mark: Landmark) -> Polygon:
    """The outline of a landmark."""
    x, y = (float(coordinate) for coordinate in mark.centre)
    w, h = (float(number) / 2 for number in mark.size)
    return ((x - w, y - h), (x + w, y - h), (x + w, y + h), (x - w, y + h))


def apart(one: Polygon, other: Polygon) -> float:
    """Millimetres between two convex outlines from edge to edge, 0 where they overlap."""
    if _overlap(one, other):
        return 0.0
    return min(
        *(_to_edge(point, edge) for point in one for edge in _edges(other)),
        *(_to_edge(point, edge) for point in other for edge in _edges(one)),
    )


def _edges(polygon: Polygon) -> list[tuple[Point, Point]]:
    return list(zip(polygon, (*polygon[1:], polygon[0]), strict=True))


def _to_edge(point: Point, edge: tuple[Point, Point]) -> float:
    (ax, ay), (bx, by) = edge
    length = (bx - ax) ** 2 + (by - ay) ** 2
    along = 0.0 if length == 0 else ((point[0] - ax) * (bx - ax) + (point[1] - ay) * (by - ay)) / length
    along = min(1.0, max(0.0, along))
    return math.dist(point, (ax + along * (bx - ax), ay + along * (by - ay)))


def _overlap(one: Polygon, other: Polygon) -> bool:
    """By separating axes: two convex outlines are apart where some edge of either has all of the other outside."""
    for polygon in (one, other):
        for (ax, ay), (bx, by) in _edges(polygon):
            normal = (by - ay, ax - bx)
            if normal == (0, 0):
                continue
            spans = [
                (min(dots), max(dots))
                for dots in ([x * normal[0] + y * normal[1] for x, y in each] for each in (one, other))
            ]
            if spans[0][1] <= spans[1][0] or spans[1][1] <= spans[0][0]:
                return False
    return len(one) > 2 or len(other) > 2


@dataclass(frozen=True, slots=True)
class Limits:
    """What the shop allows: how near counts, from where on it shields, cycles of a site and of a chip."""

    near_mm: float = NEAR_MM
    shield_mm: float = SHIELD_MM
    site_cycles: int = SITE_CYCLES
    chip_cycles: int = CHIP_CYCLES


def neighbours(
    board: Board,
    designator: str,
    limits: Limits,
    cycles: Mapping[str, int],
    warmed: Mapping[str, int],
) -> tuple[Neighbour, ...]:
    """What is within the shop's distance, this side first, nearest first; none where the place is unknown."""
    here = footprint(board, designator)
    if here is None:
        return ()
    kinds = {
        **{site.designator: "memory" for site in board.sites if site.fitted},
        **{part.designator: part.kind for part in board.parts},
        board.core.designator: gettext("core"),
        **{mark.text: "connector" for mark in board.connectors},
    }
    found = []
    for name, kind in kinds.items():
        there = footprint(board, name)
        if name == designator or there is None:
            continue
        away = apart(here[1], there[1])
        if away > limits.near_mm:
            continue
        behind = there[0] != here[0]
        many, warm = cycles.get(name, 0), warmed.get(name, 0)
        tender = kind in TENDER
        worn = many + warm >= limits.site_cycles - 1 and tender
        shield = not behind and tender and (away <= limits.shield_mm or worn)
        found.append(
            Neighbour(name, kind, there[0], behind, away, many, warm, shield, _why(away, shield, worn, behind))
        )
    return tuple(sorted(found, key=lambda neighbour: (neighbour.behind, neighbour.away_mm, neighbour.designator)))


def _why(away: float, shield: bool, worn: bool, behind: bool) -> str:
    if shield and worn:
        return gettext("{away} mm away and near its last cycle: shield it.", away=f"{away:.1f}")
    if shield:
        return gettext("{away} mm away: shield it.", away=f"{away:.1f}")
    if behind:
        return gettext(
            "{away} mm away on the other side: held by its joints only, heat no longer than needed.", away=f"{away:.1f}"
        )
    return gettext("{away} mm away.", away=f"{away:.1f}")


def hot_places(board: Board, within_mm: float = HOT_PLACE_MM) -> frozenset[str]:
    """Places that run hot: what stands by a power plug (docs/trade §6.3 wants lead-free there)."""
    plugs = [mark for mark in board.landmarks if mark.kind == "power-plug"]
    names = [site.designator for site in board.sites] + [part.designator for part in board.parts]
    names += [mark.text for mark in board.connectors] + [point.id for point in board.points]
    found = set()
    for name in names:
        there = footprint(board, name)
        if there and any(apart(there[1], box_of(plug)) <= within_mm for plug in plugs):
            found.add(name)
    return frozenset(found)


def alloy_warnings(off: str, on: str, *, hot: bool, low_melt: bool) -> tuple[str, ...]:
    """What mixing means, and where leaded solder does not belong (docs/trade §6.3)."""
    said = []
    if off == "lead-free" and on == "leaded":
        said.append(gettext("Leaded onto lead-free: the joint melts between the two, from 183 °C on."))
    if off == "leaded" and on == "lead-free":
        said.append(gettext("Lead-free onto leaded rests: clean the pads first, the joint melts lower than it looks."))
    if on == "leaded" and hot:
        said.append(gettext("This place runs hot, by the power plug: lead-free belongs here."))
    if low_melt and on == "leaded":
        said.append(
            gettext("Low-melt alloy is on this place: leaded solder over it melts below 100 °C. Flush it first.")
        )
    if on == "low-melt":
        said.append(gettext("Low-melt alloy is for lifting: nothing stays joined by it."))
    return tuple(said)
