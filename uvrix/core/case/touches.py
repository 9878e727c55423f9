"""Which rails, nets and start-up nodes an act or a reading is about (docs/trade §8.1).

Rails, nets and nodes share one space of names, since a model names the same supply by all three.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property

from uvrix.core.boards.model import Board, Rail, StartupNode
from uvrix.core.case.entries import Did
from uvrix.core.case.names import FUSE_END, contact, fuses

NOTHING: frozenset[str] = frozenset()
# Nodes that are read on a net; a clock and a draw are read beside it.
ON_A_NET = frozenset({"input", "rail", "signal"})


# The attribute in which a board keeps what hangs on what: it follows from the model alone.
KEPT = "touches"


def touches_of(board: Board | None) -> Touches:
    """What hangs on what of a board."""
    if board is None:
        return Touches(None)
    if KEPT not in vars(board):
        vars(board)[KEPT] = Touches(board)
    found: Touches = vars(board)[KEPT]
    return found


class Touches:
    """Looks up what hangs on what; of a board that is not drawn a name touches itself."""

    def __init__(self, board: Board | None) -> None:
        self.board = board
        self.rails: Mapping[str, Rail] = board.rails if board else {}
        self.nodes: Mapping[str, StartupNode] = board.startup_nodes if board else {}
        self.points = {point.id: point for point in board.points} if board else {}
        self.fuses = frozenset(fuses(board)) if board else NOTHING
        self._of_site: dict[str, frozenset[str]] = {}
        self._of_point: dict[str, frozenset[str]] = {}
        self._behind: dict[frozenset[str], frozenset[str]] = {}

    @cached_property
    def inputs(self) -> dict[str, str]:
        """What is fed from outside, by id with its name: rails marked so; inputs of the start-up map where none is."""
        marked = {name: rail.name for name, rail in self.rails.items() if rail.input}
        nodes = {name: node.name for name, node in self.nodes.items() if node.kind == "input"}
        return marked or nodes

    @cached_property
    def memory_rails(self) -> frozenset[str]:
        """The rails of the memory chips."""
        sites = self.board.sites if self.board else ()
        named = {site.rail for site in sites if site.rail}
        return frozenset(named or {rail for rail in self.rails if rail.casefold().startswith("mem")})

    @cached_property
    def core_rails(self) -> frozenset[str]:
        """The rails of the core: those that its part is on, else those that phases feed and those named after it."""
        board = self.board
        if board is None:
            return NOTHING
        cores = [part for part in board.parts if part.kind == "core" or part.designator == board.core.designator]
        if own := {rail for part in cores for rail in part.rails}:
            return frozenset(own)
        phases = {phase.rail for phase in board.phases if phase.rail}
        return frozenset(phases | {rail for rail in self.rails if rail.casefold().startswith("core")})

    @cached_property
    def _parts_rails(self) -> Mapping[str, set[str]]:
        """Rails and nodes by designator, as far as the model says them."""
        board = self.board
        found: dict[str, set[str]] = {}
        if board is None:
            return found
        for part in board.parts:
            found.setdefault(part.designator, set()).update(part.rails)
        for site in board.sites:
            found.setdefault(site.designator, set()).update({site.rail} if site.rail else self.memory_rails)
        found.setdefault(board.core.designator, set()).update(self.core_rails | self.memory_rails)
        for point in board.points:
            found.setdefault(point.id, set()).update(self.point_names(point.id))
        for phase in board.phases:
            found.setdefault(phase.designator, set()).update({phase.rail} if phase.rail else ())
        for supervisor in board.supervisors:
            found.setdefault(supervisor.designator, set()).update(path.rail for path in supervisor.inputs)
        for name, node in self.nodes.items():
            for designator in node.parts:
                found.setdefault(designator, set()).update({name} | self._net_of(name))
        return found

    def _net_of(self, node: str) -> frozenset[str]:
        """The names of a node's own net, where it is read on one."""
        entry = self.nodes[node]
        return self.point_names(entry.point) if entry.point and entry.kind in ON_A_NET else NOTHING

    def of_site(self, site: str) -> frozenset[str]:
        """The rails, nets and nodes that a part, site, fuse, coil, contact or plug touches."""
        if site not in self._of_site:
            if self.board is None or contact(site):
                self._of_site[site] = frozenset({site})
            else:
                own = frozenset(self._parts_rails.get(site, ()))
                nodes = {name for name in self.nodes if self._net_of(name) & own}
                self._of_site[site] = own | nodes
        return self._of_site[site]

    def point_names(self, name: str) -> frozenset[str]:
        """What a point, rail, node, fuse end, contact or pin lies on."""
        if name not in self._of_point:
            self._of_point[name] = self._names(name)
        return self._of_point[name]

    def _names(self, name: str) -> frozenset[str]:
        if self.board is None or contact(name):
            return frozenset({name})
        if name in self.points:
            point = self.points[name]
            listed = {rail for rail, entry in self.rails.items() if name in entry.points}
            nodes = {node for node, entry in self.nodes.items() if entry.point == name}
            return frozenset(listed | nodes | ({point.net} if point.net else set())) or frozenset({name})
        if name in self.rails or name in self.nodes:
            point_of = self.nodes[name].point if name in self.nodes else ""
            return frozenset({name}) | (self.point_names(point_of) if point_of in self.points else NOTHING)
        if (end := FUSE_END.fullmatch(name)) and end[1] in self.fuses:
            return self.of_site(end[1])
        head = name.split(" ", maxsplit=1)[0].split(".", maxsplit=1)[0]
        if head != name:
            return self.point_names(head) if head in self.points else self.of_site(head)
        return frozenset(self._parts_rails.get(name, ())) or frozenset({name})

    def of_reading(self, point: str) -> frozenset[str]:
        """What a reading of a point, or of two with a slash between, is measured on."""
        ends = point.split("/")
        return self.point_names(ends[0]) if len(ends) == 1 else frozenset().union(*map(self.point_names, ends))

    def behind(self, touched: frozenset[str]) -> frozenset[str]:
        """What is touched, and the nodes that need any of it, at any depth."""
        if touched not in self._behind:
            found = set(touched) | {name for name in self.nodes if self._net_of(name) & touched}
            while more := {
                name
                for name, node in self.nodes.items()
                if name not in found and any(need in found for need in node.needs)
            }:
                found |= more
            nets = {net for name in found if name in self.nodes for net in self._net_of(name)}
            self._behind[touched] = frozenset(found | nets)
        return self._behind[touched]

    def is_memory(self, site: str) -> bool:
        """Whether a memory chip or the core is meant."""
        board = self.board
        return board is not None and (site in board.by_designator or site == board.core.designator)

    def ends_runs(self, did: Did) -> bool:
        """Whether an act makes memory runs those of a card as it was: on memory, core or their rails."""
        if did.act == "bake":
            return True
        if not did.site:
            return False
        if self.board is None:
            return did.act in {"reball", "place", "remove", "swap"}
        return self.is_memory(did.site) or bool(self.of_site(did.site) & (self.memory_rails | self.core_rails))
