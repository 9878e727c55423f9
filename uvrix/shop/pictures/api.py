"""Uploading and showing pictures."""

from __future__ import annotations

from django.core.files.storage import default_storage
from django.http import FileResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import person
from uvrix.shop.accounts.uploads import FileSerializer, small_file
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.pictures.models import Picture
from uvrix.shop.pictures.services import take_picture, thumbnail

LARGEST_PICTURE_BYTES = 40 << 20
SMALL_PX = 480


class PictureSerializer(serializers.ModelSerializer[Picture]):
    """A picture."""

    class Meta:
        model = Picture
        fields = ["sha256", "kind", "width_px", "height_px"]


class Pictures(APIView):
    """Pictures."""

    roles = {"POST": EVERYONE}
    parser_classes = [MultiPartParser]

    @extend_schema(request={"multipart/form-data": FileSerializer}, responses={201: PictureSerializer})
    def post(self, request: Request) -> Response:
        """Upload one: a PNG or JPEG; metadata are not kept."""
        name, data = small_file(request, LARGEST_PICTURE_BYTES)
        return Response(PictureSerializer(take_picture(data, name, person(request))).data, 201)


class OnePicture(APIView):
    """A picture."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        responses={(200, kind): OpenApiTypes.BINARY for kind in ("image/jpeg", "image/png")},
        parameters=[OpenApiParameter("small", OpenApiTypes.BOOL, description="a small one, for lists")],
    )
    def get(self, request: Request, sha256: str) -> FileResponse:
        """The picture's pixels; metadata were not kept."""
        found = get_object_or_404(Picture, pk=sha256)
        small = bool(request.query_params.get("small"))
        stored_as = thumbnail(found, SMALL_PX) if small else found.stored_as
        kind = "jpeg" if small else found.kind
        answer = FileResponse(default_storage.open(stored_as), content_type=f"image/{kind}")
        answer["Cache-Control"] = "private, max-age=31536000, immutable"
        return answer
