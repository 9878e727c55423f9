"""The walk: from a corner of the core, round it, place by place (docs/formats §1).

Directions are compared by cross products of exact fractions, never by rounded angles: a place a hair before the
starting corner is met last, and one exactly on it first.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cmp_to_key

from uvrix.core.boards.model import Core, Site, Vector, Walk
from uvrix.core.errors import Refusal, quoted
from uvrix.language import gettext

# Corners counterclockwise as seen on the front, as signs of (x, y) from the core's centre.
CORNERS = {"top-right": (1, 1), "top-left": (-1, 1), "bottom-left": (-1, -1), "bottom-right": (1, -1)}
NEXT = {"mark": 0, "mark+1": 1, "opposite-mark": 2, "mark-1": 3}


@dataclass(frozen=True, slots=True)
class Place:
    """A site met on the walk: `position` counts from 1; both are unknown where the model does not say."""

    site: Site
    position: int | None
    channel: str | None


def corner_direction(core: Core, start: str) -> Vector:
    """From the core's centre to the corner where the walk starts (its true direction, from the core's size)."""
    names = list(CORNERS)
    across, up = CORNERS[names[(names.index(core.mark_corner) + NEXT[start]) % 4]]
    return across * core.size[0] / 2, up * core.size[1] / 2


def walking_order(core: Core, walk: Walk, front: Sequence[Site]) -> list[Site]:
    """The front sites in the order in which the walk meets them.

    A site on the starting direction is met first; of two in one direction the nearer to the core.
    """
    start = corner_direction(core, walk.start)
    turn = 1 if walk.direction == "counterclockwise" else -1

    def seen_from_start(site: Site) -> Vector:
        x, y = site.centre[0] - core.centre[0], site.centre[1] - core.centre[1]
        return start[0] * x + start[1] * y, turn * (start[0] * y - start[1] * x)

    frames = {site.designator: seen_from_start(site) for site in front}

    def compare(one: Site, other: Site) -> int:
        return _compare_directions(frames[one.designator], frames[other.designator])

    return sorted(front, key=cmp_to_key(compare))


def _compare_directions(one: Vector, other: Vector) -> int:
    """Order of two vectors by their angle from the x axis in [0, 360), then by length."""
    halves = _half(one) - _half(other)
    if halves:
        return halves
    cross = one[0] * other[1] - one[1] * other[0]
    if cross:
        return -1 if cross > 0 else 1
    return _sign(_length2(one) - _length2(other))


def _half(vector: Vector) -> int:
    """0 for angles in [0, 180), 1 for [180, 360)."""
    x, y = vector
    return 0 if y > 0 or (y == 0 and x > 0) else 1


def _length2(vector: Vector) -> Fraction:
    return vector[0] * vector[0] + vector[1] * vector[1]


def _sign(number: Fraction) -> int:
    return (number > 0) - (number < 0)


def nearest(site: Site, among: Sequence[Site]) -> Site:
    """The one of `among` whose centre lies nearest; x and y are the same on both sides of a board."""
    x, y = site.centre
    return min(among, key=lambda other: _length2((other.centre[0] - x, other.centre[1] - y)))


def places(core: Core, walk: Walk | None, sites: Sequence[Site]) -> tuple[Place, ...]:
    """Every site with its position and channel: in walking order, a back site straight after its front twin.

    Without a walk the order is the file's and positions are unknown. Raises Refusal where a site's own channel
    contradicts the walk or its twin.
    """
    front = [site for site in sites if site.side == "front"]
    met = walking_order(core, walk, front) if walk else front
    index = {site.designator: number for number, site in enumerate(sites)}
    behind: dict[str, list[Site]] = {}
    for site in sites:
        if site.side == "back" and met:
            behind.setdefault(nearest(site, met).designator, []).append(site)
    found: list[Place] = []
    for number, site in enumerate(met):
        position = number + 1 if walk else None
        channel = walk.order[number] if walk else None
        group = [site, *behind.get(site.designator, [])]
        if channel is None:
            channel = next((candidate.channel for candidate in group if candidate.channel), None)
        for candidate in group:
            if candidate.channel and candidate.channel != channel:
                raise Refusal(
                    f"$.sites[{index[candidate.designator]}].channel",
                    gettext(
                        "{channel} at {designator}", channel=quoted(candidate.channel), designator=candidate.designator
                    ),
                    f"{quoted(channel)}, {_reason(position, site, candidate)}",
                )
            found.append(Place(candidate, position, channel))
    if not met:
        found = [Place(site, None, site.channel) for site in sites]
    return tuple(found)


def _reason(position: int | None, front: Site, site: Site) -> str:
    if position is None:
        return gettext("the channel of its front twin {designator}", designator=front.designator)
    return gettext("the channel of place {position} of the walk", position=position) + (
        gettext(", that of its front twin {designator}", designator=front.designator) if site is not front else ""
    )
