"""Entering attempts and setting habits."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from uvrix.core.finding_kinds import group_of
from uvrix.core.planning.causes import EFFECTS
from uvrix.core.planning.habits import habits_from_json, habits_to_json
from uvrix.core.planning.plan import OUTCOMES
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Job
from uvrix.shop.planning.models import Attempt, AttemptWithdrawal, HabitsEdition


@dataclass(frozen=True, slots=True)
class NewAttempt:
    """What was tried, in how many minutes, and what came of it; `id` is the client's."""

    id: UUID
    do: str
    outcome: str
    minutes: float
    note: str = ""


@transaction.atomic
def enter_attempt(job: Job, new: NewAttempt, by: User, at: datetime | None = None) -> tuple[Attempt, bool]:
    """The attempt about the job's finding as it is now, and whether it is new: the same entry twice is one.

    Raises Problem 409 `no-finding` where the job has no finding that anything could be tried about.
    """
    if new.do not in EFFECTS or new.outcome not in OUTCOMES:
        raise Problem(422, "does-not-fit", f"found {new.do} {new.outcome}, expected an action and its outcome")
    job = Job.objects.select_for_update().get(pk=job.pk)
    if known := Attempt.objects.filter(pk=new.id).first():
        if known.job_id != job.pk:
            raise Problem(409, "id-used", "This entry's id was used for another job.")
        return known, False
    finding = (job.located or {}).get("finding")
    group = group_of(finding["kind"]) if finding else None
    if finding is None or group is None:
        raise Problem(409, "no-finding", f"{job.label} has no finding that something could be tried about.")
    fields = {"kind": finding["kind"], "group": group.name, "chips": chips_of(finding)}
    attempt = Attempt.objects.create(
        id=new.id,
        job=job,
        do=new.do,
        outcome=new.outcome,
        minutes=new.minutes,
        note=new.note,
        by=by,
        at=at or timezone.now(),
        **fields,
    )
    return attempt, True


def chips_of(finding: dict[str, Any]) -> str:
    """What a finding is about, as attempts are filed under it."""
    return ",".join(sorted(finding["designators"]))[:400]


def withdraw_attempt(attempt: Attempt, by: User) -> None:
    """Take an attempt back; doing so twice changes nothing."""
    AttemptWithdrawal.objects.get_or_create(attempt=attempt, defaults={"by": by})


def set_habits(stored: dict[str, Any], by: User) -> HabitsEdition:
    """A new edition of the shop's habits; raises Refusal naming what does not fit."""
    return HabitsEdition.objects.create(habits=habits_to_json(habits_from_json(stored)), by=by)
