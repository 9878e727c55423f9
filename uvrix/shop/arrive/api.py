"""Arrive: the symptom, the elimination matrix, reproductions, the label."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, cast
from uuid import UUID

from django.core.files.storage import default_storage
from django.http import FileResponse, HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.arrive import elimination, symptoms
from uvrix.core.arrive.elimination import BY_ID, CELLS, MOST_TRIES, NAMES, SHOWS, THINGS, TRIES, Often
from uvrix.core.arrive.intake import EVIDENCE, PROVENANCE, SEALS, WARRANTY, WORDS
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.uploads import FileSerializer, small_file
from uvrix.shop.arrive.models import Evidence, EvidenceFile, Intake, Reproduction, Trial
from uvrix.shop.arrive.queries import past_of
from uvrix.shop.arrive.services import (
    NewEvidence,
    NewIntake,
    NewSymptom,
    NewTrial,
    add_evidence,
    enter_reproduction,
    enter_trial,
    judge_evidence,
    keep_file,
    labels_pdf,
    say_symptom,
    take_in,
    withdraw_trial,
)
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.pictures.models import Picture

CELL_IDS = [cell.id for cell in CELLS]
MOST_MINUTES = 100_000.0
LARGEST_EVIDENCE_BYTES = 64 << 20
MOST_LABELS, MOST_DIGITS = 200, 12


class SymptomSerializer(serializers.Serializer[Any]):
    """What the shop sees."""

    seen = serializers.CharField(allow_blank=True)
    began = serializers.CharField(allow_blank=True)
    often = serializers.ChoiceField(choices=list(SHOWS))
    conditions = serializers.ListField(child=serializers.CharField())
    kinds = serializers.ListField(child=serializers.CharField())
    by = serializers.CharField(source="by.shown_name")
    at = serializers.DateTimeField()


class TrialSerializer(serializers.ModelSerializer[Trial]):
    """A trial."""

    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = Trial
        fields = ["id", "cell", "shows", "tries", "note", "by", "at"]


class CellSerializer(serializers.Serializer[Any]):
    """A cell of the matrix: what is exchanged, what was tried, what that alone rules out."""

    id = serializers.CharField()
    other = serializers.ListField(child=serializers.ChoiceField(choices=list(THINGS)))
    trials = TrialSerializer(many=True)
    rules_out = serializers.ListField(child=serializers.CharField())


class ChanceSerializer(serializers.Serializer[Any]):
    """How likely a thing is at fault."""

    thing = serializers.CharField()
    words = serializers.CharField()
    chance = serializers.FloatField()


class NextTestSerializer(serializers.Serializer[Any]):
    """A test that would settle much for its minutes."""

    cell = serializers.CharField()
    tries = serializers.IntegerField()
    bits = serializers.FloatField()
    minutes = serializers.FloatField()
    why = serializers.CharField()


class ReproductionSerializer(serializers.ModelSerializer[Reproduction]):
    """The symptom called up on the bench."""

    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = Reproduction
        fields = ["id", "load", "minutes", "outcome", "by", "at"]


class IntakeSerializer(serializers.ModelSerializer[Intake]):
    """What was in the parcel."""

    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = Intake
        fields = ["serial", "provenance", "seals", "warranty", "came_with", "missing", "bare", "by", "at"]


class EvidenceSerializer(serializers.ModelSerializer[Evidence]):
    """A piece of evidence and what the shop found it to be."""

    by = serializers.CharField(source="by.shown_name")
    picture = serializers.CharField(source="picture_id", allow_null=True)
    file = serializers.CharField(source="file_id", allow_null=True)
    word = serializers.SerializerMethodField()

    class Meta:
        model = Evidence
        fields = ["id", "kind", "source", "text", "picture", "file", "file_name", "word", "by", "at"]

    @extend_schema_field(serializers.ChoiceField(choices=list(WORDS)))
    def get_word(self, evidence: Evidence) -> str:
        """Unproven until the shop says otherwise."""
        said = list(evidence.words.all())
        return said[-1].word if said else "unproven"


class PastSerializer(serializers.Serializer[Any]):
    """Another visit of the same card."""

    number = serializers.IntegerField()
    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    opened_at = serializers.DateTimeField()
    closed_at = serializers.DateTimeField(allow_null=True)
    complaint = serializers.CharField()
    warranty_until = serializers.DateField(allow_null=True)
    in_warranty = serializers.BooleanField()
    done = serializers.ListField(child=serializers.CharField())


class WordSerializer(serializers.Serializer[Any]):
    """A word and what it means."""

    word = serializers.CharField()
    says = serializers.CharField()


class ArriveSerializer(serializers.Serializer[Any]):
    """Everything of Arrive."""

    past = PastSerializer(many=True)
    intake = IntakeSerializer(allow_null=True)
    evidence = EvidenceSerializer(many=True)
    provenances = WordSerializer(many=True)
    seals = WordSerializer(many=True)
    warranties = WordSerializer(many=True)
    kinds = WordSerializer(many=True)
    symptoms = WordSerializer(many=True)
    symptom = SymptomSerializer(allow_null=True)
    cells = CellSerializer(many=True)
    chances = ChanceSerializer(many=True)
    next = NextTestSerializer(many=True)
    tries = serializers.IntegerField()
    reproductions = ReproductionSerializer(many=True)


class JobArrive(APIView):
    """Arrive."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=ArriveSerializer)
    def get(self, request: Request, number: int) -> Response:
        """The symptom, the matrix with what each cell rules out, and what to test next."""
        return Response(_arrived(found_job(number)))


def _arrived(job: Job) -> Any:
    symptom = job.symptoms.select_related("by").last()
    often = cast("Often", symptom.often if symptom else "always")
    standing = list(job.trials.filter(withdrawal=None).select_related("by"))
    core = [elimination.Trial(BY_ID[trial.cell], trial.shows, trial.tries) for trial in standing]
    by_cell: dict[str, list[int]] = {}
    for at, trial in enumerate(standing):
        by_cell.setdefault(trial.cell, []).append(at)
    found = elimination.chances(core, often)
    shown = {
        "past": past_of(job),
        "intake": job.intakes.select_related("by").last(),
        "evidence": job.evidence.select_related("by").prefetch_related("words"),
        "provenances": _words(PROVENANCE),
        "seals": _words(SEALS),
        "warranties": _words(WARRANTY),
        "kinds": _words(EVIDENCE),
        "symptoms": _words(symptoms.KINDS),
        "symptom": symptom,
        "cells": [
            {
                "id": cell.id,
                "other": [thing for thing in THINGS if thing in cell.other],
                "trials": [standing[at] for at in by_cell.get(cell.id, ())],
                "rules_out": sorted(
                    {thing for at in by_cell.get(cell.id, ()) for thing in elimination.rules_out(core[at], often)}
                ),
            }
            for cell in CELLS
        ],
        "chances": [
            {"thing": thing, "words": NAMES[thing], "chance": round(chance, 3)}
            for thing, chance in sorted(found.items(), key=lambda row: -row[1])
        ],
        "next": [
            {"cell": test.cell.id, "tries": test.tries, "bits": test.bits, "minutes": test.minutes, "why": test.why}
            for test in elimination.next_tests(core, often)
        ],
        "tries": TRIES[often],
        "reproductions": job.reproductions.select_related("by"),
    }
    return ArriveSerializer(shown).data


def _words(words: Mapping[str, str]) -> list[dict[str, str]]:
    return [{"word": word, "says": says} for word, says in words.items()]


class NewIntakeSerializer(serializers.Serializer[Any]):
    """What was in the parcel, to enter; `serial` as read off the card."""

    id = serializers.UUIDField()
    serial = serializers.CharField(max_length=80)
    provenance = serializers.ChoiceField(choices=list(PROVENANCE), required=False)
    seals = serializers.ChoiceField(choices=list(SEALS), required=False)
    warranty = serializers.ChoiceField(choices=list(WARRANTY), required=False, allow_blank=True)
    came_with = serializers.CharField(required=False, allow_blank=True, max_length=400)
    missing = serializers.CharField(required=False, allow_blank=True, max_length=400)
    bare = serializers.BooleanField(required=False)


class JobIntake(APIView):
    """The parcel."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=NewIntakeSerializer, responses={201: ArriveSerializer, 200: ArriveSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Say what was in it; 422 `other-card` where the serial on the card is not the ticket's."""
        entry = entry_of(request, NewIntakeSerializer)
        job = found_job(number)
        _, fresh = take_in(job, NewIntake(**entry), person(request))
        return Response(_arrived(job), 201 if fresh else 200)


class NewEvidenceSerializer(serializers.Serializer[Any]):
    """Evidence, to enter."""

    id = serializers.UUIDField()
    kind = serializers.ChoiceField(choices=list(EVIDENCE))
    source = serializers.CharField(max_length=120)  # type: ignore[assignment]  # a field, not DRF's source
    text = serializers.CharField(required=False, allow_blank=True, max_length=20_000)
    picture = serializers.RegexField("^[0-9a-f]{64}$", required=False, allow_blank=True)
    file = serializers.RegexField("^[0-9a-f]{64}$", required=False, allow_blank=True)
    file_name = serializers.CharField(required=False, allow_blank=True, max_length=200)


class JobEvidence(APIView):
    """Evidence."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=NewEvidenceSerializer, responses={201: ArriveSerializer, 200: ArriveSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Keep what others say or show, with its source."""
        asked, job = entry_of(request, NewEvidenceSerializer), found_job(number)
        picture = get_object_or_404(Picture, pk=asked["picture"]) if asked.get("picture") else None
        file = get_object_or_404(EvidenceFile, pk=asked["file"]) if asked.get("file") else None
        shown = picture, file, asked.get("file_name", "")
        new = NewEvidence(asked["id"], asked["kind"], asked["source"], asked.get("text", ""), *shown)
        _, fresh = add_evidence(job, new, person(request))
        return Response(_arrived(job), 201 if fresh else 200)


class EvidenceFileSerializer(serializers.ModelSerializer[EvidenceFile]):
    """A file kept as evidence."""

    class Meta:
        model = EvidenceFile
        fields = ["sha256", "size"]


class EvidenceFiles(APIView):
    """Files sent as evidence."""

    roles = {"POST": EVERYONE}
    parser_classes = [MultiPartParser]

    @extend_schema(request={"multipart/form-data": FileSerializer}, responses={201: EvidenceFileSerializer})
    def post(self, request: Request) -> Response:
        """Upload one; it is kept as it came and never opened here."""
        _, data = small_file(request, LARGEST_EVIDENCE_BYTES)
        return Response(EvidenceFileSerializer(keep_file(data, person(request))).data, 201)


class OneEvidenceFile(APIView):
    """The file of a piece of evidence."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, evidence: UUID) -> FileResponse:
        """As it came, always as a download."""
        found = get_object_or_404(Evidence.objects.select_related("file").exclude(file=None), pk=evidence)
        assert found.file is not None
        name = found.file_name or "evidence"
        opened = default_storage.open(found.file.stored_as)
        return FileResponse(opened, as_attachment=True, filename=name, content_type="application/octet-stream")


class EvidenceWordSerializer(serializers.Serializer[Any]):
    """What the shop found evidence to be."""

    word = serializers.ChoiceField(choices=list(WORDS))


class JudgedEvidence(APIView):
    """What the shop found evidence to be."""

    roles = {"POST": BENCH}

    @extend_schema(request=EvidenceWordSerializer, responses={201: ArriveSerializer})
    def post(self, request: Request, evidence: UUID) -> Response:
        """Proven, refuted, or unproven again."""
        entry = entry_of(request, EvidenceWordSerializer)
        found = get_object_or_404(Evidence.objects.select_related("job"), pk=evidence)
        judge_evidence(found, entry["word"], person(request))
        return Response(_arrived(found_job(found.job.pk)), 201)


class NewSymptomSerializer(serializers.Serializer[Any]):
    """What the shop sees, to enter."""

    id = serializers.UUIDField()
    often = serializers.ChoiceField(choices=list(SHOWS))
    seen = serializers.CharField(required=False, allow_blank=True, max_length=400)
    began = serializers.CharField(required=False, allow_blank=True, max_length=200)
    conditions = serializers.ListField(child=serializers.CharField(max_length=40), required=False, max_length=12)
    kinds = serializers.ListField(child=serializers.ChoiceField(choices=list(symptoms.KINDS)), required=False)


class JobSymptom(APIView):
    """The symptom."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=NewSymptomSerializer, responses={201: ArriveSerializer, 200: ArriveSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Say what the shop sees; what was said before stays in the record."""
        asked, job = entry_of(request, NewSymptomSerializer), found_job(number)
        lists = {name: tuple(asked.get(name, ())) for name in ("conditions", "kinds")}
        new = NewSymptom(**{**asked, **lists})
        _, fresh = say_symptom(job, new, person(request))
        return Response(_arrived(job), 201 if fresh else 200)


class NewTrialSerializer(serializers.Serializer[Any]):
    """A trial, to enter."""

    id = serializers.UUIDField()
    cell = serializers.ChoiceField(choices=CELL_IDS)
    shows = serializers.BooleanField()
    tries = serializers.IntegerField(min_value=1, max_value=MOST_TRIES, required=False, default=1)
    note = serializers.CharField(required=False, allow_blank=True, max_length=200)


class JobTrials(APIView):
    """Trials of the elimination matrix."""

    roles = {"POST": BENCH}

    @extend_schema(request=NewTrialSerializer, responses={201: ArriveSerializer, 200: ArriveSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Enter what a cell showed."""
        entry = entry_of(request, NewTrialSerializer)
        job = found_job(number)
        _, fresh = enter_trial(job, NewTrial(**entry), person(request))
        return Response(_arrived(job), 201 if fresh else 200)


class TrialWithdrawn(APIView):
    """Taking a trial back."""

    roles = {"POST": BENCH}

    @extend_schema(request=None, responses={201: ArriveSerializer})
    def post(self, request: Request, trial: UUID) -> Response:
        """It stays in the record and does not count."""
        found = get_object_or_404(Trial.objects.select_related("job"), pk=trial)
        withdraw_trial(found, person(request))
        return Response(_arrived(found_job(found.job.pk)), 201)


class NewReproductionSerializer(serializers.Serializer[Any]):
    """A reproduction, to enter."""

    id = serializers.UUIDField()
    load = serializers.CharField(max_length=200)
    minutes = serializers.FloatField(min_value=0, max_value=MOST_MINUTES)
    outcome = serializers.CharField(max_length=400)


class JobReproductions(APIView):
    """Reproductions."""

    roles = {"POST": BENCH}

    @extend_schema(request=NewReproductionSerializer, responses={201: ArriveSerializer, 200: ArriveSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Enter under which load, for how long, and what came of it."""
        entry = entry_of(request, NewReproductionSerializer)
        fields = dict(entry)
        job = found_job(number)
        _, fresh = enter_reproduction(job, fields.pop("id"), fields, person(request))
        return Response(_arrived(job), 201 if fresh else 200)


class JobLabel(APIView):
    """The label."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, number: int) -> HttpResponse:
        """A PDF of 62 by 29 mm with a code that opens the job wherever it is scanned."""
        job = found_job(number)
        headers = {"Content-Disposition": f'inline; filename="{job.label}.pdf"'}
        return HttpResponse(labels_pdf([job]), content_type="application/pdf", headers=headers)


class Labels(APIView):
    """Labels of several jobs."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        responses={(200, "application/pdf"): OpenApiTypes.BINARY},
        parameters=[
            OpenApiParameter("jobs", OpenApiTypes.STR, required=True, description="numbers with commas between")
        ],
    )
    def get(self, request: Request) -> HttpResponse:
        """One PDF with a page a label, in the order asked."""
        numbers = [
            name for name in request.query_params.get("jobs", "").split(",") if name.isascii() and name.isdigit()
        ]
        wanted = [int(number) for number in numbers[:MOST_LABELS] if len(number) < MOST_DIGITS]
        found = Job.objects.select_related("card__model", "customer").in_bulk(wanted)
        jobs = [found[number] for number in wanted if number in found]
        if not jobs:
            raise Problem(422, "no-jobs", gettext("found no number of a job, expected some such as 12,15"))
        headers = {"Content-Disposition": 'inline; filename="labels.pdf"'}
        return HttpResponse(labels_pdf(jobs), content_type="application/pdf", headers=headers)
