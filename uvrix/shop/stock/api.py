"""Stock: parts, their lives and moves, what to order."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Annotated, Any

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.stock.facts import KINDS
from uvrix.core.stock.life import MOVES, Life, genealogy, traffic
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.acts.models import Act
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.labels import paper_labels
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, declared, given, shape, written
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.stock.models import StockMove
from uvrix.shop.stock.parts import Stock, stock, whole_stock
from uvrix.shop.stock.queries import amount_of, hints, loans
from uvrix.shop.stock.services import NewMove, NewPart, enter_move, note_facts, part_words, take_in

MOST_SHOWN = 300
PLACES = ("card", "tray", "lent", "set", "hand", "gone", "nowhere")


@dataclass(frozen=True, slots=True)
class PartAnswer:
    """A part as it stands; `amount` only of what is counted."""

    label: str
    kind: Annotated[str, chosen([*KINDS, ""])]
    marking: str
    vendor: str
    place: Annotated[str, chosen(PLACES)]
    where: str
    tray: str
    condition: str
    cycles: int
    amount: float | None
    lot: str
    ball_mm: float | None


@dataclass(frozen=True, slots=True)
class TrayAnswer:
    """A tray and how many parts lie in it."""

    name: str
    parts: int


@dataclass(frozen=True, slots=True)
class LoanAnswer:
    """A part on loan."""

    label: str
    to: str
    since: datetime
    due: date | None
    overdue: bool


class HintSerializer(serializers.Serializer[Any]):
    """Something to order, and the chance to run out before more comes."""

    name = serializers.CharField()
    have = serializers.FloatField()
    chance = serializers.FloatField()
    order = serializers.IntegerField()
    why = serializers.CharField()


class StockSerializer(serializers.Serializer[Any]):
    """Parts that were asked for, and the whole: trays, loans, what to order."""

    parts = shape(PartAnswer)(many=True)
    found = serializers.IntegerField()
    trays = shape(TrayAnswer)(many=True)
    loans = shape(LoanAnswer)(many=True)
    hints = HintSerializer(many=True)


def part_shape(label: str, life: Life, at: Stock) -> PartAnswer:
    """What `PartAnswer` says of a part."""
    facts = at.facts_of(label)
    return PartAnswer(
        label=label,
        kind=facts.get("kind", ""),
        marking=facts.get("marking", ""),
        vendor=facts.get("vendor", ""),
        place=life.place.kind,
        where=life.place.words,
        tray=life.place.name if life.place.kind == "tray" else "",
        condition=life.condition,
        cycles=life.cycles,
        amount=amount_of(facts, life),
        lot=at.lot_of(label),
        ball_mm=facts.get("ball_mm"),
    )


def _holds(part: PartAnswer, asked: Mapping[str, str]) -> bool:
    text = asked.get("text", "").strip().casefold()
    if text and not any(
        text in str(getattr(part, name)).casefold() for name in ("label", "marking", "vendor", "where", "lot")
    ):
        return False
    if asked.get("kind") and part.kind != asked["kind"]:
        return False
    return not asked.get("place") or part.place == asked["place"]


def stock_shape(asked: Mapping[str, str]) -> Any:
    """Parts that hold what was asked: those of the shop, and those that came off cards."""
    at = whole_stock()
    labels = {*at.facts, *(label for label, life in at.lives.items() if life.place.kind != "card")}
    parts = [part_shape(label, at.lives.get(label) or Life(label), at) for label in sorted(labels)]
    trays: dict[str, int] = {}
    for part in parts:
        if part.tray:
            trays[part.tray] = trays.get(part.tray, 0) + 1
    found = [part for part in parts if _holds(part, asked)]
    today = timezone.localdate()
    lent = [
        LoanAnswer(
            label=life.label,
            to=row.to,
            since=row.at,
            due=row.due,
            overdue=bool(row.due and row.due < today),
        )
        for life, row in loans(at)
    ]
    shown = {"parts": found[:MOST_SHOWN], "found": len(found), "loans": lent, "hints": hints(at)}
    shown["trays"] = [TrayAnswer(name=name, parts=many) for name, many in sorted(trays.items())]
    return StockSerializer(shown).data


class StockParts(APIView):
    """Parts in stock; the front desk receives them too."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}

    @extend_schema(
        parameters=[
            OpenApiParameter("text", str, description="In label, marking, maker, place or lot"),
            OpenApiParameter("kind", str, enum=list(KINDS)),
            OpenApiParameter("place", str, enum=list(PLACES)),
        ],
        responses=StockSerializer,
    )
    def get(self, request: Request) -> Response:
        """The parts that were asked for."""
        return Response(stock_shape(request.query_params))

    @extend_schema(request=shape(NewPart), responses={201: shape(PartAnswer), 200: shape(PartAnswer)})
    def post(self, request: Request) -> Response:
        """Take one in."""
        label, new = take_in(entry_of(request, NewPart), person(request))
        at = stock()
        return Response(part_shape(label, at.lived([label])[label], at), 201 if new else 200)


class LifeStepSerializer(serializers.Serializer[Any]):
    """A step of a part's life; `job` is the number of the job on which it was done."""

    at = serializers.DateTimeField(allow_null=True)
    words = serializers.CharField()
    place = serializers.CharField()
    cycles = serializers.IntegerField()
    job = serializers.IntegerField(allow_null=True)
    by = serializers.CharField(allow_blank=True)
    note = serializers.CharField(allow_blank=True)


class PartLaneSerializer(serializers.Serializer[Any]):
    """A lane of the drawing."""

    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=["card", "stock"])
    y = serializers.IntegerField()


class LaneSegmentSerializer(serializers.Serializer[Any]):
    """A part in a lane from one column to another."""

    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    lane = serializers.IntegerField()
    x1 = serializers.IntegerField()
    x2 = serializers.IntegerField()
    words = serializers.CharField()
    at = serializers.DateTimeField(allow_null=True)


class GenealogySerializer(serializers.Serializer[Any]):
    """Parts through cards: lanes, and stretches in columns of time."""

    lanes = PartLaneSerializer(many=True)
    stretches = LaneSegmentSerializer(many=True)
    columns = serializers.IntegerField()


@dataclass(frozen=True, slots=True)
class LifeAnswer:
    """A part's life: what it is, where it is, everything that happened to it, and whom it was with."""

    part: PartAnswer
    facts: Any
    edition: int
    printed: str
    steps: Annotated[Iterable[Any], declared(LifeStepSerializer(many=True))]
    drawn: Annotated[Any, declared(GenealogySerializer())]
    members: Sequence[str]
    card: str
    job: int | None


def life_shape(label: str) -> Any:
    """A part's life. Raises Problem 404 for a label that nobody knows."""
    at = stock()
    life = at.life(label)
    if life is None:
        raise Problem(
            404, "no-part", gettext("found {label}, expected the label of a part, or CARD/PLACE", label=repr(label))
        )
    acts = [step.id for step in life.steps if step.id and step.do not in MOVES]
    moved = [step.id for step in life.steps if step.id and step.do in MOVES]
    rows = {str(row.pk): row for row in Act.objects.filter(pk__in=acts).select_related("by")}
    moves = {str(row.pk): row for row in StockMove.objects.filter(pk__in=moved).select_related("by")}
    steps = []
    for step in life.steps:
        row, move = rows.get(step.id), moves.get(step.id)
        by = (row or move).by.shown_name if row or move else ""  # type: ignore[union-attr]
        note = row.result or row.note if row else move.note if move else ""
        shown = {"at": step.at, "words": step.words, "place": step.place.words, "cycles": step.cycles}
        steps.append({**shown, "job": row.job_id if row else None, "by": by, "note": note})
    members = at.members(label)
    card = life.place.card
    jobs = Job.objects.filter(card__serial=card).order_by("-opened_at") if card else Job.objects.none()
    return written(
        LifeAnswer(
            part=part_shape(label, life, at),
            facts=dict(at.facts_of(label)),
            edition=at.edition_of(label),
            printed=at.printed_on(label),
            steps=steps,
            drawn=genealogy([life, *(at.lived(sorted(members)).values())]),
            members=sorted(members),
            card=card,
            job=jobs.values_list("pk", flat=True).first(),
        )
    )


LABEL = OpenApiParameter("label", str, required=True)


def asked_label(request: Request) -> str:
    """The label that a request asks for; answered 422 where there is none."""
    label = request.query_params.get("label", "").strip().replace("\0", "")
    if not label or len(label) > 120:
        raise Problem(422, "no-label", gettext("found no label, expected the label of a part, or CARD/PLACE"))
    return label


@dataclass(frozen=True, slots=True)
class NewFacts:
    """What a part is; `base` is the edition that it was made from, 0 for none."""

    facts: Annotated[dict[str, Any], declared(DocumentField())]
    base: Annotated[int, given(min_value=0)]


class PartLife(APIView):
    """One part's life."""

    roles = {"GET": EVERYONE, "PUT": BENCH}

    @extend_schema(parameters=[LABEL], responses=shape(LifeAnswer))
    def get(self, request: Request) -> Response:
        """Everything that is known of it."""
        return Response(life_shape(asked_label(request)))

    @extend_schema(parameters=[LABEL], request=shape(NewFacts), responses=shape(LifeAnswer))
    def put(self, request: Request) -> Response:
        """Say what it is."""
        entry, label = entry_of(request, NewFacts), asked_label(request)
        note_facts(label, entry.facts, entry.base, person(request))
        return Response(life_shape(label))


class StockMoves(APIView):
    """Moves of parts."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(NewMove), responses={201: shape(LifeAnswer), 200: shape(LifeAnswer)})
    def post(self, request: Request) -> Response:
        """Move one; answered with its life."""
        move, new = enter_move(entry_of(request, NewMove), person(request))
        return Response(life_shape(move.label), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class PartFoundAnswer:
    """A part that a scanned or typed text may mean."""

    label: str
    words: str
    exact: bool


class PartsSought(APIView):
    """Parts that a text may mean."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        parameters=[OpenApiParameter("text", str, required=True)], responses=shape(PartFoundAnswer)(many=True)
    )
    def get(self, request: Request) -> Response:
        """By label, the whole one first; at most ten."""
        text = request.query_params.get("text", "").strip().replace("\0", "").casefold()
        at = whole_stock()
        found = []
        if text:
            labels = {*at.facts, *at.lives}
            near = [label for label in labels if text in label.casefold()]
            near.sort(key=lambda label: (label.casefold() != text, len(label), label))
            found = [
                PartFoundAnswer(label=label, words=at.life(label).place.words, exact=label.casefold() == text)  # type: ignore[union-attr]
                for label in near[:10]
                if at.life(label)
            ]
            if not any(entry.exact for entry in found) and "/" in text:
                asked = request.query_params["text"].strip()
                life = at.life(asked)
                found = [PartFoundAnswer(label=asked, words=life.place.words, exact=True), *found] if life else found
        return Response(found)


class PartLabels(APIView):
    """Labels of parts on paper."""

    roles = {"GET": EVERYONE}

    @extend_schema(parameters=[LABEL], responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request) -> HttpResponse:
        """One label."""
        label, at = asked_label(request), stock()
        if at.life(label) is None:
            raise Problem(
                404, "no-part", gettext("found {label}, expected the label of a part, or CARD/PLACE", label=repr(label))
            )
        headers = {"Content-Disposition": 'inline; filename="label.pdf"'}
        return HttpResponse(
            paper_labels([(label, part_words(label, at))]), content_type="application/pdf", headers=headers
        )


class CrossingSerializer(serializers.Serializer[Any]):
    """A part that came onto a card or went from it."""

    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    site = serializers.CharField()
    other = serializers.CharField()
    at = serializers.DateTimeField(allow_null=True)


@dataclass(frozen=True, slots=True)
class CardPartsAnswer:
    """The parts in and out of a card, and their way through others."""

    serial: str
    came: Annotated[Iterable[Any], declared(CrossingSerializer(many=True))]
    went: Annotated[Iterable[Any], declared(CrossingSerializer(many=True))]
    drawn: Annotated[Any, declared(GenealogySerializer())]


class CardParts(APIView):
    """Parts in and out of a card."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(CardPartsAnswer))
    def get(self, request: Request, serial: str) -> Response:
        """From both sides."""
        at = stock()
        found = traffic(serial, at.lives)
        labels = sorted({crossing.label for crossing in (*found.came, *found.went)})
        drawn = genealogy(at.lives[label] for label in labels)
        return Response(written(CardPartsAnswer(serial=serial, came=found.came, went=found.went, drawn=drawn)))
