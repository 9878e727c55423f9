"""The start-up map of a board: nodes with what they need, and the state of each as it was measured."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from uvrix.core.boards.model import Board, Rail
from uvrix.core.errors import Refusal
from uvrix.core.readings.notation import Quantity
from uvrix.core.readings.points import Places
from uvrix.core.readings.reading_file import Reading
from uvrix.core.startup.limits import EDGE, RAIL_SHARE
from uvrix.core.values.codes import code_words
from uvrix.language import gettext

State = Literal["present", "missing", "unknown"]
# What a node's band is in, by its kind, and the factor from a reading's own unit.
MEASURED: Mapping[str, tuple[Quantity, float]] = {"clock": ("frequency", 1e-6), "draw": ("current", 1.0)}
VOLTS: tuple[Quantity, float] = ("voltage", 1.0)


@dataclass(frozen=True, slots=True)
class Node:
    """A node: what it needs, its band, its point with the minutes to reach it, its parts with their weights' sum."""

    id: str
    name: str
    kind: str
    needs: tuple[str, ...]
    low: float
    high: float
    point: str | None
    minutes: float
    parts: tuple[str, ...]
    weight: float


@dataclass(frozen=True)
class Chain:
    """The nodes in the file's order; `borrowed` says where the order is only that of the rails.

    `lender` is the board, family or bench plan whose order this is; empty where it is the board's own.
    """

    nodes: tuple[Node, ...]
    borrowed: bool
    lender: str = ""

    @property
    def idle(self) -> tuple[float, float] | None:
        """What the card draws at rest, amperes: the band of the map's last draw; None where it says none."""
        draws = [node for node in self.nodes if node.kind == "draw"]
        return (draws[-1].low, draws[-1].high) if draws else None

    @cached_property
    def absent(self) -> NDArray[np.bool_]:
        """By [dead, node]: whether a node is absent because that one is dead; itself, or what it needs at any depth."""
        index = {node.id: at for at, node in enumerate(self.nodes)}
        behind = np.eye(len(self.nodes), dtype=bool)
        done: set[str] = set()

        def close(start: str) -> None:
            stack = [start]
            while stack:
                node = self.nodes[index[stack[-1]]]
                waiting = [need for need in node.needs if need in index and need not in done]
                if waiting:
                    stack.extend(waiting)
                    continue
                stack.pop()
                for need in node.needs:
                    if need in index:
                        behind[:, index[node.id]] |= behind[:, index[need]]
                done.add(node.id)

        for node in self.nodes:
            if node.id not in done:
                close(node.id)
        return behind


def chain_of(board: Board, lent: Sequence[Mapping[str, Any]] = ()) -> Chain:
    """The board's start-up map, else `lent` nodes of a relative or its family, else the order of its rails.

    Of lent nodes the points are kept that this board has, by the name of the node's rail; of the rails each needs the
    one before. Raises Refusal where there is none of them.
    """
    startup = board.document.get("startup", {})
    weights = {part.designator: float(part.weight) for part in board.parts}
    minutes = {point.id: float(point.minutes) for point in board.points}
    entries: Sequence[Mapping[str, Any]] = startup.get("nodes", ())
    if not entries and lent:
        entries = [_lent(entry, board, set(minutes)) for entry in lent]
    if entries:
        lender = str(startup.get("lent_by", ""))
        return Chain(tuple(_node(entry, weights, minutes) for entry in entries), borrowed=False, lender=lender)
    rails = tuple(board.rails.values())
    if not rails:
        raise Refusal(
            "$.startup", gettext("neither a start-up map nor rails"), gettext("startup.nodes, or rails in their order")
        )
    return Chain(tuple(_rail(rails, at, minutes) for at in range(len(rails))), borrowed=True)


def _lent(entry: Mapping[str, Any], board: Board, points: set[str]) -> dict[str, Any]:
    """Another board's node on this one: its parts are not this board's, its point only where this board has it."""
    own = {key: value for key, value in entry.items() if key not in {"point", "parts"}}
    rail = board.rails.get(entry["id"])
    point = next(iter(rail.points), None) if rail else entry.get("point")
    return {**own, "point": point} if point in points else own


def _node(entry: Mapping[str, Any], weights: Mapping[str, float], minutes: Mapping[str, float]) -> Node:
    low, high = (float(end) for end in entry.get("volts", (0, 0)))
    parts = tuple(entry.get("parts", ()))
    weight = sum(weights.get(part, 1.0) for part in parts) if parts else 1.0
    point = entry.get("point")
    needs = tuple(entry.get("needs", ()))
    kind = entry.get("kind", "rail")
    name = entry.get("name", entry["id"])
    return Node(entry["id"], name, kind, needs, low, high, point, minutes.get(point or "", 1.0), parts, weight)


def _rail(rails: Sequence[Rail], at: int, minutes: Mapping[str, float]) -> Node:
    rail = rails[at]
    needs = (rails[at - 1].id,) if at else ()
    point = rail.points[0] if rail.points else None
    low, high = sorted((rail.volts * (1 - RAIL_SHARE), rail.volts * (1 + RAIL_SHARE)))
    return Node(rail.id, rail.name, "rail", needs, low, high, point, minutes.get(point or "", 1.0), (), 1.0)


@dataclass(frozen=True, slots=True)
class Measured:
    """A node's state as measured, never inferred; `over` where it lies above its band."""

    state: State
    over: bool = False


def contradicted(chain: Chain, measured: Mapping[str, Measured]) -> tuple[tuple[Node, Node], ...]:
    """What cannot be by the map's order: a node that is there though one that it needs is missing, and that one."""
    by_id = {node.id: node for node in chain.nodes}
    return tuple(
        (node, by_id[need])
        for node in chain.nodes
        if measured[node.id].state == "present"
        for need in node.needs
        if need in by_id and measured[need].state == "missing"
    )


def states(chain: Chain, readings: Sequence[Reading], places: Places) -> tuple[dict[str, Measured], list[str]]:
    """Every node's state, and warnings about readings that say nothing of a node."""
    found = {node.id: Measured("unknown") for node in chain.nodes}
    warnings = []
    for reading in readings:
        nodes = [node for node in chain.nodes if _counts_for(reading.point, node, places)]
        fitting = [node for node in nodes if MEASURED.get(node.kind, VOLTS)[0] == reading.quantity]
        if not fitting:
            warnings.append(
                gettext(
                    "The reading of {point} ({quantity}) is of no node of the map.",
                    point=reading.point,
                    quantity=code_words(reading.quantity),
                )
            )
        for node in fitting:
            found[node.id] = state_of(node, reading)
    warnings += [above_band(node) for node in chain.nodes if found[node.id].over]
    return found, warnings


def above_band(node: Node) -> str:
    """The warning on a node that reads above its band."""
    return gettext("{name} is above its band: switch off before anything else is probed.", name=node.name)


def _counts_for(name: str, node: Node, places: Places) -> bool:
    return name in {node.id, node.point} or places.rail_of.get(name) == node.id


def state_of(node: Node, reading: Reading) -> Measured:
    """A node's state by one reading of the quantity that its kind is measured in."""
    factor = MEASURED.get(node.kind, VOLTS)[1]
    value = reading.value
    if value.low is None or value.high is None:
        return Measured("missing")
    low, high = value.low * factor, value.high * factor
    edge = EDGE * max(abs(node.low), abs(node.high))
    if node.low - edge <= low and high <= node.high + edge:
        return Measured("present")
    return Measured("missing", over=low > node.high + edge)
