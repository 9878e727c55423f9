"""Injecting a low voltage to see a short by its heat: how much at most, and the heat to be seen (docs/trade §3.9)."""

from __future__ import annotations

from dataclasses import dataclass

from uvrix.core.cautions import CAUTIONS, FOR_INJECTION
from uvrix.core.readings.limits import INJECT_LEAST_A, INJECT_MOST_A, INJECT_MOST_V, INJECT_SEEN_W, INJECT_START_V
from uvrix.language import gettext


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
    most = min(INJECT_MOST_V, rail_v, *([lowest_v] if lowest_v is not None else []))
    volts = min(INJECT_START_V, most)
    wanted = (INJECT_SEEN_W / ohms) ** 0.5 if ohms > 0 else INJECT_MOST_A
    limit = round(min(INJECT_MOST_A, max(INJECT_LEAST_A, wanted)), 2)
    amps = min(limit, volts / ohms) if ohms > 0 else limit
    cautions = [gettext("Never above {most} V here.", most=f"{most:g}"), *(CAUTIONS[key].says for key in FOR_INJECTION)]
    if lowest_v is not None and lowest_v < min(INJECT_MOST_V, rail_v):
        cautions.insert(
            0, gettext("Through a joined stage it reaches a rail of {lowest_v} V.", lowest_v=f"{lowest_v:g}")
        )
    return Injection(volts, limit, volts * limit, amps * amps * ohms, tuple(cautions))
