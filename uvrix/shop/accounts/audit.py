"""Who entered, changed or fetched what, when and from where: for the lead, and kept for 400 days."""

from __future__ import annotations

import logging
import re
from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.db import DatabaseError, InterfaceError, transaction
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.language import gettext
from uvrix.shop.accounts.models import AuditEntry, User
from uvrix.shop.config.access import LEAD
from uvrix.shop.config.logs import REQUEST, masked

LOG = logging.getLogger(__name__)
LASTS = timedelta(days=400)
MOST_SHOWN = 200
READS = frozenset({"GET", "HEAD", "OPTIONS"})
# What takes everything of a job or of the shop away is worth knowing though it changes nothing.
TAKEN_ALONG = frozenset({"job-archive", "shop-archive", "backups"})
# Questions that are asked by POST and change nothing; some of them twice a second.
ASKS = frozenset(
    {"board-suggestions", "board-drafts", "placement", "reader-try", "supplies-watched", "meter-samples"}
    | {"meter-heard", "straightened", "photograph-overlay"}
)
REFUSED = frozenset({401, 403, 429})
JOB = re.compile(r"^/api/v1/jobs/([0-9]{1,9})(?:/|$)")


class Audited:
    """Writes down every change, every refusal for want of a right, and whatever takes data along."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer; a record that cannot be kept is said in the log, and refuses nothing."""
        response = self.answer(request)
        if _is_kept(request, response.status_code):
            try:
                with transaction.atomic():
                    _keep(request, response.status_code)
            except (DatabaseError, InterfaceError):
                LOG.warning("an entry of the audit could not be kept: %s %s", request.method, masked(request.path))
        return response


def _is_kept(request: HttpRequest, status: int) -> bool:
    if not request.path.startswith("/api/") or request.resolver_match is None:
        return False
    route = request.resolver_match.view_name
    if request.method in READS:
        return route in TAKEN_ALONG
    return route not in ASKS and (status < 400 or status in REFUSED)


def _keep(request: HttpRequest, status: int) -> None:
    user = request.user if isinstance(request.user, User) else None
    job = JOB.match(request.path)
    AuditEntry.objects.create(
        user=user,
        method=request.method or "",
        route=request.resolver_match.view_name if request.resolver_match else "",
        path=masked(request.path)[:300],
        job=int(job[1]) if job else None,
        status=status,
        address=request.META.get("REMOTE_ADDR", "")[:45],
        request=REQUEST.get()[:64],
    )


def forget_old() -> int:
    """Remove what is older than the audit reaches; how many."""
    return AuditEntry.objects.filter(at__lt=timezone.now() - LASTS).delete()[0]


class AuditEntrySerializer(serializers.ModelSerializer[AuditEntry]):
    """Something that was done over the API."""

    name = serializers.CharField(source="user.shown_name", default="")

    class Meta:
        model = AuditEntry
        fields = ["id", "at", "name", "method", "route", "path", "job", "status", "address", "request"]


class Audit(APIView):
    """What was done, for the lead."""

    roles = {"GET": LEAD}

    @extend_schema(
        parameters=[OpenApiParameter("person", str), OpenApiParameter("job", int), OpenApiParameter("before", int)],
        responses=AuditEntrySerializer(many=True),
        operation_id="audit",
    )
    def get(self, request: Request) -> Response:
        """Newest first, at most two hundred; `before` an entry's id, of one `person` (username) or `job`."""
        found = AuditEntry.objects.select_related("user")
        asked: dict[str, Any] = {}
        for name, field in (("person", "user__username"), ("job", "job"), ("before", "pk__lt")):
            if value := request.query_params.get(name, ""):
                if name != "person" and not (value.isascii() and value.isdigit() and len(value) < 19):
                    raise serializers.ValidationError(
                        {name: gettext("found {value}, expected a number", value=repr(value[:40]))}
                    )
                asked[field] = value
        return Response(AuditEntrySerializer(found.filter(**asked)[:MOST_SHOWN], many=True).data)
