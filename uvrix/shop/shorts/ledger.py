"""The hunt's part of a card's thread: what was fed and where it warmed."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from uvrix.shop.case.rows import Row, rows_of, source
from uvrix.shop.shorts.models import Glow, Injection, Thermal


@source(Injection)
def injections(jobs: Sequence[int]) -> Iterable[Row]:
    """What was fed."""

    def entries(injection: Injection) -> Iterable[Mapping[str, Any]]:
        return [
            {"injected": {"point": injection.point or injection.rail, "volts": injection.volts, "amps": injection.amps}}
        ]

    return rows_of(Injection.objects.all(), jobs, "ohms", entries)


@source(Glow)
def glows(jobs: Sequence[int]) -> Iterable[Row]:
    """Where it warmed, as it was clicked; nothing where nothing did."""

    def entries(glow: Glow) -> Iterable[Mapping[str, Any]]:
        if not glow.side:
            return [{"glow": None}]
        return [{"glow": {"side": glow.side, "x_mm": glow.x_mm, "y_mm": glow.y_mm}}]

    return rows_of(Glow.objects.all(), jobs, "ohms", entries)


@source(Thermal)
def thermals(jobs: Sequence[int]) -> Iterable[Row]:
    """Where it warmed, by a thermal picture; nothing where nothing stood out."""

    def entries(thermal: Thermal) -> Iterable[Mapping[str, Any]]:
        if thermal.x_mm is None or thermal.y_mm is None:
            return [{"glow": None}]
        return [{"glow": {"side": thermal.side, "x_mm": thermal.x_mm, "y_mm": thermal.y_mm}}]

    return rows_of(Thermal.objects.all(), jobs, "ohms", entries)
