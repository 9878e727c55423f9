"""What a step gives to a card's thread: its rows as entries of docs/formats §17."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from django.db.models import Model, QuerySet

from uvrix.shop.jobs.rows import filled


@dataclass(frozen=True, slots=True)
class Row:
    """A row as an entry: whose job, when, by whom (the person's id), its key (`model:id`), on which step's screen.

    `report` is the stored report of a memory run.
    """

    job: int
    at: datetime
    by: int | None
    key: str
    step: str
    entry: Mapping[str, Any]
    report: Mapping[str, Any] = field(default_factory=dict)


Source = Callable[[Sequence[int]], Iterable[Row]]
SOURCES: list[tuple[type[Model] | None, Source]] = []


def source(table: type[Model] | None) -> Callable[[Source], Source]:
    """Register what a step gives to the thread of the jobs with these numbers.

    `table` has a column `job`: where it holds no row of them the source is not asked. None: it is always asked.
    """

    def register(function: Source) -> Source:
        SOURCES.append((table, function))
        return function

    return register


def _asked(jobs: Sequence[int]) -> list[Source]:
    """The sources that have something to give."""
    has = filled(list(dict.fromkeys(table for table, _ in SOURCES if table)), jobs)
    return [give for table, give in SOURCES if table is None or table in has]


def rows_of(
    found: QuerySet[Any], jobs: Sequence[int], step: str, entries: Callable[[Any], Iterable[Mapping[str, Any]]]
) -> Iterator[Row]:
    """The rows of some jobs, oldest first, each as the entries that it means."""
    for job in found.filter(job__in=jobs).order_by("at", "pk"):
        for entry in entries(job):
            yield row(job, step, entry)


def row(entered: Any, step: str, entry: Mapping[str, Any], at: datetime | None = None) -> Row:
    """A row of a job as an entry."""
    return Row(entered.job_id, at or entered.at, entered.by_id, key_of(entered), step, entry)


def key_of(model: Model) -> str:
    """How an entry names its row."""
    return f"{type(model).__name__.lower()}:{model.pk}"


def gather(jobs: Sequence[int]) -> dict[int, list[Row]]:
    """All rows of some jobs in the order of happening."""
    found: dict[int, list[Row]] = {number: [] for number in jobs}
    for give in _asked(jobs):
        for candidate in give(jobs):
            found[candidate.job].append(candidate)
    return {number: sorted(rows, key=lambda candidate: candidate.at) for number, rows in found.items()}


# Says that from here on the card lives on another board, whose serial it names.
ANOTHER_BOARD = "another-board"
# What goes with core and memory to another board: what the customer said and answered, and how the fault showed.
GOES_ALONG = {"symptom", "trial"}


def on_this_board(rows: Sequence[Row]) -> tuple[list[Row], list[Row], Row | None]:
    """The rows that speak of the board that the card lives on now, those of a former one, and the move between them.

    A cooler that was off stays off: it goes along with its core.
    """
    move = next((row for row in reversed(rows) if ANOTHER_BOARD in row.entry), None)
    if move is None:
        return list(rows), [], None
    here: list[Row] = []
    former: list[Row] = []
    for candidate in rows:
        if ANOTHER_BOARD not in candidate.entry:
            (here if candidate.at >= move.at or _goes_along(candidate.entry) else former).append(candidate)
    return here, former, move


def _goes_along(entry: Mapping[str, Any]) -> bool:
    asked = entry.get("answered", {}).get("do") == "ask"
    return asked or not GOES_ALONG.isdisjoint(entry) or entry.get("did") in {"cooler-off", "cooler-on"}


# How many changes of rows this process has seen.
_SEEN = Counter[str]()


def changes() -> int:
    """A number that grows with every change: what was read of a case before the last one is read anew."""
    return _SEEN["changes"]


def changed() -> None:
    """A row came, changed or went."""
    _SEEN["changes"] += 1
