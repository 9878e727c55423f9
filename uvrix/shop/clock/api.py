"""Clocks, worth, tasks."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.values.writing import DATE_STYLES, DECIMAL_SIGNS
from uvrix.core.worth.worth import Money
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.clock.models import ClockSpan, JobWorth, Task
from uvrix.shop.clock.queries import money, open_tasks, running_clock, time_of, worth_of
from uvrix.shop.clock.services import (
    NewWorth,
    add_task,
    finish_task,
    say_minutes,
    say_worth,
    set_money,
    start_clock,
    stop_clock,
    take_task,
)
from uvrix.shop.config.access import BENCH, EVERYONE, LEAD, PUBLIC
from uvrix.shop.config.limits import MOST_MINUTES, MOST_MONEY
from uvrix.shop.config.shapes import chosen, declared, given, shape, written
from uvrix.shop.jobs.api import standing_job
from uvrix.shop.jobs.models import Job

STEPS = ["arrive", "look", "ohms", "volts", "memory", "rework", "prove", "return"]


class SpanSerializer(serializers.ModelSerializer[ClockSpan]):
    """A clock that runs or ran."""

    job = serializers.IntegerField(source="job_id")
    by = serializers.CharField(source="by.shown_name")
    minutes = serializers.FloatField()

    class Meta:
        model = ClockSpan
        fields = ["id", "job", "step", "by", "at", "ended_at", "minutes"]


class AheadSerializer(serializers.Serializer[Any]):
    """The way to a cure: its chance, expected minutes, parts."""

    chance = serializers.FloatField()
    minutes = serializers.FloatField()
    parts = serializers.FloatField()


class WorthSerializer(serializers.Serializer[Any]):
    """Whether it is worth going on, with the numbers."""

    value = serializers.FloatField()
    note = serializers.CharField(allow_blank=True)
    own = serializers.BooleanField()
    by = serializers.CharField()
    at = serializers.DateTimeField()
    budget_minutes = serializers.FloatField()
    left_minutes = serializers.FloatField()
    spent = serializers.FloatField()
    ahead = AheadSerializer(allow_null=True)
    cost_ahead = serializers.FloatField()
    going_on = serializers.FloatField(allow_null=True)
    verdict = serializers.ChoiceField(choices=["go-on", "over", "stop", "open"])
    why = serializers.CharField()


@dataclass(frozen=True, slots=True)
class StepMinutesAnswer:
    """Minutes at a step."""

    step: Annotated[str, chosen(STEPS)]
    minutes: float


class MoneySerializer(serializers.Serializer[Any]):
    """The shop's figures."""

    currency = serializers.CharField(max_length=12)
    hour = serializers.FloatField(min_value=0.01, max_value=MOST_MONEY)
    share = serializers.FloatField(min_value=0.01, max_value=10)
    dates = serializers.ChoiceField(choices=DATE_STYLES, default="day-month")
    decimal = serializers.ChoiceField(choices=DECIMAL_SIGNS, default="point")


class WritingSerializer(serializers.Serializer[Any]):
    """How the shop writes dates and amounts."""

    dates = serializers.ChoiceField(choices=DATE_STYLES)
    decimal = serializers.ChoiceField(choices=DECIMAL_SIGNS)


class TaskSerializer(serializers.ModelSerializer[Task]):
    """A task."""

    job = serializers.IntegerField(source="job_id")
    by = serializers.CharField(source="by.shown_name")
    taken_by = serializers.CharField(source="taken_by.shown_name", default=None, allow_null=True)

    class Meta:
        model = Task
        fields = ["id", "job", "words", "by", "at", "taken_by", "done_at"]


@dataclass(frozen=True, slots=True)
class JobTimeAnswer:
    """Time, worth and tasks of a job."""

    steps: Sequence[StepMinutesAnswer]
    minutes: float
    running: Annotated[Iterable[Any], declared(SpanSerializer(many=True))]
    worth: Annotated[Any, declared(WorthSerializer(allow_null=True))]
    money: Annotated[Any, declared(MoneySerializer())]
    tasks: Annotated[Iterable[Any], declared(TaskSerializer(many=True))]


def _time(job: Job) -> Any:
    time = time_of(job)
    found = worth_of(job, time)
    shown = JobTimeAnswer(
        steps=[StepMinutesAnswer(step=step, minutes=minutes) for step, minutes in time.by_step.items()],
        minutes=time.minutes,
        running=time.running,
        worth=_worth(*found) if found else None,
        money=money(),
        tasks=job.task_rows.filter(done_at=None).select_related("by", "taken_by"),
    )
    return written(shown)


def _worth(said: JobWorth, found: Any) -> dict[str, Any]:
    names = ("budget_minutes", "left_minutes", "spent", "ahead", "cost_ahead", "going_on", "verdict", "why")
    own = said.chance is not None and said.minutes is not None
    who = {"by": said.by.shown_name, "at": said.at, "value": said.value, "note": said.note, "own": own}
    return {**who, **{name: getattr(found, name) for name in names}}


class JobTime(APIView):
    """Time, worth and tasks of a job."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(JobTimeAnswer))
    def get(self, request: Request, number: int) -> Response:
        """How long it took, whether it is worth going on, what other hands can do."""
        return Response(_time(standing_job(number)))


@dataclass(frozen=True, slots=True)
class StartClockRequest:
    """A clock to start."""

    id: UUID
    step: Annotated[str, chosen(STEPS)]


class JobClock(APIView):
    """Starting the clock."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(StartClockRequest), responses={201: shape(JobTimeAnswer), 200: shape(JobTimeAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Start the caller's clock: it runs until it is stopped or another starts, also while the page is closed."""
        entry, job = entry_of(request, StartClockRequest), standing_job(number)
        _, new = start_clock(job, entry.id, entry.step, person(request))
        return Response(_time(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class MyClockAnswer:
    """The clock that runs for whoever asks."""

    running: Annotated[Any, declared(SpanSerializer(allow_null=True))]


class MyClock(APIView):
    """The clock of whoever asks."""

    roles = {"GET": EVERYONE, "DELETE": BENCH}

    @extend_schema(responses=shape(MyClockAnswer))
    def get(self, request: Request) -> Response:
        """The one that runs, or null."""
        return Response(written(MyClockAnswer(running=running_clock(person(request)))))

    @extend_schema(responses={204: None})
    def delete(self, request: Request) -> Response:
        """Stop it."""
        stop_clock(person(request))
        return Response(status=204)


@dataclass(frozen=True, slots=True)
class SaidMinutesRequest:
    """The minutes that a piece of work really took."""

    minutes: Annotated[float, given(min_value=0, max_value=MOST_MINUTES)]


class ClockMinutes(APIView):
    """Putting a clock right."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(SaidMinutesRequest), responses=shape(JobTimeAnswer))
    def post(self, request: Request, span: UUID) -> Response:
        """Say how long it really was; it ends where it still ran."""
        entry = entry_of(request, SaidMinutesRequest)
        found = get_object_or_404(ClockSpan, pk=span)
        say_minutes(found, entry.minutes, person(request))
        return Response(_time(standing_job(found.job_id)))


class JobWorthView(APIView):
    """What a card is worth."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(NewWorth), responses={201: shape(JobTimeAnswer), 200: shape(JobTimeAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Say it; what was said before stays in the record."""
        entry, job = entry_of(request, NewWorth), standing_job(number)
        _, new = say_worth(job, entry, person(request))
        return Response(_time(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewTask:
    """A task to hand over."""

    id: UUID
    words: Annotated[str, given(max_length=200)]


class JobTasks(APIView):
    """Tasks of a job."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(NewTask), responses={201: shape(JobTimeAnswer), 200: shape(JobTimeAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Add one."""
        entry, job = entry_of(request, NewTask), standing_job(number)
        _, new = add_task(job, entry.id, entry.words, person(request))
        return Response(_time(job), 201 if new else 200)


class Tasks(APIView):
    """What other hands can do."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=TaskSerializer(many=True), operation_id="tasks_open")
    def get(self, request: Request) -> Response:
        """All open tasks of open jobs, oldest first."""
        return Response(TaskSerializer(open_tasks(), many=True).data)


class TaskTaken(APIView):
    """Taking a task."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=None, responses=TaskSerializer(many=True))
    def post(self, request: Request, task: UUID) -> Response:
        """Take the task on."""
        try:
            take_task(task, person(request))
        except Task.DoesNotExist:
            raise Http404 from None
        return Response(TaskSerializer(open_tasks(), many=True).data)


class TaskDone(APIView):
    """Finishing a task."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=None, responses=TaskSerializer(many=True))
    def post(self, request: Request, task: UUID) -> Response:
        """Say that the task is done."""
        try:
            finish_task(task, person(request))
        except Task.DoesNotExist:
            raise Http404 from None
        return Response(TaskSerializer(open_tasks(), many=True).data)


class MoneyView(APIView):
    """The shop's figures."""

    roles = {"GET": EVERYONE, "PUT": LEAD}

    @extend_schema(responses=MoneySerializer)
    def get(self, request: Request) -> Response:
        """Currency, an hour's cost, the share of a card's value that may go into it; how both are written."""
        return Response(MoneySerializer(money()).data)

    @extend_schema(request=MoneySerializer, responses=MoneySerializer)
    def put(self, request: Request) -> Response:
        """Set them from now on; what stood before stays in the record."""
        entry = entry_of(request, MoneySerializer)
        set_money(Money(**entry), by=person(request))
        return Response(MoneySerializer(money()).data)


class WritingView(APIView):
    """How the shop writes dates and amounts; a customer's page is written so too."""

    roles = {"GET": PUBLIC}

    @extend_schema(responses=WritingSerializer)
    def get(self, request: Request) -> Response:
        """Order of a date, decimal sign."""
        return Response(WritingSerializer(money()).data)
