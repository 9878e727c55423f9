"""The virtual card under test: what is between its points, and where it glows when a short is fed.

A network of resistors: a node for every rail, one more for the converter's side of every coil, and ground. A coil joins
its two nodes until it is lifted; the loads hang on the rail's node, power stages and converters on the nearest coil's
other side. What two leads find between two nodes follows by Kirchhoff's laws (the inverse of the network's Laplacian).
"""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

import numpy as np

from uvrix.core.boards.model import Board, Part, ProbePoint
from uvrix.core.boards.packages import Package
from uvrix.core.errors import Refusal, quoted
from uvrix.core.readings.slot import CAPACITOR, SLOT
from uvrix.core.virtual.dice import dice
from uvrix.core.virtual.pins import PinFault, Pins

Kind = Literal["joined", "short", "partial", "layers", "blown", "sick"]
KINDS: tuple[Kind, ...] = ("joined", "short", "partial", "layers", "blown", "sick")
Behaviour = Literal["steady", "charging", "jumping"]
GROUND = "ground"
COIL_OHMS, FUSE_OHMS, SICK_OHMS = 0.002, 0.01, 1.4
SHORT_OHMS, JOINED_OHMS = 0.35, 0.15
# A partial short takes a rail down to this share of what it had.
PARTIAL_SHARE = 0.2
# The share of a rail's conductance that hangs on the converter's side of its coils.
CONVERTER_SHARE = 0.1
# Above this a rail's capacitors charge visibly slowly.
CHARGING_OHMS = 2000.0
# A meter in diode mode pushes this current, and shows over-limit above this voltage.
DIODE_AMPS, DIODE_MOST_V = 0.001, 2.0
CARD_SPREAD = 0.03
STAGES = frozenset({"power-stage", "converter"})


@dataclass(frozen=True, slots=True)
class Fault:
    """A fault of a part: `joined` (input to output), `short`, `partial` (to ground), `layers` (burnt below it).

    `blown` and `sick` are of a fuse; `rail` says which where the part is on several.
    """

    kind: Kind
    designator: str
    rail: str = ""


def parse_fault(text: str) -> Fault:
    """A fault from KIND:DESIGNATOR[:RAIL]. Raises Refusal."""
    kind, _, rest = text.partition(":")
    designator, _, rail = rest.partition(":")
    for known in KINDS:
        if kind == known and designator:
            return Fault(known, designator, rail)
    raise Refusal("", quoted(text), f"KIND:DESIGNATOR[:RAIL] with a kind of {', '.join(KINDS)}")


@dataclass(frozen=True, slots=True)
class Truth:
    """What is between two places: ohms (None: open), volts in diode mode (None: over-limit), and how it shows."""

    ohms: float | None
    diode_v: float | None
    behaviour: Behaviour


@dataclass(frozen=True, slots=True)
class Spot:
    """A place that warms: side, millimetres, watts."""

    side: str
    x_mm: float
    y_mm: float
    watts: float


@dataclass(frozen=True)
class VirtualCard:
    """A card of a board model with faults; `healthy` is what the model's rails have to ground, in ohms, by rail.

    `off` are parts and chips taken off, `lifted` coils lifted; `pins` are faults at balls and slot contacts, `packages`
    the ball maps that are known; the seed is the card's own spread.
    """

    board: Board
    healthy: Mapping[str, float]
    faults: tuple[Fault, ...] = ()
    seed: int = 0
    off: frozenset[str] = frozenset()
    lifted: frozenset[str] = frozenset()
    pins: tuple[PinFault, ...] = ()
    packages: Mapping[str, Package] = field(default_factory=dict)

    @cached_property
    def parts(self) -> dict[str, Part]:
        """Parts by designator."""
        return {part.designator: part for part in self.board.parts}

    @cached_property
    def coils(self) -> dict[str, list[ProbePoint]]:
        """The coils of each rail."""
        found: dict[str, list[ProbePoint]] = {}
        for point in self.board.points:
            if point.kind == "coil":
                found.setdefault(point.net, []).append(point)
        return found

    @cached_property
    def rails(self) -> dict[str, float]:
        """Volts by rail."""
        return {name: rail.volts for name, rail in self.board.rails.items()}

    def own_ohms(self, rail: str) -> float:
        """What this card's rail has to ground without a fault."""
        spread = dice(self.board.id, rail, self.seed).normal(0, CARD_SPREAD)
        return self.healthy[rail] * math.exp(spread)

    def between(self, point: str, to: str) -> Truth:
        """What is between a point and ground, across a point, or between two points (`A/B`). Raises Refusal.

        A point may be a ball (`U14.K3`, `U14.K3 alone` on the lifted chip) or a slot contact (`slot.B14`, `caps.A16`).
        """
        chip, _, pin = point.partition(".")
        if chip in {SLOT, CAPACITOR} or chip in self.board.by_designator:
            return self._at_pin(chip, pin, to)
        if to == "across" and "/" not in point:
            return self._across(point)
        one, _, other = point.partition("/")
        a, b = self.node(one), self.node(other) if other else GROUND
        ohms = self._resistance(a, b)
        touched = [fault for fault in self.acting if fault.kind == "partial" and self.rail_of(fault) in {a, b}]
        if touched:
            return Truth(ohms, _diode(ohms, one), "jumping")
        return Truth(ohms, _diode(ohms, one), "charging" if ohms > CHARGING_OHMS else "steady")

    def _at_pin(self, chip: str, pin: str, to: str) -> Truth:
        pins = Pins(self.board.id, self.seed, self.pins, self.packages, self.off)
        if to == "across":
            return Truth(None, None, "steady")
        if chip in {SLOT, CAPACITOR}:
            line = pins.contact(chip, pin)
        else:
            name, _, alone = pin.partition(" ")
            package = self.board.by_designator[chip].package or ""
            line = pins.line(chip, name, package, alone=alone == "alone")
        volts = line.diode_v
        # in ohms a meter pushes less: a junction reads as what it carries, a leak as itself
        return Truth(None if volts is None else volts / DIODE_AMPS, volts, "steady")

    def node(self, name: str) -> str:
        """The node that a point, rail or coil pad (`L9 converter`, `L9 rail`) lies on. Raises Refusal."""
        coil, _, pad = name.partition(" ")
        if pad == "converter" and coil in self.lifted:
            return f"{coil} converter"
        if coil in self.rails:
            return coil
        net = next((point.net for point in self.board.points if point.id == coil), None)
        if net not in self.rails:
            raise Refusal("", quoted(name), "a point on a rail of the board")
        return net

    def fed(self, point: str, volts: float, amps_limit: float) -> tuple[float, float, tuple[Spot, ...]]:
        """Volts and amperes at a point that a limited supply feeds, and the places that warm, hottest first."""
        node = self.node(point)
        ohms = self._resistance(node, GROUND)
        amps = min(amps_limit, volts / ohms)
        solved = self._potentials(node, amps)
        spots = []
        for fault, a, b, own in self._resistors:
            drop = solved[a] - solved[b]
            part = self.parts.get(fault.designator)
            if part and part.centre:
                x, y = float(part.centre[0]), float(part.centre[1])
                spots.append(Spot(part.side, x, y, drop * drop / own))
        return amps * ohms, amps, tuple(sorted(spots, key=lambda spot: -spot.watts))

    @cached_property
    def acting(self) -> tuple[Fault, ...]:
        """Faults whose part is still on the board; burnt layers stay."""
        return tuple(fault for fault in self.faults if fault.kind == "layers" or fault.designator not in self.off)

    def rail_of(self, fault: Fault) -> str:
        """The rail that a fault to ground is on: as said, else the part's lowest."""
        rails = [rail for rail in self.parts[fault.designator].rails if rail in self.rails]
        return fault.rail or min(rails, key=lambda rail: self.rails[rail])

    def _output(self, part: Part) -> str:
        """The node that a power stage or converter drives: the other side of its nearest coil, or the rail itself."""
        rail = min((rail for rail in part.rails if rail in self.rails), key=lambda rail: self.rails[rail])
        near = [coil for coil in self.coils.get(rail, ()) if coil.centre and part.centre]
        if part.kind not in STAGES or not near:
            return rail
        for phase in self.board.phases:
            if phase.designator == part.designator and any(coil.id == phase.point for coil in near):
                return f"{phase.point} converter"
        coil = min(near, key=lambda coil: _away(coil, part))
        return f"{coil.id} converter"

    @cached_property
    def _resistors(self) -> tuple[tuple[Fault, str, str, float], ...]:
        """Every acting fault as a resistor between two nodes."""
        found = []
        for fault in self.acting:
            if fault.kind in {"blown", "sick"}:
                continue
            part = self.parts[fault.designator]
            if fault.kind == "joined":
                high = max((rail for rail in part.rails if rail in self.rails), key=lambda rail: self.rails[rail])
                found.append((fault, high, self._output(part), JOINED_OHMS))
                continue
            rail = self.rail_of(fault)
            stays = fault.kind == "layers" or fault.rail or part.kind not in STAGES
            node = rail if stays else self._output(part)
            partial = self.own_ohms(rail) * PARTIAL_SHARE / (1 - PARTIAL_SHARE)
            found.append((fault, node, GROUND, partial if fault.kind == "partial" else SHORT_OHMS))
        return tuple(found)

    @cached_property
    def _nodes(self) -> list[str]:
        converters = [f"{coil.id} converter" for coils in self.coils.values() for coil in coils]
        return [*self.rails, *converters, GROUND]

    @cached_property
    def _laplacian(self) -> np.ndarray:
        at = {name: number for number, name in enumerate(self._nodes)}
        matrix = np.zeros((len(at), len(at)))

        def join(one: str, other: str, siemens: float) -> None:
            i, j = at[one], at[other]
            matrix[i, i] += siemens
            matrix[j, j] += siemens
            matrix[i, j] -= siemens
            matrix[j, i] -= siemens

        for rail in self.rails:
            siemens, coils = 1 / self.own_ohms(rail), self.coils.get(rail, [])
            share = CONVERTER_SHARE if coils else 0.0
            join(rail, GROUND, siemens * (1 - share))
            for coil in coils:
                join(f"{coil.id} converter", GROUND, siemens * share / len(coils))
                if coil.id not in self.lifted:
                    join(f"{coil.id} converter", rail, 1 / COIL_OHMS)
        for _, one, other, ohms in self._resistors:
            join(one, other, 1 / ohms)
        return matrix

    def _potentials(self, node: str, amps: float) -> dict[str, float]:
        """Volts of every node against ground with a current fed into one."""
        grounded = self._laplacian[:-1, :-1]
        currents = np.zeros(len(self._nodes) - 1)
        if node != GROUND:
            currents[self._nodes.index(node)] = amps
        solved = np.linalg.solve(grounded, currents).tolist()
        return {**dict(zip(self._nodes, solved, strict=False)), GROUND: 0.0}

    def _resistance(self, a: str, b: str) -> float:
        if a == b:
            return 0.0
        if b == GROUND:
            return self._potentials(a, 1.0)[a]
        into, out = self._potentials(a, 1.0), self._potentials(b, 1.0)
        return (into[a] - into[b]) - (out[a] - out[b])

    def _across(self, point: str) -> Truth:
        found = next((probe_point for probe_point in self.board.points if probe_point.id == point), None)
        if found is None:
            raise Refusal("", quoted(point), "a point of the board")
        for fault in self.acting:
            if fault.designator == point and fault.kind == "blown":
                return Truth(None, None, "steady")
            if fault.designator == point and fault.kind == "sick":
                return Truth(SICK_OHMS, SICK_OHMS * DIODE_AMPS, "steady")
        ohms = COIL_OHMS if found.kind == "coil" else FUSE_OHMS
        return Truth(ohms, ohms * DIODE_AMPS, "steady")


def _away(coil: ProbePoint, part: Part) -> float:
    assert coil.centre
    assert part.centre
    return math.dist(
        [float(coordinate) for coordinate in coil.centre], [float(coordinate) for coordinate in part.centre]
    )


def _diode(ohms: float, point: str) -> float | None:
    """Volts across a net in diode mode: its junctions, or the resistance beside them where that drops less."""
    junction = dice("junction", point).uniform(0.28, 0.62)
    volts = min(junction, ohms * DIODE_AMPS)
    return volts if volts <= DIODE_MOST_V else None


def healthy_ohms(board: Board, known: Mapping[str, Sequence[float]]) -> dict[str, float]:
    """What the rails of a model have: the middle of what good cards read, else by the voltage, drawn by the model's id.

    The unknown ones follow docs/trade §3.1: inputs kilohms, 5 V hundreds of ohms, memory tens, a core rail under one.
    """
    found = {}
    for name, rail in board.rails.items():
        thrown = dice(board.id, name)
        volts = rail.volts
        usual = 5000.0 if volts > 8 else 800.0 if volts > 2.5 else 250.0 if volts > 1.5 else 40.0
        if volts < 1.2 and len(rail.points) > 2:
            usual = 0.4
        values = sorted(known.get(name, ()))
        found[name] = values[len(values) // 2] if values else usual * math.exp(thrown.uniform(-1, 1))
    return found


def without(card: VirtualCard, off: Collection[str], lifted: Collection[str]) -> VirtualCard:
    """The card with parts taken off and coils lifted."""
    return replace(card, off=frozenset(off), lifted=frozenset(lifted))
