"""The case of a job: its entries with what each voids, what may be wrong, what to do next; and as a file."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.case.answer import answer
from uvrix.core.case.words import entry_words
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.models import User
from uvrix.shop.case.acting import NewDeclared, declare
from uvrix.shop.case.answers import advice_hidden, suspected
from uvrix.shop.case.rows import ANOTHER_BOARD
from uvrix.shop.case.shapes import STEPS, CaseStepSerializer, CauseSerializer
from uvrix.shop.case.threads import Thread, thread
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.limits import FARTHEST_MM
from uvrix.shop.config.shapes import chosen, declared, shape
from uvrix.shop.jobs.api import found_job

STATES = ["passed", "failed", "open"]


@dataclass(frozen=True, slots=True)
class CaseEntryAnswer:
    """An entry of the thread; `void_by` is the number of the act since which it no longer counts.

    `voids` are the numbers of those that it has made void.
    """

    number: int
    at: datetime
    by: str
    step: Annotated[str, chosen(STEPS)]
    words: str
    act: bool
    act_id: UUID | None
    void_by: int | None
    void_why: str
    voids: Sequence[int]


class BlockedSerializer(serializers.Serializer[Any]):
    """What keeps power locked."""

    about = serializers.CharField()
    why = serializers.CharField()


class CaseOwedSerializer(serializers.Serializer[Any]):
    """What must be settled before the card leaves; `since` is an entry's number."""

    what = serializers.CharField()
    target = serializers.CharField()
    since = serializers.IntegerField()


class CaseCheckSerializer(serializers.Serializer[Any]):
    """A check of the proof."""

    check = serializers.CharField()
    state = serializers.ChoiceField(choices=STATES)
    why = serializers.CharField()


@dataclass(frozen=True, slots=True)
class MovedAnswer:
    """Since when the card has lived on another board, and how many earlier entries are of the one before."""

    at: datetime
    board: str
    earlier: int


@dataclass(frozen=True, slots=True)
class CaseAnswer:
    """A job's case and what follows from it."""

    next: Annotated[Iterable[Any], declared(CaseStepSerializer(many=True))]
    causes: Annotated[Iterable[Any], declared(CauseSerializer(many=True))]
    blocks: Annotated[Iterable[Any], declared(BlockedSerializer(many=True))]
    owed: Annotated[Iterable[Any], declared(CaseOwedSerializer(many=True))]
    checks: Annotated[Iterable[Any], declared(CaseCheckSerializer(many=True))]
    warnings: Sequence[str]
    moved: MovedAnswer | None
    entries: Sequence[CaseEntryAnswer]


class JobCase(APIView):
    """A job's case."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(CaseAnswer), operation_id="job_case")
    def get(self, request: Request, number: int) -> Response:
        """The case's entries, oldest first, and all that follows from them."""
        job = found_job(number)
        found = _case(thread(job))
        return Response(replace(found, next=[], causes=[]) if advice_hidden(job) else found)


class JobCaseFile(APIView):
    """A job's case as a file."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT}, operation_id="job_case_file")
    def get(self, request: Request, number: int) -> HttpResponse:
        """The thread as `uvrix next` reads it; memory runs stand in it as counts."""
        job = found_job(number)
        text = json.dumps(thread(job).document(), ensure_ascii=False, indent=1)
        name = f"{job.label}.case.json"
        headers = {"Content-Disposition": f'attachment; filename="{name}"'}
        return HttpResponse(text, content_type="application/json", headers=headers)


class DeclaredPartSerializer(serializers.Serializer[Any]):
    """A part that the model lacks: its name, what it is, where it lies in millimetres where that is known."""

    id = serializers.UUIDField()
    designator = serializers.CharField(max_length=60)
    kind = serializers.CharField(max_length=40, required=False, allow_blank=True)
    side = serializers.ChoiceField(choices=["front", "back", ""], required=False)
    x_mm = serializers.FloatField(required=False, allow_null=True, min_value=-FARTHEST_MM, max_value=FARTHEST_MM)
    y_mm = serializers.FloatField(required=False, allow_null=True, min_value=-FARTHEST_MM, max_value=FARTHEST_MM)


class JobDeclaredParts(APIView):
    """Parts of a card that its model lacks."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=DeclaredPartSerializer(many=True), operation_id="job_declared_parts")
    def get(self, request: Request, number: int) -> Response:
        """The parts that were declared."""
        return Response(DeclaredPartSerializer(found_job(number).declaredpart_rows.all(), many=True).data)

    @extend_schema(
        request=shape(NewDeclared),
        responses={201: DeclaredPartSerializer, 200: DeclaredPartSerializer},
        operation_id="job_declare_part",
    )
    def post(self, request: Request, number: int) -> Response:
        """Declare one; from then on it may be named in every act."""
        entry, job = entry_of(request, NewDeclared), found_job(number)
        row, new = declare(job, entry, person(request))
        return Response(DeclaredPartSerializer(row).data, 201 if new else 200)


def _case(found: Thread) -> CaseAnswer:
    told = answer(found.facts)
    people = User.objects.in_bulk({row.by for row in found.rows if row.by})
    voids: dict[int, list[int]] = {}
    for candidate in found.facts.counted.void.values():
        voids.setdefault(candidate.by, []).append(candidate.entry)
    left = [f"{row.entry}: {refusal}" for row, refusal in found.left_out]
    return CaseAnswer(
        next=told["next"],
        causes=[suspected(found, cause) for cause in told["causes"]],
        blocks=told["power"]["blocks"],
        owed=told["owed"],
        checks=told["proof"]["checks"],
        warnings=[*told["warnings"], *left],
        moved=_moved(found),
        entries=[
            CaseEntryAnswer(
                number=entry.number,
                at=row.at,
                by=people[row.by].shown_name if row.by in people else "",
                step=row.step,
                words=entry_words(entry),
                act="did" in row.entry,
                act_id=UUID(row.key.partition(":")[2]) if row.key.startswith("act:") else None,
                void_by=void.by if (void := found.facts.counted.void.get(entry.number)) else None,
                void_why=void.why if void else "",
                voids=voids.get(entry.number, []),
            )
            for row, entry in zip(found.rows, found.facts.entries, strict=True)
        ],
    )


def _moved(found: Thread) -> MovedAnswer | None:
    if not found.move:
        return None
    return MovedAnswer(at=found.move.at, board=found.move.entry[ANOTHER_BOARD], earlier=len(found.former))
