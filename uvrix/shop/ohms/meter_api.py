"""The shop's meters, and asking one for samples."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import JSONParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.readings.settling import Sample
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.entries import entry_of, person
from uvrix.shop.config.problems import Problem
from uvrix.shop.ohms.link import MOST_SAMPLES, Asked, take
from uvrix.shop.ohms.models import Meter
from uvrix.shop.ohms.services import NewMeter, set_meter

# Leads that read more than this held together are broken.
MOST_LEAD_OHMS = 10.0


class MeterSerializer(serializers.ModelSerializer[Meter]):
    """A meter."""

    class Meta:
        model = Meter
        fields = ["id", "name", "lead_ohms", "address"]


class NewMeterSerializer(serializers.Serializer[Any]):
    """A meter as it is to be."""

    name = serializers.CharField(max_length=40)
    lead_ohms = serializers.FloatField(min_value=0, max_value=MOST_LEAD_OHMS, required=False)
    address = serializers.CharField(max_length=120, required=False, allow_blank=True)


class Meters(APIView):
    """The shop's meters."""

    roles = {"GET": EVERYONE, "PUT": BENCH}
    parser_classes = [JSONParser]

    @extend_schema(responses=MeterSerializer(many=True), operation_id="meters")
    def get(self, request: Request) -> Response:
        """All of them, by name."""
        return Response(MeterSerializer(Meter.objects.order_by("name"), many=True).data)

    @extend_schema(request=NewMeterSerializer, responses=MeterSerializer(many=True), operation_id="meter_set")
    def put(self, request: Request) -> Response:
        """Add one, or set what its leads read and where it answers."""
        set_meter(NewMeter(**entry_of(request, NewMeterSerializer)), person(request))
        return self.get(request)


class SampleSerializer(serializers.Serializer[Any]):
    """What a meter showed at a time; null is over-limit."""

    at_s = serializers.FloatField()
    value = serializers.FloatField(allow_null=True)


class HoldSerializer(serializers.Serializer[Any]):
    """Where the probes are, for a stand-in meter, which has no hands."""

    serial = serializers.CharField(max_length=80, allow_blank=True)
    board = serializers.CharField(max_length=64)
    point = serializers.CharField(max_length=130)
    to = serializers.ChoiceField(choices=["ground", "across"])
    off = serializers.ListField(child=serializers.CharField(max_length=64), max_length=200)
    lifted = serializers.ListField(child=serializers.CharField(max_length=64), max_length=200)


class AskMeterSerializer(serializers.Serializer[Any]):
    """What is asked of a meter."""

    quantity = serializers.ChoiceField(choices=["resistance", "diode"])
    samples = SampleSerializer(many=True)
    held = serializers.FloatField(allow_null=True, required=False)
    hold = HoldSerializer()


class TakenSerializer(serializers.Serializer[Any]):
    """How the reading stands."""

    state = serializers.ChoiceField(
        choices=["held", "moving", "creeping", "settled", "unsteady", "overload"], source="settled.state"
    )
    low = serializers.FloatField(allow_null=True, source="settled.low")
    high = serializers.FloatField(allow_null=True, source="settled.high")
    text = serializers.CharField(allow_blank=True)
    lost = serializers.CharField(allow_blank=True)
    samples = SampleSerializer(many=True)


class AskMeter(APIView):
    """Asking a meter."""

    roles = {"POST": BENCH}
    parser_classes = [JSONParser]

    @extend_schema(request=AskMeterSerializer, responses=TakenSerializer)
    def post(self, request: Request, meter: int) -> Response:
        """Take some more samples; a meter that does not answer is said in `lost`."""
        found, entry = get_object_or_404(Meter, pk=meter), entry_of(request, AskMeterSerializer)
        if not found.address:
            raise Problem(409, "no-address", f"{found.name} has no address: readings of it are typed.")
        if len(entry["samples"]) > MOST_SAMPLES:
            raise Problem(422, "too-many", f"found {len(entry['samples'])} samples, expected at most {MOST_SAMPLES}")
        samples = tuple(Sample(one["at_s"], one["value"]) for one in entry["samples"])
        asked = Asked(entry["quantity"], samples, entry.get("held"), entry["hold"])
        return Response(TakenSerializer(take(found, asked)).data)
