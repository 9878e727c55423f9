"""Rows that say what happened on a job: added under an id that the client made, never changed."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Protocol, TypeVar
from uuid import UUID

from django.db import IntegrityError, connection, transaction
from django.db.models import Model
from django.utils import timezone

from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Job


class OfAJob(Protocol):
    """A row of a job."""

    job_id: Any
    objects: Any


Row = TypeVar("Row", bound=OfAJob)


def keep_row(row: type[Row], job: Job, entry: UUID, by: User, **fields: Any) -> tuple[Row, bool]:
    """The row of an entry, and whether it is new: the same entry sent twice is one.

    Raises Problem 409 `id-used` where the id belongs to another job's entry.
    """
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
    each = [f"exists (select from {table._meta.db_table} where job_id = any(%(jobs)s))" for table in tables]
    with connection.cursor() as cursor:
        cursor.execute(f"select {', '.join(each)}", {"jobs": list(jobs)})
        row = cursor.fetchone() or ()
    return frozenset(table for table, has in zip(tables, row, strict=True) if has)


def own(found: Row, job: Job) -> Row:
    """The row, where it is this job's; raises Problem 409 `id-used` where it is another's."""
    if found.job_id != job.pk:
        raise Problem(409, "id-used", "This entry's id was used for another job.")
    return found
