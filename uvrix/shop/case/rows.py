"""What a step gives to a card's thread: its rows as entries of case.md."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from django.db.models import Model, QuerySet


@dataclass(frozen=True, slots=True)
class Row:
    """A row as an entry: whose job, when, by whom (the person's id), its key (`model:id`), on which step's screen.

    `report` is the stored report of a memory run. `ends` is a row that ends what another began: it says nothing where
    an act has ended it already.
    """

    job: int
    at: datetime
    by: int | None
    key: str
    step: str
    entry: Mapping[str, Any]
    report: Mapping[str, Any] = field(default_factory=dict)
    ends: bool = False


# What each act begins, by what ends it; and what each act ends.
BEGINS = {"remove": "place", "solder-lead": "unsolder-lead", "lift-coil": "fit-coil"}
ENDS = {
    "place": ("place",),
    "swap": ("place",),
    "cut-layers": ("place",),
    "unsolder-lead": ("unsolder-lead",),
    "fit-coil": ("fit-coil",),
}
Source = Callable[[Sequence[int]], Iterable[Row]]
SOURCES: list[Source] = []


def source(function: Source) -> Source:
    """Register what a step gives to the thread of the jobs with these numbers."""
    SOURCES.append(function)
    return function


def rows_of(
    found: QuerySet[Any], jobs: Sequence[int], step: str, entries: Callable[[Any], Iterable[Mapping[str, Any]]]
) -> Iterator[Row]:
    """The rows of some jobs, oldest first, each as the entries that it means."""
    for one in found.filter(job__in=jobs).order_by("at", "pk"):
        for entry in entries(one):
            yield row(one, step, entry)


def row(one: Any, step: str, entry: Mapping[str, Any], at: datetime | None = None) -> Row:
    """A row of a job as an entry."""
    return Row(one.job_id, at or one.at, one.by_id, key_of(one), step, entry)


def key_of(one: Model) -> str:
    """How an entry names its row."""
    return f"{type(one).__name__.lower()}:{one.pk}"


def gather(jobs: Sequence[int]) -> dict[int, list[Row]]:
    """All rows of some jobs in the order of happening."""
    found: dict[int, list[Row]] = {number: [] for number in jobs}
    for give in SOURCES:
        for one in give(jobs):
            found[one.job].append(one)
    return {number: _told_once(sorted(rows, key=lambda one: one.at)) for number, rows in found.items()}


def _told_once(rows: Iterable[Row]) -> list[Row]:
    """The rows without those that end what an act has ended: a part that was swapped is on again without being told."""
    kept, begun = [], set()
    for one in rows:
        act, site = one.entry.get("did"), one.entry.get("site")
        if one.ends and (act, site) not in begun:
            continue
        if act in BEGINS:
            begun.add((BEGINS[act], site))
        elif act in ENDS:
            begun -= {(ending, site) for ending in ENDS[act]}
        kept.append(one)
    return kept
