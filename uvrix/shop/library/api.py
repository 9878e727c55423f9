"""Board models: list, drawing, import, export, editions."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.changes import changes
from uvrix.core.boards.families import inherited
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.uploads import FileSerializer, small_file
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.shapes import chosen, declared, extended, given, shape, written
from uvrix.shop.library.drawings import DrawingAnswer, drawing_of
from uvrix.shop.library.models import BoardEdition, BoardModel
from uvrix.shop.library.queries import document_of, family_of, relatives
from uvrix.shop.library.services import import_board, name_unknown_board
from uvrix.shop.library.shapes import BoardModelDetailSerializer, BoardModelSerializer
from uvrix.shop.library.startups import lent_map
from uvrix.shop.pictures.models import Picture

LARGEST_BOARD_BYTES = 4 << 20


class BoardModels(APIView):
    """The library's board models."""

    roles = {"GET": EVERYONE, "POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(responses=BoardModelSerializer(many=True), operation_id="board_models_list")
    def get(self, request: Request) -> Response:
        """Every board model, by name."""
        models = BoardModel.objects.select_related("newest").defer("newest__text").order_by("name", "revision")
        return Response(BoardModelSerializer(models, many=True).data)

    @extend_schema(request={"multipart/form-data": FileSerializer}, responses={201: BoardModelSerializer})
    def post(self, request: Request) -> Response:
        """Import a `.board.json`: a new model, or a new edition of one."""
        name, data = small_file(request, LARGEST_BOARD_BYTES)
        edition, new = import_board(data, name, person(request))
        return Response(BoardModelSerializer(edition.model).data, 201 if new else 200)


@dataclass(frozen=True, slots=True)
class UnknownRequest:
    """A board seen for the first time."""

    name: Annotated[str, given(max_length=80)]


class UnknownBoards(APIView):
    """Boards that the library does not know yet."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(UnknownRequest), responses={201: BoardModelSerializer})
    def post(self, request: Request) -> Response:
        """Name one, so that jobs can be opened with it; it is drawn later."""
        entry = entry_of(request, UnknownRequest)
        return Response(BoardModelSerializer(name_unknown_board(entry.name)).data, 201)


class OneBoardModel(APIView):
    """One board model."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=BoardModelDetailSerializer)
    def get(self, request: Request, slug: str) -> Response:
        """The board model and its drawing."""
        return Response(BoardModelDetailSerializer(found_model(slug)).data)


@dataclass(frozen=True, slots=True)
class NewPhotograph:
    """An uploaded picture as the photograph of a side."""

    side: Annotated[str, chosen(["front", "back"])]
    sha256: Annotated[str, given(max_length=64)]


class BoardPhotographs(APIView):
    """Photographs that serve as the board until it is drawn."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(NewPhotograph), responses={201: BoardModelDetailSerializer})
    def post(self, request: Request, slug: str) -> Response:
        """Take an uploaded picture as the photograph of a side."""
        entry = entry_of(request, NewPhotograph)
        model = found_model(slug)
        picture = get_object_or_404(Picture, pk=entry.sha256)
        model.pictures.create(side=entry.side, picture=picture, added_by=person(request))
        return Response(BoardModelDetailSerializer(model).data, 201)


class BoardModelFile(APIView):
    """The model's file."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT})
    def get(self, request: Request, slug: str) -> HttpResponse:
        """The newest edition as it came, unknown keys and all."""
        return file_answer(drawn_model(slug)[1].text, f"{slug}.board.json")


@dataclass(frozen=True, slots=True)
class EditionAnswer:
    """An edition in the history: who, when, what changed."""

    number: int
    added_by: str
    added_at: datetime
    note: str
    changes: Sequence[str]


@dataclass(frozen=True, slots=True)
class EditionDetailAnswer(EditionAnswer):
    """An edition with its document and drawing."""

    document: Any
    drawing: DrawingAnswer


@dataclass(frozen=True, slots=True)
class InheritedAnswer:
    """What a model has from its family, and its relatives."""

    family: str | None
    keys: Sequence[str]
    rails: Sequence[Mapping[str, Any]]
    nodes: Sequence[Mapping[str, Any]]
    relatives: Annotated[Iterable[Any], declared(BoardModelSerializer(many=True))]
    learned: Sequence[Mapping[str, Any]]


class BoardEditions(APIView):
    """The editions of a model."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(EditionAnswer)(many=True), operation_id="board_editions_list")
    def get(self, request: Request, slug: str) -> Response:
        """Every edition, newest first, each with what changed since the one before."""
        editions = list(found_model(slug).editions.select_related("added_by").order_by("number"))
        entries = [
            edition_entry(edition, editions[number - 1] if number else None) for number, edition in enumerate(editions)
        ]
        return Response(entries[::-1])


class OneBoardEdition(APIView):
    """An edition."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(EditionDetailAnswer))
    def get(self, request: Request, slug: str, edition: int) -> Response:
        """The edition's document and drawing."""
        if edition > 2**31 - 1:
            raise Http404
        found = get_object_or_404(BoardEdition.objects.select_related("added_by"), model__slug=slug, number=edition)
        entry = edition_entry(found, None)
        whole = extended(EditionDetailAnswer, entry, document=document_of(found), drawing=drawing_of(found))
        return Response(whole)


class BoardInherited(APIView):
    """A model's family and relatives."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(InheritedAnswer))
    def get(self, request: Request, slug: str) -> Response:
        """Rails and start-up nodes, its own or its family's; relatives; what proven repairs filled in."""
        model, edition = drawn_model(slug)
        own = document_of(edition)
        family = family_of(model.family)
        document, keys = inherited(own, family)
        found = InheritedAnswer(
            family=family.name if family else None,
            keys=list(keys),
            rails=[{**rail, "volts": _number(rail.get("volts"))} for rail in document.get("rails", ())],
            nodes=[
                {key: node[key] for key in ("id", "name", "kind", "needs") if key in node}
                for node in document.get("startup", {}).get("nodes", ())
            ],
            relatives=relatives(slug, model.family, str(own.get("relative_of", ""))),
            learned=own.get("learned", []),
        )
        return Response(written(found))


def _number(value: Any) -> float | None:
    return None if value is None else float(value)


def edition_entry(edition: BoardEdition, before: BoardEdition | None) -> EditionAnswer:
    """An edition as the history lists it."""
    return EditionAnswer(
        number=edition.number,
        added_by=edition.added_by.shown_name,
        added_at=edition.added_at,
        note=edition.note,
        changes=changes(document_of(before), document_of(edition)) if before else [],
    )


def found_model(slug: str) -> BoardModel:
    """The model, drawn or not, or 404."""
    return get_object_or_404(BoardModel.objects.select_related("newest"), slug=slug.replace("\0", ""))


def drawn_model(slug: str) -> tuple[BoardModel, BoardEdition]:
    """A model with its newest edition, or 404."""
    model = found_model(slug)
    if model.newest is None:
        raise Http404
    return model, model.newest


def file_answer(text: str, name: str, kind: str = "application/json") -> HttpResponse:
    """A kept file as a download."""
    return HttpResponse(text, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


@dataclass(frozen=True, slots=True)
class LentMapAnswer:
    """A start-up map that a model may take from a relative or its family; without nodes where nobody lends one."""

    lender: str
    nodes: Sequence[Any]


class BoardLentMap(APIView):
    """A start-up map to begin with."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(LentMapAnswer))
    def get(self, request: Request, slug: str) -> Response:
        """The nearest relative's, else the family's."""
        model = get_object_or_404(BoardModel.objects.select_related("newest"), slug=slug)
        lender, nodes = lent_map(model)
        return Response(LentMapAnswer(lender=lender, nodes=list(nodes)))
