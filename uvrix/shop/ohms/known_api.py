"""The known-good library: importing, showing, taking out; capturing a whole set from a good card."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from typing import Annotated, Any, cast
from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.readings.known import Reference
from uvrix.core.readings.notation import UNIT, Quantity, shown_number
from uvrix.core.readings.points import Places, board_places
from uvrix.core.readings.reading_file import Reading
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.uploads import FileSerializer, small_file
from uvrix.shop.config.access import BENCH, EVERYONE, LEAD
from uvrix.shop.config.shapes import chosen, declared, given, shape
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import model_board
from uvrix.shop.ohms.api import KnownFigureSerializer, PointSerializer, figure
from uvrix.shop.ohms.models import KnownReading, ReferenceCard, ReferencePhotograph
from uvrix.shop.ohms.queries import Point, board_points, model_figures, route_of
from uvrix.shop.ohms.services import NewKnown, begin_reference, capture, import_known, take_out
from uvrix.shop.pictures.models import Picture

LARGEST_KNOWN_BYTES = 16 << 20
SIDES = ["front", "back"]


class KnownReadingSerializer(serializers.ModelSerializer[KnownReading]):
    """A reading of a good card."""

    added_by = serializers.CharField(source="added_by.shown_name")
    counts_for = serializers.SerializerMethodField()

    def get_counts_for(self, known_reading: KnownReading) -> str:
        """The rail or node that a reading of this point counts for, or the point itself."""
        places: Places | None = self.context.get("places")
        return " ".join(places.key(known_reading.point, known_reading.to)[1:]) if places else known_reading.point

    class Meta:
        model = KnownReading
        fields = [
            "id",
            "card",
            "point",
            "counts_for",
            "to",
            "quantity",
            "mode",
            "text",
            "low",
            "high",
            "meter",
            "polarity",
        ]
        fields += ["source", "added_by", "added_at"]


@dataclass(frozen=True, slots=True)
class KnownImportAnswer:
    """How many observations were added."""

    added: int


class KnownGood(APIView):
    """Importing known-good observations."""

    roles = {"POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(request={"multipart/form-data": FileSerializer}, responses={201: shape(KnownImportAnswer)})
    def post(self, request: Request) -> Response:
        """Add a CSV of them, all or none."""
        name, data = small_file(request, LARGEST_KNOWN_BYTES)
        return Response(KnownImportAnswer(added=import_known(data, name, person(request))), 201)


class ModelKnownGood(APIView):
    """What good cards of a model read."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=KnownReadingSerializer(many=True), operation_id="model_known_good")
    def get(self, request: Request, slug: str) -> Response:
        """Every observation that counts."""
        model = get_object_or_404(BoardModel.objects.select_related("newest"), slug=slug)
        board = model_board(model)
        rows = KnownReading.objects.filter(board=slug, out_at=None).select_related("added_by")
        context = {"places": board_places(board) if board else None}
        return Response(KnownReadingSerializer(rows, many=True, context=context).data)


class FigureSerializer(serializers.Serializer[Any]):
    """What good cards of a model read of one thing: the middle, the band, each card."""

    counts_for = serializers.CharField()
    to = serializers.CharField()
    quantity = serializers.CharField()
    mode = serializers.CharField(allow_blank=True)
    figure = KnownFigureSerializer()
    centre = serializers.CharField()
    low = serializers.CharField()
    high = serializers.CharField()


class ModelFigures(APIView):
    """The figures of a model."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=FigureSerializer(many=True), operation_id="model_figures")
    def get(self, request: Request, slug: str) -> Response:
        """A row for each thing that was read, in the order in which they were first read."""
        model = get_object_or_404(BoardModel.objects.select_related("newest"), slug=slug)
        return Response([_figured(*row) for row in model_figures(model)])


def _figured(thing: Reading, counts_for: str, found: Reference) -> dict[str, Any]:
    ends = {"centre": found.centre, "low": found.low, "high": found.high}
    # three digits, as in the verdicts: more would claim too much
    said = {
        name: "OL" if end is None else shown_number(float(f"{max(end, 0.0):.3g}"), thing.quantity)
        for name, end in ends.items()
    }
    how = {"to": thing.to, "quantity": thing.quantity, "mode": thing.mode}
    return {"counts_for": counts_for, **how, "figure": figure(found, thing.quantity), **said}


class ModelKnownGoodFile(APIView):
    """The file of a model's known-good observations."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str) -> HttpResponse:
        """CSV as docs/formats §11 has it; it can be imported again without loss."""
        get_object_or_404(BoardModel, slug=slug)
        written = io.StringIO()
        rows = csv.writer(written)
        rows.writerow(["board", "card", "point", "quantity", "value", "unit", "mode", "meter", "to", "polarity"])
        for reading in KnownReading.objects.filter(board=slug, out_at=None):
            unit = UNIT[cast("Quantity", reading.quantity)]
            value = (
                "OL"
                if reading.low is None
                else repr(reading.low)
                if reading.low == reading.high
                else f"{reading.low!r}..{reading.high!r}"
            )
            if reading.quantity == "diode" and reading.low is not None:
                value = "..".join(
                    f"{end * 1000!r}m" for end in dict.fromkeys([reading.low, reading.high]) if end is not None
                )
            names = [_safe(text) for text in (reading.board, reading.card, reading.point)]
            rows.writerow(
                [
                    *names,
                    reading.quantity,
                    value,
                    unit,
                    reading.mode,
                    _safe(reading.meter),
                    reading.to,
                    reading.polarity,
                ]
            )
        headers = {"Content-Disposition": f'attachment; filename="{slug}.known.csv"'}
        return HttpResponse(written.getvalue(), content_type="text/csv; charset=utf-8", headers=headers)


def _safe(text: str) -> str:
    """A text that a spreadsheet does not take for a formula."""
    return f"'{text}" if text[:1] in {"=", "+", "-", "@", "\t", "\r"} else text


class OneKnownReading(APIView):
    """An observation."""

    roles = {"DELETE": LEAD}

    @extend_schema(responses={204: None})
    def delete(self, request: Request, row: int) -> Response:
        """Take a wrong one out of the library; it stays in the record."""
        take_out(get_object_or_404(KnownReading, pk=row), person(request))
        return Response(status=204)


class ReferencePhotographSerializer(serializers.Serializer[Any]):
    """A side of a reference card."""

    side = serializers.ChoiceField(choices=SIDES)
    picture = serializers.CharField(source="picture_id")


class ReferenceCardSerializer(serializers.Serializer[Any]):
    """A good card captured as a whole set: its readings that count, its photographs, the route over the board."""

    id = serializers.UUIDField()
    board = serializers.CharField()
    card = serializers.CharField()
    note = serializers.CharField(allow_blank=True)
    by = serializers.CharField(source="by.shown_name")
    at = serializers.DateTimeField()
    photographs = ReferencePhotographSerializer(source="sides", many=True)
    readings = serializers.SerializerMethodField()
    points = serializers.SerializerMethodField()
    route = serializers.SerializerMethodField()

    @extend_schema_field(KnownReadingSerializer(many=True))
    def get_readings(self, reference_card: ReferenceCard) -> Any:
        """The card's readings that count, oldest first."""
        return KnownReadingSerializer(
            reference_card.readings.filter(out_at=None).select_related("added_by"), many=True
        ).data

    @extend_schema_field(PointSerializer(many=True))
    def get_points(self, reference_card: ReferenceCard) -> Any:
        """The model's points."""
        return PointSerializer(self._points(reference_card), many=True).data

    def _points(self, reference_card: ReferenceCard) -> list[Point]:
        model = BoardModel.objects.select_related("newest").filter(slug=reference_card.board).first()
        board = model_board(model) if model else None
        return board_points(board) if board else []

    @extend_schema_field(serializers.ListField(child=serializers.CharField()))
    def get_route(self, reference_card: ReferenceCard) -> tuple[str, ...]:
        """The points in the order of probing."""
        return route_of(self._points(reference_card))


@dataclass(frozen=True, slots=True)
class NewReference:
    """A good card to capture."""

    id: UUID
    card: Annotated[str, given(max_length=80)]
    note: Annotated[str, given(max_length=200, allow_blank=True)] = ""


class ModelReferenceCards(APIView):
    """The reference cards of a model."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=ReferenceCardSerializer(many=True), operation_id="reference_cards")
    def get(self, request: Request, slug: str) -> Response:
        """Every reference card of the model, oldest first."""
        get_object_or_404(BoardModel, slug=slug)
        rows = ReferenceCard.objects.filter(board=slug).select_related("by").prefetch_related("sides")
        return Response(ReferenceCardSerializer(rows, many=True).data)

    @extend_schema(
        request=shape(NewReference), responses={201: ReferenceCardSerializer}, operation_id="reference_card_begin"
    )
    def post(self, request: Request, slug: str) -> Response:
        """Begin one."""
        model, entry = get_object_or_404(BoardModel, slug=slug), entry_of(request, NewReference)
        made = begin_reference(model, entry.id, entry.card, entry.note, person(request))
        return Response(ReferenceCardSerializer(made).data, 201)


class OneReferenceCard(APIView):
    """A reference card."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=ReferenceCardSerializer)
    def get(self, request: Request, reference: UUID) -> Response:
        """The reference card."""
        return Response(ReferenceCardSerializer(_reference(reference)).data)

    @extend_schema(request=shape(NewKnown), responses={201: ReferenceCardSerializer})
    def post(self, request: Request, reference: UUID) -> Response:
        """A reading joins the library."""
        found, entry = _reference(reference), entry_of(request, NewKnown)
        capture(found, entry, person(request))
        return Response(ReferenceCardSerializer(found).data, 201)


@dataclass(frozen=True, slots=True)
class ReferenceSideRequest:
    """A photograph of a side, by its picture."""

    side: Annotated[str, chosen(SIDES)]
    picture: Annotated[str, declared(serializers.RegexField("^[0-9a-f]{64}$"))]


class ReferencePhotographs(APIView):
    """The photographs of a reference card."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(ReferenceSideRequest), responses={201: ReferenceCardSerializer})
    def post(self, request: Request, reference: UUID) -> Response:
        """Keep one with it."""
        found, entry = _reference(reference), entry_of(request, ReferenceSideRequest)
        picture = get_object_or_404(Picture, pk=entry.picture)
        ReferencePhotograph.objects.get_or_create(
            reference=found, side=entry.side, picture=picture, defaults={"by": person(request)}
        )
        return Response(ReferenceCardSerializer(found).data, 201)


def _reference(reference: UUID) -> ReferenceCard:
    return get_object_or_404(ReferenceCard.objects.select_related("by"), pk=reference)
