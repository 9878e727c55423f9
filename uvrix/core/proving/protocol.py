"""The proof protocol: ordered checks, each with its duration, its limits and what counts as failing (domain.md §7)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from uvrix.core.boards.schema import ABOVE_ZERO, NAME, SLUG, TEXT, Schema, list_of, object_of, words_of
from uvrix.core.errors import Refusal
from uvrix.core.proving.limits import REST_C
from uvrix.core.values.shape import check_shape

Kind = Literal[
    "readings",
    "current",
    "ladder",
    "link",
    "identity",
    "sensors",
    "clocks",
    "memory",
    "stress",
    "score",
    "hand",
    "cold-start",
]
KINDS: tuple[Kind, ...] = (
    *("readings", "current", "ladder", "link", "identity", "sensors", "clocks", "memory", "stress", "score", "hand"),
    "cold-start",
)
# Checks that a person says; the others follow from what was measured, dropped or logged.
BY_HAND = frozenset({"hand", "cold-start"})
PROTOCOL_SCHEMA: Schema = object_of(
    ["checks"],
    checks=list_of(
        object_of(
            ["id", "kind", "name", "fails"],
            id=SLUG,
            kind=words_of(*KINDS),
            name=NAME,
            fails={**TEXT, "minLength": 1, "maxLength": 200},
            condition=words_of("cold", "warm"),
            minutes=ABOVE_ZERO,
            hours=ABOVE_ZERO,
            rest_c=ABOVE_ZERO,
            most_c=ABOVE_ZERO,
            load_watts=ABOVE_ZERO,
            memory_mib=ABOVE_ZERO,
            width=ABOVE_ZERO,
            gt_per_s=ABOVE_ZERO,
        ),
        at_least=1,
    ),
)


@dataclass(frozen=True, slots=True)
class Check:
    """One check; limits are None where the shop has set none."""

    id: str
    kind: Kind
    name: str
    fails: str
    condition: str = ""
    minutes: float | None = None
    hours: float | None = None
    rest_c: float = REST_C
    most_c: float | None = None
    load_watts: float | None = None
    memory_mib: float | None = None
    width: float | None = None
    gt_per_s: float | None = None


USUAL: Sequence[Mapping[str, Any]] = (
    {"id": "readings", "kind": "readings", "name": "Readings, cold", "fails": "a reading outside its band"},
    {"id": "current", "kind": "current", "name": "Current on the supply", "fails": "a draw outside the model's own"},
    {"id": "ladder", "kind": "ladder", "name": "Detection ladder", "fails": "it does not come to 3D in a computer"},
    {"id": "identity", "kind": "identity", "name": "Identity and memory size", "fails": "another device, less memory"},
    {"id": "link", "kind": "link", "name": "Link width and speed", "fails": "fewer lanes, slower than it can, errors"},
    {"id": "sensors", "kind": "sensors", "name": "Sensors plausible", "fails": "a temperature that cannot be"},
    {"id": "memory-cold", "kind": "memory", "condition": "cold", "name": "Memory, cold", "fails": "one error"},
    {"id": "stress", "kind": "stress", "minutes": 30, "name": "Stress to steady temperature",
     "fails": "it hangs, artefacts, errors counted, or does not become steady"},
    {"id": "clocks", "kind": "clocks", "name": "Clocks move under load", "fails": "a clock that stands still"},
    {"id": "memory-warm", "kind": "memory", "condition": "warm", "name": "Memory, warm", "fails": "one error"},
    {"id": "loads", "kind": "hand", "minutes": 60, "name": "Real loads", "fails": "artefacts in two programs or more"},
    {"id": "score", "kind": "score", "name": "Score", "fails": "a score below the model's usual"},
    {"id": "outputs", "kind": "hand", "name": "Each output", "fails": "an output without a picture"},
    {"id": "plugs", "kind": "hand", "name": "Plugs wiggled", "fails": "anything changes while a plug is moved"},
    {"id": "fans", "kind": "hand", "name": "Fans from every position", "fails": "a fan that stays still somewhere"},
    {"id": "cold-start", "kind": "cold-start", "hours": 8, "name": "Cold start next day", "fails": "it does not start"},
)  # fmt: skip
EMPTY: dict[str, Any] = {"checks": [dict(one) for one in USUAL]}


def read_protocol(document: Any) -> tuple[Check, ...]:
    """A protocol. Raises Refusal naming the path: two checks of one id, a duration that its kind needs and lacks."""
    check_shape(document, PROTOCOL_SCHEMA)
    found, seen = [], set()
    for at, one in enumerate(document["checks"]):
        path = f"$.checks[{at}]"
        if one["id"] in seen:
            raise Refusal(f"{path}.id", f"{one['id']!r} twice", "an id of its own")
        seen.add(one["id"])
        if one["kind"] == "stress" and "minutes" not in one:
            raise Refusal(f"{path}.minutes", "none", "minutes under load")
        if one["kind"] == "cold-start" and "hours" not in one:
            raise Refusal(f"{path}.hours", "none", "hours off before it")
        if one["kind"] == "memory" and "condition" not in one:
            raise Refusal(f"{path}.condition", "none", "cold or warm")
        limits = ("minutes", "hours", "most_c", "load_watts", "memory_mib", "width", "gt_per_s")
        figures = {name: None if one.get(name) is None else float(one[name]) for name in limits}
        rest = float(one.get("rest_c", REST_C))
        found.append(
            Check(one["id"], one["kind"], one["name"], one["fails"], one.get("condition", ""), rest_c=rest, **figures)
        )
    return tuple(found)
