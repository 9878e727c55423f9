"""The teardown recipe of a board model: only what must come off, in that order (docs/trade §2.4).

A step with a count is a group of equal things, screws mostly, counted when they come out and again when they go in.
Core-cooler screws go in crosswise, a little at a time, so that the cooler never tilts on the core's edge.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from uvrix.core.boards.schema import NUMBER, SLUG, TEXT, Schema, list_of, object_of
from uvrix.core.errors import Refusal, quoted
from uvrix.core.values.shape import check_shape
from uvrix.language import gettext

# Kinds of steps with their words.
KINDS: Mapping[str, str] = {
    "screws": gettext("Screws"),
    "lead": gettext("Plugged lead"),
    "soldered-wire": gettext("Soldered wire, labelled"),
    "clip": gettext("Clip or spring"),
    "cover": gettext("Cover or shroud"),
    "backplate": gettext("Backplate"),
    "cooler": gettext("Cooler"),
    "other": gettext("Something else"),
}
MOST_STEPS, MOST_COUNT, LEAST_CROSSWISE = 60, 99, 3
PLACE: Schema = {"type": "array", "items": NUMBER, "minItems": 2, "maxItems": 2}
TEARDOWN_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix teardown recipe",
    "description": "What comes off a board model before it is probed, in that order.",
    **object_of(
        ["steps"],
        steps={
            **list_of(
                object_of(
                    ["id", "kind", "what"],
                    id=SLUG,
                    kind={"enum": list(KINDS)},
                    what={"type": "string", "minLength": 1, "maxLength": 120},
                    count={"type": "integer", "minimum": 1, "maximum": MOST_COUNT},
                    side={"enum": ["front", "back"]},
                    places_mm=list_of(PLACE),
                    crosswise={"type": "boolean"},
                    hidden={"type": "boolean"},
                    note=TEXT,
                )
            ),
            "maxItems": MOST_STEPS,
        },
    ),
}


@dataclass(frozen=True, slots=True)
class Step:
    """One step: `count` equal things at `places` (millimetres of the front view; empty where nobody noted them)."""

    id: str
    kind: str
    what: str
    count: int = 1
    side: str = "front"
    places: tuple[tuple[float, float], ...] = ()
    crosswise: bool = False
    hidden: bool = False
    note: str = ""

    @property
    def order(self) -> tuple[int, ...]:
        """In which order its places are tightened, as indices; as they are noted where they go in anyhow."""
        return crosswise(self.places) if self.crosswise else tuple(range(len(self.places)))


def read_teardown(document: Any) -> tuple[Step, ...]:
    """The steps of a recipe's document.

    Raises Refusal naming the JSON path: what does not fit the schema, a step's id twice, places that are not as many
    as the count, a crosswise group of which not every place is known.
    """
    check_shape(document, TEARDOWN_SCHEMA)
    steps: list[Step] = []
    for number, entry in enumerate(document["steps"]):
        at = f"$.steps[{number}]"
        if entry["id"] in {step.id for step in steps}:
            raise Refusal(
                f"{at}.id", gettext("{quoted} again", quoted=quoted(entry["id"])), gettext("each step's id once")
            )
        places = tuple((float(x), float(y)) for x, y in entry.get("places_mm", ()))
        count = entry.get("count", max(1, len(places)))
        if places and len(places) != count:
            raise Refusal(
                f"{at}.places_mm",
                gettext("{number} places", number=len(places)),
                gettext("{number}, one for each of the count", number=count),
            )
        if entry.get("crosswise") and len(places) < LEAST_CROSSWISE:
            raise Refusal(
                f"{at}.places_mm",
                gettext("{number} places", number=len(places)),
                gettext("every place of a group that is tightened crosswise"),
            )
        steps.append(
            Step(
                entry["id"],
                entry["kind"],
                entry["what"],
                count,
                entry.get("side", "front"),
                places,
                bool(entry.get("crosswise")),
                bool(entry.get("hidden")),
                entry.get("note", ""),
            )
        )
    return tuple(steps)


def crosswise(places: Sequence[tuple[float, float]]) -> tuple[int, ...]:
    """The order in which screws are tightened so that each pair lies across: indices into `places`.

    Begins at the uppermost (the leftmost of several); then the one most nearly opposite, seen from the middle of all;
    then the one farthest from every axis already tightened, its opposite, and so on.
    """
    if not places:
        return ()
    middle_x = sum(x for x, _ in places) / len(places)
    middle_y = sum(y for _, y in places) / len(places)
    angle = [math.atan2(y - middle_y, x - middle_x) for x, y in places]
    left = set(range(len(places)))
    order: list[int] = []

    def take(index: int) -> int:
        left.remove(index)
        order.append(index)
        return index

    while left:
        if order:
            first = max(
                left,
                key=lambda number: (round(min(_between_axes(angle[number], angle[far]) for far in order), 9), -number),
            )
        else:
            first = min(left, key=lambda number: (-places[number][1], places[number][0], number))
        first = take(first)
        if left:
            take(min(left, key=lambda number: (round(_between(angle[number], angle[first] + math.pi), 9), number)))
    return tuple(order)


def _between(one: float, other: float) -> float:
    """The angle between two directions, 0 to pi."""
    apart = (one - other) % (2 * math.pi)
    return min(apart, 2 * math.pi - apart)


def _between_axes(one: float, other: float) -> float:
    """The angle between two axes, 0 to pi / 2."""
    apart = _between(one, other)
    return min(apart, math.pi - apart)
