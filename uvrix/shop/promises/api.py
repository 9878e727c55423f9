"""What a job owes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.promises import KINDS
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE, LEAD
from uvrix.shop.config.shapes import given, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.promises.queries import owed
from uvrix.shop.promises.services import NewPromise, make_promise, settle, waive


class WaivedSerializer(serializers.Serializer[Any]):
    """Why a debt does not keep the card here."""

    reason = serializers.CharField()
    by = serializers.CharField(source="by.shown_name")
    at = serializers.DateTimeField()


class OwedPlaceSerializer(serializers.Serializer[Any]):
    """Where something owed is: millimetres where a board is drawn there, pixels of the photograph it was clicked on."""

    side = serializers.CharField()
    x_mm = serializers.FloatField(allow_null=True)
    y_mm = serializers.FloatField(allow_null=True)
    picture = serializers.CharField(allow_null=True)
    x_px = serializers.FloatField(allow_null=True)
    y_px = serializers.FloatField(allow_null=True)


class OwedSerializer(serializers.Serializer[Any]):
    """Something owed before the card may leave."""

    key = serializers.CharField()
    kind = serializers.ChoiceField(choices=list(KINDS))
    kind_words = serializers.SerializerMethodField()
    words = serializers.CharField()
    part = serializers.CharField(allow_blank=True)
    place = OwedPlaceSerializer(allow_null=True)
    by = serializers.CharField()
    at = serializers.DateTimeField()
    by_hand = serializers.BooleanField()
    blocks = serializers.BooleanField()
    waived = WaivedSerializer(allow_null=True)

    def get_kind_words(self, owed_entry: Any) -> str:
        """The kind in words."""
        return KINDS[owed_entry.kind]


def _owed(job: Job) -> Any:
    return OwedSerializer(owed(job), many=True).data


class JobOwed(APIView):
    """What a job owes."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}

    @extend_schema(responses=OwedSerializer(many=True), operation_id="job_owed")
    def get(self, request: Request, number: int) -> Response:
        """Everything that is owed, oldest first."""
        return Response(_owed(found_job(number)))

    @extend_schema(
        request=shape(NewPromise),
        responses={201: OwedSerializer(many=True), 200: OwedSerializer(many=True)},
        operation_id="job_promise",
    )
    def post(self, request: Request, number: int) -> Response:
        """Promise something, or lend something."""
        entry, job = entry_of(request, NewPromise), found_job(number)
        _, new = make_promise(job, entry, person(request))
        return Response(_owed(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class SettledRequest:
    """What was owed and is done; `same`: the part that was off is on again, not another one."""

    id: UUID
    key: Annotated[str, given(max_length=80)]
    same: bool = False


class JobSettled(APIView):
    """Settling what is owed."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(SettledRequest), responses=OwedSerializer(many=True))
    def post(self, request: Request, number: int) -> Response:
        """Say that a debt is settled: a promise kept, a part fitted, a lead unsoldered, a coil fitted."""
        entry, job = entry_of(request, SettledRequest), found_job(number)
        settle(job, entry.key, entry.id, person(request), same=entry.same)
        return Response(_owed(job))


@dataclass(frozen=True, slots=True)
class WaiveRequest:
    """Something promised or unsettled to let go, and why."""

    key: Annotated[str, given(max_length=80)]
    reason: Annotated[str, given(max_length=400)]


class JobWaivers(APIView):
    """Letting a card go although something is owed."""

    roles = {"POST": LEAD}

    @extend_schema(request=shape(WaiveRequest), responses=OwedSerializer(many=True))
    def post(self, request: Request, number: int) -> Response:
        """Let it go, with a reason; the record keeps both."""
        entry, job = entry_of(request, WaiveRequest), found_job(number)
        waive(job, entry.key, entry.reason, person(request))
        return Response(_owed(job))
