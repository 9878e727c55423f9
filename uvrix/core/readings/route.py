"""The order of probing: from outside first, one side after the other, by short ways (docs/trade §3.19)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

REACH = ("outside", "cooler-off", "microscope")
SIDES = ("front", "back")


@dataclass(frozen=True, slots=True)
class Stop:
    """A point of the route: how it is reached, its side and place in millimetres."""

    name: str
    reach: str
    side: str
    x_mm: float
    y_mm: float


@lru_cache(128)
def route(stops: tuple[Stop, ...]) -> tuple[str, ...]:
    """Names in the order of probing: by reach, then side, then by a short way.

    The way goes to the nearest next, and parts of it are turned round while that shortens it. What has an unknown reach
    counts as under the cooler.
    """
    found: list[str] = []
    at = (0.0, 0.0)
    for reach in REACH:
        for side in SIDES:
            group = [stop for stop in stops if stop.side == side and _reach(stop) == reach]
            way = _shorter(_nearest(group, at), at)
            found += [stop.name for stop in way]
            if way:
                at = (way[-1].x_mm, way[-1].y_mm)
    return tuple(found)


def _reach(stop: Stop) -> str:
    return stop.reach if stop.reach in REACH else "cooler-off"


def _nearest(stops: Sequence[Stop], at: tuple[float, float]) -> list[Stop]:
    left, way = list(stops), []
    while left:
        nearest = min(left, key=lambda stop: (math.dist(at, (stop.x_mm, stop.y_mm)), stop.name))
        left.remove(nearest)
        way.append(nearest)
        at = (nearest.x_mm, nearest.y_mm)
    return way


def _shorter(way: list[Stop], start: tuple[float, float]) -> list[Stop]:
    """Turn parts of the way round (two-opt) until none makes it shorter."""
    better = True
    while better:
        better = False
        for first in range(len(way) - 1):
            for last in range(first + 1, len(way)):
                turned = way[:first] + way[first : last + 1][::-1] + way[last + 1 :]
                if length(turned, start) < length(way, start) - 1e-9:
                    way, better = turned, True
    return way


def length(way: Sequence[Stop], start: tuple[float, float]) -> float:
    """Millimetres of a way from a start."""
    places = [start, *((stop.x_mm, stop.y_mm) for stop in way)]
    return sum(math.dist(one, other) for one, other in itertools.pairwise(places))
