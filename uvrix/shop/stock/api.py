"""Stock: parts, their lives and moves, what to order."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.stock.facts import KINDS
from uvrix.core.stock.life import CONDITIONS, MOVES, Life, genealogy, traffic
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.acts.models import Act
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.labels import paper_labels
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.stock.models import StockMove
from uvrix.shop.stock.parts import Stock, stock, whole_stock
from uvrix.shop.stock.queries import amount_of, hints, loans
from uvrix.shop.stock.services import NewMove, NewPart, enter_move, note_facts, part_words, take_in

MOST_SHOWN = 300
PLACES = ("card", "tray", "lent", "set", "hand", "gone", "nowhere")


class PartSerializer(serializers.Serializer[Any]):
    """A part as it stands; `amount` only of what is counted."""

    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    kind = serializers.CharField(allow_blank=True)
    marking = serializers.CharField(allow_blank=True)
    vendor = serializers.CharField(allow_blank=True)
    place = serializers.ChoiceField(choices=PLACES)
    where = serializers.CharField()
    tray = serializers.CharField(allow_blank=True)
    condition = serializers.CharField(allow_blank=True)
    cycles = serializers.IntegerField()
    amount = serializers.FloatField(allow_null=True)
    lot = serializers.CharField(allow_blank=True)
    ball_mm = serializers.FloatField(allow_null=True)


class TraySerializer(serializers.Serializer[Any]):
    """A tray and how many parts lie in it."""

    name = serializers.CharField()
    parts = serializers.IntegerField()


class LoanSerializer(serializers.Serializer[Any]):
    """A part on loan."""

    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    to = serializers.CharField()
    since = serializers.DateTimeField()
    due = serializers.DateField(allow_null=True)
    overdue = serializers.BooleanField()


class HintSerializer(serializers.Serializer[Any]):
    """Something to order, and the chance to run out before more comes."""

    name = serializers.CharField()
    have = serializers.FloatField()
    chance = serializers.FloatField()
    order = serializers.IntegerField()
    why = serializers.CharField()


class StockSerializer(serializers.Serializer[Any]):
    """Parts that were asked for, and the whole: trays, loans, what to order."""

    parts = PartSerializer(many=True)
    found = serializers.IntegerField()
    trays = TraySerializer(many=True)
    loans = LoanSerializer(many=True)
    hints = HintSerializer(many=True)


def part_shape(label: str, life: Life, at: Stock) -> dict[str, Any]:
    """What `PartSerializer` says of a part."""
    facts = at.facts_of(label)
    return {
        "label": label,
        "kind": facts.get("kind", ""),
        "marking": facts.get("marking", ""),
        "vendor": facts.get("vendor", ""),
        "place": life.place.kind,
        "where": life.place.words,
        "tray": life.place.name if life.place.kind == "tray" else "",
        "condition": life.condition,
        "cycles": life.cycles,
        "amount": amount_of(facts, life),
        "lot": at.lot_of(label),
        "ball_mm": facts.get("ball_mm"),
    }


def _holds(part: Mapping[str, Any], asked: Mapping[str, str]) -> bool:
    text = asked.get("text", "").strip().casefold()
    if text and not any(text in str(part[name]).casefold() for name in ("label", "marking", "vendor", "where", "lot")):
        return False
    if asked.get("kind") and part["kind"] != asked["kind"]:
        return False
    return not asked.get("place") or part["place"] == asked["place"]


def stock_shape(asked: Mapping[str, str]) -> Any:
    """Parts that hold what was asked: those of the shop, and those that came off cards."""
    at = whole_stock()
    labels = {*at.facts, *(label for label, life in at.lives.items() if life.place.kind != "card")}
    parts = [part_shape(label, at.lives.get(label) or Life(label), at) for label in sorted(labels)]
    trays: dict[str, int] = {}
    for part in parts:
        if part["tray"]:
            trays[part["tray"]] = trays.get(part["tray"], 0) + 1
    found = [part for part in parts if _holds(part, asked)]
    today = timezone.localdate()
    lent = [
        {
            "label": life.label,
            "to": row.to,
            "since": row.at,
            "due": row.due,
            "overdue": bool(row.due and row.due < today),
        }
        for life, row in loans(at)
    ]
    shown = {"parts": found[:MOST_SHOWN], "found": len(found), "loans": lent, "hints": hints(at)}
    shown["trays"] = [{"name": name, "parts": many} for name, many in sorted(trays.items())]
    return StockSerializer(shown).data


class NewPartSerializer(serializers.Serializer[Any]):
    """A part to take into stock; `facts` as core.stock.facts has them."""

    id = serializers.UUIDField()
    label = serializers.CharField(  # type: ignore[assignment]  # a field, not DRF's label
        max_length=120, required=False, allow_blank=True
    )
    facts = DocumentField()
    to = serializers.CharField(max_length=120)
    condition = serializers.ChoiceField(choices=[*CONDITIONS, ""], required=False)
    amount = serializers.FloatField(min_value=0, max_value=1e9, required=False, allow_null=True)


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
        """Those that are asked for."""
        return Response(stock_shape(request.query_params))

    @extend_schema(request=NewPartSerializer, responses={201: PartSerializer, 200: PartSerializer})
    def post(self, request: Request) -> Response:
        """Take one in."""
        label, new = take_in(NewPart(**entry_of(request, NewPartSerializer)), person(request))
        at = stock()
        return Response(PartSerializer(part_shape(label, at.lived([label])[label], at)).data, 201 if new else 200)


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


class LifeSerializer(serializers.Serializer[Any]):
    """A part's life: what it is, where it is, everything that happened to it, and whom it was with."""

    part = PartSerializer()
    facts = serializers.JSONField()
    edition = serializers.IntegerField()
    printed = serializers.CharField(allow_blank=True)
    steps = LifeStepSerializer(many=True)
    drawn = GenealogySerializer()
    members = serializers.ListField(child=serializers.CharField())
    card = serializers.CharField(allow_blank=True)
    job = serializers.IntegerField(allow_null=True)


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
    return LifeSerializer(
        {
            "part": part_shape(label, life, at),
            "facts": dict(at.facts_of(label)),
            "edition": at.edition_of(label),
            "printed": at.printed_on(label),
            "steps": steps,
            "drawn": genealogy([life, *(at.lived(sorted(members)).values())]),
            "members": sorted(members),
            "card": card,
            "job": jobs.values_list("pk", flat=True).first(),
        }
    ).data


LABEL = OpenApiParameter("label", str, required=True)


def asked_label(request: Request) -> str:
    """The label that a request asks for; answered 422 where there is none."""
    label = request.query_params.get("label", "").strip().replace("\0", "")
    if not label or len(label) > 120:
        raise Problem(422, "no-label", gettext("found no label, expected the label of a part, or CARD/PLACE"))
    return label


class NewFactsSerializer(serializers.Serializer[Any]):
    """What a part is; `base` is the edition that it was made from, 0 for none."""

    facts = DocumentField()
    base = serializers.IntegerField(min_value=0)


class PartLife(APIView):
    """One part's life."""

    roles = {"GET": EVERYONE, "PUT": BENCH}

    @extend_schema(parameters=[LABEL], responses=LifeSerializer)
    def get(self, request: Request) -> Response:
        """Everything that is known of it."""
        return Response(life_shape(asked_label(request)))

    @extend_schema(parameters=[LABEL], request=NewFactsSerializer, responses=LifeSerializer)
    def put(self, request: Request) -> Response:
        """Say what it is."""
        entry, label = entry_of(request, NewFactsSerializer), asked_label(request)
        note_facts(label, entry["facts"], entry["base"], person(request))
        return Response(life_shape(label))


class NewMoveSerializer(serializers.Serializer[Any]):
    """A part moved, counted or judged."""

    id = serializers.UUIDField()
    label = serializers.CharField(max_length=120)  # type: ignore[assignment]  # a field, not DRF's label
    do = serializers.ChoiceField(choices=list(MOVES))
    to = serializers.CharField(max_length=120, required=False, allow_blank=True)
    amount = serializers.FloatField(min_value=0, max_value=1e9, required=False, allow_null=True)
    condition = serializers.ChoiceField(choices=[*CONDITIONS, ""], required=False)
    due = serializers.DateField(required=False, allow_null=True)
    note = serializers.CharField(max_length=200, required=False, allow_blank=True)


class StockMoves(APIView):
    """Moves of parts."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=NewMoveSerializer, responses={201: LifeSerializer, 200: LifeSerializer})
    def post(self, request: Request) -> Response:
        """Move one; answered with its life."""
        move, new = enter_move(NewMove(**entry_of(request, NewMoveSerializer)), person(request))
        return Response(life_shape(move.label), 201 if new else 200)


class PartFoundSerializer(serializers.Serializer[Any]):
    """A part that a scanned or typed text may mean."""

    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    words = serializers.CharField()
    exact = serializers.BooleanField()


class PartsSought(APIView):
    """Parts that a text may mean."""

    roles = {"GET": EVERYONE}

    @extend_schema(parameters=[OpenApiParameter("text", str, required=True)], responses=PartFoundSerializer(many=True))
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
                {"label": label, "words": at.life(label).place.words, "exact": label.casefold() == text}  # type: ignore[union-attr]
                for label in near[:10]
                if at.life(label)
            ]
            if not any(entry["exact"] for entry in found) and "/" in text:
                asked = request.query_params["text"].strip()
                life = at.life(asked)
                found = [{"label": asked, "words": life.place.words, "exact": True}, *found] if life else found
        return Response(PartFoundSerializer(found, many=True).data)


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


class CardPartsSerializer(serializers.Serializer[Any]):
    """The parts in and out of a card, and their way through others."""

    serial = serializers.CharField()
    came = CrossingSerializer(many=True)
    went = CrossingSerializer(many=True)
    drawn = GenealogySerializer()


class CardParts(APIView):
    """Parts in and out of a card."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=CardPartsSerializer)
    def get(self, request: Request, serial: str) -> Response:
        """From both sides."""
        at = stock()
        found = traffic(serial, at.lives)
        labels = sorted({crossing.label for crossing in (*found.came, *found.went)})
        drawn = genealogy(at.lives[label] for label in labels)
        return Response(
            CardPartsSerializer({"serial": serial, "came": found.came, "went": found.went, "drawn": drawn}).data
        )
