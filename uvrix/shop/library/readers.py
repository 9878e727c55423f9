"""Taught readers over the API: list, import, export, and trying marks on a sample."""

from __future__ import annotations

import io
import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass, field
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

from uvrix.core.errors import Refusal
from uvrix.core.memory.locate import as_json, locate
from uvrix.core.memory.reader_file import TaughtReader, read_reader
from uvrix.core.memory.reading import read_report
from uvrix.core.memory.sites import board_channels
from uvrix.core.memory.taught import explain
from uvrix.core.memory.teaching import Mark, teach
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.uploads import FileSerializer, small_file
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.shapes import chosen, declared, given, shape
from uvrix.shop.library.located import LocatedSerializer
from uvrix.shop.library.models import BoardModel, Reader
from uvrix.shop.library.queries import model_board
from uvrix.shop.library.services import import_reader

LARGEST_READER_BYTES = 1 << 20
LONGEST_SAMPLE = 400_000
# A tester prints a few kinds of lines, each with a few columns.
MOST_MARKS = 400
SHOWN_LINES = 400


class ReaderSerializer(serializers.ModelSerializer[Reader]):
    """A taught reader in a list."""

    edition = serializers.IntegerField(source="newest.number")
    added_by = serializers.CharField(source="newest.added_by.shown_name")
    added_at = serializers.DateTimeField(source="newest.added_at")

    class Meta:
        model = Reader
        fields = ["slug", "name", "edition", "added_by", "added_at"]


# What the shop's tester calls each channel.
CHANNELS = serializers.DictField(child=serializers.CharField(max_length=80))


@dataclass(frozen=True, slots=True)
class MarkedRequest:
    """Words of the sample and what they are; the line counts from 0."""

    line: Annotated[int, given(min_value=0, max_value=1_000_000)]
    start: Annotated[int, given(min_value=0, max_value=1_000_000)]
    end: Annotated[int, given(min_value=0, max_value=1_000_000)]
    column: Annotated[str, given(max_length=200)]


@dataclass(frozen=True, slots=True)
class TryRequest:
    """A sample and its marks; with a board model the board is lit too."""

    sample: Annotated[str, given(max_length=LONGEST_SAMPLE, trim_whitespace=False)]
    marks: Annotated[Sequence[MarkedRequest], given(max_length=MOST_MARKS)]
    name: Annotated[str, given(max_length=80)]
    channels: Annotated[Mapping[str, str], declared(CHANNELS)] = field(default_factory=dict)
    word_order: Annotated[str, chosen(["dq0-right", "dq0-left"])] = ""
    board_model: Annotated[str, given(allow_blank=True, max_length=64)] = ""


class ReadLineSerializer(serializers.Serializer[Any]):
    """What the reader makes of one line."""

    number = serializers.IntegerField()
    text = serializers.CharField()
    use = serializers.ChoiceField(choices=["error", "tally", "meta", "refusal", "skip"], allow_null=True)
    cells = serializers.DictField(child=serializers.CharField())


@dataclass(frozen=True, slots=True)
class TriedAnswer:
    """The reader that the marks make (null: none yet), every line, and what it finds."""

    document: Annotated[Any, given(allow_null=True)]
    lines: Annotated[Iterable[Any], declared(ReadLineSerializer(many=True))]
    unread: int
    located: Annotated[Any, declared(LocatedSerializer(allow_null=True))]
    problem: str


class Readers(APIView):
    """The library's taught readers."""

    roles = {"GET": EVERYONE, "POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(responses=ReaderSerializer(many=True), operation_id="readers_list")
    def get(self, request: Request) -> Response:
        """Every reader, by name."""
        readers = Reader.objects.select_related("newest__added_by").order_by("name")
        return Response(ReaderSerializer(readers, many=True).data)

    @extend_schema(request={"multipart/form-data": FileSerializer}, responses={201: ReaderSerializer})
    def post(self, request: Request) -> Response:
        """Save or import a `.reader.json`: a new reader, or a new edition of the reader of that name."""
        name, data = small_file(request, LARGEST_READER_BYTES)
        edition, new = import_reader(data, name, person(request))
        return Response(ReaderSerializer(edition.reader).data, 201 if new else 200)


class ReaderFile(APIView):
    """A reader's file."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT})
    def get(self, request: Request, slug: str) -> HttpResponse:
        """The newest edition as it came."""
        reader = get_object_or_404(Reader.objects.select_related("newest"), slug=slug)
        assert reader.newest is not None
        name = f'attachment; filename="{slug}.reader.json"'
        return HttpResponse(reader.newest.text, content_type="application/json", headers={"Content-Disposition": name})


class ReaderTried(APIView):
    """Trying marks on a sample."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(TryRequest), responses=shape(TriedAnswer))
    def post(self, request: Request) -> Response:
        """The reader that the marks make, shown on the whole sample; nothing is stored."""
        asked = entry_of(request, TryRequest)
        document, reader, problem = _taught(asked)
        lines = explain(asked.sample, reader)
        located = None
        if reader is not None and (model := BoardModel.objects.filter(slug=asked.board_model).first()):
            located, problem = _located(asked.sample, reader, model)
        tried = TriedAnswer(
            document=document,
            lines=[asdict(line) for line in lines[:SHOWN_LINES]],
            unread=sum(line.use is None for line in lines),
            located=located,
            problem=problem,
        )
        return Response(tried)


def _taught(asked: TryRequest) -> tuple[dict[str, Any] | None, TaughtReader | None, str]:
    if not asked.marks:
        return None, None, ""
    try:
        marks = [Mark(mark.line, mark.start, mark.end, mark.column) for mark in asked.marks]
        document = teach(asked.sample, marks, asked.name, asked.channels or None)
        document["word_order"] = asked.word_order or document["word_order"]
        return document, read_reader(json.dumps(document).encode()), ""
    except Refusal as refusal:
        return (
            None,
            None,
            gettext("Found {found}, expected {expected}.", found=refusal.found, expected=refusal.expected),
        )


def _located(sample: str, reader: TaughtReader, model: BoardModel) -> tuple[dict[str, Any] | None, str]:
    board = model_board(model)
    if board is None:
        return None, ""
    try:
        report = read_report(io.BytesIO(sample.encode()), board_channels(board), reader=reader)
    except Refusal as refusal:
        return None, gettext("Found {found}, expected {expected}.", found=refusal.found, expected=refusal.expected)
    return as_json(locate(board, [("sample", report)])), ""
