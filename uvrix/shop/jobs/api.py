"""Shelf, jobs, cards."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, cast
from uuid import UUID

from django.db import transaction
from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.parsers import JSONParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.planning.habits import Habits
from uvrix.shop.bench.shapes import LocatedSerializer, MarkSerializer
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.entries import entry_of, person
from uvrix.shop.jobs.models import Card, Job, SavedFilter, WhoseMove
from uvrix.shop.jobs.queries import Wanted, jobs, next_step, search, shelf, standing_mark
from uvrix.shop.jobs.services import NewJob, lay, open_job
from uvrix.shop.library.queries import drawing_of
from uvrix.shop.library.shapes import BoardModelSerializer, LieSerializer, SiteShapeSerializer
from uvrix.shop.look.queries import looked
from uvrix.shop.parcels.services import arrived
from uvrix.shop.planning.queries import shop_habits

NEXT = ("wait", "arrive", "look", "ohms", "report", "draw", "mark", "act", "fault", "prove")
MOST_NUMBER, LONGEST_SEARCH = 2**62, 200


class NextStepSerializer(serializers.Serializer[Any]):
    """What is next and why."""

    what = serializers.ChoiceField(
        choices=["wait", "arrive", "look", "ohms", "report", "draw", "mark", "act", "fault", "prove"]
    )
    do = serializers.CharField()
    why = serializers.CharField(allow_blank=True)
    left = serializers.CharField()


class ThumbSerializer(serializers.Serializer[Any]):
    """A small drawing: outline, core, sites, and the share of errors of those that have some."""

    width_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    matrix = serializers.ListField(child=serializers.FloatField())
    outline = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    core = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    sites = SiteShapeSerializer(many=True)
    suspects = serializers.ListField(child=serializers.CharField())
    marked = serializers.CharField(allow_null=True)
    seen = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))


class JobSerializer(serializers.ModelSerializer[Job]):
    """A job in a list."""

    number = serializers.IntegerField(source="pk")
    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    serial = serializers.CharField(source="card.serial")
    customer = serializers.CharField(source="customer.name")
    model = serializers.CharField(source="card.model.__str__")
    board_model = serializers.CharField(source="card.model.slug")
    move = serializers.ChoiceField(choices=WhoseMove.choices)
    next = serializers.SerializerMethodField()
    runs = serializers.IntegerField(source="run_count")

    class Meta:
        model = Job
        fields = ["number", "label", "serial", "customer", "model", "board_model", "complaint", "place", "express"]
        fields += ["move", "waits_for", "due", "opened_at", "closed_at", "next", "runs"]

    @extend_schema_field(NextStepSerializer)
    def get_next(self, job: Job) -> dict[str, object]:
        """What is next."""
        habits: Habits = self.context.get("habits") or shop_habits()
        cast("dict[str, Any]", self.context)["habits"] = habits  # the same for every job of a list
        return dict(NextStepSerializer(next_step(job, habits)).data)


class ShelfJobSerializer(JobSerializer):
    """A job on the shelf, with its small drawing."""

    thumb = serializers.SerializerMethodField()

    class Meta(JobSerializer.Meta):
        fields = [*JobSerializer.Meta.fields, "thumb"]

    @extend_schema_field(ThumbSerializer(allow_null=True))
    def get_thumb(self, job: Job) -> dict[str, object] | None:
        """The small drawing, front side; null where the board is not drawn yet."""
        if job.card.model.newest is None:
            return None
        drawing = drawing_of(job.card.model.newest)
        finding = (job.located or {}).get("finding") or {"designators": []}
        mark = standing_mark(job)
        places: list[dict[str, Any]] = job.seen_places  # type: ignore[attr-defined]
        view = drawing["views"][0]
        return {
            "width_mm": view["width_mm"],
            "height_mm": view["height_mm"],
            "matrix": view["matrix"],
            "outline": drawing["outline"],
            "core": drawing["core"]["corners"],
            "sites": drawing["sites"],
            "suspects": finding["designators"],
            "marked": mark.designator if mark else None,
            "seen": [[one["x_mm"], one["y_mm"]] for one in places if one["x_mm"] is not None],
        }


class ShelfGroupSerializer(serializers.Serializer[Any]):
    """Jobs that wait for one side."""

    move = serializers.ChoiceField(choices=WhoseMove.choices)
    title = serializers.CharField()
    jobs = ShelfJobSerializer(many=True)


class LookedSerializer(serializers.Serializer[Any]):
    """How far Look is: regions of the board, how many of them were looked at, what was found."""

    regions = serializers.IntegerField()
    looked = serializers.IntegerField()
    findings = serializers.IntegerField()
    photographs = serializers.IntegerField()


class ArrivedSerializer(serializers.Serializer[Any]):
    """How far Arrive is."""

    symptom = serializers.BooleanField()
    trials = serializers.IntegerField()


class MeasuredSerializer(serializers.Serializer[Any]):
    """How the card stands, and how much was read of it cold and powered."""

    power = serializers.ChoiceField(choices=["off", "supply", "computer", ""])
    readings = serializers.IntegerField()
    volts = serializers.IntegerField()
    rework = serializers.IntegerField()


class JobDetailSerializer(JobSerializer):
    """A job's page."""

    lie = serializers.SerializerMethodField()
    located = LocatedSerializer(allow_null=True)
    mark = serializers.SerializerMethodField()
    board = serializers.SerializerMethodField()
    opened_by = serializers.CharField(source="opened_by.shown_name")
    looked = serializers.SerializerMethodField()
    arrived = serializers.SerializerMethodField()
    measured = serializers.SerializerMethodField()

    class Meta(JobSerializer.Meta):
        fields = [*JobSerializer.Meta.fields, "lie", "located", "mark", "board", "opened_by", "looked", "arrived"]
        fields += ["measured"]

    @extend_schema_field(ArrivedSerializer)
    def get_arrived(self, job: Job) -> dict[str, Any]:
        """How far Arrive is."""
        return {"symptom": job.symptom_said, "trials": job.trial_count}  # type: ignore[attr-defined]

    @extend_schema_field(MeasuredSerializer)
    def get_measured(self, job: Job) -> dict[str, Any]:
        """How the card stands, and how much was read."""
        annotated: Any = job
        return {
            "power": annotated.power,
            "readings": annotated.reading_count,
            "volts": annotated.volt_count,
            "rework": annotated.rework_count,
        }

    @extend_schema_field(LookedSerializer)
    def get_looked(self, job: Job) -> dict[str, int]:
        """How far Look is."""
        return looked(job)

    @extend_schema_field(LieSerializer)
    def get_lie(self, job: Job) -> dict[str, object]:
        """How the card lies."""
        return {"side": job.lie_side, "turns": job.lie_turns}

    @extend_schema_field(MarkSerializer(allow_null=True))
    def get_mark(self, job: Job) -> dict[str, object] | None:
        """The standing mark."""
        mark = standing_mark(job)
        return dict(MarkSerializer(mark).data) if mark else None

    @extend_schema_field(BoardModelSerializer)
    def get_board(self, job: Job) -> dict[str, object]:
        """The board model."""
        return dict(BoardModelSerializer(job.card.model).data)


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


class CardSerializer(serializers.ModelSerializer[Card]):
    """A card that was here before."""

    board_model = serializers.CharField(source="model.slug")
    jobs = serializers.SerializerMethodField()

    class Meta:
        model = Card
        fields = ["serial", "board_model", "jobs"]

    @extend_schema_field(JobSerializer(many=True))
    def get_jobs(self, card: Card) -> list[dict[str, object]]:
        """Its visits."""
        visits = jobs().filter(card=card).order_by("-opened_at")
        return [dict(one) for one in JobSerializer(visits, many=True).data]


class Shelf(APIView):
    """The shelf."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        responses=ShelfGroupSerializer(many=True),
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
        found = list(shelf(_wanted(request.query_params)))
        groups = [
            {"move": move.value, "title": move.label, "jobs": [job for job in found if job.move == move]}
            for move in WhoseMove
        ]
        return Response(ShelfGroupSerializer(groups, many=True).data)


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
        return Response(JobSerializer(search(text), many=True).data if text else [])

    @extend_schema(request=NewJobSerializer, responses={201: JobDetailSerializer, 200: JobDetailSerializer})
    def post(self, request: Request) -> Response:
        """Open a job; the same entry twice opens one."""
        entry = entry_of(request, NewJobSerializer)
        parcel = entry.pop("parcel", None)
        with transaction.atomic():
            job, new = open_job(NewJob(**entry), person(request))
            if parcel:
                arrived(parcel, job)
        return Response(JobDetailSerializer(whole_job(job.pk)).data, 201 if new else 200)


def found_job(number: int) -> Job:
    """The job of a number with its card and model, or 404."""
    if number > MOST_NUMBER:
        raise Http404
    plain = Job.objects.select_related("card__model__newest", "customer", "opened_by")
    return get_object_or_404(plain.defer("card__model__newest__text"), pk=number)


def whole_job(number: int) -> Job:
    """The job of a number with all that lists, pages and the next step ask of it, or 404."""
    if number > MOST_NUMBER:
        raise Http404
    return get_object_or_404(jobs(), pk=number)


class OneJob(APIView):
    """A job."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=JobDetailSerializer)
    def get(self, request: Request, number: int) -> Response:
        """Its page."""
        return Response(JobDetailSerializer(whole_job(number)).data)


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
