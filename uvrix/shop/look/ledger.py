"""Look's part of a card's thread: regions with nothing wrong, and what was seen."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from uvrix.shop.case.rows import Row, rows_of, source
from uvrix.shop.look.models import LookFinding, RegionLook


@source(RegionLook)
def looks(jobs: Sequence[int]) -> Iterable[Row]:
    """Regions that were looked at and found clear."""

    def entries(region_look: RegionLook) -> Iterable[Mapping[str, Any]]:
        return [{"looked": region_look.region}] if region_look.clear else []

    return rows_of(RegionLook.objects.all(), jobs, "look", entries)


@source(LookFinding)
def findings(jobs: Sequence[int]) -> Iterable[Row]:
    """What was seen and not taken back."""

    def entries(look_finding: LookFinding) -> Iterable[Mapping[str, Any]]:
        if look_finding.part:
            return [{"seen": {"kind": look_finding.kind, "part": look_finding.part}}]
        if look_finding.x_mm is None or look_finding.y_mm is None:
            return []
        return [
            {
                "seen": {
                    "kind": look_finding.kind,
                    "side": look_finding.side,
                    "x_mm": look_finding.x_mm,
                    "y_mm": look_finding.y_mm,
                }
            }
        ]

    return rows_of(LookFinding.objects.filter(withdrawal=None), jobs, "look", entries)
