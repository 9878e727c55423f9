"""Rework's part of a card's thread beside the acts: lots read off chips."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from uvrix.shop.case.rows import Row, rows_of, source
from uvrix.shop.rework.models import ChipLot


@source(ChipLot)
def lots(jobs: Sequence[int]) -> Iterable[Row]:
    """Lots read off chips that the card came with."""

    def entries(chip_lot: ChipLot) -> Iterable[Mapping[str, Any]]:
        card, _, site = chip_lot.chip.rpartition("/")
        return [{"lot": {"site": site, "lot": chip_lot.lot}}] if card == chip_lot.job.card.serial else []

    return rows_of(ChipLot.objects.select_related("job__card"), jobs, "rework", entries)
