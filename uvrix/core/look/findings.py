"""What is seen before any meter: kinds of findings, and which neighbours a knocked-off part makes suspect."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from uvrix.core.boards.model import Board, Side, Vector
from uvrix.language import gettext

# Kinds of what is seen (docs/trade §2.2), in the order of the eye, with their words.
KINDS: Mapping[str, str] = {
    "missing-part": gettext("Missing part"),
    "crooked-part": gettext("Crooked or cracked part"),
    "burn": gettext("Burn mark"),
    "package": gettext("Bubbled or leaking package"),
    "corrosion": gettext("Corrosion"),
    "corner-bond": gettext("Cracked corner bond of the core"),
    "joint": gettext("Dull solder, cracked joint"),
    "bent": gettext("Bent board"),
    "contact": gettext("Torn contact"),
    "split-layers": gettext("Split board layers"),
    "plug": gettext("Discoloured or half-seated plug"),
    "socket": gettext("Damaged socket"),
    "opened-before": gettext("Foreign solder, worn screw: somebody was here"),
    "screws": gettext("Uneven screw tightness"),
    "cooler": gettext("Broken cooler weld, missing heatsink"),
    "pads": gettext("Stacked pads, dried paste"),
    "fan": gettext("Fan slow, or not starting from some position"),
    "loose": gettext("Loose piece"),
    "dirt": gettext("Fibres and dirt"),
    "other": gettext("Something else"),
}
# What is broken where it is seen: to be set right before the card leaves. A part that is missing is owed by itself.
BROKEN = frozenset({"crooked-part", "fan", "cooler", "socket", "pads"})
# A part that was knocked off was hit together with what stands beside it.
KNOCKED = frozenset({"missing-part", "crooked-part"})
# What lies nearer is the place itself; a part is meant by a click within its own length.
REACH_MM, AT_MM, PART_REACH_MM = 8.0, 1.2, 2.5
MOST_NEIGHBOURS = 6
# What is seen so near to a chip's edge is the chip's.
MARGIN_MM = 1.0


@dataclass(frozen=True, slots=True)
class Neighbour:
    """Something near a place, and how far off in millimetres between middles."""

    designator: str
    kind: str
    mm: float


def neighbours(board: Board, side: Side, x_mm: float, y_mm: float) -> tuple[Neighbour, ...]:
    """Parts and chips on that side within reach of a place, nearest first, without what lies at the place itself."""
    found = []
    for designator, kind, on, centre in [
        *((part.designator, part.kind, part.side, part.centre) for part in board.parts),
        *((site.designator, "memory", site.side, site.centre) for site in board.sites if site.fitted),
    ]:
        if on != side or centre is None:
            continue
        far = math.hypot(float(centre[0]) - x_mm, float(centre[1]) - y_mm)
        if AT_MM < far <= REACH_MM:
            found.append(Neighbour(designator, kind, round(far, 1)))
    return tuple(sorted(found, key=lambda neighbour: neighbour.mm)[:MOST_NEIGHBOURS])


def part_at(board: Board, side: Side, x_mm: float, y_mm: float) -> str | None:
    """What the model has at a place: the nearest part within its own length, else the chip, core, plug or socket there.

    None where there is none of them. A cracked joint or bond is seen at a chip's edge, so its margin counts for it.
    """
    near = [
        (math.hypot(float(part.centre[0]) - x_mm, float(part.centre[1]) - y_mm), part.designator)
        for part in board.parts
        if part.side == side and part.centre is not None
    ]
    far, designator = min(near, default=(math.inf, ""))
    if far <= PART_REACH_MM:
        return designator
    plugs: list[tuple[Side, str, Vector, Vector, float]] = [
        ("front", mark.text, mark.centre, mark.size, 0.0) for mark in board.connectors
    ]
    whole = board.core
    core: list[tuple[Side, str, Vector, Vector, float]] = [("front", whole.designator, whole.centre, whole.size, 0.0)]
    sites = [
        (site.side, site.designator, site.centre, site.size, float(site.rotation_deg))
        for site in board.sites
        if site.fitted
    ]
    distances = [
        (_outside((x_mm, y_mm), centre, size, -turn if on == "back" else turn), name)
        for on, name, centre, size, turn in (*sites, *core, *plugs)
        if on == side
    ]
    outside, name = min(distances, default=(math.inf, ""))
    return name if outside <= MARGIN_MM else None


def _outside(spot: tuple[float, float], centre: Vector, size: Vector, turn_deg: float) -> float:
    """How far a place lies outside a rectangle, millimetres; 0 within it."""
    across, up = spot[0] - float(centre[0]), spot[1] - float(centre[1])
    turn = math.radians(-turn_deg)
    along = across * math.cos(turn) - up * math.sin(turn)
    beside = across * math.sin(turn) + up * math.cos(turn)
    return math.hypot(max(0.0, abs(along) - float(size[0]) / 2), max(0.0, abs(beside) - float(size[1]) / 2))
