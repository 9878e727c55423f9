"""Two cards of one model, read in turn: another job's card, or a good card that is captured."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any, cast, get_args
from uuid import UUID

from django.db.models import Count, OuterRef, Q, QuerySet, Subquery
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.readings.beside import Beside, Word, beside
from uvrix.core.readings.notation import COLD, shown
from uvrix.core.readings.reading_file import Reading
from uvrix.language import gettext
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.ohms.models import PowerState, ReferenceCard
from uvrix.shop.ohms.queries import core_reading, places_of_job, reading_context

WORDS = list(get_args(Word))
MOST_OTHERS = 60


@dataclass(frozen=True, slots=True)
class OtherCardAnswer:
    """A card that this one may be read beside: of another job of the model, or a captured good one."""

    job: int | None
    reference: UUID | None
    card: str
    says: str
    readings: int
    off: bool


@dataclass(frozen=True, slots=True)
class BesideRowAnswer:
    """A thing read on either card; `reads` is how this card reads against the other."""

    point: str
    to: str
    quantity: str
    mine: str
    other: str
    reads: Annotated[str, chosen(WORDS)]
    says: str


@dataclass(frozen=True, slots=True)
class BesideAnswer:
    """The card and another; null where no other was asked for."""

    others: Sequence[OtherCardAnswer]
    other: OtherCardAnswer | None
    rows: Sequence[BesideRowAnswer]


class JobBeside(APIView):
    """A job's card beside another."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        parameters=[
            OpenApiParameter("job", int, description="the other card's job"),
            OpenApiParameter("reference", UUID, description="or a captured good card"),
        ],
        responses=shape(BesideAnswer),
    )
    def get(self, request: Request, number: int) -> Response:
        """The cards of this model, and both beside each other. 422 where the other is of another model."""
        job = found_job(number)
        asked_job, asked_card = request.query_params.get("job"), request.query_params.get("reference")
        other: OtherCardAnswer | None = None
        theirs: list[Reading] = []
        if asked_job:
            second = found_job(_number(asked_job))
            if second.card.model_id != job.card.model_id or second.pk == job.pk:
                raise _not_alike(second.label)
            other, theirs = _of_job(_told(Job.objects.filter(pk=second.pk)).get()), _cold(second)
        elif asked_card:
            reference = get_object_or_404(ReferenceCard, pk=_uuid(asked_card))
            if reference.board != job.card.model.slug:
                raise _not_alike(reference.card)
            other = _of_reference(reference)
            theirs = [core_reading(row) for row in reference.readings.filter(out_at=None)]
        bench = reading_context(job)
        rows = beside(_cold(job), theirs, places_of_job(job), bench.library.spread) if other else ()
        shown_now = BesideAnswer(others=_others(job), other=other, rows=[_row(comparison) for comparison in rows])
        return Response(shown_now)


def _cold(job: Job) -> list[Reading]:
    return [core_reading(row) for row in job.reading_rows.filter(quantity__in=COLD).select_related("meter")]


def _row(row: Beside) -> BesideRowAnswer:
    has = cast("Reading", row.mine or row.other)
    return BesideRowAnswer(
        point=row.point,
        to=has.to,
        quantity=has.quantity,
        mine=shown(row.mine.value, has.quantity) if row.mine else "",
        other=shown(row.other.value, has.quantity) if row.other else "",
        reads=row.word,
        says=row.says,
    )


def _others(job: Job) -> list[OtherCardAnswer]:
    """Captured good cards first, then other jobs of the model, newest first."""
    references = ReferenceCard.objects.filter(board=job.card.model.slug).prefetch_related("readings")
    others = of_the_shop(Job.objects.filter(card__model=job.card.model_id), "pk")
    jobs = _told(others.exclude(pk=job.pk)).order_by("-pk")[:MOST_OTHERS]
    return [_of_reference(card) for card in references] + [_of_job(candidate) for candidate in jobs]


def _told(jobs: QuerySet[Job]) -> QuerySet[Job]:
    """Jobs with how their card stands, and how much was read cold."""
    state = PowerState.objects.filter(job=OuterRef("pk")).order_by("-at", "-pk").values("state")[:1]
    cold = Count("reading_rows", filter=Q(reading_rows__quantity__in=COLD))
    return jobs.select_related("card").annotate(stands=Subquery(state), cold=cold)


def _of_job(job: Any) -> OtherCardAnswer:
    return OtherCardAnswer(
        job=job.pk,
        reference=None,
        card=job.card.serial,
        says=job.label,
        readings=job.cold,
        off=job.stands == "off",
    )


def _of_reference(card: ReferenceCard) -> OtherCardAnswer:
    return OtherCardAnswer(
        job=None,
        reference=card.pk,
        card=card.card,
        says=gettext("good card, {note}", note=card.note) if card.note else gettext("good card"),
        readings=sum(reading.out_at is None for reading in card.readings.all()),
        off=True,
    )


def _not_alike(name: str) -> Problem:
    return Problem(422, "not-alike", gettext("found {name}, expected another card of the same board model", name=name))


def _number(text: str) -> int:
    if not (text.isascii() and text.isdigit() and len(text) < 10):
        raise Problem(422, "unknown-job", gettext("found the job {text}, expected its number", text=repr(text[:40])))
    return int(text)


def _uuid(text: str) -> UUID:
    try:
        return UUID(text)
    except ValueError:
        raise Problem(
            422, "unknown-card", gettext("found the card {text}, expected a captured card's id", text=repr(text[:40]))
        ) from None
