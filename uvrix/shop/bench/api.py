"""Memory runs, findings, marks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from django.core.files.storage import default_storage
from django.db.models import QuerySet
from django.http import FileResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.mark import UnknownDesignator, question_for, site_named
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.bench.models import ChipMark, MemoryRun
from uvrix.shop.bench.services import (
    DroppedReport,
    NewMark,
    add_run,
    drawn_board,
    located_together,
    set_mark,
    withdraw_mark,
    withdraw_run,
)
from uvrix.shop.bench.shapes import MarkSerializer, RunSerializer
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import declared, given, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.library.located import LocatedSerializer

DESIGNATOR = OpenApiParameter("designator", OpenApiTypes.STR, required=True)
CHOSEN_RUNS = OpenApiParameter("run", OpenApiTypes.UUID, many=True, description="only these runs")


@dataclass(frozen=True, slots=True)
class DroppedReportRequest:
    """A report dropped on a job; `condition` is words joined by commas."""

    id: UUID
    file: Annotated[Any, declared(serializers.FileField(allow_empty_file=True, max_length=400))]
    condition: Annotated[str, given(allow_blank=True, max_length=200)] = ""
    another: bool = False
    board_confirmed: bool = False
    partly: bool = False


@dataclass(frozen=True, slots=True)
class WithdrawalRequest:
    """Why something does not count after all."""

    reason: Annotated[str, given(allow_blank=True, max_length=200)] = ""


@dataclass(frozen=True, slots=True)
class QuestionAnswer:
    """The landmark question about a chip; null where the board gives nothing to compare."""

    designator: str
    text: str | None


def _runs() -> QuerySet[MemoryRun]:
    return MemoryRun.objects.select_related("file", "added_by", "withdrawal")


class JobRuns(APIView):
    """The memory runs of a job."""

    roles = {"GET": EVERYONE, "POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(responses=RunSerializer(many=True), operation_id="job_runs_list")
    def get(self, request: Request, number: int) -> Response:
        """Every run of the job, withdrawn ones too, oldest first."""
        return Response(RunSerializer(_runs().filter(job=found_job(number)), many=True).data)

    @extend_schema(
        request={"multipart/form-data": shape(DroppedReportRequest)}, responses={201: RunSerializer, 200: RunSerializer}
    )
    def post(self, request: Request, number: int) -> Response:
        """Drop a report; 409 asks about the same file twice, another board's name, or lines that are mostly unread."""
        job = found_job(number)
        entry = entry_of(request, DroppedReportRequest)
        condition = tuple(word.strip() for word in entry.condition.split(",") if word.strip())
        dropped = DroppedReport(entry.id, entry.file, condition, entry.another, entry.board_confirmed, entry.partly)
        run, new = add_run(job, dropped, person(request))
        return Response(RunSerializer(_runs().get(pk=run.pk)).data, 201 if new else 200)


class OneRun(APIView):
    """A memory run."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=RunSerializer)
    def get(self, request: Request, run: UUID) -> Response:
        """The run alone."""
        return Response(RunSerializer(get_object_or_404(_runs(), pk=run)).data)


class RunFile(APIView):
    """A run's report."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, run: UUID) -> FileResponse:
        """The report as it came."""
        found = get_object_or_404(_runs(), pk=run)
        stored = default_storage.open(found.file.stored_as)
        kind = "application/octet-stream"
        return FileResponse(stored, as_attachment=True, filename=found.file_name, content_type=kind)


class RunWithdrawn(APIView):
    """Taking a run out of the finding."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(WithdrawalRequest), responses={201: RunSerializer})
    def post(self, request: Request, run: UUID) -> Response:
        """The run stays in the record and does not count."""
        entry = entry_of(request, WithdrawalRequest)
        found = get_object_or_404(MemoryRun, pk=run)
        withdraw_run(found, entry.reason, person(request))
        return Response(RunSerializer(_runs().get(pk=run)).data, 201)


class JobFinding(APIView):
    """What a job's runs say together."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=LocatedSerializer, parameters=[CHOSEN_RUNS])
    def get(self, request: Request, number: int) -> Response:
        """The finding of all runs that count, or of those chosen."""
        job = found_job(number)
        runs = _runs().filter(job=job, withdrawal=None)
        if chosen := request.query_params.getlist("run"):
            ids = serializers.ListField(child=serializers.UUIDField()).run_validation(chosen)
            runs = runs.filter(pk__in=ids)
        found = located_together(job, list(runs))
        if found is None:
            raise Problem(404, "no-runs", gettext("This job has no run that counts. Drop a memory report on it."))
        return Response(found)


class MarkQuestion(APIView):
    """The landmark question before a mark."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(QuestionAnswer), parameters=[DESIGNATOR])
    def get(self, request: Request, number: int) -> Response:
        """What is asked about a chip of this job's board."""
        board = drawn_board(found_job(number))
        try:
            site = site_named(board, request.query_params.get("designator", ""))
        except UnknownDesignator as error:
            raise Problem(422, "unknown-designator", str(error), typed=error.typed) from None
        question = question_for(board, site.designator)
        return Response(QuestionAnswer(designator=site.designator, text=question.text if question else None))


class JobMarks(APIView):
    """Marks of a job."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=MarkSerializer(many=True), operation_id="job_marks_list")
    def get(self, request: Request, number: int) -> Response:
        """The marks that stand, newest first."""
        marks = ChipMark.objects.filter(job=found_job(number), withdrawal=None).select_related("by").order_by("-at")
        return Response(MarkSerializer(marks, many=True).data)

    @extend_schema(request=shape(NewMark), responses={201: MarkSerializer, 200: MarkSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Confirm a mark by the printed designator and the landmark question."""
        entry = entry_of(request, NewMark)
        mark, new = set_mark(found_job(number), entry, person(request))
        return Response(MarkSerializer(mark).data, 201 if new else 200)


class MarkWithdrawn(APIView):
    """Taking a mark back."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(WithdrawalRequest), responses={201: MarkSerializer})
    def post(self, request: Request, mark: UUID) -> Response:
        """The mark stays in the record and does not stand."""
        entry = entry_of(request, WithdrawalRequest)
        found = get_object_or_404(ChipMark.objects.select_related("by"), pk=mark)
        withdraw_mark(found, entry.reason, person(request))
        return Response(MarkSerializer(found).data, 201)
