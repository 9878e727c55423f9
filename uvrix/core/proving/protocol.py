"""The proof protocol: ordered checks, each with duration, limits and what counts as failing (docs/trade §7.1)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
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


@dataclass(frozen=True, slots=True)
class CheckKind:
    """A kind of check: its label, its figures by name with what each is called, those that it needs.

    `by_hand` where a person says it; the others follow from what was measured, dropped or logged.
    """

    kind: Kind
    label: str
    figures: Mapping[str, str] = field(default_factory=dict)
    needs: Mapping[str, str] = field(default_factory=dict)
    by_hand: bool = False


CHECK_KINDS: Mapping[Kind, CheckKind] = {
    kind.kind: kind
    for kind in (
        CheckKind("readings", "readings, cold"),
        CheckKind("current", "current on the supply"),
        CheckKind("ladder", "detection ladder"),
        CheckKind("link", "link width and speed", {"width": "lanes", "gt_per_s": "GT/s"}),
        CheckKind("identity", "identity and memory size", {"memory_mib": "MiB, else by the model"}),
        CheckKind("sensors", "sensors plausible"),
        CheckKind("clocks", "clocks under load"),
        CheckKind("memory", "memory test", needs={"condition": "cold or warm"}),
        CheckKind(
            "stress",
            "stress to steady temperature",
            {
                "minutes": "minutes under load",
                "rest_c": "°C still to come",
                "most_c": "at most, °C",
                "load_watts": "load from, W",
            },
            {"minutes": "minutes under load"},
        ),
        CheckKind("score", "score"),
        CheckKind("hand", "said by hand", {"minutes": "minutes"}, by_hand=True),
        CheckKind("cold-start", "cold start", {"hours": "hours off"}, {"hours": "hours off before it"}, by_hand=True),
    )
}
KINDS: tuple[Kind, ...] = tuple(CHECK_KINDS)
BY_HAND = frozenset(kind.kind for kind in CHECK_KINDS.values() if kind.by_hand)
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
    """One check; limits are None where the shop has set none. Of a check with `parts` each is said by itself."""

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
    parts: tuple[str, ...] = ()


USUAL: Sequence[Mapping[str, Any]] = (
    {"id": "readings", "kind": "readings", "name": "Readings, cold", "fails": "a reading outside its band"},
    {"id": "current", "kind": "current", "name": "Current on the supply", "fails": "a draw outside the model's own"},
    {"id": "ladder", "kind": "ladder", "name": "Detection ladder", "fails": "it does not come to 3D in a computer"},
    {"id": "identity", "kind": "identity", "name": "Identity and memory size", "fails": "another device, less memory"},
    {"id": "link", "kind": "link", "name": "Link width and speed", "fails": "fewer lanes, slower than it can, errors"},
    {"id": "sensors", "kind": "sensors", "name": "Sensors plausible",
     "fails": "a temperature or a power that cannot be"},
    {"id": "memory-cold", "kind": "memory", "condition": "cold", "name": "Memory, cold", "fails": "one error"},
    {"id": "stress", "kind": "stress", "minutes": 30, "name": "Stress to steady temperature",
     "fails": "it hangs, artefacts, errors counted, or does not become steady"},
    {"id": "clocks", "kind": "clocks", "name": "Clocks move under load",
     "fails": "a clock that stands still or sags with heat"},
    {"id": "memory-warm", "kind": "memory", "condition": "warm", "name": "Memory, warm", "fails": "one error"},
    {"id": "loads", "kind": "hand", "minutes": 60, "name": "Real loads", "fails": "artefacts in two programs or more"},
    {"id": "score", "kind": "score", "name": "Score", "fails": "a score below the model's usual"},
    {"id": "outputs", "kind": "hand", "name": "Each output", "fails": "an output without a picture"},
    {"id": "plugs", "kind": "hand", "name": "Plugs wiggled", "fails": "anything changes while a plug is moved"},
    {"id": "fans", "kind": "hand", "name": "Fans from every position", "fails": "a fan that stays still somewhere"},
    {"id": "cold-start", "kind": "cold-start", "hours": 8, "name": "Cold start next day", "fails": "it does not start"},
)  # fmt: skip
# Memory once more cold: only a run after a warm one counts (case.proof.measured_since).
AGAIN = "memory-cold-again"
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
        for name, wanted in CHECK_KINDS[one["kind"]].needs.items():
            if name not in one:
                raise Refusal(f"{path}.{name}", "none", wanted)
        limits = ("minutes", "hours", "most_c", "load_watts", "memory_mib", "width", "gt_per_s")
        figures: dict[str, Any] = {name: None if one.get(name) is None else float(one[name]) for name in limits}
        rest = float(one.get("rest_c", REST_C))
        found.append(
            Check(one["id"], one["kind"], one["name"], one["fails"], one.get("condition", ""), rest_c=rest, **figures)
        )
    return tuple(found)
