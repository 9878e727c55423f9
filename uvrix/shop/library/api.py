"""Board models: list, drawing, import, export."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.models import User
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.problems import Problem
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import board_of, drawing_of, newest
from uvrix.shop.library.services import import_board

LARGEST_BOARD_BYTES = 4 << 20


class PointField(serializers.ListField):
    """(x, y) in millimetres."""

    child = serializers.FloatField()


class CornersField(serializers.ListField):
    """A polygon."""

    child = PointField()


class LieSerializer(serializers.Serializer[Any]):
    """How the card lies: the side seen, quarter turns counterclockwise."""

    side = serializers.ChoiceField(choices=["front", "back"])
    turns = serializers.IntegerField(min_value=0, max_value=3)


class EdgesSerializer(serializers.Serializer[Any]):
    """On which edge of the drawing something lies."""

    bracket = serializers.ChoiceField(choices=["left", "right", "up", "down"])
    contacts = serializers.ChoiceField(choices=["left", "right", "up", "down"], allow_null=True)


class ViewSerializer(LieSerializer):
    """One of the eight views: an SVG matrix from the model's millimetres to the drawing's."""

    matrix = serializers.ListField(child=serializers.FloatField(), min_length=6, max_length=6)
    width_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    edges = EdgesSerializer()
    flipped = LieSerializer()
    turned = LieSerializer()


class CoreShapeSerializer(serializers.Serializer[Any]):
    """The core as drawn."""

    designator = serializers.CharField()
    mark_corner = serializers.CharField()
    corners = CornersField()
    mark = CornersField()


class WalkSerializer(serializers.Serializer[Any]):
    """The way round the core."""

    start = serializers.CharField()
    direction = serializers.CharField()


class SiteShapeSerializer(serializers.Serializer[Any]):
    """A site as drawn."""

    designator = serializers.CharField()
    side = serializers.ChoiceField(choices=["front", "back"])
    fitted = serializers.BooleanField()
    channel = serializers.CharField(allow_null=True)
    position = serializers.IntegerField(allow_null=True)
    lines = serializers.ListField(child=serializers.IntegerField())
    corners = CornersField()
    pin1 = PointField()


class LandmarkSerializer(serializers.Serializer[Any]):
    """A landmark as drawn."""

    kind = serializers.CharField()
    text = serializers.CharField(allow_blank=True)
    corners = CornersField()


class DrawingSerializer(serializers.Serializer[Any]):
    """A board's drawing."""

    outline = CornersField()
    core = CoreShapeSerializer()
    walk = WalkSerializer(allow_null=True)
    sites = SiteShapeSerializer(many=True)
    landmarks = LandmarkSerializer(many=True)
    views = ViewSerializer(many=True)


class BoardModelSerializer(serializers.ModelSerializer[BoardModel]):
    """A board model in a list."""

    sites = serializers.SerializerMethodField()
    edition = serializers.SerializerMethodField()

    class Meta:
        model = BoardModel
        fields = ["slug", "name", "revision", "sites", "edition"]

    def get_sites(self, model: BoardModel) -> int:
        """Fitted memory sites."""
        return sum(site.fitted for site in board_of(newest(model)).sites)

    def get_edition(self, model: BoardModel) -> int:
        """Number of the newest edition."""
        return newest(model).number


class BoardModelDetailSerializer(BoardModelSerializer):
    """A board model with its drawing."""

    drawing = serializers.SerializerMethodField()

    class Meta(BoardModelSerializer.Meta):
        fields = [*BoardModelSerializer.Meta.fields, "drawing"]

    @extend_schema_field(DrawingSerializer)
    def get_drawing(self, model: BoardModel) -> dict[str, object]:
        """The newest edition's drawing."""
        return drawing_of(newest(model))


class FileSerializer(serializers.Serializer[Any]):
    """An uploaded file."""

    file = serializers.FileField(allow_empty_file=True)


def small_file(request: Request, largest: int) -> tuple[str, bytes]:
    """Name and bytes of an uploaded file of at most `largest` bytes; raises Problem `too-large`."""
    entry = FileSerializer(data=request.data)
    entry.is_valid(raise_exception=True)
    file = entry.validated_data["file"]
    if file.size > largest:
        raise Problem(413, "too-large", f"{file.name}: found {file.size} bytes, expected at most {largest}.")
    return file.name, file.read()


class BoardModels(APIView):
    """The library's board models."""

    roles = {"GET": EVERYONE, "POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(responses=BoardModelSerializer(many=True), operation_id="board_models_list")
    def get(self, request: Request) -> Response:
        """All of them, by name."""
        models = BoardModel.objects.select_related("newest").defer("newest__text").order_by("name", "revision")
        return Response(BoardModelSerializer(models, many=True).data)

    @extend_schema(request={"multipart/form-data": FileSerializer}, responses={201: BoardModelSerializer})
    def post(self, request: Request) -> Response:
        """Import a `.board.json`: a new model, or a new edition of one."""
        name, data = small_file(request, LARGEST_BOARD_BYTES)
        assert isinstance(request.user, User)
        edition, new = import_board(data, name, request.user)
        return Response(BoardModelSerializer(edition.model).data, 201 if new else 200)


class OneBoardModel(APIView):
    """One board model."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=BoardModelDetailSerializer)
    def get(self, request: Request, slug: str) -> Response:
        """It and its drawing."""
        return Response(BoardModelDetailSerializer(get_object_or_404(BoardModel, slug=slug)).data)


class BoardModelFile(APIView):
    """The model's file."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str) -> HttpResponse:
        """The newest edition as it came, unknown keys and all."""
        edition = newest(get_object_or_404(BoardModel, slug=slug))
        name = f'attachment; filename="{slug}.board.json"'
        return HttpResponse(edition.text, content_type="application/json", headers={"Content-Disposition": name})
