"""Rows that say what happened on a job: added under an id that the client made, never changed."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from functools import cache
from typing import Any, Protocol, TypeVar
from uuid import UUID

from django.db import IntegrityError, connection, transaction
from django.db.models import Model, QuerySet
from django.utils import timezone

from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.leaving import at_hand, must_be_at_hand
from uvrix.shop.jobs.models import Card, Job


class OfAJob(Protocol):
    """A row of a job."""

    job_id: Any
    objects: Any


Row = TypeVar("Row", bound=OfAJob)


def keep_row(row: type[Row], job: Job, entry: UUID, by: User, **fields: Any) -> tuple[Row, bool]:
    """The row of an entry, and whether it is new: the same entry sent twice is one.

    Raises Problem 409 `id-used` where the id belongs to another job's entry, `left` where it is new, is measured on the
    card or done to it, and the card left.
    """
    if getattr(row, "at_the_card", False) and not at_hand(job) and not row.objects.filter(pk=entry).exists():
        must_be_at_hand(job)
    fresh = {"at": timezone.now(), **fields, "job": job, "by": by}
    try:
        with transaction.atomic():
            return row.objects.create(pk=entry, **fresh), True
    except IntegrityError:
        if known := row.objects.filter(pk=entry).first():
            return own(known, job), False
        raise


def filled(tables: Sequence[type[Model]], jobs: Sequence[int]) -> frozenset[type[Model]]:
    """Which of the tables (with a column `job`) hold a row of any of the jobs: one statement for all of them.

    Most cards have come half the way: asking each table for nothing costs more than all that is there.
    """
    if not tables:
        return frozenset()
    row = _exist([f"{table._meta.db_table} where job_id = any(%(jobs)s)" for table in tables], {"jobs": list(jobs)})
    return frozenset(table for table, has in zip(tables, row, strict=True) if has)


def _exist(rows: Sequence[str], values: Mapping[str, Any]) -> tuple[bool, ...]:
    with connection.cursor() as cursor:
        cursor.execute(f"select {', '.join(f'exists (select from {row})' for row in rows)}", values)  # noqa: S608
        found: tuple[bool, ...] = cursor.fetchone()
    return found


# The attribute in which a job keeps which tables hold rows of it, for as long as `knowing` lasts.
FILLED = "filled_tables"


@contextmanager
def knowing(job: Job) -> Iterator[None]:
    """Inside, `has_rows` and `rows_of` know from one statement which tables hold rows of the job or of its card.

    Only for reading: a row that is written inside may not be seen.
    """
    if FILLED in vars(job):
        yield
        return
    row = _exist(_of_job_or_card(), {"job": job.pk, "card": job.card_id})
    vars(job)[FILLED] = frozenset(table for table, has in zip(_tables(), row, strict=True) if has)
    try:
        yield
    finally:
        del vars(job)[FILLED]


def has_rows(job: Job, table: type[Model]) -> bool:
    """Whether a table may hold rows of a job or its card: False only where `knowing` says that it holds none."""
    known: frozenset[type[Model]] | None = vars(job).get(FILLED)
    return known is None or table in known


def rows_of(job: Job, name: str, *related: str, also: Sequence[str] = ()) -> Iterable[Any]:
    """The rows of a job by the name that its model gives them, each with what is named of it.

    Where there are none, no query is built or run: building one costs as much as most answers.
    """
    if not has_rows(job, _table_of(name)):
        return ()
    found: QuerySet[Any] = getattr(job, name).select_related(*related).prefetch_related(*also)
    return found


@cache
def _tables() -> tuple[type[Model], ...]:
    """Every table of rows of a job."""
    related = (relation for relation in Job._meta.related_objects if relation.field.name == "job")
    return tuple(dict.fromkeys(relation.related_model for relation in related))


@cache
def _of_job_or_card() -> tuple[str, ...]:
    """The rows of each table that are of a job, or in any of its visits of its card."""
    of_card = {relation.related_model for relation in Card._meta.related_objects if relation.field.name == "card"}
    either = {True: "job_id = %(job)s or card_id = %(card)s", False: "job_id = %(job)s"}
    return tuple(f"{table._meta.db_table} where {either[table in of_card]}" for table in _tables())


@cache
def _table_of(name: str) -> type[Model]:
    """The table whose rows a job has under a name."""
    return {relation.get_accessor_name(): relation.related_model for relation in Job._meta.related_objects}[name]


def delete_with_all(row: Model) -> None:
    """Delete a row after all that names it: of a job everything, of anything else what corrects or answers it."""
    # also those whose reverse relation has no name
    every: list[Any] = list(type(row)._meta.get_fields(include_hidden=True))
    for relation in every:
        if relation.auto_created and not relation.concrete and not relation.many_to_many:
            for found in relation.related_model._base_manager.filter(**{relation.field.name: row.pk}):
                delete_with_all(found)
    row.delete()


def own(found: Row, job: Job) -> Row:
    """The row, where it is this job's; raises Problem 409 `id-used` where it is another's."""
    if found.job_id != job.pk:
        raise Problem(409, "id-used", "This entry's id was used for another job.")
    return found
