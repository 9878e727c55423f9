"""The shelf, the job's page, and what changes where a job stands."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import EVERYONE, LEAD
from uvrix.shop.config.limits import LONGEST_SEARCH, MOST_NUMBER
from uvrix.shop.config.shapes import given, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.customers import customer_for, give_to
from uvrix.shop.jobs.models import Card, Job, WhoseMove
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.parcels.services import arrived
from uvrix.shop.record.services import set_move
from uvrix.shop.shelf.queries import Wanted, search, shelf, whole
from uvrix.shop.shelf.shapes import (
    CardSerializer,
    JobAnswer,
    JobDetailAnswer,
    ShelfAnswer,
    job_page,
    job_row,
    shelf_json,
)


@dataclass(frozen=True, slots=True)
class NewJobRequest(NewJob):
    """The short form; `parcel` is the id of the announcement that the card came of."""

    parcel: UUID | None = None


class Shelf(APIView):
    """The shelf."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        responses=shape(ShelfAnswer),
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


class Jobs(APIView):
    """Jobs."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}

    @extend_schema(
        responses=shape(JobAnswer)(many=True),
        operation_id="jobs_search",
        parameters=[OpenApiParameter("search", OpenApiTypes.STR, required=True)],
    )
    def get(self, request: Request) -> Response:
        """Find jobs by number, serial, customer, model or complaint."""
        text = request.query_params.get("search", "").replace("\0", "").strip()[:LONGEST_SEARCH]
        return Response([job_row(job) for job in search(text)] if text else [])

    @extend_schema(request=shape(NewJobRequest), responses={201: shape(JobDetailAnswer), 200: shape(JobDetailAnswer)})
    def post(self, request: Request) -> Response:
        """Open a job; the same entry twice opens one."""
        entry = entry_of(request, NewJobRequest)
        with transaction.atomic():
            job, new = open_job(entry, person(request))
            if entry.parcel:
                arrived(entry.parcel, job)
        return Response(job_page(whole_job(job.pk)), 201 if new else 200)


def whole_job(number: int) -> Job:
    """The job of a number with its standing, which the next step asks for, or 404."""
    return whole([found_job(number, "customer", "opened_by")])[0]


class OneJob(APIView):
    """A job."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(JobDetailAnswer))
    def get(self, request: Request, number: int) -> Response:
        """The job's page."""
        return Response(job_page(whole_job(number)))


class CardBySerial(APIView):
    """A card."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=CardSerializer)
    def get(self, request: Request, serial: str) -> Response:
        """Whether a serial was here before, and when."""
        return Response(CardSerializer(get_object_or_404(Card, serial=serial.replace("\0", ""))).data)


@dataclass(frozen=True, slots=True)
class GivingRequest:
    """Whose a job is: a customer that is there, or another by name and contact."""

    id: UUID
    customer: Annotated[str, given(max_length=120)]
    contact: Annotated[str, given(max_length=200, allow_blank=True, default="")] = ""
    customer_id: Annotated[int | None, given(min_value=1, max_value=MOST_NUMBER)] = None
    another_customer: Annotated[bool, given(default=False)] = False


class JobOfCustomer(APIView):
    """Whose a job is."""

    roles = {"POST": LEAD}

    @extend_schema(request=shape(GivingRequest), responses={201: shape(JobDetailAnswer), 200: shape(JobDetailAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Give the job to another customer; links that the former one has end."""
        entry, job = entry_of(request, GivingRequest), found_job(number)
        chosen, another = entry.customer_id, entry.another_customer
        customer = customer_for(entry.customer, entry.contact, chosen, another=another)
        fresh = give_to(job, entry.id, customer, person(request))
        return Response(job_page(whole_job(number)), 201 if fresh else 200)


class JobChangeSerializer(serializers.Serializer[Any]):
    """What is changed of a job; leave out what stays."""

    id = serializers.UUIDField()
    move = serializers.ChoiceField(choices=WhoseMove.choices, required=False)
    waits_for = serializers.CharField(max_length=200, required=False, allow_blank=True)
    due = serializers.DateField(required=False, allow_null=True)
    place = serializers.CharField(max_length=20, required=False, allow_blank=True)
    express = serializers.BooleanField(required=False)


class JobChanges(APIView):
    """Whose move it is, where the card lies, how pressing it is."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=JobChangeSerializer, responses={201: shape(JobDetailAnswer), 200: shape(JobDetailAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Change whose move it is; a job that waits says for what."""
        entry, job = entry_of(request, JobChangeSerializer), found_job(number)
        changes = {name: value for name, value in entry.items() if name != "id"}
        _, new = set_move(job, entry["id"], changes, person(request))
        return Response(job_page(whole_job(number)), 201 if new else 200)
