"""Expected parcels."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, cast
from uuid import UUID

from django.utils import timezone
from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.config.shapes import given, shape
from uvrix.shop.parcels.models import ExpectedParcel
from uvrix.shop.parcels.services import NewParcel, announce, call_off, to_come, tracked


class CourierEventSerializer(serializers.Serializer[Any]):
    """What the courier says happened."""

    at = serializers.DateTimeField()
    kind = serializers.CharField()
    words = serializers.CharField()


class ExpectedParcelSerializer(serializers.ModelSerializer[ExpectedParcel]):
    """A parcel that was announced, and how late it is."""

    board_model = serializers.CharField(source="model.slug", default="")
    model = serializers.SerializerMethodField()
    announced_by = serializers.CharField(source="announced_by.shown_name")
    days_late = serializers.SerializerMethodField()
    events = serializers.SerializerMethodField()

    class Meta:
        model = ExpectedParcel
        fields = ["id", "customer", "contact", "complaint", "serial", "board_model", "model", "reference", "due"]
        fields += ["express", "announced_by", "announced_at", "days_late", "events"]

    def get_model(self, parcel: ExpectedParcel) -> str:
        """The board model, where it is known."""
        return str(parcel.model or "")

    def get_days_late(self, parcel: ExpectedParcel) -> int:
        """Days since it was due; 0 where it still is."""
        return max(0, (timezone.localdate() - parcel.due).days)

    @extend_schema_field(CourierEventSerializer(many=True))
    def get_events(self, parcel: ExpectedParcel) -> Any:
        """What the courier says, oldest first."""
        return CourierEventSerializer(tracked(parcel), many=True).data


class Parcels(APIView):
    """Parcels that were announced."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}

    @extend_schema(responses=ExpectedParcelSerializer(many=True), operation_id="parcels_to_come")
    def get(self, request: Request) -> Response:
        """Parcels still to come, the one due first at the top."""
        return Response(_shown())

    @extend_schema(
        request=shape(NewParcel),
        responses={201: ExpectedParcelSerializer(many=True), 200: ExpectedParcelSerializer(many=True)},
        operation_id="parcels_announce",
    )
    def post(self, request: Request) -> Response:
        """Announce one; answers with all that are to come."""
        entry = entry_of(request, NewParcel)
        _, new = announce(entry, person(request))
        return Response(_shown(), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class CallOffRequest:
    """Why a parcel will not come."""

    why: Annotated[str, given(max_length=200)]


class ParcelCalledOff(APIView):
    """Calling a parcel off."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(CallOffRequest), responses=ExpectedParcelSerializer(many=True))
    def post(self, request: Request, parcel: UUID) -> Response:
        """Call a parcel off; answers with those that are still to come."""
        entry = entry_of(request, CallOffRequest)
        call_off(parcel, entry.why, person(request))
        return Response(_shown())


def _shown() -> Any:
    return cast("Any", ExpectedParcelSerializer(to_come(), many=True).data)
