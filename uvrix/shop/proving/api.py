"""Prove: the protocol of a job's card, logs, figures, a fault that came late."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.proving.log import COLUMNS
from uvrix.core.proving.protocol import EMPTY, KINDS
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE, LEAD
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, declared, given, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.sheets import SheetSerializer, head_of, save_sheet
from uvrix.shop.proving.models import LateFault, ProofLog, ShopProtocol
from uvrix.shop.proving.queries import ProofContext, columns_now, proof_context, protocol_of
from uvrix.shop.proving.services import (
    PHASES,
    STEPS,
    NewFault,
    NewLog,
    NewSaid,
    keep_figure,
    keep_identity,
    keep_log,
    save_protocol,
    say_check,
    say_columns,
    send_back,
)

LARGEST_LOG = 32 * 1024 * 1024
MOST_DRAWN = 600


@dataclass(frozen=True, slots=True)
class CheckPartAnswer:
    """A part of a check that is said part by part; `passed` is null while nobody said it since the last act."""

    part: str
    passed: bool | None


class CheckSerializer(serializers.Serializer[Any]):
    """A check of the protocol and what it comes to."""

    id = serializers.CharField(source="check.id")
    kind = serializers.ChoiceField(choices=KINDS, source="check.kind")
    name = serializers.CharField(source="check.name")
    fails = serializers.CharField(source="check.fails")
    minutes = serializers.FloatField(source="check.minutes", allow_null=True)
    hours = serializers.FloatField(source="check.hours", allow_null=True)
    judged = serializers.ChoiceField(choices=["open", "passed", "failed", "refused"], source="state")
    why = serializers.ListField(child=serializers.CharField())
    more_minutes = serializers.FloatField(allow_null=True)
    waived = serializers.SerializerMethodField()
    by = serializers.SerializerMethodField()
    parts = serializers.SerializerMethodField()

    @extend_schema_field(shape(CheckPartAnswer)(many=True))
    def get_parts(self, judged: Any) -> Any:
        """Each part and whether it passed; none of a check that is said as a whole."""
        proof: ProofContext = self.context["proof"]
        since = proof.since
        said = {
            row.part: row.passed
            for row in proof.said
            if row.check_id == judged.check.id and (since is None or row.at > since)
        }
        return [CheckPartAnswer(part=part, passed=said.get(part)) for part in judged.check.parts]

    def get_waived(self, judged: Any) -> str:
        """Who let it go and why; empty where nobody did."""
        waiver = self.context["proof"].waived.get(judged.check.id)
        return f"{waiver.by.shown_name}: {waiver.reason}" if waiver else ""

    def get_by(self, judged: Any) -> str:
        """Who said it last, where a person did."""
        proof: ProofContext = self.context["proof"]
        rows = [row for row in proof.said if row.check_id == judged.check.id]
        return rows[-1].by.shown_name if rows else ""


class ProofLogSerializer(serializers.ModelSerializer[ProofLog]):
    """A log, thinned for drawing; null samples are missing."""

    by = serializers.CharField(source="by.shown_name")
    phase = serializers.ChoiceField(choices=PHASES)
    seconds = serializers.SerializerMethodField()
    figures = serializers.SerializerMethodField()
    counts = serializers.SerializerMethodField()

    class Meta:
        model = ProofLog
        fields = ["id", "name", "load", "phase", "seconds", "figures", "counts", "by", "at"]

    def _thin(self, values: list[Any]) -> list[Any]:
        step = max(1, len(values) // MOST_DRAWN)
        return values[::step]

    def get_seconds(self, row: ProofLog) -> list[float]:
        """Seconds from its beginning."""
        return self._thin(row.seconds)

    def get_figures(self, row: ProofLog) -> dict[str, list[float | None]]:
        """Each figure, one a sample."""
        return {name: self._thin(values) for name, values in row.figures.items()}

    def get_counts(self, row: ProofLog) -> bool:
        """Whether it is newer than the last rework."""
        since = self.context["proof"].since
        return since is None or row.at > since


class PairSerializer(serializers.Serializer[Any]):
    """A figure before and after."""

    name = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    before = serializers.FloatField(allow_null=True)
    after = serializers.FloatField(allow_null=True)


class NearReworkSerializer(serializers.Serializer[Any]):
    """Something near the last rework."""

    designator = serializers.CharField()
    why = serializers.CharField()


class LateFaultSerializer(serializers.ModelSerializer[LateFault]):
    """A fault that came late."""

    by = serializers.CharField(source="by.shown_name")
    back_to = serializers.ChoiceField(choices=STEPS)
    suspects = NearReworkSerializer(many=True)

    class Meta:
        model = LateFault
        fields = ["id", "check_id", "words", "minutes", "back_to", "suspects", "by", "at"]


class CardProofSerializer(serializers.Serializer[Any]):
    """A card's proof."""

    since = serializers.DateTimeField(allow_null=True)
    proven = serializers.BooleanField()
    sheet = SheetSerializer()
    checks = CheckSerializer(many=True)
    logs = ProofLogSerializer(many=True)
    pairs = PairSerializer(many=True)
    near = NearReworkSerializer(many=True)
    faults = LateFaultSerializer(many=True)
    columns = serializers.DictField(child=serializers.CharField())


def proof_of(job: Job) -> Any:
    """What the job's page at Prove shows."""
    found = proof_context(job)
    shown = {name: getattr(found, name) for name in ("since", "proven", "checks", "logs", "pairs", "near", "faults")}
    shown |= {"sheet": head_of(found.sheet), "columns": columns_now()}
    return CardProofSerializer(shown, context={"proof": found}).data


class JobProof(APIView):
    """The proof of a job's card."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=CardProofSerializer)
    def get(self, request: Request, number: int) -> Response:
        """As it stands."""
        return Response(proof_of(found_job(number)))


@dataclass(frozen=True, slots=True)
class NewProofLog:
    """A log to keep; CSV, or the JSON that the test computer's script writes."""

    entry: UUID
    file: Annotated[Any, declared(serializers.FileField())]
    phase: Annotated[str, chosen(PHASES)] = "after"
    load: Annotated[str, given(max_length=120, allow_blank=True)] = ""


class JobProofLogs(APIView):
    """Logs and identities."""

    roles = {"POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(
        request={"multipart/form-data": shape(NewProofLog)},
        responses={(201, "application/json"): CardProofSerializer},
    )
    def post(self, request: Request, number: int) -> Response:
        """Keep one."""
        entry, job = entry_of(request, NewProofLog), found_job(number)
        file, phase = entry.file, entry.phase
        if file.size > LARGEST_LOG:
            raise Problem(
                413,
                "too-large",
                gettext(
                    "{name}: found {size} bytes, expected at most {largest_log}.",
                    name=file.name,
                    size=file.size,
                    largest_log=LARGEST_LOG,
                ),
            )
        data = file.read()
        if data.lstrip()[:1] in {b"{", b"["}:
            _, new = keep_identity(job, entry.entry, data, phase, person(request))
        else:
            log = NewLog(entry.entry, file.name, data, entry.load, phase)
            _, new = keep_log(job, log, person(request))
        return Response(proof_of(job), 201 if new else 200)


class LogColumnsSerializer(serializers.Serializer[Any]):
    """Which column of the shop's logs is which."""

    columns = serializers.DictField(child=serializers.CharField(max_length=120, allow_blank=True))
    names = serializers.ListField(child=serializers.CharField(), read_only=True)


class ShopLogColumns(APIView):
    """Columns of logs, said once per shop."""

    roles = {"GET": EVERYONE, "PUT": BENCH}

    @extend_schema(responses=LogColumnsSerializer)
    def get(self, request: Request) -> Response:
        """As they stand."""
        return Response({"columns": columns_now(), "names": list(COLUMNS)})

    @extend_schema(request=LogColumnsSerializer, responses=LogColumnsSerializer)
    def put(self, request: Request) -> Response:
        """Say them."""
        say_columns(entry_of(request, LogColumnsSerializer)["columns"], person(request))
        return self.get(request)


class JobChecks(APIView):
    """Checks said by hand."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewSaid), responses={201: CardProofSerializer, 200: CardProofSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Say how one went."""
        entry, job = entry_of(request, NewSaid), found_job(number)
        _, new = say_check(job, entry, person(request))
        return Response(proof_of(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewFigure:
    """A figure that no log holds."""

    id: UUID
    what: Annotated[str, chosen(["score", "noise"])]
    phase: Annotated[str, chosen(PHASES)]
    value: Annotated[float, given(min_value=0, max_value=1000000000.0)]
    note: Annotated[str, given(max_length=120, allow_blank=True)] = ""


class JobProofFigures(APIView):
    """Scores and noise."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewFigure), responses={201: CardProofSerializer, 200: CardProofSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Keep one."""
        entry, job = entry_of(request, NewFigure), found_job(number)
        figure = (entry.what, entry.phase, entry.value)
        _, new = keep_figure(job, entry.id, figure, entry.note, person(request))
        return Response(proof_of(job), 201 if new else 200)


class JobLateFaults(APIView):
    """Faults that came late."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewFault), responses={201: CardProofSerializer, 200: CardProofSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Send the job back with everything kept."""
        entry, job = entry_of(request, NewFault), found_job(number)
        _, new = send_back(job, entry, person(request))
        return Response(proof_of(job), 201 if new else 200)


class ProtocolSerializer(serializers.Serializer[Any]):
    """A protocol as it was saved, with its head."""

    head = SheetSerializer(read_only=True)
    document = DocumentField()
    base = serializers.IntegerField(min_value=0, write_only=True, required=False)


class ModelProtocol(APIView):
    """A model's protocol."""

    roles = {"GET": EVERYONE, "PUT": LEAD}

    @extend_schema(responses=ProtocolSerializer)
    def get(self, request: Request, slug: str) -> Response:
        """As it stands: the model's own, a relative's, the shop's, or the usual one."""
        sheet = protocol_of(get_object_or_404(BoardModel, slug=slug))
        return Response({"head": head_of(sheet), "document": sheet.document})

    @extend_schema(request=ProtocolSerializer, responses=ProtocolSerializer)
    def put(self, request: Request, slug: str) -> Response:
        """Save one of its own."""
        model, entry = get_object_or_404(BoardModel, slug=slug), entry_of(request, ProtocolSerializer)
        save_sheet(model, "proof", entry["document"], entry.get("base", 0), person(request))
        return self.get(request, slug)


class ShopProofProtocolSerializer(serializers.Serializer[Any]):
    """The shop's protocol."""

    document = DocumentField()


class ShopProofProtocol(APIView):
    """The shop's protocol, for models without one of their own."""

    roles = {"GET": EVERYONE, "PUT": LEAD}

    @extend_schema(responses=ShopProofProtocolSerializer)
    def get(self, request: Request) -> Response:
        """As it stands."""
        newest = ShopProtocol.objects.last()
        return Response({"document": newest.content if newest else EMPTY})

    @extend_schema(request=ShopProofProtocolSerializer, responses=ShopProofProtocolSerializer)
    def put(self, request: Request) -> Response:
        """Set it."""
        save_protocol(entry_of(request, ShopProofProtocolSerializer)["document"], person(request))
        return self.get(request)
