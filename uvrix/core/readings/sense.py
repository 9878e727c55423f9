"""What a card believes it draws: shunt drop by shunt resistance by rail (docs/trade §4.10, reported power)."""

from __future__ import annotations

from dataclasses import dataclass

from uvrix.core.readings.limits import SLOT_LEAST_W, SLOT_LIMIT_W
from uvrix.core.values.edges import over, under


@dataclass(frozen=True, slots=True)
class Sensed:
    """Amperes and watts as the card reckons them, whether that can be, and why."""

    amps: float
    watts: float
    plausible: bool
    why: str


def sense(shunt_ohms: float, rail_v: float, high_v: float, low_v: float, limit_w: float = SLOT_LIMIT_W) -> Sensed:
    """The figure from the two voltages at the shunt's ends (or at its sense resistors)."""
    amps = (high_v - low_v) / shunt_ohms
    watts = amps * rail_v
    reckoned = (
        f"({high_v:g} V - {low_v:g} V) / {shunt_ohms * 1000:g} mohm = {amps:.3g} A, times {rail_v:g} V = {watts:.3g} W"
    )
    if under(watts, SLOT_LEAST_W):
        return Sensed(
            amps, watts, False, f"{reckoned}: no card feeds its slot; the two sense paths are swapped or one is open."
        )
    if over(watts, limit_w):
        why = (
            f"{reckoned}: more than the {limit_w:g} W that come this way; a corroded sense resistor fakes such a drop."
        )
        return Sensed(amps, watts, False, why)
    return Sensed(amps, watts, True, f"{reckoned}: can be, up to {limit_w:g} W.")
