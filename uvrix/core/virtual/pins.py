"""What a meter in diode mode finds at the balls of a virtual card's memory chips and at its slot contacts.

Core and chip are junctions that lie parallel on a line until the chip is lifted. The meter pushes a milliampere: its
voltage is where junctions and leaks together carry that (a junction carries e times more every SLOPE_V).
"""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from uvrix.core.boards.contacts import by_name
from uvrix.core.boards.packages import Package
from uvrix.core.errors import Refusal, quoted
from uvrix.core.readings.slot import CAPACITOR, SLOT
from uvrix.core.virtual.dice import dice

PinKind = Literal["joint", "dead-pin", "leaky-pin", "trace", "leaky-line", "torn"]
PIN_KINDS: tuple[PinKind, ...] = ("joint", "dead-pin", "leaky-pin", "trace", "leaky-line", "torn")
METER_AMPS, MOST_V, SLOPE_V = 0.001, 2.0, 0.045
LEAK_OHMS = 120.0
# Cards, chips and lines of one kind differ by this much.
SPREAD_V = 0.003
CORE_V, CHIP_V, LANE_V, CLOCK_V = 0.43, 0.44, 0.36, 0.41


@dataclass(frozen=True, slots=True)
class PinFault:
    """A fault at a ball or contact `CHIP.PIN`.

    `joint`: the ball is open; `dead-pin`, `leaky-pin`: the chip's own; `trace`: the board's side is open (trace or the
    core's joint); `leaky-line`: it leaks to ground; `torn`: a slot contact is gone.
    """

    kind: PinKind
    pin: str


@dataclass(frozen=True, slots=True)
class Line:
    """The junctions on a line, in volts at the meter's current, and what leaks to ground beside them, in ohms."""

    junctions: tuple[float, ...]
    leaks: tuple[float, ...] = ()

    @property
    def diode_v(self) -> float | None:
        """What diode mode shows; None: over-limit."""
        low, high = 0.0, MOST_V
        if self._amps(high) < METER_AMPS:
            return None
        for _ in range(60):
            middle = (low + high) / 2
            low, high = (middle, high) if self._amps(middle) < METER_AMPS else (low, middle)
        return high

    def _amps(self, volts: float) -> float:
        carried = sum(METER_AMPS * math.exp((volts - junction) / SLOPE_V) for junction in self.junctions)
        return carried + sum(volts / leak for leak in self.leaks)


@dataclass(frozen=True)
class Pins:
    """The balls and contacts of one card; `off` are chips that are lifted. Sites are given by their package."""

    board: str
    seed: int
    faults: Sequence[PinFault] = ()
    packages: Mapping[str, Package] | None = None
    off: Collection[str] = ()

    def line(self, chip: str, pin: str, package: str, *, alone: bool = False) -> Line:
        """The line at a ball of a chip; `alone`: on the lifted chip itself."""
        there = {fault.kind for fault in self.faults if fault.pin == f"{chip}.{pin}"}
        core, own = self._usual(chip, pin, package)
        if alone or (chip not in self.off and "joint" not in there):
            mine = () if "dead-pin" in there else own
            leaks = (LEAK_OHMS,) if "leaky-pin" in there else ()
        else:
            mine, leaks = (), ()
        if alone:
            return Line(mine, leaks)
        boards = () if "trace" in there else core
        return Line((*boards, *mine), (*leaks, *((LEAK_OHMS,) if "leaky-line" in there else ())))

    def contact(self, where: str, name: str) -> Line:
        """The line at a slot contact (`slot`), or on the core's side of its capacitor (`caps`). Raises Refusal."""
        contact = by_name().get(name)
        if contact is None or contact.kind not in {"lane", "clock"} or (where == CAPACITOR and contact.pair != "tx"):
            raise Refusal("", quoted(f"{where}.{name}"), "a contact of a lane or the clock")
        there = {fault.kind for fault in self.faults if fault.pin.split(".")[-1] == name}
        outside = where == SLOT
        if outside and ("torn" in there or contact.pair == "tx"):
            return Line(())
        usual = CLOCK_V if contact.kind == "clock" else LANE_V + (0.02 if contact.pair == "tx" else 0.0)
        junction = usual + float(dice(self.board, self.seed, name).normal(0, SPREAD_V))
        leaks = (LEAK_OHMS,) if "leaky-line" in there else ()
        return Line(() if "trace" in there else (junction,), leaks)

    def _usual(self, chip: str, pin: str, package: str) -> tuple[tuple[float, ...], tuple[float, ...]]:
        """The core's junctions and the chip's own at a ball without faults."""
        known = (self.packages or {}).get(package)
        kind = known.classes.get(pin, "signal") if known else "signal"
        signal = known.signals.get(pin, pin) if known else pin
        if kind == "unused":
            return (), ()
        if kind == "ground":
            return (0.001,), (0.001,)
        if kind == "supply":
            return (0.18,), (0.22,)
        shift = 0.0 if signal.startswith("DQ") else float(dice(self.board, signal).uniform(-0.08, 0.08))
        own = float(dice(self.board, self.seed, chip, pin).normal(0, SPREAD_V))
        core = float(dice(self.board, self.seed, "core", chip, pin).normal(0, SPREAD_V))
        return (CORE_V + shift + core,), (CHIP_V + shift + own,)


def parse_pin_fault(text: str) -> PinFault | None:
    """A fault at a ball or contact from KIND:CHIP.PIN, None where the kind is none of them."""
    kind, _, pin = text.partition(":")
    return next((PinFault(known, pin) for known in PIN_KINDS if kind == known and "." in pin), None)
