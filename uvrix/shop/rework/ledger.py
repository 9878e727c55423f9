"""Rework's part of a card's thread: what was done to sites and chips, firmware written, pads surveyed."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from uvrix.core.rework.events import original
from uvrix.shop.case.rows import Row, rows_of, source
from uvrix.shop.rework.models import ChipLot, ImageWrite, Rework


@source(Rework)
def acts(jobs: Sequence[int]) -> Iterable[Row]:
    """What was done at Rework and not taken back; a chip that is placed again is named where it is another one."""

    def entries(one: Rework) -> Iterable[Mapping[str, Any]]:
        if not one.site or one.do == "baked":
            return []  # of a chip in the hand, and drying one that lay open
        own = original(one.job.card.serial, one.site)
        chip = {"chip": one.chip_in} if one.do == "place" and one.chip_in and one.chip_in != own else {}
        return [{"did": one.do, "site": one.site, **chip}]

    return rows_of(Rework.objects.filter(withdrawal=None).select_related("job__card"), jobs, "rework", entries)


@source(ImageWrite)
def firmware(jobs: Sequence[int]) -> Iterable[Row]:
    """Images that were written."""

    def entries(one: ImageWrite) -> Iterable[Mapping[str, Any]]:
        del one
        return [{"did": "write"}]

    return rows_of(ImageWrite.objects.all(), jobs, "rework", entries)


@source(ChipLot)
def lots(jobs: Sequence[int]) -> Iterable[Row]:
    """Lots read off chips that the card came with."""

    def entries(one: ChipLot) -> Iterable[Mapping[str, Any]]:
        card, _, site = one.chip.rpartition("/")
        return [{"lot": {"site": site, "lot": one.lot}}] if card == one.job.card.serial else []

    return rows_of(ChipLot.objects.select_related("job__card"), jobs, "rework", entries)
