"""Starting and stopping clocks, saying what a card is worth, handing tasks over."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Annotated
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from uvrix.core.worth.worth import Money
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.clock.models import ClockCorrection, ClockSpan, JobWorth, MoneyEdition, Task
from uvrix.shop.config.limits import MOST_MINUTES, MOST_MONEY
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import given
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row


@transaction.atomic
def start_clock(job: Job, entry: UUID, step: str, by: User) -> tuple[ClockSpan, bool]:
    """A clock that runs for this person on this step, and whether it is new; the one that ran before ends now."""
    if known := ClockSpan.objects.filter(pk=entry).first():
        return keep_row(ClockSpan, job, known.pk, by)
    User.objects.select_for_update().get(pk=by.pk)
    now = timezone.now()
    ClockSpan.objects.filter(by=by, ended_at=None).update(ended_at=now)
    return keep_row(ClockSpan, job, entry, by, step=step, at=now)


def stop_clock(by: User) -> None:
    """The person's clock ends; where none runs, nothing happens."""
    ClockSpan.objects.filter(by=by, ended_at=None).update(ended_at=timezone.now())


@transaction.atomic
def say_minutes(span: ClockSpan, minutes: float, by: User) -> None:
    """Correct the minutes of a clock, as of one left on overnight. Raises Problem 403 where it is another person's."""
    if span.by_id != by.pk:
        raise Problem(403, "not-yours", gettext("Only the person who did the work can say how long it took."))
    ClockSpan.objects.filter(pk=span.pk, ended_at=None).update(ended_at=timezone.now())
    ClockCorrection.objects.create(span=span, minutes=minutes, by=by)


@dataclass(frozen=True, slots=True)
class NewWorth:
    """What a card is worth repaired; chance and minutes where the technician's own estimate shall count."""

    id: UUID
    value: Annotated[float, given(min_value=0, max_value=MOST_MONEY)]
    chance: Annotated[float | None, given(min_value=0, max_value=1)] = None
    minutes: Annotated[float | None, given(min_value=0, max_value=MOST_MINUTES)] = None
    parts: Annotated[float, given(min_value=0, max_value=MOST_MONEY)] = 0.0
    note: Annotated[str, given(max_length=200, allow_blank=True)] = ""


def say_worth(job: Job, new: NewWorth, by: User) -> tuple[JobWorth, bool]:
    """What the card is worth, and whether the entry is new."""
    fields = {name: getattr(new, name) for name in NewWorth.__slots__ if name != "id"}
    return keep_row(JobWorth, job, new.id, by, **fields)


def set_money(new: Money, by: User) -> MoneyEdition:
    """The shop's figures from now on."""
    return MoneyEdition.objects.create(**asdict(new), by=by)


def add_task(job: Job, entry: UUID, words: str, by: User) -> tuple[Task, bool]:
    """Something that other hands can do, and whether it is new."""
    return keep_row(Task, job, entry, by, words=words)


@transaction.atomic
def take_task(task: UUID, by: User) -> Task:
    """Take a task on. Raises Problem 409 `taken` where somebody else took it first."""
    found = Task.objects.select_for_update(of=("self",)).select_related("taken_by").get(pk=task)
    if found.taken_by_id not in {None, by.pk}:
        assert found.taken_by
        raise Problem(409, "taken", gettext("{shown_name} took it already.", shown_name=found.taken_by.shown_name))
    if found.taken_by_id is None:
        found.taken_by, found.taken_at = by, timezone.now()
        found.save(update_fields=["taken_by", "taken_at"])
    return found


@transaction.atomic
def finish_task(task: UUID, by: User) -> Task:
    """Say that a task is done; saying so twice changes nothing."""
    found = Task.objects.select_for_update().get(pk=task)
    if found.done_at is None:
        found.done_by, found.done_at = by, timezone.now()
        found.save(update_fields=["done_by", "done_at"])
    return found
