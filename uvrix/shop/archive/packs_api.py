"""Library packs over the API."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Annotated, Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.packs.pack import KINDS
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.uploads import small_file
from uvrix.shop.archive.packs import Change, compared, take_in, write_pack
from uvrix.shop.config.access import BENCH, LEAD
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import declared, given, shape

LARGEST_PACK_BYTES = 64 << 20
STATES, CHOICES = ["new", "same", "known", "differs"], ["keep", "both", "take"]


class PackChangeSerializer(serializers.Serializer[Any]):
    """An entry of a pack: what it is to this library, and what is done with it."""

    kind = serializers.CharField(source="entry.kind")
    words = serializers.SerializerMethodField()
    id = serializers.CharField(source="entry.id")
    origin = serializers.CharField(source="entry.origin", allow_blank=True)
    state = serializers.ChoiceField(choices=STATES)
    choice = serializers.ChoiceField(choices=CHOICES)

    def get_words(self, change: Change) -> str:
        """The entry's kind in words."""
        return KINDS[change.entry.kind]


@dataclass(frozen=True, slots=True)
class PackFileRequest:
    """A pack, and what was chosen of its entries as JSON: {"kind/id": "keep", "both" or "take"}."""

    file: Annotated[Any, declared(serializers.FileField())]
    choices: Annotated[str, given(allow_blank=True, max_length=100000)] = ""


class LibraryPack(APIView):
    """The library as one open pack."""

    roles = {"GET": BENCH, "POST": LEAD}
    parser_classes = [MultiPartParser]

    @extend_schema(
        parameters=[OpenApiParameter("shop", str, description="Said as where it comes from")],
        responses={(200, "application/json"): OpenApiTypes.OBJECT},
    )
    def get(self, request: Request) -> HttpResponse:
        """Board models, plans, families, readers, recipes, ball maps, sheets, notes on chips, good cards' readings."""
        shop = request.query_params.get("shop", "").strip().replace("\0", "")[:80]
        headers = {"Content-Disposition": 'attachment; filename="library.pack.json"'}
        return HttpResponse(write_pack(shop), content_type="application/json", headers=headers)

    @extend_schema(
        request={"multipart/form-data": shape(PackFileRequest)},
        responses={(200, "application/json"): PackChangeSerializer(many=True)},
    )
    def post(self, request: Request) -> Response:
        """Take one in: all of it by the choices made, else the usual ones; or nothing."""
        _, data = small_file(request, LARGEST_PACK_BYTES)
        chosen = _chosen(entry_of(request, PackFileRequest).choices)
        return Response(PackChangeSerializer(take_in(data, chosen, person(request)), many=True).data)


class PackCompared(APIView):
    """A pack laid beside the library."""

    roles = {"POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(
        request={"multipart/form-data": shape(PackFileRequest)},
        responses={(200, "application/json"): PackChangeSerializer(many=True)},
    )
    def post(self, request: Request) -> Response:
        """What is new, what differs, what is the same; nothing is changed."""
        _, data = small_file(request, LARGEST_PACK_BYTES)
        return Response(PackChangeSerializer(compared(data), many=True).data)


def _chosen(text: str) -> dict[tuple[str, str], Any]:
    """The choices by kind and name. Raises Problem 422 where they are none."""
    try:
        found = json.loads(text) if text else {}
    except ValueError:
        found = None
    if not isinstance(found, dict) or not set(map(str, found.values())) <= set(CHOICES):
        raise Problem(
            422, "no-choices", gettext("found {text}, expected keep, both or take by kind/id", text=repr(text[:40]))
        )
    return {(kind, name): choice for key, choice in found.items() for kind, _, name in [key.partition("/")]}
