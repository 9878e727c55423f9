"""Rework's part of a card's thread beside the acts: lots read off chips, and what the pads below them came to."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from uvrix.core.rework.pads import by_eye, comes_to
from uvrix.shop.case.rows import Row, row, rows_of, source
from uvrix.shop.library.queries import model_board
from uvrix.shop.rework.models import ChipLot, PadMarks
from uvrix.shop.rework.queries import pads_of, settings_now, surveyed_at


@source(ChipLot)
def lots(jobs: Sequence[int]) -> Iterable[Row]:
    """Lots read off chips that the card came with."""

    def entries(chip_lot: ChipLot) -> Iterable[Mapping[str, Any]]:
        card, _, site = chip_lot.chip.rpartition("/")
        return [{"lot": {"site": site, "lot": chip_lot.lot}}] if card == chip_lot.job.card.serial else []

    return rows_of(ChipLot.objects.select_related("job__card"), jobs, "rework", entries)


@source(PadMarks)
def pads(jobs: Sequence[int]) -> Iterable[Row]:
    """What the survey below each chip came to, when its last pad was marked."""
    found = PadMarks.objects.filter(job__in=jobs).select_related("job__card__model__newest").order_by("at", "pk")
    last = {(surveyed_at(model_board(marks.job.card.model), marks.designator), marks.job_id): marks for marks in found}
    for (site, _), marks in last.items():
        _, states, survey = pads_of(marks.job, site, settings_now())
        if verdict := comes_to(survey.verdict if survey else by_eye(states)):
            yield row(marks, "rework", {"pads": {"site": site, "verdict": verdict}})
