"""The proof protocol: ordered checks, each with duration, limits and what counts as failing (docs/trade §7.1)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from uvrix.core.boards.schema import ABOVE_ZERO, NAME, SLUG, TEXT, Schema, list_of, object_of, words_of
from uvrix.core.errors import Refusal
from uvrix.core.proving.limits import REST_C
from uvrix.core.values.shape import check_shape
from uvrix.language import gettext

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
        CheckKind("readings", gettext("readings, cold")),
        CheckKind("current", gettext("current on the supply")),
        CheckKind("ladder", gettext("detection ladder")),
        CheckKind("link", gettext("link width and speed"), {"width": gettext("lanes"), "gt_per_s": "GT/s"}),
        CheckKind("identity", gettext("identity and memory size"), {"memory_mib": gettext("MiB, else by the model")}),
        CheckKind("sensors", gettext("sensors plausible")),
        CheckKind("clocks", gettext("clocks under load")),
        CheckKind("memory", gettext("memory test"), needs={"condition": gettext("cold or warm")}),
        CheckKind(
            "stress",
            gettext("stress to steady temperature"),
            {
                "minutes": gettext("minutes under load"),
                "rest_c": gettext("°C still to come"),
                "most_c": gettext("at most, °C"),
                "load_watts": gettext("load from, W"),
            },
            {"minutes": gettext("minutes under load")},
        ),
        CheckKind("score", gettext("score")),
        CheckKind("hand", gettext("said by hand"), {"minutes": gettext("minutes")}, by_hand=True),
        CheckKind(
            "cold-start",
            gettext("cold start"),
            {"hours": gettext("hours off")},
            {"hours": gettext("hours off before it")},
            by_hand=True,
        ),
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
    {"id": "readings", "kind": "readings", "name": gettext("Readings, cold"),
     "fails": gettext("a reading outside its band")},
    {"id": "current", "kind": "current", "name": gettext("Current on the supply"),
     "fails": gettext("a draw outside the model's own")},
    {"id": "ladder", "kind": "ladder", "name": gettext("Detection ladder"),
     "fails": gettext("it does not come to 3D in a computer")},
    {"id": "identity", "kind": "identity", "name": gettext("Identity and memory size"),
     "fails": gettext("another device, less memory")},
    {"id": "link", "kind": "link", "name": gettext("Link width and speed"),
     "fails": gettext("fewer lanes, slower than it can, errors")},
    {"id": "sensors", "kind": "sensors", "name": gettext("Sensors plausible"),
     "fails": gettext("a temperature or a power that cannot be")},
    {"id": "memory-cold", "kind": "memory", "condition": "cold", "name": gettext("Memory, cold"),
     "fails": gettext("one error")},
    {"id": "stress", "kind": "stress", "minutes": 30, "name": gettext("Stress to steady temperature"),
     "fails": gettext("it hangs, artefacts, errors counted, or does not become steady")},
    {"id": "clocks", "kind": "clocks", "name": gettext("Clocks move under load"),
     "fails": gettext("a clock that is stuck or sags with heat")},
    {"id": "memory-warm", "kind": "memory", "condition": "warm", "name": gettext("Memory, warm"),
     "fails": gettext("one error")},
    {"id": "loads", "kind": "hand", "minutes": 60, "name": gettext("Real loads"),
     "fails": gettext("artefacts in two programs or more")},
    {"id": "score", "kind": "score", "name": gettext("Score"), "fails": gettext("a score below the model's usual")},
    {"id": "outputs", "kind": "hand", "name": gettext("Each output"), "fails": gettext("an output without a picture")},
    {"id": "plugs", "kind": "hand", "name": gettext("Plugs wiggled"),
     "fails": gettext("anything changes while a plug is moved")},
    {"id": "fans", "kind": "hand", "name": gettext("Fans from every position"),
     "fails": gettext("a fan that stays still somewhere")},
    {"id": "cold-start", "kind": "cold-start", "hours": 8, "name": gettext("Cold start next day"),
     "fails": gettext("it does not start")},
)  # fmt: skip
# Memory once more cold: only a run after a warm one counts (case.proof.measured_since).
AGAIN = "memory-cold-again"
EMPTY: dict[str, Any] = {"checks": [dict(entry) for entry in USUAL]}


def read_protocol(document: Any) -> tuple[Check, ...]:
    """A protocol. Raises Refusal naming the path: two checks of one id, a duration that its kind needs and lacks."""
    check_shape(document, PROTOCOL_SCHEMA)
    found, seen = [], set()
    for at, check in enumerate(document["checks"]):
        path = f"$.checks[{at}]"
        if check["id"] in seen:
            raise Refusal(f"{path}.id", gettext("{id} twice", id=repr(check["id"])), gettext("an id of its own"))
        seen.add(check["id"])
        for name, wanted in CHECK_KINDS[check["kind"]].needs.items():
            if name not in check:
                raise Refusal(f"{path}.{name}", "none", wanted)
        limits = ("minutes", "hours", "most_c", "load_watts", "memory_mib", "width", "gt_per_s")
        figures: dict[str, Any] = {name: None if check.get(name) is None else float(check[name]) for name in limits}
        rest = float(check.get("rest_c", REST_C))
        found.append(
            Check(
                check["id"],
                check["kind"],
                check["name"],
                check["fails"],
                check.get("condition", ""),
                rest_c=rest,
                **figures,
            )
        )
    return tuple(found)
