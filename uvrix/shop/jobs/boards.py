"""Which board a job's card lives on: core and memory may move to another one, and the job goes with them."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import TypeVar

from django.db.models import F, Model, Q, QuerySet

from uvrix.shop.jobs.models import Card, Job, JobBoard

Rows = TypeVar("Rows", bound=Model)


def board_since(jobs: Sequence[int]) -> dict[int, datetime]:
    """Since when each job whose card moved to another board has been on that one, by job."""
    return dict(JobBoard.objects.filter(job__in=jobs).order_by("at").values_list("job", "at"))


def of_this_board(job: Job, rows: QuerySet[Rows]) -> QuerySet[Rows]:
    """A job's rows (of a table with `at`) that are about the board that its card lives on now."""
    return rows.filter(at__gte=job.board_since) if job.board_since else rows


def of_board(rows: QuerySet[Rows], card: Card | int) -> QuerySet[Rows]:
    """Rows (of a table with `job` and `at`) that were entered while their job was on this board."""
    key = card if isinstance(card, int) else card.pk
    came = Q(job__jobboard_rows__after=key, job__jobboard_rows__at__gt=F("at"))
    left = Q(job__jobboard_rows__before=key, job__jobboard_rows__at__gt=F("at"))
    now = rows.filter(job__card=key).exclude(pk__in=rows.filter(came).values("pk"))
    return rows.filter(Q(pk__in=now.values("pk")) | Q(pk__in=rows.filter(left).values("pk")))


def boards_of(job: Job) -> list[JobBoard]:
    """The moves of a job's card to other boards, oldest first."""
    return list(job.jobboard_rows.select_related("before", "after", "by"))
