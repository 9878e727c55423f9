"""Arrive's part of a card's thread: what is wrong, what was tried with something else changed, its own warranty."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any, Literal

from uvrix.core.arrive.intake import sealed
from uvrix.core.case.entries import SYMPTOMS
from uvrix.shop.arrive.models import Intake, Symptom, Trial
from uvrix.shop.case.given import gives
from uvrix.shop.case.rows import Row, rows_of, source
from uvrix.shop.jobs.models import Job

OFTEN = {"often": "often", "rarely": "rarely"}


@source(Symptom)
def symptoms(jobs: Sequence[int]) -> Iterable[Row]:
    """What the shop sees."""

    def entries(symptom: Symptom) -> Iterable[Mapping[str, Any]]:
        kinds = [kind for kind in symptom.kinds if kind in SYMPTOMS] or ["other"]
        return [{"symptom": kinds}]

    return rows_of(Symptom.objects.all(), jobs, "arrive", entries)


@source(Trial)
def trials(jobs: Sequence[int]) -> Iterable[Row]:
    """Cells of the matrix with one thing changed; those with several changed say nothing of one."""
    often = dict(Symptom.objects.filter(job__in=jobs).order_by("at", "pk").values_list("job", "often"))

    def entries(trial: Trial) -> Iterable[Mapping[str, Any]]:
        changed = [] if trial.cell == "own" else trial.cell.split("+")
        if len(changed) != 1:
            return []
        how = OFTEN.get(often.get(trial.job_id, ""))
        return [{"trial": {"changed": changed[0], "shows": trial.shows, **({"as": how} if how else {})}}]

    return rows_of(Trial.objects.filter(withdrawal=None), jobs, "arrive", entries)


@gives("warranty", of_its_job=[Intake])
def warranty(job: Job) -> Literal["", "ask", "valid"]:
    """Whether the seller's or maker's warranty is to be asked about, or still stands."""
    parcel = job.intakes.last()
    if parcel is None or not sealed(parcel.provenance, parcel.seals):
        return ""
    return {"": "ask", "valid": "valid"}.get(parcel.warranty, "")  # type: ignore[return-value]
