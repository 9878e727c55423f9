"""What open pages ask again and again: what was entered since, and who else is on the job.

Answered from the audit, into which every change goes whichever process took it, so that any server tells of the changes
of all (docs/decisions/live-by-asking.md).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Annotated, Any

from django.db import connection
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.audit import READS
from uvrix.shop.accounts.entries import person
from uvrix.shop.accounts.models import AuditEntry, User
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.config.limits import MOST_NUMBER
from uvrix.shop.config.shapes import declared, shape, written
from uvrix.shop.live.models import Presence

# An entry of the audit may become visible after one that was written later: this much is told twice.
TOLD_TWICE = timedelta(seconds=5)
# A page that slept for longer asks for everything anew.
FARTHEST_BACK = timedelta(minutes=10)
MOST_CHANGES = 200
# Whoever has not asked for this long has left the job.
HERE = timedelta(seconds=8)
SEEN_ON = """
with gone as (
  delete from live_presence where user_id = %(user)s and at < now() - interval '1 minute' and job <> %(job)s
)
insert into live_presence (user_id, job) values (%(user)s, %(job)s)
on conflict (job, user_id) do update set at = now() where live_presence.at < now() - interval '3 seconds'
"""


class LiveChangeSerializer(serializers.Serializer[Any]):
    """A change that somebody made; `request` is the number that its answer carried, `job` null where it is of none."""

    request = serializers.CharField()
    job = serializers.IntegerField(allow_null=True)


@dataclass(frozen=True, slots=True)
class LiveAnswer:
    """What is new; `at` is what to ask with next time, `all` says that more changed than is told."""

    at: datetime
    all: bool
    changes: Annotated[Iterable[Any], declared(LiveChangeSerializer(many=True))]
    others: Sequence[str]


class LiveAskedSerializer(serializers.Serializer[Any]):
    """Since when, and for which job's page."""

    since = serializers.DateTimeField(required=False)
    job = serializers.IntegerField(required=False, min_value=1, max_value=MOST_NUMBER)


class Live(APIView):
    """What others do meanwhile."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        parameters=[OpenApiParameter("since", datetime), OpenApiParameter("job", int)],
        responses=shape(LiveAnswer),
        operation_id="live",
    )
    def get(self, request: Request) -> Response:
        """Changes since the last answer, whoever made them, and who else has this job open."""
        asked = LiveAskedSerializer(data=request.query_params)
        asked.is_valid(raise_exception=True)
        now, job = timezone.now(), asked.validated_data.get("job")
        since = asked.validated_data.get("since", now)
        farthest = now - FARTHEST_BACK
        changes = _changes(max(since, farthest) - TOLD_TWICE) if "since" in asked.validated_data else []
        told = LiveAnswer(
            at=now,
            all=since < farthest or len(changes) > MOST_CHANGES,
            changes=changes[:MOST_CHANGES],
            others=_others(job, person(request)) if job else [],
        )
        return Response(written(told))


def _changes(since: datetime) -> list[Any]:
    """What was changed over the API after a moment; refusals and what only took data along changed nothing."""
    found = AuditEntry.objects.filter(at__gt=since, status__lt=400).exclude(method__in=READS)
    return list(found.order_by("at").values("request", "job")[: MOST_CHANGES + 1])


def _others(job: int, user: User) -> list[str]:
    """Who else has the job open, by name; who asks is remembered."""
    with connection.cursor() as cursor:
        cursor.execute(SEEN_ON, {"user": user.pk, "job": job})
    here = Presence.objects.filter(job=job, at__gt=timezone.now() - HERE).exclude(user=user)
    return sorted(present.user.shown_name for present in here.select_related("user"))
