"""Core families."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.families import read_family
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.uploads import FileSerializer, small_file
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.shapes import given, shape
from uvrix.shop.library.api import drawn_model, file_answer
from uvrix.shop.library.models import BoardModel, CoreFamily
from uvrix.shop.library.services import import_family, make_family

LARGEST_FAMILY_BYTES = 1 << 20


class FamilySerializer(serializers.ModelSerializer[CoreFamily]):
    """A core family."""

    edition = serializers.IntegerField(source="newest.number")
    channels = serializers.SerializerMethodField()
    boards = serializers.SerializerMethodField()

    class Meta:
        model = CoreFamily
        fields = ["slug", "name", "edition", "channels", "boards"]

    def get_channels(self, family: CoreFamily) -> list[str]:
        """The family's channels, in the order of the report."""
        assert family.newest is not None
        return list(read_family(family.newest.text.encode()).channels)

    def get_boards(self, family: CoreFamily) -> list[str]:
        """The board models that carry it."""
        return [str(model) for model in self.context["carriers"].get(family.slug, ())]


def _shown(families: Any, *, many: bool = False) -> Any:
    carriers: dict[str, list[BoardModel]] = {}
    for model in BoardModel.objects.exclude(family="").order_by("name"):
        carriers.setdefault(model.family, []).append(model)
    return FamilySerializer(families, many=many, context={"carriers": carriers}).data


@dataclass(frozen=True, slots=True)
class NewFamily:
    """The name of a family to make from a board."""

    name: Annotated[str, given(max_length=80)]


class BoardFamily(APIView):
    """The core family of a board."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewFamily), responses={201: FamilySerializer})
    def post(self, request: Request, slug: str) -> Response:
        """Make one from the board: its channels, walk, rails and start-up serve every board with that core."""
        entry = entry_of(request, NewFamily)
        model, _ = drawn_model(slug)
        edition = make_family(model, entry.name, person(request))
        return Response(_shown(edition.family), 201)


class Families(APIView):
    """The library's core families."""

    roles = {"GET": EVERYONE, "POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(responses=FamilySerializer(many=True), operation_id="families_list")
    def get(self, request: Request) -> Response:
        """Every core family, by name."""
        return Response(_shown(CoreFamily.objects.select_related("newest").order_by("name"), many=True))

    @extend_schema(request={"multipart/form-data": FileSerializer}, responses={201: FamilySerializer})
    def post(self, request: Request) -> Response:
        """Import a `.family.json`: a new family, or a new edition of one."""
        name, data = small_file(request, LARGEST_FAMILY_BYTES)
        edition, new = import_family(data, name, person(request))
        return Response(_shown(edition.family), 201 if new else 200)


class FamilyFile(APIView):
    """A family's file."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT})
    def get(self, request: Request, slug: str) -> HttpResponse:
        """The newest edition as it came."""
        family = get_object_or_404(CoreFamily.objects.select_related("newest"), slug=slug)
        assert family.newest is not None
        return file_answer(family.newest.text, f"{slug}.family.json")
