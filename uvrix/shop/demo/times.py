"""The demo's rows told over the days since each job came, in the order in which they were entered, or told late."""

from __future__ import annotations

from copy import copy
from datetime import timedelta
from typing import Any

from django.apps import apps
from django.utils import timezone

from uvrix.shop.jobs.models import Job

BETWEEN = timedelta(minutes=9)
FIRST = timedelta(hours=2)


def spread(job: Job) -> None:
    """Give every row of a job a time of its own; rows that tell theirs by another field keep it."""
    rows: list[Any] = []
    for model in apps.get_models():
        names = {field.name for field in model._meta.get_fields()}
        if model.__module__.startswith("uvrix.shop") and {"job", "at", "by"} <= names:
            rows += list(model._default_manager.filter(job=job, at__gt=job.opened_at + FIRST))
    now = timezone.now()
    fresh = [row for row in rows if now - row.at < timedelta(hours=1)]
    for number, row in enumerate(sorted(fresh, key=lambda entry: entry.at)):
        at = min(job.opened_at + FIRST + number * BETWEEN, now)
        type(row)._default_manager.filter(pk=row.pk).update(at=at)


def while_here(job: Job) -> Job:
    """The job as it was before its card left, for what was done then and is told late."""
    earlier = copy(job)
    earlier.closed_at = None
    return earlier
