"""Typing a photographed table, a recipe filled for a job, and places that a proven repair fills in."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.memory.recipes import differing, filled, fitting, from_job
from uvrix.core.memory.typed import LARGEST_COUNT, LINES, TypedRow
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.bench.models import JobBlank, MemoryRun
from uvrix.shop.bench.services import TypedTable, add_typed_run, report_order
from uvrix.shop.bench.shapes import RunSerializer
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.shapes import declared, given, shape, written
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.library.queries import model_board, recipes
from uvrix.shop.library.recipes import RecipeSerializer
from uvrix.shop.library.services import fill_place
from uvrix.shop.library.shapes import BoardModelSerializer

# This many of a model's runs are looked through for one that was not refused.
LATEST_RUNS = 100


@dataclass(frozen=True, slots=True)
class OrderAnswer:
    """The order of the tester's report."""

    channels: Sequence[str]
    known: str


class ReportOrder(APIView):
    """The order in which the tester lists the channels."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(OrderAnswer))
    def get(self, request: Request, number: int) -> Response:
        """For the grid in which a photographed table is typed."""
        channels, known = report_order(found_job(number))
        return Response(OrderAnswer(channels=channels, known=known))


class TypedRowSerializer(serializers.Serializer[Any]):
    """A row of a typed table."""

    channel = serializers.CharField(max_length=20)
    errors = serializers.IntegerField(min_value=0, max_value=LARGEST_COUNT)  # type: ignore[assignment]  # a field
    lines = serializers.ListField(
        child=serializers.IntegerField(min_value=0, max_value=LARGEST_COUNT), required=False, max_length=LINES
    )


@dataclass(frozen=True, slots=True)
class TypedTableRequest:
    """A typed table."""

    id: UUID
    rows: Annotated[Sequence[Any], declared(TypedRowSerializer(many=True))]
    condition: Annotated[str, given(allow_blank=True, max_length=200)] = ""
    total: Annotated[int | None, given(min_value=0, max_value=LARGEST_COUNT * 100)] = None
    picture: Annotated[str, declared(serializers.RegexField("^[0-9a-f]{64}$", required=False, allow_blank=True))] = ""


class TypedRuns(APIView):
    """Typed runs of a job."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(TypedTableRequest), responses={201: RunSerializer, 200: RunSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Enter a table off a photographed screen; 422 `total-differs` names slips that would explain it."""
        asked = entry_of(request, TypedTableRequest)
        words = tuple(word.strip() for word in asked.condition.split(",") if word.strip())
        rows = tuple(TypedRow(row["channel"], row["errors"], tuple(row.get("lines", ()))) for row in asked.rows)
        table = TypedTable(asked.id, rows, words, asked.total, asked.picture)
        run, new = add_typed_run(found_job(number), table, person(request))
        shown = MemoryRun.objects.select_related("file", "added_by", "withdrawal").get(pk=run.pk)
        return Response(RunSerializer(shown).data, 201 if new else 200)


class FilledStepSerializer(serializers.Serializer[Any]):
    """A step with its blanks filled."""

    command = serializers.CharField(allow_blank=True)
    note = serializers.CharField(allow_blank=True)
    missing = serializers.ListField(child=serializers.CharField())


@dataclass(frozen=True, slots=True)
class BlankAnswer:
    """A blank that is asked for, and what it is for this job."""

    name: str
    label: str
    value: str


@dataclass(frozen=True, slots=True)
class JobRecipeAnswer:
    """A recipe for a job."""

    recipe: Annotated[Any, declared(RecipeSerializer())]
    steps: Annotated[Iterable[Any], declared(FilledStepSerializer(many=True))]
    blanks: Sequence[BlankAnswer]


@dataclass(frozen=True, slots=True)
class BlanksRequest:
    """Values of blanks."""

    values: Annotated[
        Mapping[str, Any], declared(serializers.DictField(child=serializers.CharField(allow_blank=True, max_length=64)))
    ]


class JobRecipes(APIView):
    """The recipes for a job."""

    roles = {"GET": EVERYONE, "PUT": BENCH}

    @extend_schema(responses=shape(JobRecipeAnswer)(many=True), operation_id="job_recipes_list")
    def get(self, request: Request, number: int) -> Response:
        """The recipes that fit the job's board, the nearest first, with what the job fills in."""
        return Response(_recipes(found_job(number)))

    @extend_schema(request=shape(BlanksRequest), responses=shape(JobRecipeAnswer)(many=True))
    def put(self, request: Request, number: int) -> Response:
        """Keep what blanks are for this job; a value that is no plain word is refused and nothing is kept."""
        entry = entry_of(request, BlanksRequest)
        job = found_job(number)
        with transaction.atomic():
            for name, value in entry.values.items():
                JobBlank.objects.update_or_create(job=job, name=name[:80], defaults={"value": value.strip()})
            return Response(_recipes(job))


def _recipes(job: Job) -> Any:
    model = job.card.model
    kept = dict(job.blanks.values_list("name", "value"))
    values = {**kept, **from_job(model_board(model), job.label, job.card.serial)}
    all_recipes = recipes()
    chosen = fitting([recipe for _, recipe in all_recipes], model.slug, model.family)
    shown = [
        JobRecipeAnswer(
            recipe=next(row for row, candidate in all_recipes if candidate is recipe),
            steps=filled(recipe, values),
            blanks=[
                BlankAnswer(name=blank.name, label=blank.label, value=kept.get(blank.name, blank.usual))
                for blank in recipe.blanks
            ],
        )
        for recipe in chosen
    ]
    return written(shown)


class DifferingSerializer(serializers.Serializer[Any]):
    """Something that was set otherwise where the tester ran."""

    what = serializers.CharField()
    here = serializers.CharField(allow_blank=True)
    worked = serializers.CharField()


@dataclass(frozen=True, slots=True)
class WorkedBeforeAnswer:
    """The last run on this model that the tester did not refuse; `job` is null where there is none."""

    job: int | None
    label_of_job: str
    at: datetime | None
    differs: Annotated[Iterable[Any], declared(DifferingSerializer(many=True))]
    refusals: Annotated[int, given(help_text="runs of this job that were refused since the last that was not")]


class WorkedBefore(APIView):
    """How the tester was run where it last worked on this model."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(WorkedBeforeAnswer))
    def get(self, request: Request, number: int) -> Response:
        """The last run on this model and host that was not refused, and what is set otherwise here."""
        return Response(written(worked_before(found_job(number))))


def worked_before(job: Job) -> WorkedBeforeAnswer:
    """What `WorkedBefore` answers."""
    own = list(job.runs.filter(withdrawal=None).order_by("-number").values_list("report__meta", flat=True))
    refused = list(itertools.takewhile(_refused, own))
    here = refused[0]["keys"] if refused else {}
    of_model = MemoryRun.objects.filter(job__card__model=job.card.model, withdrawal=None)
    others = of_the_shop(of_model).order_by("-added_at")
    ran = [
        (run_job, at, meta["keys"])
        for run_job, at, meta in others.values_list("job", "added_at", "report__meta")[:LATEST_RUNS]
        if not _refused(meta)
    ]
    host = here.get("host") or here.get("tester")
    same = [row for row in ran if host and host in (row[2].get("host"), row[2].get("tester"))]
    found = next(iter(same or ran), None)
    if found is None:
        return WorkedBeforeAnswer(job=None, label_of_job="", at=None, differs=[], refusals=len(refused))
    other = Job.objects.get(pk=found[0])
    names = {blank.name: blank.label for _, recipe in recipes() for blank in recipe.blanks}
    kept = dict(job.blanks.values_list("name", "value"))
    then = dict(other.blanks.values_list("name", "value"))
    differs = [*differing(here, found[2]), *(differing(kept, then, names) if other != job else [])]
    return WorkedBeforeAnswer(
        job=other.pk,
        label_of_job=other.label,
        at=found[1],
        differs=differs,
        refusals=len(refused),
    )


def _refused(meta: dict[str, Any]) -> bool:
    return bool(meta["result"] == "refused")


@dataclass(frozen=True, slots=True)
class ProvenPlaceRequest:
    """An open place of the walk and the channel that a proven repair showed it to have."""

    designator: Annotated[str, given(max_length=80)]
    channel: Annotated[str, declared(serializers.RegexField("^[A-Za-z]+[0-9]+$", max_length=20))]


class ProvenPlaces(APIView):
    """Places that this job's repair fills in."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(ProvenPlaceRequest), responses={201: BoardModelSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Fill an open place of the board model in; it becomes a new edition that names this job."""
        entry = entry_of(request, ProvenPlaceRequest)
        job = get_object_or_404(Job.objects.select_related("card__model"), pk=found_job(number).pk)
        edition = fill_place(job.card.model, entry.designator, entry.channel, by=person(request), job=job.label)
        return Response(BoardModelSerializer(edition.model).data, 201)
