"""What a card believes it draws: shunt drop by shunt resistance by rail (docs/trade §4.10, reported power)."""

from __future__ import annotations

from dataclasses import dataclass

from uvrix.core.readings.limits import SLOT_LEAST_W, SLOT_LIMIT_W
from uvrix.core.values.edges import over, under
from uvrix.language import gettext


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
    reckoned = gettext(
        "({high_v} V - {low_v} V) / {shunt_ohms} mohm = {amps} A, times {rail_v} V = {watts} W",
        high_v=f"{high_v:g}",
        low_v=f"{low_v:g}",
        shunt_ohms=f"{shunt_ohms * 1000:g}",
        amps=f"{amps:.3g}",
        rail_v=f"{rail_v:g}",
        watts=f"{watts:.3g}",
    )
    if under(watts, SLOT_LEAST_W):
        return Sensed(
            amps,
            watts,
            False,
            gettext(
                "{reckoned}: no card feeds its slot; the two sense paths are swapped or one is open.", reckoned=reckoned
            ),
        )
    if over(watts, limit_w):
        why = gettext(
            "{reckoned}: more than the {limit_w} W that come this way; a corroded sense resistor fakes such a drop.",
            reckoned=reckoned,
            limit_w=f"{limit_w:g}",
        )
        return Sensed(amps, watts, False, why)
    return Sensed(
        amps, watts, True, gettext("{reckoned}: can be, up to {limit_w} W.", reckoned=reckoned, limit_w=f"{limit_w:g}")
    )
