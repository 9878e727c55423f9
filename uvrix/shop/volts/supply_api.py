"""Bench supplies: which there are, a start logged, switched off."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.shapes import given, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.volts.api import SupplySerializer, VoltsAnswer, volts_of
from uvrix.shop.volts.models import Supply
from uvrix.shop.volts.supply import NewStart, set_supply, start, switch_off, watched


class JobStarts(APIView):
    """Starts on a supply."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewStart), responses={201: shape(VoltsAnswer), 200: shape(VoltsAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Switch the supply on and log the current."""
        entry, job = entry_of(request, NewStart), found_job(number)
        _, new = start(job, entry, person(request))
        return Response(volts_of(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewSupply:
    """A supply to add, or to set."""

    name: Annotated[str, given(max_length=40)]
    address: Annotated[str, given(max_length=120)]


class Supplies(APIView):
    """Bench supplies."""

    roles = {"GET": EVERYONE, "PUT": BENCH}

    @extend_schema(responses=SupplySerializer(many=True), operation_id="supplies")
    def get(self, request: Request) -> Response:
        """Every bench supply, by name."""
        return Response(SupplySerializer(Supply.objects.order_by("name"), many=True).data)

    @extend_schema(request=shape(NewSupply), responses=SupplySerializer(many=True), operation_id="supply_set")
    def put(self, request: Request) -> Response:
        """Add one, or set where it answers."""
        entry = entry_of(request, NewSupply)
        set_supply(entry.name, entry.address, person(request))
        return self.get(request)


@dataclass(frozen=True, slots=True)
class WatchingRequest:
    """What an open page shows: the job it is at, if any."""

    job: Annotated[int | None, given(min_value=1, max_value=2**31 - 1)] = None


class OutputSerializer(serializers.Serializer[Any]):
    """A supply's output that is on, or may be."""

    supply = serializers.IntegerField(source="supply_id")
    name = serializers.CharField(source="supply.name")
    job = serializers.IntegerField(source="job_id")
    card = serializers.CharField(source="job.card.serial")
    volts = serializers.FloatField()
    state = serializers.ChoiceField(choices=["on", "unknown"])
    since = serializers.DateTimeField(source="at")
    by = serializers.CharField(source="by.shown_name")


class SuppliesWatched(APIView):
    """Outputs that open pages look after."""

    roles = {"POST": BENCH}

    @extend_schema(
        request=shape(WatchingRequest), responses=OutputSerializer(many=True), operation_id="supplies_watched"
    )
    def post(self, request: Request) -> Response:
        """Say that a page is open, or the output is switched off before long; answers with what is on."""
        number = entry_of(request, WatchingRequest).job
        job = Job.objects.filter(pk=number).first() if number else None
        return Response(OutputSerializer(watched(person(request), job), many=True).data)


class SupplyOff(APIView):
    """Switching a supply off."""

    roles = {"POST": BENCH}

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, supply: int) -> Response:
        """Switch the supply's output off."""
        switch_off(get_object_or_404(Supply, pk=supply))
        return Response(status=204)
