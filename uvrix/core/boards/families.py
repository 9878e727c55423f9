"""Core families: what every board with one core has in common (channels, walk, rails, usual start-up, memory).

A board names its family by the optional key `family`. The family's rails, start-up and memory serve where the board's
own file has none; its channel order is proposed for a new board and written into the board's file once it is taken.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from uvrix.core.boards.document import check_bands, check_startup
from uvrix.core.boards.model import Board, Core, Direction, Site, Start, Walk
from uvrix.core.boards.schema import MEMORY, NAME, NODE, RAIL, SLUG, TEXT, WALK, Schema, list_of, object_of
from uvrix.core.boards.walk import corner_direction, walking_order
from uvrix.core.errors import Refusal, quoted
from uvrix.core.values.shape import check_shape
from uvrix.core.values.text import parse_json
from uvrix.language import gettext

FAMILY_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix core family",
    "description": "What every board with one core has in common.",
    **object_of(
        ["format", "version", "id", "name", "channels"],
        format={"const": "uvrix-family"},
        version={"const": 1},
        id=SLUG,
        name=NAME,
        note=TEXT,
        channels=list_of(NAME, 1),
        walk=WALK,
        rails=list_of(RAIL),
        startup=object_of(["nodes"], nodes=list_of(NODE)),
        memory=MEMORY,
    ),
}
INHERITED = ("rails", "startup", "memory")
# A place is taken for the relative's place that lies in the same direction from the core, within this many degrees.
ALIKE_DEG = 20.0


@dataclass(frozen=True)
class Family:
    """A core family; `channels` in the order of the tester's report."""

    id: str
    name: str
    channels: tuple[str, ...]
    document: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Proposal:
    """A walk proposed for a board: channels, None where nothing says which, and where each comes from."""

    start: Start
    direction: Direction
    order: tuple[str | None, ...]
    why: str


def read_family(data: bytes) -> Family:
    """The family in a file's bytes; raises Refusal naming the JSON path."""
    document = parse_json(data)
    check_shape(document, FAMILY_SCHEMA)
    channels = tuple(document["channels"])
    for number, name in enumerate(channels):
        if name in channels[:number]:
            raise Refusal(
                f"$.channels[{number}]", gettext("{name} again", name=quoted(name)), gettext("each channel once")
            )
    for number, name in enumerate(document.get("walk", {}).get("order", ())):
        if name is not None and name not in channels:
            raise Refusal(
                f"$.walk.order[{number}]", quoted(name), gettext("one of {channels}", channels=", ".join(channels))
            )
    check_startup(document.get("startup", {}).get("nodes", ()))
    check_bands(document.get("startup", {}).get("nodes", ()))
    return Family(document["id"], document["name"], channels, document)


def family_from(document: Mapping[str, Any], slug: str, name: str) -> dict[str, Any]:
    """A family's document from the first board with its core: its walk, rails, start-up, memory; channels by name.

    Raises Refusal where the board knows no channel yet, or the name is none.
    """
    order = document.get("walk", {}).get("order", ())
    known = {str(entry) for entry in order if entry} | {
        str(site["channel"]) for site in document.get("sites", ()) if site.get("channel")
    }
    if not known:
        raise Refusal(
            "walk.order",
            gettext("no channel known yet"),
            gettext("a board whose channels are known, to make a family from"),
        )
    kept = {key: document[key] for key in ("walk", *INHERITED) if document.get(key)}
    channels = sorted(known, key=lambda word: (word.rstrip("0123456789"), len(word), word))
    made = {"format": "uvrix-family", "version": 1, "id": slug, "name": name, "channels": channels, **kept}
    check_shape(made, FAMILY_SCHEMA)
    return made


def inherited(document: Mapping[str, Any], family: Family | None) -> tuple[dict[str, Any], tuple[str, ...]]:
    """A board's document with its family's rails, start-up and memory where it has none, and which those are."""
    lacking = tuple(key for key in INHERITED if family and key in family.document and not document.get(key))
    if family is None or not lacking:
        return dict(document), ()
    return {**document, **{key: family.document[key] for key in lacking}}, lacking


def propose(core: Core, front: Sequence[Site], family: Family, relatives: Sequence[Board]) -> Proposal:
    """The walk to propose for a new board of a family, from its relatives (best first) and the family's own order.

    A relative with as many places lends its order; one with another number lends the channels of places that lie in
    the same direction from the core; the family's own order serves where it has as many places. Where others would
    have put a channel elsewhere, `why` names them: one of them is wrong, or this board does not follow all of them.
    """
    offers = list(_offers(core, front, family, relatives))
    if not offers:
        own = family.document.get("walk")
        start: Start = own["start"] if own else "mark"
        direction: Direction = own["direction"] if own else "clockwise"
        many = gettext(
            "{number} places and the family {name} says nothing of that many", number=len(front), name=family.name
        )
        why = gettext("nothing yet: this board has {many}", many=many)
        return Proposal(start, direction, (None,) * len(front), why)
    chosen = offers[0].proposal
    channels = _channels(core, front, chosen)
    others = [offer.name for offer in offers[1:] if _contradicts(channels, _channels(core, front, offer.proposal))]
    if not others:
        return chosen
    why = gettext(
        "{why}. {names} would place channels otherwise: check one that you know before you trust it",
        why=chosen.why,
        names=", ".join(others),
    )
    return replace(chosen, why=why)


@dataclass(frozen=True, slots=True)
class _Offer:
    """A walk that a relative or the family offers, and by what name."""

    proposal: Proposal
    name: str


def _offers(core: Core, front: Sequence[Site], family: Family, relatives: Sequence[Board]) -> Iterator[_Offer]:
    """Every walk that may serve, best first."""
    known = [(board, board.walk) for board in relatives if board.walk and any(board.walk.order)]
    for board, walk in known:
        if _places(board) == len(front):
            why = gettext("the order of {name}, which has as many places", name=board.name)
            yield _Offer(Proposal(walk.start, walk.direction, walk.order, why), board.name)
    own = family.document.get("walk")
    if own and len(own["order"]) == len(front):
        why = gettext("the usual order of the family {name}", name=family.name)
        yield _Offer(Proposal(own["start"], own["direction"], tuple(own["order"]), why), family.name)
    for board, walk in known:
        order = _by_direction(core, front, board) if _places(board) != len(front) else ()
        if any(order):
            why = gettext("places that lie in the same direction from the core as those of {name}", name=board.name)
            yield _Offer(Proposal(walk.start, walk.direction, order, why), board.name)


def _channels(core: Core, front: Sequence[Site], proposal: Proposal) -> dict[str, str | None]:
    """The channel of each place by its designator, as a proposal has it."""
    met = _walked(core, front, proposal.start, proposal.direction)
    return {site.designator: channel for site, channel in zip(met, proposal.order, strict=True)}


def _contradicts(one: Mapping[str, str | None], other: Mapping[str, str | None]) -> bool:
    """Whether two put different channels at one place, or one channel at two."""
    elsewhere: dict[str, set[str]] = {}
    for name, channel in other.items():
        if channel:
            elsewhere.setdefault(channel, set()).add(name)
    return any(
        other[name] not in (None, channel) or name not in elsewhere.get(channel, {name})
        for name, channel in one.items()
        if channel
    )


def _places(board: Board) -> int:
    return sum(site.side == "front" for site in board.sites)


def _angle(core: Core, start: Start, site: Site) -> float:
    """Degrees counterclockwise from the starting corner to a site, 0 to 360."""
    corner = corner_direction(core, start)
    here = site.centre[0] - core.centre[0], site.centre[1] - core.centre[1]
    turned = math.atan2(float(here[1]), float(here[0])) - math.atan2(float(corner[1]), float(corner[0]))
    return math.degrees(turned) % 360


def _apart(one: float, other: float) -> float:
    return abs((one - other + 180) % 360 - 180)


def _by_direction(core: Core, front: Sequence[Site], relative: Board) -> tuple[str | None, ...]:
    """Channels of the relative's places that are nearest in direction, each the other's nearest."""
    walk = relative.walk
    assert walk is not None
    theirs = walking_order(relative.core, walk, [site for site in relative.sites if site.side == "front"])
    angles = [_angle(relative.core, walk.start, site) for site in theirs]
    own = [_angle(core, walk.start, site) for site in _walked(core, front, walk.start, walk.direction)]
    order: list[str | None] = []
    for angle in own:
        best = min(range(len(angles)), key=lambda n: _apart(angles[n], angle))
        back = min(own, key=lambda mine: _apart(mine, angles[best]))
        fits = back == angle and _apart(angles[best], angle) <= ALIKE_DEG
        order.append(walk.order[best] if fits else None)
    return tuple(order)


def _walked(core: Core, front: Sequence[Site], start: Start, direction: Direction) -> list[Site]:
    return walking_order(core, Walk(start, direction, (None,) * len(front)), front)
