"""A board model as frozen values.

Millimetres and degrees as in docs/formats §1: the front (core side) with the bracket to the left, x right, y up.
Lengths are exact fractions of the file's decimals, so that directions can be compared without rounding.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from functools import cached_property
from typing import Any, Literal

Side = Literal["front", "back"]
Corner = Literal["top-left", "top-right", "bottom-left", "bottom-right"]
Direction = Literal["clockwise", "counterclockwise"]
Start = Literal["mark", "opposite-mark", "mark+1", "mark-1"]
Vector = tuple[Fraction, Fraction]

ALL_LINES = 0xFFFFFFFF
MIB_PER_GBIT = 128


@dataclass(frozen=True, slots=True)
class Core:
    """The big ball-grid chip; its marked corner, in the front view, orients everything."""

    designator: str
    centre: Vector
    size: Vector
    mark_corner: Corner


@dataclass(frozen=True, slots=True)
class Site:
    """A footprint for one memory chip.

    `lines` is a mask of the channel's data lines that this chip carries (bit 0 is DQ 0).
    """

    designator: str
    side: Side
    centre: Vector
    size: Vector
    rotation_deg: Fraction
    fitted: bool
    channel: str | None
    lines: int
    package: str | None = None
    group: str | None = None
    rail: str | None = None
    swap: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Landmark:
    """Something that cannot be mistaken on the bench: bracket, contacts, plug, socket, hole."""

    kind: str
    centre: Vector
    size: Vector
    text: str = ""


@dataclass(frozen=True, slots=True)
class ProbePoint:
    """A place to hold a probe; `centre` is None where the file does not say it."""

    id: str
    side: Side
    centre: Vector | None
    kind: str
    net: str
    reach: str
    minutes: Fraction
    first: bool


@dataclass(frozen=True, slots=True)
class Part:
    """A part that is no memory site; `weight` is its share of blame among its equals, `marking` what it bears."""

    designator: str
    kind: str
    side: Side
    centre: Vector | None
    value: str
    rails: tuple[str, ...]
    weight: Fraction
    marking: str = ""


@dataclass(frozen=True, slots=True)
class Rail:
    """A supply of the board: volts (0 where the model does not say), the points that it lists, whether it is fed."""

    id: str
    name: str
    volts: float
    points: tuple[str, ...]
    input: bool


@dataclass(frozen=True, slots=True)
class Phase:
    """A phase of a converter: its stage, the rail that it feeds and the coil where it is probed, as far as named."""

    designator: str
    rail: str
    point: str
    amps: float | None


@dataclass(frozen=True, slots=True)
class SenseInput:
    """What a supervisor watches: a rail, the two ends of the path to its own pin, the volts that it wants."""

    rail: str
    high_point: str
    low_point: str
    threshold_v: float | None


@dataclass(frozen=True, slots=True)
class Supervisor:
    """A chip that lets the board start when its inputs are there."""

    designator: str
    inputs: tuple[SenseInput, ...]


@dataclass(frozen=True, slots=True)
class StartupNode:
    """A node of the model's own start-up map, as far as other steps ask for it; the chain reads the rest."""

    id: str
    name: str
    kind: str
    needs: tuple[str, ...]
    point: str
    parts: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class MemoryWanted:
    """What the chips at the memory sites must be, as far as the model says it: gigabits a chip, bits wide, volts."""

    gbit: float | None = None
    width: int | None = None
    volts: float | None = None
    speed: float | None = None
    vendors: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class FirmwareWanted:
    """What an image for the card must be, as far as the model says it; `volts` is what its storage chip takes."""

    volts: float | None = None
    bus: str = ""
    memory: str = ""
    core_mhz: float | None = None
    memory_mhz: float | None = None


@dataclass(frozen=True, slots=True)
class Walk:
    """The way round the core: from which corner, which way, which channels in that order."""

    start: Start
    direction: Direction
    order: tuple[str | None, ...]


@dataclass(frozen=True, slots=True)
class AddressMap:
    """Which channel an address belongs to: XORs of address bits, or stripes dealt out in turn."""

    order: tuple[str, ...]
    select: tuple[tuple[int, ...], ...] = ()
    stripe_bytes: int = 0


# Landmarks that are parts: soldered on, with joints of their own.
CONNECTORS = frozenset({"power-plug", "display-socket", "fan-plug"})


@dataclass(frozen=True)
class Board:
    """One printed-circuit layout and revision; `document` is the file as it came, unknown keys and all."""

    id: str
    name: str
    revision: str
    outline: tuple[Vector, ...]
    core: Core
    sites: tuple[Site, ...]
    landmarks: tuple[Landmark, ...] = ()
    points: tuple[ProbePoint, ...] = ()
    parts: tuple[Part, ...] = ()
    walk: Walk | None = None
    address_map: AddressMap | None = None
    document: Mapping[str, Any] = field(default_factory=dict, repr=False, compare=False)

    @property
    def family(self) -> str:
        """The id of its core's family; empty where the model names none."""
        return str(self.document.get("family", ""))

    @property
    def relative_of(self) -> str:
        """The id of the model whose good cards and maps serve where this one has none; empty where it has no such."""
        return str(self.document.get("relative_of", ""))

    @property
    def printed(self) -> str:
        """What is printed on the board."""
        return str(self.document.get("printed", ""))

    @property
    def core_package(self) -> str | None:
        """The package whose ball map its core has."""
        package: str | None = self.document.get("core", {}).get("package")
        return package

    @property
    def lanes(self) -> int | None:
        """How many lanes of the slot it has wired, where the model says it."""
        lanes = self.document.get("slot", {}).get("lanes")
        return None if lanes is None else int(lanes)

    @cached_property
    def memory(self) -> MemoryWanted:
        """What its memory chips must be."""
        said = self.document.get("memory") or {}
        figures = {name: said.get(name) for name in ("gbit", "width", "volts", "speed")}
        return MemoryWanted(**figures, vendors=tuple(said.get("vendors", ())))

    @property
    def memory_mib(self) -> int | None:
        """The card's memory: the fitted chips times a chip's gigabits; None where the model does not say them."""
        amount = float(self.memory.gbit or 0) * MIB_PER_GBIT * sum(site.fitted for site in self.sites)
        return int(amount) if amount and amount == int(amount) else None

    @cached_property
    def firmware(self) -> FirmwareWanted:
        """What an image for it must be."""
        said = self.document.get("firmware") or {}
        clocks = said.get("core_mhz"), said.get("memory_mhz")
        return FirmwareWanted(said.get("volts"), str(said.get("bus", "")), str(said.get("memory", "")), *clocks)

    @cached_property
    def rails(self) -> Mapping[str, Rail]:
        """Every rail by its id, in the file's order."""
        return {
            rail["id"]: Rail(
                rail["id"],
                rail.get("name", rail["id"]),
                float(rail.get("volts", 0)),
                tuple(rail.get("points", ())),
                bool(rail.get("input")),
            )
            for rail in self.document.get("rails", ())
        }

    @cached_property
    def phases(self) -> tuple[Phase, ...]:
        """The phases of its converters, in the file's order."""
        return tuple(
            Phase(phase["designator"], phase.get("rail", ""), phase.get("point", ""), phase.get("amps"))
            for phase in self.document.get("phases", ())
        )

    @cached_property
    def supervisors(self) -> tuple[Supervisor, ...]:
        """What watches the start, in the file's order."""
        return tuple(
            Supervisor(
                supervisor["designator"],
                tuple(
                    SenseInput(
                        path["rail"], path.get("high_point", ""), path.get("low_point", ""), path.get("threshold_v")
                    )
                    for path in supervisor.get("inputs", ())
                ),
            )
            for supervisor in self.document.get("supervisors", ())
        )

    @cached_property
    def startup_nodes(self) -> Mapping[str, StartupNode]:
        """The nodes of its own start-up map by their ids, in the file's order; empty where it has none."""
        return {
            node["id"]: StartupNode(
                node["id"],
                node.get("name", node["id"]),
                node.get("kind", "rail"),
                tuple(node.get("needs", ())),
                node.get("point", ""),
                tuple(node.get("parts", ())),
            )
            for node in self.document.get("startup", {}).get("nodes", ())
        }

    @cached_property
    def by_designator(self) -> dict[str, Site]:
        """Every site by what is printed next to it."""
        return {site.designator: site for site in self.sites}

    @cached_property
    def connectors(self) -> tuple[Landmark, ...]:
        """The plugs and sockets that the model names: parts of the board, though no entry among its parts."""
        known = {part.designator for part in self.parts}
        return tuple(
            mark for mark in self.landmarks if mark.kind in CONNECTORS and mark.text and mark.text not in known
        )

    @cached_property
    def extents(self) -> tuple[Fraction, Fraction, Fraction, Fraction]:
        """(left, bottom, right, top) of the outline, millimetres."""
        xs = [x for x, _ in self.outline]
        ys = [y for _, y in self.outline]
        return min(xs), min(ys), max(xs), max(ys)
