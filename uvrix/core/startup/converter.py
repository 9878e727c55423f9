"""One converter of a board: its coil, its chip, its supply, its enable and what makes that, where else to probe.

Everything that has to be looked at together when one rail is missing, on both sides of the board (docs/trade §4.2).
"""

from __future__ import annotations

from dataclasses import dataclass

from uvrix.core.boards.model import Board, Part, ProbePoint
from uvrix.core.startup.chain import Chain, Node

# Logic that makes an enable is followed so far upwards.
DEEPEST = 8
OF_LOGIC = frozenset({"signal", "clock"})


@dataclass(frozen=True, slots=True)
class Step:
    """A node of the converter's page; `role` output, supply, enable, or makes (what makes the enable).

    `through` is the node that it is needed by; `points` where it can be probed, its own first, then substitutes.
    """

    node: Node
    role: str
    through: str
    points: tuple[ProbePoint, ...]
    parts: tuple[Part, ...]


@dataclass(frozen=True, slots=True)
class Converter:
    """The converter that makes a node: its coils and chips, and every node that it hangs on, in the order to look."""

    node: Node
    coils: tuple[ProbePoint, ...]
    chips: tuple[Part, ...]
    steps: tuple[Step, ...]
    feeds: tuple[Node, ...]


def converters(chain: Chain) -> tuple[Node, ...]:
    """The nodes that a converter makes: rails that need something."""
    return tuple(node for node in chain.nodes if node.kind == "rail" and node.needs)


def converter(chain: Chain, board: Board, name: str) -> Converter | None:
    """The page of a node; None where the map has no such node."""
    by_id = {node.id: node for node in chain.nodes}
    node = by_id.get(name)
    if node is None:
        return None
    steps = [_step(board, node, "output", "")]
    logic = []
    for need in (by_id[word] for word in node.needs if word in by_id):
        logical = need.kind in OF_LOGIC
        steps.append(_step(board, need, "enable" if logical else "supply", node.id))
        logic += [need] if logical else []
    seen = {step.node.id for step in steps}
    for _ in range(DEEPEST):
        above = []
        for below in logic:
            for need in (by_id[word] for word in below.needs if word in by_id and word not in seen):
                seen.add(need.id)
                steps.append(_step(board, need, "makes", below.id))
                above += [need] if need.kind in OF_LOGIC else []
        logic = above
    feeds = tuple(other for other in chain.nodes if node.id in other.needs)
    return Converter(node, _coils(board, node), _parts(board, node), tuple(steps), feeds)


def _step(board: Board, node: Node, role: str, through: str) -> Step:
    return Step(node, role, through, _points(board, node), _parts(board, node))


def _points(board: Board, node: Node) -> tuple[ProbePoint, ...]:
    """Where a node can be probed: its own point, then what lies on the same net, the nearest to reach first."""
    own = next((point for point in board.points if point.id == node.point), None)
    nets = {node.id, *([own.net] if own and own.net else [])}
    listed = board.rails[node.id].points if node.id in board.rails else ()
    others = [
        point
        for point in board.points
        if point is not own and (point.net in nets or point.id in listed) and point.kind not in {"fuse", "shunt"}
    ]
    return (*([own] if own else []), *sorted(others, key=lambda point: float(point.minutes)))


def _coils(board: Board, node: Node) -> tuple[ProbePoint, ...]:
    return tuple(point for point in _points(board, node) if point.kind == "coil")


def _parts(board: Board, node: Node) -> tuple[Part, ...]:
    by_name = {part.designator: part for part in board.parts}
    return tuple(by_name[name] for name in node.parts if name in by_name)
