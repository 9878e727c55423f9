"""Injecting a low voltage to see a short by its heat: how much at most, and the heat to be seen (domain.md §3)."""

from __future__ import annotations

from dataclasses import dataclass

from uvrix.core.cautions import CAUTIONS, FOR_INJECTION

# Start at half a volt, at most one, never above a rail that it may reach.
START_VOLTS, MOST_VOLTS = 0.5, 1.0
# Heat that a bare part shows to a camera or to alcohol, and what a bench lead and a trace take without harm.
SEEN_WATTS, MOST_AMPS, LEAST_AMPS = 1.5, 5.0, 0.5


@dataclass(frozen=True, slots=True)
class Injection:
    """Volts to start with, the current limit, the most the supply gives, the heat in the short, cautions."""

    volts: float
    amps_limit: float
    watts: float
    watts_in_short: float
    cautions: tuple[str, ...]


def injection(rail_v: float, ohms: float, lowest_v: float | None = None) -> Injection:
    """How to inject into a rail that reads `ohms`; `lowest_v`: the lowest rail reached through a joined stage."""
    most = min(MOST_VOLTS, rail_v, *([lowest_v] if lowest_v is not None else []))
    volts = min(START_VOLTS, most)
    wanted = (SEEN_WATTS / ohms) ** 0.5 if ohms > 0 else MOST_AMPS
    limit = round(min(MOST_AMPS, max(LEAST_AMPS, wanted)), 2)
    amps = min(limit, volts / ohms) if ohms > 0 else limit
    cautions = [f"Never above {most:g} V here.", *(CAUTIONS[key].says for key in FOR_INJECTION)]
    if lowest_v is not None and lowest_v < min(MOST_VOLTS, rail_v):
        cautions.insert(0, f"Through a joined stage it reaches a rail of {lowest_v:g} V.")
    return Injection(volts, limit, volts * limit, amps * amps * ohms, tuple(cautions))
