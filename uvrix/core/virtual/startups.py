"""Start-up maps at random, with a hidden fault and readings that are sometimes wrong: the truth for isolation."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uvrix.core.readings.notation import Value
from uvrix.core.readings.reading_file import Reading
from uvrix.core.startup.chain import Chain, Node

PRESENT_V, ABSENT_V, BAND = 1.0, 0.1, (0.9, 1.1)


@dataclass(frozen=True, slots=True)
class BrokenMap:
    """A map, the dead nodes, and readings of some nodes by their id (True: present)."""

    chain: Chain
    dead: tuple[int, ...]
    seen: dict[str, bool]

    def reads(self, at: int) -> bool:
        """Whether a node is there, without an error of reading."""
        return not any(self.chain.absent[dead, at] for dead in self.dead)


def random_map(rng: np.random.Generator, many: int) -> Chain:
    """A map in layers, as boards have them: inputs, converters that need one or two of what is before, signals.

    A node needs mostly what came shortly before it. Every tenth or so has no point of its own to probe.
    """
    nodes = []
    for at in range(many):
        reach = max(1, int(rng.geometric(0.25)))
        before = list(range(max(0, at - 1 - reach), at))
        wanted = int(rng.choice([1, 1, 1, 2, 2, 3])) if at and rng.random() > 0.08 else 0
        needs = tuple(f"n{entry}" for entry in rng.permutation(before)[:wanted])
        weight = float(rng.choice([1.0, 1.0, 2.0, 3.0, 6.0]))
        minutes = float(rng.choice([0.5, 1.0, 1.0, 3.0]))
        point = None if rng.random() < 0.1 else f"P{at}"
        nodes.append(Node(f"n{at}", f"Node {at}", "rail", needs, *BAND, point, minutes, (), weight))
    return Chain(tuple(nodes), borrowed=False)


def broken(
    rng: np.random.Generator, chain: Chain, *, faults: int = 1, share: float = 0.4, wrong: float = 0.0
) -> BrokenMap:
    """A map with dead nodes drawn by their weights, and a share of its nodes read; a reading is wrong by chance."""
    weight = np.array([node.weight for node in chain.nodes])
    dead = tuple(int(entry) for entry in rng.choice(len(weight), size=faults, replace=False, p=weight / weight.sum()))
    made = BrokenMap(chain, dead, {})
    for at, node in enumerate(chain.nodes):
        if node.point and rng.random() < share:
            made.seen[node.id] = made.reads(at) != (rng.random() < wrong)
    return made


def reading(name: str, *, present: bool) -> Reading:
    """A node read as present or missing."""
    volts = PRESENT_V if present else ABSENT_V
    return Reading(name, "voltage", Value(volts, volts), "", "ground")
