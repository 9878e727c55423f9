"""Look's part of a card's thread: regions with nothing wrong, and what was seen."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from uvrix.shop.case.rows import Row, rows_of, source
from uvrix.shop.look.models import LookFinding, RegionLook


@source(RegionLook)
def looks(jobs: Sequence[int]) -> Iterable[Row]:
    """Regions that were looked at and found clear."""

    def entries(one: RegionLook) -> Iterable[Mapping[str, Any]]:
        return [{"looked": one.region}] if one.clear else []

    return rows_of(RegionLook.objects.all(), jobs, "look", entries)


@source(LookFinding)
def findings(jobs: Sequence[int]) -> Iterable[Row]:
    """What was seen and not taken back."""

    def entries(one: LookFinding) -> Iterable[Mapping[str, Any]]:
        if one.part:
            return [{"seen": {"kind": one.kind, "part": one.part}}]
        if one.x_mm is None or one.y_mm is None:
            return []
        return [{"seen": {"kind": one.kind, "side": one.side, "x_mm": one.x_mm, "y_mm": one.y_mm}}]

    return rows_of(LookFinding.objects.filter(withdrawal=None), jobs, "look", entries)
