"""The hunt's part of a card's thread: what was fed and where it warmed."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from uvrix.shop.case.rows import Row, rows_of, source
from uvrix.shop.shorts.models import Glow, Injection, Thermal


@source(Injection)
def injections(jobs: Sequence[int]) -> Iterable[Row]:
    """What was fed."""

    def entries(one: Injection) -> Iterable[Mapping[str, Any]]:
        return [{"injected": {"point": one.point or one.rail, "volts": one.volts, "amps": one.amps}}]

    return rows_of(Injection.objects.all(), jobs, "ohms", entries)


@source(Glow)
def glows(jobs: Sequence[int]) -> Iterable[Row]:
    """Where it warmed, as it was clicked; nothing where nothing did."""

    def entries(one: Glow) -> Iterable[Mapping[str, Any]]:
        if not one.side:
            return [{"glow": None}]
        return [{"glow": {"side": one.side, "x_mm": one.x_mm, "y_mm": one.y_mm}}]

    return rows_of(Glow.objects.all(), jobs, "ohms", entries)


@source(Thermal)
def thermals(jobs: Sequence[int]) -> Iterable[Row]:
    """Where it warmed, by a thermal picture; nothing where nothing stood out."""

    def entries(one: Thermal) -> Iterable[Mapping[str, Any]]:
        if one.x_mm is None or one.y_mm is None:
            return [{"glow": None}]
        return [{"glow": {"side": one.side, "x_mm": one.x_mm, "y_mm": one.y_mm}}]

    return rows_of(Thermal.objects.all(), jobs, "ohms", entries)
