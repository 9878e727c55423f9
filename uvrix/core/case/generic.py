"""What every card has in common, for a board that nobody has drawn: a bench plan, and what is wrong on any board.

Only orders of magnitude are said, never a band of good cards. An input is short, or too low to be powered, by the guard
that holds on every board; another rail an order of magnitude under the least that is usual is low, two orders short.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from fnmatch import fnmatchcase
from functools import cached_property, lru_cache
from typing import Any, Literal

from uvrix.core.boards.schema import NAME, SLUG, TEXT, Schema, list_of, object_of, words_of
from uvrix.core.case.usual_plan import USUAL
from uvrix.core.errors import Refusal, quoted
from uvrix.core.readings.limits import LEAST_INPUT_OHMS
from uvrix.core.readings.notation import shown
from uvrix.core.readings.reading_file import Reading
from uvrix.core.readings.verdict import Judged
from uvrix.core.startup.chain import Chain, Node
from uvrix.core.values.shape import check_shape
from uvrix.language import gettext

Kind = Literal["input", "rail", "signal", "clock"]
# Under this an input is short whatever the board; between it and the guard it is low.
SHORT_INPUT_OHMS = 10.0
# This many times under the least that is usual a rail is low, and this many times short.
LOW_TIMES, SHORT_TIMES = 10.0, 100.0
# Minutes to find a node on a board that nobody has drawn, beside reading it.
FIND_MINUTES = 3.0
SPAN: Schema = {"type": "array", "items": {"type": "number", "exclusiveMinimum": 0}, "minItems": 2, "maxItems": 2}
WORDS: Schema = {**TEXT, "maxLength": 300}
PLAN_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix bench plan",
    "description": "What the cards of a class have in common, for a board that nobody has drawn.",
    **object_of(
        ["format", "version", "id", "name", "nodes"],
        format={"const": "uvrix-plan"},
        version={"const": 1},
        id=SLUG,
        name=NAME,
        nodes=list_of(
            object_of(
                ["id", "name", "kind", "names"],
                id=NAME,
                name=NAME,
                kind=words_of("input", "rail", "signal", "clock"),
                always={"type": "boolean"},
                needs=list_of(NAME),
                volts=SPAN,
                mhz=SPAN,
                ohms=SPAN,
                names=list_of(NAME, at_least=1),
                where=WORDS,
                lowered_by=WORDS,
                wrong=WORDS,
                leads=WORDS,
            ),
            at_least=1,
        ),
    ),
}


@dataclass(frozen=True, slots=True)
class GenericNode:
    """A supply, signal or clock of a class of cards; `always`: every card has it.

    `volts`, `mhz` and `ohms` (to ground, cold) are what is usual from least to most, None where nothing is said.
    `names` are what it is called, `*` standing for anything.
    """

    id: str
    name: str
    kind: Kind
    always: bool
    needs: tuple[str, ...]
    volts: tuple[float, float] | None
    mhz: tuple[float, float] | None
    ohms: tuple[float, float] | None
    names: tuple[str, ...]
    where: str = ""
    lowered_by: str = ""
    wrong: str = ""
    leads: str = ""

    def means(self, name: str) -> bool:
        """Whether a point's name means this node."""
        plain = _plain(name)
        return plain == _plain(self.id) or any(fnmatchcase(plain, _plain(word)) for word in self.names)

    @property
    def low_below(self) -> float | None:
        """Ohms to ground under which it is too low on any card; None where that cannot be said."""
        if self.kind == "input":
            return LEAST_INPUT_OHMS
        return None if self.ohms is None else self.ohms[0] / LOW_TIMES

    @property
    def short_below(self) -> float | None:
        """Ohms to ground under which it is a short on any card; None where that cannot be said."""
        if self.kind == "input":
            return SHORT_INPUT_OHMS
        return None if self.ohms is None else self.ohms[0] / SHORT_TIMES


@dataclass(frozen=True)
class GenericPlan:
    """A bench plan: its nodes in the usual order of start."""

    id: str
    name: str
    nodes: tuple[GenericNode, ...]

    @cached_property
    def inputs(self) -> tuple[GenericNode, ...]:
        """What feeds the card from outside."""
        return tuple(node for node in self.nodes if node.kind == "input")

    def meant(self, name: str) -> GenericNode | None:
        """The node that a point's name means; None where it means none."""
        return next((node for node in self.nodes if node.means(name)), None)

    def input_meant(self, name: str) -> GenericNode | None:
        """The input that a point's name means; None where it means none."""
        node = self.meant(name)
        return node if node is not None and node.kind == "input" else None

    def chain(self, read: frozenset[str] = frozenset(), parts: Mapping[str, tuple[str, ...]] | None = None) -> Chain:
        """The usual order of start as a map: what every card has, and what was read on this one.

        `parts` are those that were named on this card, by node. Its order is lent: another model's may differ.
        """
        named = parts or {}
        kept = [node for node in self.nodes if (node.always or node.id in read or node.id in named)
                and (node.volts or node.mhz)]  # fmt: skip
        ids = {node.id for node in kept}
        nodes = []
        for node in kept:
            low, high = node.volts or node.mhz or (0.0, 0.0)
            needs = tuple(need for need in node.needs if need in ids)
            own = tuple(named.get(node.id, ()))
            minutes = FIND_MINUTES if node.kind != "input" else 1.0
            weight = 0.3 if node.kind == "input" else 1.0
            nodes.append(Node(node.id, node.name, node.kind, needs, low, high, node.id, minutes, own, weight))
        return Chain(
            tuple(nodes),
            borrowed=True,
            lender=gettext("the plan of {name_2}{name}", name_2=self.name[:1].lower(), name=self.name[1:]),
        )


def _plain(name: str) -> str:
    return "".join(name.casefold().split()).replace("-", "").replace("_", "").replace("(", "").replace(")", "")


def read_plan(document: Any) -> GenericPlan:
    """A bench plan. Raises Refusal naming the path: a shape that does not fit, an id twice, a need that is no node."""
    check_shape(document, PLAN_SCHEMA)
    ids = [node["id"] for node in document["nodes"]]
    nodes = []
    for at, node in enumerate(document["nodes"]):
        path = f"$.nodes[{at}]"
        if ids.index(node["id"]) != at:
            raise Refusal(
                f"{path}.id", gettext("{quoted} twice", quoted=quoted(node["id"])), gettext("an id of its own")
            )
        for need in node.get("needs", ()):
            if need not in ids[:at]:
                raise Refusal(f"{path}.needs", quoted(need), gettext("a node that stands before this one"))
        words = {name: str(node.get(name, "")) for name in ("where", "lowered_by", "wrong", "leads")}
        nodes.append(
            GenericNode(
                node["id"],
                node["name"],
                node["kind"],
                bool(node.get("always")),
                tuple(node.get("needs", ())),
                _span(node, "volts", path),
                _span(node, "mhz", path),
                _span(node, "ohms", path),
                tuple(node["names"]),
                **words,
            )
        )
    return GenericPlan(document["id"], document["name"], tuple(nodes))


def nodes_of(plan: GenericPlan) -> list[dict[str, Any]]:
    """A plan's nodes as a board's start-up map has them."""
    found = []
    for node in plan.nodes:
        band = node.volts or node.mhz
        entry: dict[str, Any] = {"id": node.id, "name": node.name, "kind": node.kind, "needs": list(node.needs)}
        found.append(entry | ({"volts": list(band)} if band else {}))
    return found


def _span(node: Mapping[str, Any], name: str, path: str) -> tuple[float, float] | None:
    if name not in node:
        return None
    low, high = (float(end) for end in node[name])
    if low > high:
        raise Refusal(
            f"{path}.{name}",
            gettext("{low} to {high}", low=f"{low:g}", high=f"{high:g}"),
            gettext("the lower end first"),
        )
    return low, high


@lru_cache(maxsize=1)
def usual() -> GenericPlan:
    """The plan that serves where a shop has made none."""
    return read_plan(USUAL)


@dataclass(frozen=True)
class Undrawn:
    """What is known of a card whose board nobody has drawn, beside its entries.

    `parts` were named on its photographs, by the node that they make; `nodes` are points clicked for a node, by their
    name; `fuses` were named; `marked` is where each named part lies, as (side, x, y) of its photograph.
    """

    plan: GenericPlan = field(default_factory=usual)
    parts: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    nodes: Mapping[str, str] = field(default_factory=dict)
    fuses: frozenset[str] = frozenset()
    marked: Mapping[str, tuple[str, float, float]] = field(default_factory=dict)


def judge_undrawn(reading: Reading, plan: GenericPlan | None = None) -> Judged:
    """The verdict on a reading of a board that nobody has drawn: only what is wrong on every card is said."""
    said = shown(reading.value, reading.quantity)
    low = reading.value.low
    node = (plan or usual()).meant(reading.point)
    if node is None and FUSE_END.fullmatch(reading.point):
        node = BEHIND_A_FUSE
    if node is None or reading.quantity != "resistance" or reading.to != "ground" or low is None:
        return Judged(
            reading,
            "no-reference",
            None,
            gettext("{said}; nobody has drawn this board, and no good card was read.", said=said),
        )
    where = node.name if node is BEHIND_A_FUSE else gettext("an input") if node.kind == "input" else node.name
    if node.short_below is not None and low < node.short_below:
        return Judged(
            reading, "short", None, gettext("{said} on {where}: a short, whatever the board.", said=said, where=where)
        )
    if node.low_below is not None and low < node.low_below:
        return Judged(
            reading, "low", None, gettext("{said} on {where}: too low, whatever the board.", said=said, where=where)
        )
    if node.ohms is None:
        return Judged(
            reading,
            "no-reference",
            None,
            gettext("{said}. {leads} No card of this model was read.", said=said, leads=node.leads).strip(),
        )
    order = gettext("{order_of} to {order_of_2}", order_of=order_of(node.ohms[0]), order_of_2=order_of(node.ohms[1]))
    why = gettext(
        "{said}; {order} are usual there on any card, and no card of this model was read.", said=said, order=order
    )
    return Judged(reading, "no-reference", None, why)


# A fuse stands in an input: what lies behind it is fed by it, whichever input it is of.
FUSE_END = re.compile(r"F[A-Z]?\d{1,5}\.[12]", re.IGNORECASE)
BEHIND_A_FUSE = GenericNode(
    "fuse", gettext("a side of a fuse"), "input", always=False, needs=(), volts=None, mhz=None, ohms=None, names=()
)


ORDERS = (
    (1e6, gettext("megohms")),
    (1e5, gettext("hundreds of kilohms")),
    (1e4, gettext("tens of kilohms")),
    (1e3, gettext("kilohms")),
    (100, gettext("hundreds of ohms")),
    (10, gettext("tens of ohms")),
    (1, gettext("ohms")),
)


def order_of(ohms: float) -> str:
    """An order of magnitude in words."""
    return next((word for least, word in ORDERS if ohms >= least), gettext("less than an ohm"))
