"""Arrive: the symptom, the elimination matrix, reproductions, the label."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, cast
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
from uvrix.core.arrive.elimination import BY_ID, CELLS, NAMES, SHOWS, THINGS, TRIES, Often
from uvrix.core.arrive.intake import EVIDENCE, PROVENANCE, SEALS, WARRANTY, WORDS
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.uploads import FileSerializer, small_file
from uvrix.shop.arrive.models import Evidence, EvidenceFile, Intake, Reproduction, Trial
from uvrix.shop.arrive.queries import past_of
from uvrix.shop.arrive.services import (
    NewEvidence,
    NewIntake,
    NewReproduction,
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
from uvrix.shop.config.shapes import chosen, declared, given, shape, written
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.pictures.models import Picture

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


@dataclass(frozen=True, slots=True)
class CellAnswer:
    """A cell of the matrix: what is exchanged, what was tried, what that alone rules out."""

    id: str
    other: Annotated[Sequence[str], chosen(list(THINGS))]
    trials: Annotated[Iterable[Any], declared(TrialSerializer(many=True))]
    rules_out: Sequence[str]


@dataclass(frozen=True, slots=True)
class ChanceAnswer:
    """How likely a thing is at fault."""

    thing: str
    words: str
    chance: float


@dataclass(frozen=True, slots=True)
class NextTestAnswer:
    """A test that would settle much for its minutes."""

    cell: str
    tries: int
    bits: float
    minutes: float
    why: str


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


@dataclass(frozen=True, slots=True)
class WordAnswer:
    """A word and what it means."""

    word: str
    says: str


@dataclass(frozen=True, slots=True)
class ArriveAnswer:
    """Everything of Arrive."""

    past: Annotated[Iterable[Any], declared(PastSerializer(many=True))]
    intake: Annotated[Any, declared(IntakeSerializer(allow_null=True))]
    evidence: Annotated[Iterable[Any], declared(EvidenceSerializer(many=True))]
    provenances: Sequence[WordAnswer]
    seals: Sequence[WordAnswer]
    warranties: Sequence[WordAnswer]
    kinds: Sequence[WordAnswer]
    symptoms: Sequence[WordAnswer]
    symptom: Annotated[Any, declared(SymptomSerializer(allow_null=True))]
    cells: Sequence[CellAnswer]
    chances: Sequence[ChanceAnswer]
    next: Sequence[NextTestAnswer]
    tries: int
    reproductions: Annotated[Iterable[Any], declared(ReproductionSerializer(many=True))]


class JobArrive(APIView):
    """Arrive."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(ArriveAnswer))
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
    shown = ArriveAnswer(
        past=past_of(job),
        intake=job.intakes.select_related("by").last(),
        evidence=job.evidence.select_related("by").prefetch_related("words"),
        provenances=_words(PROVENANCE),
        seals=_words(SEALS),
        warranties=_words(WARRANTY),
        kinds=_words(EVIDENCE),
        symptoms=_words(symptoms.KINDS),
        symptom=symptom,
        cells=[
            CellAnswer(
                id=cell.id,
                other=[thing for thing in THINGS if thing in cell.other],
                trials=[standing[at] for at in by_cell.get(cell.id, ())],
                rules_out=sorted(
                    {thing for at in by_cell.get(cell.id, ()) for thing in elimination.rules_out(core[at], often)}
                ),
            )
            for cell in CELLS
        ],
        chances=[
            ChanceAnswer(thing=thing, words=NAMES[thing], chance=round(chance, 3))
            for thing, chance in sorted(found.items(), key=lambda row: -row[1])
        ],
        next=[
            NextTestAnswer(cell=test.cell.id, tries=test.tries, bits=test.bits, minutes=test.minutes, why=test.why)
            for test in elimination.next_tests(core, often)
        ],
        tries=TRIES[often],
        reproductions=job.reproductions.select_related("by"),
    )
    return written(shown)


def _words(words: Mapping[str, str]) -> list[WordAnswer]:
    return [WordAnswer(word=word, says=says) for word, says in words.items()]


class JobIntake(APIView):
    """The parcel."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(NewIntake), responses={201: shape(ArriveAnswer), 200: shape(ArriveAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Say what was in it; 422 `other-card` where the serial on the card is not the ticket's."""
        entry = entry_of(request, NewIntake)
        job = found_job(number)
        _, fresh = take_in(job, entry, person(request))
        return Response(_arrived(job), 201 if fresh else 200)


@dataclass(frozen=True, slots=True)
class NewEvidenceRequest:
    """Evidence, to enter."""

    id: UUID
    kind: Annotated[str, chosen(list(EVIDENCE))]
    source: Annotated[str, given(max_length=120)]
    text: Annotated[str, given(allow_blank=True, max_length=20000)] = ""
    picture: Annotated[
        str | None, declared(serializers.RegexField("^[0-9a-f]{64}$", required=False, allow_blank=True))
    ] = None
    file: Annotated[
        str | None, declared(serializers.RegexField("^[0-9a-f]{64}$", required=False, allow_blank=True))
    ] = None
    file_name: Annotated[str, given(allow_blank=True, max_length=200)] = ""


class JobEvidence(APIView):
    """Evidence."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(NewEvidenceRequest), responses={201: shape(ArriveAnswer), 200: shape(ArriveAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Keep what others say or show, with its source."""
        asked, job = entry_of(request, NewEvidenceRequest), found_job(number)
        picture = get_object_or_404(Picture, pk=asked.picture) if asked.picture else None
        file = get_object_or_404(EvidenceFile, pk=asked.file) if asked.file else None
        shown = picture, file, asked.file_name
        new = NewEvidence(asked.id, asked.kind, asked.source, asked.text, *shown)
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


@dataclass(frozen=True, slots=True)
class EvidenceWordRequest:
    """What the shop found evidence to be."""

    word: Annotated[str, chosen(list(WORDS))]


class JudgedEvidence(APIView):
    """What the shop found evidence to be."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(EvidenceWordRequest), responses={201: shape(ArriveAnswer)})
    def post(self, request: Request, evidence: UUID) -> Response:
        """Proven, refuted, or unproven again."""
        entry = entry_of(request, EvidenceWordRequest)
        found = get_object_or_404(Evidence.objects.select_related("job"), pk=evidence)
        judge_evidence(found, entry.word, person(request))
        return Response(_arrived(found_job(found.job.pk)), 201)


class JobSymptom(APIView):
    """The symptom."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(NewSymptom), responses={201: shape(ArriveAnswer), 200: shape(ArriveAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Say what the shop sees; what was said before stays in the record."""
        new, job = entry_of(request, NewSymptom), found_job(number)
        _, fresh = say_symptom(job, new, person(request))
        return Response(_arrived(job), 201 if fresh else 200)


class JobTrials(APIView):
    """Trials of the elimination matrix."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewTrial), responses={201: shape(ArriveAnswer), 200: shape(ArriveAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Enter what a cell showed."""
        entry = entry_of(request, NewTrial)
        job = found_job(number)
        _, fresh = enter_trial(job, entry, person(request))
        return Response(_arrived(job), 201 if fresh else 200)


class TrialWithdrawn(APIView):
    """Taking a trial back."""

    roles = {"POST": BENCH}

    @extend_schema(request=None, responses={201: shape(ArriveAnswer)})
    def post(self, request: Request, trial: UUID) -> Response:
        """Withdraw the trial: it stays in the record and does not count."""
        found = get_object_or_404(Trial.objects.select_related("job"), pk=trial)
        withdraw_trial(found, person(request))
        return Response(_arrived(found_job(found.job.pk)), 201)


class JobReproductions(APIView):
    """Reproductions."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewReproduction), responses={201: shape(ArriveAnswer), 200: shape(ArriveAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Enter under which load, for how long, and what came of it."""
        new, job = entry_of(request, NewReproduction), found_job(number)
        _, fresh = enter_reproduction(job, new, person(request))
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
