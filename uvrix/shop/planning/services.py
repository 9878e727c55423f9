"""Entering attempts and setting habits."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID, uuid5

from django.db import transaction
from django.utils import timezone

from uvrix.core.finding_kinds import group_of
from uvrix.core.planning.causes import EFFECTS
from uvrix.core.planning.habits import MOST_MINUTES, habits_from_json, habits_to_json
from uvrix.core.planning.plan import OUTCOMES
from uvrix.core.rework.acts import Do
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.case.acting import NewAct, enter_act, withdraw
from uvrix.shop.case.threads import thread
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, given
from uvrix.shop.jobs.models import Job
from uvrix.shop.planning.models import Attempt, AttemptWithdrawal, HabitsEdition

# What a repair of the plan is on the card.
# A chip that was worked on: lifted and put back by hand it is a reball or a replacement too.
WORKED = ("remove", "place", "swap", "reball")
ACT_OF: Mapping[str, Do] = {"reball": "reball", "replace": "swap", "lift-core": "reball"}


@dataclass(frozen=True, slots=True)
class NewAttempt:
    """What was tried, in how many minutes, and what came of it; `id` is the client's."""

    id: UUID
    do: Annotated[str, chosen(list(EFFECTS))]
    outcome: Annotated[str, chosen(list(OUTCOMES))]
    minutes: Annotated[float, given(min_value=0, max_value=MOST_MINUTES)]
    note: Annotated[str, given(allow_blank=True, max_length=400)] = ""


@transaction.atomic
def enter_attempt(job: Job, new: NewAttempt, by: User, at: datetime | None = None) -> tuple[Attempt, bool]:
    """The attempt about the job's finding as it is now, and whether it is new: the same entry twice is one.

    A repair that nobody has entered yet is the card's act at once, so that it is entered once and counts on every
    screen. Raises Problem 409 `no-finding` where the job has no finding that anything could be tried about, 422 where
    the act does not fit what stood before.
    """
    if new.do not in EFFECTS or new.outcome not in OUTCOMES:
        raise Problem(
            422,
            "does-not-fit",
            gettext("found {do} {outcome}, expected an action and its outcome", do=new.do, outcome=new.outcome),
        )
    job = Job.objects.select_for_update().get(pk=job.pk)
    if known := Attempt.objects.filter(pk=new.id).first():
        if known.job_id != job.pk:
            raise Problem(409, "id-used", gettext("This entry's id was used for another job."))
        return known, False
    finding = (job.located or {}).get("finding")
    group = group_of(finding["kind"]) if finding else None
    if finding is None or group is None:
        raise Problem(
            409, "no-finding", gettext("{label} has no finding that something could be tried about.", label=job.label)
        )
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
    for site, do in _not_entered_yet(job, new.do, finding):
        enter_act(job, NewAct(uuid5(new.id, site), do, "memory", site, more={"note": new.note[:200]}), by)
    return attempt, True


def _not_entered_yet(job: Job, do: str, finding: Mapping[str, Any]) -> Iterator[tuple[str, Do]]:
    """The sites and acts of a repair that was tried, where they were not entered since the last run that failed."""
    known = thread(job)
    facts, act = known.facts, ACT_OF.get(do)
    if act is None or facts.board is None:
        return
    failed = [entry.number for entry, run in (*facts.runs_before, *facts.runs) if run.failed]
    last = max(failed, default=-1)
    sites = [facts.board.core.designator] if do == "lift-core" else finding["designators"]
    for site in sites:
        if not any(entry.number > last for entry in facts.done(*WORKED, site=site)):
            yield site, act


def chips_of(finding: dict[str, Any]) -> str:
    """What a finding is about, as attempts are filed under it."""
    return ",".join(sorted(finding["designators"]))[:400]


def withdraw_attempt(attempt: Attempt, by: User) -> None:
    """Take an attempt back, with the acts that were entered by it; doing so twice changes nothing."""
    with transaction.atomic():
        _, new = AttemptWithdrawal.objects.get_or_create(attempt=attempt, defaults={"by": by})
        if not new:
            return
        sites = [*filter(None, attempt.chips.split(",")), *_core_of(attempt.job)]
        for act in Act.objects.filter(pk__in=[uuid5(attempt.pk, site) for site in sites]):
            withdraw(act, gettext("The attempt was taken back."), by)


def _core_of(job: Job) -> list[str]:
    board = thread(job).facts.board
    return [board.core.designator] if board else []


def set_habits(stored: dict[str, Any], by: User) -> HabitsEdition:
    """A new edition of the shop's habits; raises Refusal naming what does not fit."""
    return HabitsEdition.objects.create(habits=habits_to_json(habits_from_json(stored)), by=by)
