"""How much time went into a job, what it is worth, what is to be done."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING, cast

from django.utils import timezone

from uvrix.core.planning.causes import REPAIRS
from uvrix.core.worth.worth import Ahead, Money, Worth, ahead_of, weigh
from uvrix.shop.accounts.models import User
from uvrix.shop.clock.models import ClockSpan, JobWorth, MoneyEdition, Task
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.planning.queries import plan_for, shop_habits

if TYPE_CHECKING:
    from uvrix.core.values.writing import DateStyle, DecimalSign


@dataclass(frozen=True, slots=True)
class Time:
    """Minutes by step and whole, and whose clocks run on it."""

    by_step: dict[str, float]
    minutes: float
    running: tuple[ClockSpan, ...]


def money() -> Money:
    """The shop's figures, else the usual ones."""
    newest = MoneyEdition.objects.last()
    if newest is None:
        return Money()
    written = cast("DateStyle", newest.dates), cast("DecimalSign", newest.decimal)
    return Money(newest.currency, newest.hour, newest.share, *written)


def time_of(job: Job) -> Time:
    """How long a job took so far: what clocks counted, and what was said at acts while none ran."""
    by_step: defaultdict[str, float] = defaultdict(float)
    running = []
    for span in job.clockspan_rows.select_related("by").prefetch_related("corrections"):
        by_step[span.step] += span.minutes
        if span.ended_at is None:
            running.append(span)
    spans = [(span.at, span.ended_at or timezone.now()) for span in job.clockspan_rows.all()]
    for act in job.act_rows.filter(withdrawal=None, minutes__gt=0).only("at", "minutes", "step"):
        by_step[act.step] += _off_the_clock(act.at, float(act.minutes or 0.0), spans)
    return Time({step: minutes for step, minutes in by_step.items() if minutes}, sum(by_step.values()), tuple(running))


def _off_the_clock(ended: datetime, minutes: float, spans: Sequence[tuple[datetime, datetime]]) -> float:
    """The minutes of an act that no clock counted: the act was entered at its end and began its minutes before."""
    begun = ended - timedelta(minutes=minutes)
    counted = sum((max(timedelta(), min(ended, until) - max(begun, since)) for since, until in spans), timedelta())
    return max(0.0, minutes - counted / timedelta(minutes=1))


def running_clock(user: User) -> ClockSpan | None:
    """The clock that runs for a person."""
    return ClockSpan.objects.filter(by=user, ended_at=None).select_related("job", "by").first()


def worth_of(job: Job, time: Time) -> tuple[JobWorth, Worth] | None:
    """How the job stands, where its worth was said; `job` comes with its standing."""
    said = job.jobworth_rows.select_related("by").last()
    if said is None:
        return None
    ahead: Ahead | None = None
    actions = plan_for(job, shop_habits())
    if actions:
        ahead = ahead_of((action.chance, action.minutes, action.do in REPAIRS) for action in actions)
    if said.chance is not None and said.minutes is not None:
        ahead = Ahead(said.chance, said.minutes)
    if ahead:
        ahead = Ahead(ahead.chance, ahead.minutes, said.parts)
    return said, weigh(said.value, time.minutes, ahead, money())


def open_tasks() -> list[Task]:
    """Everything that other hands can do, on all open jobs, oldest first."""
    waiting = of_the_shop(Task.objects.filter(done_at=None, job__closed_at=None))
    return list(waiting.select_related("job", "by", "taken_by"))
