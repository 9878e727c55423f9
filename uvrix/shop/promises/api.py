"""What a job owes."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.promises import BY_HAND, KINDS
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE, LEAD
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.promises.queries import owed
from uvrix.shop.promises.services import NewPromise, make_promise, settle, waive

FARTHEST_MM, FARTHEST_PX = 2000.0, 100_000.0


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

    def get_kind_words(self, one: Any) -> str:
        """The kind in words."""
        return KINDS[one.kind]


class NewPromiseSerializer(serializers.Serializer[Any]):
    """A promise to make."""

    id = serializers.UUIDField()
    kind = serializers.ChoiceField(choices=list(BY_HAND))
    words = serializers.CharField(max_length=200)
    part = serializers.CharField(max_length=80, required=False, allow_blank=True)
    side = serializers.ChoiceField(choices=["front", "back", ""], required=False)
    x_mm = serializers.FloatField(required=False, allow_null=True, min_value=-FARTHEST_MM, max_value=FARTHEST_MM)
    y_mm = serializers.FloatField(required=False, allow_null=True, min_value=-FARTHEST_MM, max_value=FARTHEST_MM)
    picture = serializers.RegexField("^[0-9a-f]{64}$", required=False, allow_blank=True)
    x_px = serializers.FloatField(required=False, allow_null=True, min_value=0, max_value=FARTHEST_PX)
    y_px = serializers.FloatField(required=False, allow_null=True, min_value=0, max_value=FARTHEST_PX)


def _owed(job: Job) -> Any:
    return OwedSerializer(owed(job), many=True).data


class JobOwed(APIView):
    """What a job owes."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}

    @extend_schema(responses=OwedSerializer(many=True), operation_id="job_owed")
    def get(self, request: Request, number: int) -> Response:
        """All of it, oldest first."""
        return Response(_owed(found_job(number)))

    @extend_schema(
        request=NewPromiseSerializer,
        responses={201: OwedSerializer(many=True), 200: OwedSerializer(many=True)},
        operation_id="job_promise",
    )
    def post(self, request: Request, number: int) -> Response:
        """Promise something, or lend something."""
        entry, job = entry_of(request, NewPromiseSerializer), found_job(number)
        _, new = make_promise(job, NewPromise(**entry), person(request))
        return Response(_owed(job), 201 if new else 200)


class SettledSerializer(serializers.Serializer[Any]):
    """What was owed and is done; `same`: the part that was off is on again, not another one."""

    id = serializers.UUIDField()
    key = serializers.CharField(max_length=80)
    same = serializers.BooleanField(required=False)


class JobSettled(APIView):
    """Settling what is owed."""

    roles = {"POST": BENCH}

    @extend_schema(request=SettledSerializer, responses=OwedSerializer(many=True))
    def post(self, request: Request, number: int) -> Response:
        """It was done: a promise is kept, a part fitted, a lead unsoldered, a coil fitted."""
        entry, job = entry_of(request, SettledSerializer), found_job(number)
        settle(job, entry["key"], entry["id"], person(request), same=entry.get("same", False))
        return Response(_owed(job))


class WaiveSerializer(serializers.Serializer[Any]):
    """What is let go, and why."""

    key = serializers.CharField(max_length=80)
    reason = serializers.CharField(max_length=400)


class JobWaivers(APIView):
    """Letting a card go although something is owed."""

    roles = {"POST": LEAD}

    @extend_schema(request=WaiveSerializer, responses=OwedSerializer(many=True))
    def post(self, request: Request, number: int) -> Response:
        """Let it go, with a reason; the record keeps both."""
        entry, job = entry_of(request, WaiveSerializer), found_job(number)
        waive(job, entry["key"], entry["reason"], person(request))
        return Response(_owed(job))
