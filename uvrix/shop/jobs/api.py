"""Shelf, jobs, cards."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import UUID

from django.db import transaction
from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.parsers import JSONParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.entries import entry_of, person
from uvrix.shop.jobs.models import Card, Job, SavedFilter, WhoseMove
from uvrix.shop.jobs.queries import Wanted, search, shelf, whole
from uvrix.shop.jobs.services import NewJob, lay, open_job
from uvrix.shop.jobs.shapes import (
    CardSerializer,
    JobDetailSerializer,
    JobSerializer,
    ShelfSerializer,
    job_json,
    job_row,
    shelf_json,
)
from uvrix.shop.library.shapes import LieSerializer
from uvrix.shop.parcels.services import arrived

MOST_NUMBER, LONGEST_SEARCH = 2**62, 200


class NewJobSerializer(serializers.Serializer[Any]):
    """The short form."""

    entry = serializers.UUIDField()
    serial = serializers.CharField(max_length=80)
    board_model = serializers.CharField(max_length=64)
    customer = serializers.CharField(max_length=120)
    complaint = serializers.CharField(max_length=4000)
    contact = serializers.CharField(max_length=200, required=False, allow_blank=True)
    place = serializers.CharField(max_length=20, required=False, allow_blank=True)
    express = serializers.BooleanField(required=False)
    parcel = serializers.UUIDField(required=False, allow_null=True)
    customer_id = serializers.IntegerField(required=False, allow_null=True, min_value=1, max_value=MOST_NUMBER)
    another_customer = serializers.BooleanField(required=False)


class Shelf(APIView):
    """The shelf."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        responses=ShelfSerializer,
        operation_id="shelf",
        parameters=[
            OpenApiParameter("text", OpenApiTypes.STR),
            OpenApiParameter("board_model", OpenApiTypes.STR),
            OpenApiParameter("move", OpenApiTypes.STR),
            OpenApiParameter("express", OpenApiTypes.BOOL),
        ],
    )
    def get(self, request: Request) -> Response:
        """Open jobs, grouped by whose move it is; those alone that fit what is asked."""
        return Response(shelf_json(shelf(_wanted(request.query_params))))


def _wanted(asked: Mapping[str, str]) -> Wanted:
    text = asked.get("text", "").replace("\0", "").strip()[:LONGEST_SEARCH]
    moves = {move.value for move in WhoseMove}
    move = asked.get("move", "") if asked.get("move") in moves else ""
    return Wanted(text, asked.get("board_model", "")[:64].replace("\0", ""), move, asked.get("express") == "true")


class SavedFilterSerializer(serializers.ModelSerializer[SavedFilter]):
    """A filter of the shelf that a person keeps."""

    id = serializers.UUIDField()
    name = serializers.CharField(max_length=40)
    text = serializers.CharField(max_length=LONGEST_SEARCH, allow_blank=True, required=False)
    board_model = serializers.CharField(max_length=64, allow_blank=True, required=False)
    move = serializers.ChoiceField(choices=[*WhoseMove.choices, ("", "any")], required=False)

    class Meta:
        model = SavedFilter
        fields = ["id", "name", "text", "board_model", "move", "express"]


class SavedFilters(APIView):
    """Filters of the shelf."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}
    parser_classes = [JSONParser]

    @extend_schema(responses=SavedFilterSerializer(many=True), operation_id="filters_list")
    def get(self, request: Request) -> Response:
        """One's own, by name."""
        return Response(SavedFilterSerializer(person(request).filters.order_by("name"), many=True).data)

    @extend_schema(request=SavedFilterSerializer, responses={201: SavedFilterSerializer(many=True)})
    def post(self, request: Request) -> Response:
        """Keep one; one of the same name is replaced."""
        entry = dict(entry_of(request, SavedFilterSerializer))
        name, me = entry.pop("name"), person(request)
        SavedFilter.objects.filter(user=me, name=name).delete()
        SavedFilter.objects.update_or_create(pk=entry.pop("id"), user=me, defaults={**entry, "name": name})
        return Response(SavedFilterSerializer(me.filters.order_by("name"), many=True).data, 201)


class OneSavedFilter(APIView):
    """A filter."""

    roles = {"DELETE": EVERYONE}

    @extend_schema(responses={204: None})
    def delete(self, request: Request, saved: UUID) -> Response:
        """Drop it."""
        SavedFilter.objects.filter(user=person(request), pk=saved).delete()
        return Response(status=204)


class Jobs(APIView):
    """Jobs."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}

    @extend_schema(
        responses=JobSerializer(many=True),
        operation_id="jobs_search",
        parameters=[OpenApiParameter("search", OpenApiTypes.STR, required=True)],
    )
    def get(self, request: Request) -> Response:
        """Find jobs by number, serial, customer, model or complaint."""
        text = request.query_params.get("search", "").replace("\0", "").strip()[:LONGEST_SEARCH]
        return Response([job_row(job) for job in search(text)] if text else [])

    @extend_schema(request=NewJobSerializer, responses={201: JobDetailSerializer, 200: JobDetailSerializer})
    def post(self, request: Request) -> Response:
        """Open a job; the same entry twice opens one."""
        entry = entry_of(request, NewJobSerializer)
        parcel = entry.pop("parcel", None)
        with transaction.atomic():
            job, new = open_job(NewJob(**entry), person(request))
            if parcel:
                arrived(parcel, job)
        return Response(job_json(whole_job(job.pk)), 201 if new else 200)


def found_job(number: int, *along: str) -> Job:
    """The job of a number with its card and model, and what else is named read along, or 404."""
    if number > MOST_NUMBER:
        raise Http404
    plain = Job.objects.select_related("card__model__newest", *along)
    return get_object_or_404(plain.defer("card__model__newest__text"), pk=number)


def whole_job(number: int) -> Job:
    """The job of a number with its standing, which the next step asks for, or 404."""
    return whole([found_job(number, "customer", "opened_by")])[0]


class OneJob(APIView):
    """A job."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=JobDetailSerializer)
    def get(self, request: Request, number: int) -> Response:
        """Its page."""
        return Response(job_json(whole_job(number)))


class JobLie(APIView):
    """How the card lies."""

    roles = {"PUT": BENCH}

    @extend_schema(request=LieSerializer, responses=LieSerializer)
    def put(self, request: Request, number: int) -> Response:
        """Keep how the card lies on the bench."""
        entry = entry_of(request, LieSerializer)
        lay(found_job(number), **entry)
        return Response(entry)


class CardBySerial(APIView):
    """A card."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=CardSerializer)
    def get(self, request: Request, serial: str) -> Response:
        """Whether a serial was here before, and when."""
        return Response(CardSerializer(get_object_or_404(Card, serial=serial.replace("\0", ""))).data)
