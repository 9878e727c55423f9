"""What a reading is of: a reading at a node's point, or at a point that a rail lists, counts for that node or rail."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from uvrix.core.boards.model import Board

# Read across themselves unless a reading says otherwise (formats.md §6).
ACROSS_KINDS = frozenset({"fuse", "shunt"})
Key = tuple[str, ...]


@dataclass(frozen=True)
class Places:
    """The names of a board that a reading may carry."""

    points: Mapping[str, str]
    rail_of: Mapping[str, str]
    rails: frozenset[str]
    nodes: Mapping[str, str]

    def known(self, name: str) -> bool:
        """Whether a point, rail, start-up node or a pair of them is meant."""
        ends = name.split("/")
        return len(ends) <= 2 and all(end in self.points or end in self.rails or end in self.nodes for end in ends)

    def usual_to(self, name: str) -> str:
        """Across for fuses, shunts and pairs, else to ground."""
        return "across" if "/" in name or self.points.get(name) in ACROSS_KINDS else "ground"

    def key(self, name: str, to: str) -> Key:
        """What it counts for: to ground the rail or node, across the point itself; a pair either way round."""
        ends = name.split("/")
        if len(ends) == 2:
            return ("pair", *sorted(self._target(end) for end in ends))
        return ("across", name) if to == "across" else ("ground", self._target(name))

    def _target(self, name: str) -> str:
        if name in self.rails or name in self.nodes:
            return name
        return self.rail_of.get(name) or next((node for node, point in self.nodes.items() if point == name), name)


def places_of(document: Mapping[str, Any]) -> Places:
    """The names of a board's document."""
    rails = document.get("rails", ())
    return Places(
        {point["id"]: point.get("kind", "") for point in document.get("points", ())},
        {point: rail["id"] for rail in rails for point in rail.get("points", ())},
        frozenset(rail["id"] for rail in rails),
        {node["id"]: node.get("point", "") for node in document.get("startup", {}).get("nodes", ())},
    )


def board_places(board: Board) -> Places:
    """The names of a board."""
    return places_of(board.document)
