"""What a reading is of: a reading at a node's point, or at a point that a rail lists, counts for that node or rail."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from uvrix.core.boards.model import Board

# Read across themselves unless a reading says otherwise (docs/formats §11).
ACROSS_KINDS = frozenset({"fuse", "shunt"})
FUSE_ENDS = frozenset({"1", "2"})
Key = tuple[str, ...]
PIN = re.compile(r"[A-Za-z0-9+_-]{1,12}")
DESIGNATOR = re.compile(r"[A-Za-z]{1,3}[0-9]{1,4}")


@dataclass(frozen=True)
class Places:
    """The names of a board that a reading may carry.

    `chips` are what may be read pin by pin (`U11.K3`), with the pins that each has, None where those are not known; on
    a board that is not drawn (`undrawn`) any designator may be.
    """

    points: Mapping[str, str]
    rail_of: Mapping[str, str]
    rails: frozenset[str]
    nodes: Mapping[str, str]
    chips: Mapping[str, frozenset[str] | None] = field(default_factory=dict)
    undrawn: bool = False

    def known(self, name: str) -> bool:
        """Whether a point, rail, start-up node, a pin of a chip or a pair of them is meant."""
        ends = name.split("/")
        return len(ends) <= 2 and all(self._own(end) or self.is_pin(end) for end in ends)

    def is_pin(self, name: str) -> bool:
        """Whether a pin of a chip is meant, and no point of that name."""
        chip, dot, pin = name.partition(".")
        if not dot or self._own(name) or not PIN.fullmatch(pin):
            return False
        if chip not in self.chips:
            return self.undrawn and bool(DESIGNATOR.fullmatch(chip))
        pins = self.chips[chip]
        return pins is None or pin in pins

    def _own(self, name: str) -> bool:
        return name in self.points or name in self.rails or name in self.nodes or self.fuse_of(name) is not None

    def fuse_of(self, name: str) -> str | None:
        """The fuse whose end is meant: `F1.1` and `F1.2` are the ends of F1; None where no end is."""
        head, dot, end = name.rpartition(".")
        return head if dot and end in FUSE_ENDS and self.points.get(head) == "fuse" else None

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
