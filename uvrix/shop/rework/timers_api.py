"""Timers that run across jobs, and the cautions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Annotated, Any
from uuid import UUID

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.cautions import CAUTIONS, DEFER, SHIFT_HOURS
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.models import User
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.shapes import chosen, given, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.rework.models import CautionSeen, Timer
from uvrix.shop.rework.services import acknowledge, start_timer, stop_timer

TIMER_KINDS = ["curing", "cooling", "soak", "other"]
MOST_MINUTES = 60 * 24 * 14


class TimerSerializer(serializers.ModelSerializer[Timer]):
    """A timer that runs, or has rung and was not heard yet."""

    job = serializers.IntegerField(source="job_id")
    job_label = serializers.CharField(source="job.label")
    timed = serializers.ChoiceField(choices=TIMER_KINDS, source="kind")
    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = Timer
        fields = ["id", "job", "job_label", "name", "timed", "ends_at", "by", "at"]


def running() -> Any:
    """Timers that nobody stopped, those that ring first."""
    rows = Timer.objects.filter(stopped_at=None).select_related("job", "by").order_by("ends_at")
    return TimerSerializer(rows, many=True).data


class Timers(APIView):
    """Timers of all jobs."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=TimerSerializer(many=True), operation_id="timers")
    def get(self, request: Request) -> Response:
        """Timers that run or ring."""
        return Response(running())


@dataclass(frozen=True, slots=True)
class NewTimer:
    """A timer to start."""

    id: UUID
    name: Annotated[str, given(max_length=60)]
    timed: Annotated[str, chosen(TIMER_KINDS)]
    minutes: Annotated[float, given(min_value=0.02, max_value=MOST_MINUTES)]
    begun_at: Annotated[datetime | None, given(allow_null=False)] = None


class JobTimers(APIView):
    """Timers of a job."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewTimer), responses={201: TimerSerializer(many=True)})
    def post(self, request: Request, number: int) -> Response:
        """Start one."""
        entry, job = entry_of(request, NewTimer), found_job(number)
        begun = min(entry.begun_at or timezone.now(), timezone.now())
        ends = begun + timedelta(minutes=entry.minutes)
        start_timer(job, entry.id, (entry.name, entry.timed), ends, person(request))
        return Response(running(), 201)


class TimerStopped(APIView):
    """Stopping a timer."""

    roles = {"POST": BENCH}

    @extend_schema(request=None, responses=TimerSerializer(many=True), operation_id="timer_stop")
    def post(self, request: Request, timer: str) -> Response:
        """Stop a timer that was heard, or is no longer needed."""
        stop_timer(get_object_or_404(Timer, pk=timer), person(request))
        return Response(running())


@dataclass(frozen=True, slots=True)
class CautionAnswer:
    """A caution, and whether this person acknowledged it this shift."""

    key: str
    says: str
    every_time: bool
    seen: bool


@dataclass(frozen=True, slots=True)
class CautionsAnswer:
    """All cautions, and what they defer to."""

    cautions: Sequence[CautionAnswer]
    defer: str


def cautions_for(user: User) -> CautionsAnswer:
    """Every caution as it stands for a person."""
    since = timezone.now() - timedelta(hours=SHIFT_HOURS)
    seen = set(CautionSeen.objects.filter(user=user, at__gte=since).values_list("key", flat=True))
    rows = [
        CautionAnswer(
            key=key,
            says=caution.says,
            every_time=caution.every_time,
            seen=key in seen and not caution.every_time,
        )
        for key, caution in CAUTIONS.items()
    ]
    return CautionsAnswer(cautions=rows, defer=DEFER)


class Cautions(APIView):
    """The cautions."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(CautionsAnswer))
    def get(self, request: Request) -> Response:
        """All of them."""
        return Response(cautions_for(person(request)))


class CautionRead(APIView):
    """Acknowledging a caution."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=None, responses=shape(CautionsAnswer))
    def post(self, request: Request, caution: str) -> Response:
        """Say that the caution was read: it is not asked for again this shift."""
        acknowledge(caution, person(request))
        return Response(cautions_for(person(request)))
