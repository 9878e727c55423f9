"""Packages: ball maps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.packages import CLASSES, ball_map, read_package
from uvrix.core.errors import Refusal
from uvrix.language import gettext
from uvrix.shop.accounts.entries import person
from uvrix.shop.accounts.uploads import FileSerializer, small_file
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.shapes import chosen, shape
from uvrix.shop.library.api import file_answer
from uvrix.shop.library.models import Package
from uvrix.shop.library.services import import_package

LARGEST_PACKAGE_BYTES = 1 << 20


@dataclass(frozen=True, slots=True)
class BallShapeAnswer:
    """A ball: its name, signal and class, and its column and row from the corner of ball A1."""

    ball: str
    signal: str
    ball_class: Annotated[str, chosen(CLASSES)]
    column: int
    row: int


@dataclass(frozen=True, slots=True)
class PackageAnswer:
    """A package."""

    name: str
    balls: Sequence[BallShapeAnswer]
    lines: int


def _shown(package: Package) -> PackageAnswer:
    read = read_package(package.text.encode(), package.name)
    balls = [
        BallShapeAnswer(
            ball=ball.ball,
            signal=read.signals[ball.ball],
            ball_class=read.classes[ball.ball],
            column=ball.column,
            row=ball.row,
        )
        for ball in ball_map(read)
    ]
    return PackageAnswer(name=package.name, balls=balls, lines=len(read.lines))


class Packages(APIView):
    """The library's packages."""

    roles = {"GET": EVERYONE, "POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(responses=shape(PackageAnswer)(many=True), operation_id="packages_list")
    def get(self, request: Request) -> Response:
        """Every package, by name."""
        shown = [_shown(package) for package in Package.objects.order_by("name")]
        return Response(shown)

    @extend_schema(request={"multipart/form-data": FileSerializer}, responses={201: shape(PackageAnswer)})
    def post(self, request: Request) -> Response:
        """Import a ball map, NAME.csv; the same name again replaces it."""
        name, data = small_file(request, LARGEST_PACKAGE_BYTES)
        stem = name.removesuffix(".csv")
        if not stem or len(stem) > 80:
            raise Refusal("", gettext("a file without a name"), gettext("NAME.csv, NAME being the package's"), name)
        return Response(_shown(import_package(data, stem, person(request))), 201)


class PackageFile(APIView):
    """A package's file."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def get(self, request: Request, name: str) -> HttpResponse:
        """The ball map as it came."""
        package = get_object_or_404(Package, name=name.replace("\0", ""))
        return file_answer(package.text, f"{package.name}.csv", "text/csv")
