"""The virtual card under power: which nodes of its start-up map come up, what they read, what it draws over time.

Each converter starts when all it needs is there; an inrush of its capacitors, then its share of what the model draws at
idle. A supply at its limit gives no more: its voltage falls, and nothing starts.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

from uvrix.core.boards.model import Board
from uvrix.core.errors import Refusal, quoted
from uvrix.core.readings.notation import Quantity
from uvrix.core.readings.points import board_places
from uvrix.core.startup.chain import MEASURED, VOLTS, Chain, Node, chain_of
from uvrix.core.virtual.dice import dice

# A node that is not there reads this share of its band's middle; a card's own spread within its band.
LEFT_SHARE, SPREAD = 0.03, 0.15
# Nodes come up one after the other, so far apart; an inrush dies away with this time constant, this many times a share.
STEP_S, INRUSH_S, INRUSH = 0.05, 0.03, 3.0
# What the board draws with nothing started, and what the running core adds to its converters, as shares of idle.
STANDBY_SHARE, CORE_SHARE = 0.05, 0.5
# Where a map says no idle figure, amperes.
USUAL_IDLE_A = 1.2
# Under this share of the nominal voltage nothing starts.
BROWN_OUT = 0.85


@dataclass(frozen=True)
class PoweredCard:
    """A card of a board model under power with dead nodes; `input_ohms` is what its 12 V input has to ground."""

    board: Board
    dead: frozenset[str] = frozenset()
    seed: int = 0
    input_ohms: float = math.inf

    @cached_property
    def chain(self) -> Chain:
        """The model's start-up map. Raises Refusal where it has neither a map nor rails."""
        return chain_of(self.board)

    @cached_property
    def present(self) -> frozenset[str]:
        """The nodes that come up."""
        index = {node.id: at for at, node in enumerate(self.chain.nodes)}
        gone = [index[name] for name in self.dead if name in index]
        return frozenset(
            node.id
            for at, node in enumerate(self.chain.nodes)
            if not any(self.chain.absent[number, at] for number in gone)
        )

    def reads(self, point: str, quantity: Quantity) -> float:
        """What a meter reads at a point, rail or node, in the quantity's own unit. Raises Refusal for no such place."""
        places = board_places(self.board)
        for node in self.chain.nodes:
            asked, factor = MEASURED.get(node.kind, VOLTS)
            if asked == quantity and (point in {node.id, node.point} or places.rail_of.get(point) == node.id):
                return self._value(node) / factor
        if quantity == "voltage" and places.known(point):
            return self._beside_the_map(point)
        raise Refusal("", quoted(point), f"a place of the board that has a {quantity}")

    def _value(self, node: Node) -> float:
        middle, half = (node.low + node.high) / 2, (node.high - node.low) / 2
        if node.id not in self.present:
            return 0.0 if node.kind in {"clock", "draw"} else LEFT_SHARE * middle
        return middle + half * float(dice(self.board.id, node.id, self.seed).normal(0, SPREAD))

    def _beside_the_map(self, point: str) -> float:
        """A point off the map: the lower end of a sense path follows its input, anything else is at nothing."""
        for supervisor in self.board.supervisors:
            for path in supervisor.inputs:
                if point == path.low_point and path.high_point:
                    return self.reads(path.high_point, "voltage")
        return 0.0

    @cached_property
    def idle_amps(self) -> float:
        """What the card draws with everything up."""
        draws = [node for node in self.chain.nodes if node.kind == "draw"]
        if not draws:
            return USUAL_IDLE_A
        return (draws[-1].low + draws[-1].high) / 2

    @cached_property
    def _steps(self) -> tuple[tuple[float, float], ...]:
        """(when, how much) each node that is up adds, in the order of the start."""
        depth = self.chain.absent.sum(axis=0)
        order = sorted(range(len(self.chain.nodes)), key=lambda at: (int(depth[at]), at))
        nodes = [self.chain.nodes[at] for at in order]
        rails = [node for node in nodes if node.kind == "rail"]
        each = (1 - STANDBY_SHARE - CORE_SHARE) * self.idle_amps / max(1, len(rails))
        last = next((node for node in reversed(nodes) if node.kind != "draw"), None)
        steps = []
        for number, node in enumerate(nodes):
            if node.id not in self.present:
                continue
            if node.kind == "rail":
                steps.append((STEP_S * (number + 1), each))
            if node is last:
                steps.append((STEP_S * (number + 1), CORE_SHARE * self.idle_amps))
        return tuple(steps)

    def wanted(self, since_s: float) -> float:
        """Amperes that it would draw this long after it was switched on, if there were no limit."""
        if since_s < 0:
            return 0.0
        amps = STANDBY_SHARE * self.idle_amps
        for when, share in self._steps:
            if since_s >= when:
                amps += share * (1 + INRUSH * math.exp(-(since_s - when) / INRUSH_S))
        return amps

    def fed(self, volts: float, limit_amps: float, since_s: float, nominal_v: float = 12.0) -> tuple[float, float]:
        """Volts and amperes at a supply with these settings, this many seconds after it was switched on."""
        leak = volts / self.input_ohms
        if leak >= limit_amps:
            return limit_amps * self.input_ohms, limit_amps
        if volts < BROWN_OUT * nominal_v:
            return volts, leak
        wanted = leak + self.wanted(since_s)
        if wanted <= limit_amps:
            return volts, wanted
        return volts * limit_amps / wanted, limit_amps


def dead_nodes(faults: Iterable[str]) -> frozenset[str]:
    """The dead nodes among the words of faults: `dead:NODE`."""
    return frozenset(text.removeprefix("dead:") for text in faults if text.startswith("dead:"))
