"""Memory's part of a card's thread: runs, and marks that were confirmed."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from uvrix.shop.bench.models import ChipMark, MemoryRun
from uvrix.shop.case.rows import Row, key_of, row, source


@source(MemoryRun)
def runs(jobs: Sequence[int]) -> Iterable[Row]:
    """Memory runs that were not withdrawn, each with its stored report."""
    for run in MemoryRun.objects.filter(job__in=jobs, withdrawal=None).order_by("added_at", "number"):
        key = key_of(run)
        yield Row(run.job_id, run.added_at, run.added_by_id, key, "memory", {"run": {"report": key}}, run.report)


@source(ChipMark)
def marks(jobs: Sequence[int]) -> Iterable[Row]:
    """Marks that were confirmed."""
    for mark in ChipMark.objects.filter(job__in=jobs, withdrawal=None).order_by("at"):
        yield row(mark, "memory", {"answered": {"do": "mark", "answer": mark.designator}})
