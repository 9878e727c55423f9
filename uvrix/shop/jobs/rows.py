"""Rows that say what happened on a job: added under an id that the client made, never changed."""

from __future__ import annotations

from typing import Any, Protocol, TypeVar
from uuid import UUID

from django.db import IntegrityError, transaction
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


def own(found: Row, job: Job) -> Row:
    """The row, where it is this job's; raises Problem 409 `id-used` where it is another's."""
    if found.job_id != job.pk:
        raise Problem(409, "id-used", "This entry's id was used for another job.")
    return found
