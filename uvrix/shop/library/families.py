"""Core families."""

from __future__ import annotations

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
from uvrix.shop.accounts.models import User
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.uploads import FileSerializer, small_file
from uvrix.shop.library.api import file_answer
from uvrix.shop.library.models import BoardModel, CoreFamily
from uvrix.shop.library.services import import_family

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
        """Its channels, in the order of the report."""
        assert family.newest is not None
        return list(read_family(family.newest.text.encode()).channels)

    def get_boards(self, family: CoreFamily) -> list[str]:
        """The board models that carry it."""
        return [str(model) for model in BoardModel.objects.filter(family=family.slug).order_by("name")]


class Families(APIView):
    """The library's core families."""

    roles = {"GET": EVERYONE, "POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(responses=FamilySerializer(many=True), operation_id="families_list")
    def get(self, request: Request) -> Response:
        """All of them, by name."""
        return Response(FamilySerializer(CoreFamily.objects.select_related("newest").order_by("name"), many=True).data)

    @extend_schema(request={"multipart/form-data": FileSerializer}, responses={201: FamilySerializer})
    def post(self, request: Request) -> Response:
        """Import a `.family.json`: a new family, or a new edition of one."""
        name, data = small_file(request, LARGEST_FAMILY_BYTES)
        assert isinstance(request.user, User)
        edition, new = import_family(data, name, request.user)
        return Response(FamilySerializer(edition.family).data, 201 if new else 200)


class FamilyFile(APIView):
    """A family's file."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.BINARY})
    def get(self, request: Request, slug: str) -> HttpResponse:
        """The newest edition as it came."""
        family = get_object_or_404(CoreFamily.objects.select_related("newest"), slug=slug)
        assert family.newest is not None
        return file_answer(family.newest.text, f"{slug}.family.json")
