"""Arrive's part of a card's thread: what is wrong, and what was tried with something else changed."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from uvrix.core.case.entries import SYMPTOMS
from uvrix.shop.arrive.models import Symptom, Trial
from uvrix.shop.case.rows import Row, rows_of, source

OFTEN = {"often": "often", "rarely": "rarely"}


@source(Symptom)
def symptoms(jobs: Sequence[int]) -> Iterable[Row]:
    """What the shop sees."""

    def entries(one: Symptom) -> Iterable[Mapping[str, Any]]:
        kinds = [kind for kind in one.kinds if kind in SYMPTOMS] or ["other"]
        return [{"symptom": kinds}]

    return rows_of(Symptom.objects.all(), jobs, "arrive", entries)


@source(Trial)
def trials(jobs: Sequence[int]) -> Iterable[Row]:
    """Cells of the matrix with one thing changed; those with several changed say nothing of one."""
    often = dict(Symptom.objects.filter(job__in=jobs).order_by("at", "pk").values_list("job", "often"))

    def entries(one: Trial) -> Iterable[Mapping[str, Any]]:
        changed = [] if one.cell == "own" else one.cell.split("+")
        if len(changed) != 1:
            return []
        how = OFTEN.get(often.get(one.job_id, ""))
        return [{"trial": {"changed": changed[0], "shows": one.shows, **({"as": how} if how else {})}}]

    return rows_of(Trial.objects.filter(withdrawal=None), jobs, "arrive", entries)
