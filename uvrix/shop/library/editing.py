"""The board model editor: drafts, edits, placement files, saving; nothing is stored before it is saved."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Annotated, Any

from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.draft import Draft, draft
from uvrix.core.boards.drawing import draw
from uvrix.core.boards.edit import BLANK, edited
from uvrix.core.boards.families import propose
from uvrix.core.boards.model import Board
from uvrix.core.boards.placement import MM, Placed, Unit, read_placement, taken_in
from uvrix.core.errors import Refusal
from uvrix.core.startup.chain import chain_of
from uvrix.core.startup.layout import layout
from uvrix.core.values.text import parse_json
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.uploads import small_file
from uvrix.shop.config.access import BENCH
from uvrix.shop.config.shapes import chosen, declared, given, shape, written
from uvrix.shop.library.drawings import DrawingAnswer, drawing_json
from uvrix.shop.library.queries import board_of, family_of, relatives
from uvrix.shop.library.services import save_board
from uvrix.shop.library.shapes import BoardModelSerializer, MapNodeAnswer, UnreadAnswer, map_node

LARGEST_PLACEMENT_BYTES = 8 << 20
MOST_ROWS = 20_000


@dataclass(frozen=True, slots=True)
class MapShapeAnswer:
    """A start-up map as drawn, from left to right."""

    columns: int
    rows: float
    nodes: Sequence[MapNodeAnswer]


class DocumentField(serializers.JSONField):
    """A board model's document, whole or not."""

    def to_internal_value(self, data: Any) -> dict[str, Any]:
        """An object; numbers must be such that a file may hold them."""
        found = super().to_internal_value(data)
        if not isinstance(found, dict):
            raise serializers.ValidationError("Found no object, expected a board model.")
        try:
            parse_json(json.dumps(found).encode())
        except Refusal as refusal:
            raise serializers.ValidationError(
                gettext("Found {found}, expected {expected}.", found=refusal.found, expected=refusal.expected)
            ) from None
        return found


@dataclass(frozen=True, slots=True)
class DraftRequest:
    """A draft, and an edit to be made on it."""

    document: Annotated[dict[str, Any], declared(DocumentField())]
    edit: Annotated[Mapping[str, Any] | None, declared(serializers.DictField(required=False))] = None


@dataclass(frozen=True, slots=True)
class MisfitAnswer:
    """Something that does not fit."""

    place: str
    found: str
    expected: str


@dataclass(frozen=True, slots=True)
class DraftAnswer:
    """A draft: its document after the edit, what can be drawn, what is wrong, what was proposed and why."""

    document: Any
    drawing: DrawingAnswer
    startup: MapShapeAnswer | None
    misfits: Sequence[MisfitAnswer]
    said: str


class Drafts(APIView):
    """Drafts of board models."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(DraftRequest), responses=shape(DraftAnswer))
    def post(self, request: Request) -> Response:
        """The draft after an edit (docs/formats tells the edits); an edit that does not fit is refused whole."""
        entry = entry_of(request, DraftRequest)
        document, said = _after(entry.document, entry.edit)
        return Response(_shown(document, draft(document), said))


def _after(document: dict[str, Any], edit: Mapping[str, Any] | None) -> tuple[dict[str, Any], str]:
    if edit is None:
        return document, ""
    if edit.get("do") == "propose":
        return _proposed(document)
    if edit.get("do") == "placement":
        rows = serializers.ListField(child=PlacedSerializer(), max_length=MOST_ROWS).run_validation(edit.get("rows"))
        names = serializers.ListField(child=serializers.CharField()).run_validation(edit.get("memory", []))
        core = edit.get("core") or None
        return taken_in(document, [Placed(**row) for row in rows], names, str(core) if core else None), ""
    return edited(document, edit), ""


def _proposed(document: dict[str, Any]) -> tuple[dict[str, Any], str]:
    """The walk that the family and the relatives propose."""
    family = family_of(str(document.get("family", "")))
    if family is None:
        raise Refusal(
            "family",
            gettext("no core family chosen"),
            gettext("a core family, which knows the usual order of channels"),
        )
    board = draft(document).board
    near = relatives(str(document.get("id", "")), family.id, str(document.get("relative_of", "")))
    boards: list[Board] = [board_of(model.newest) for model in near if model.newest]
    front = [site for site in board.sites if site.side == "front"]
    found = propose(board.core, front, family, boards)
    walk = {"start": found.start, "direction": found.direction, "order": list(found.order)}
    return {**document, "walk": {**document.get("walk", {}), **walk}}, gettext("Proposed from {why}.", why=found.why)


def _shown(document: dict[str, Any], found: Draft, said: str) -> DraftAnswer:
    return DraftAnswer(
        document=document,
        drawing=drawing_json(draw(found.board), found.board),
        startup=_map_of(found.board),
        misfits=[
            MisfitAnswer(place=misfit.place, found=misfit.found, expected=misfit.expected) for misfit in found.misfits
        ],
        said=said,
    )


def _map_of(board: Board) -> MapShapeAnswer | None:
    """The start-up map as drawn; None where there is none yet."""
    if not board.startup_nodes:
        return None
    chain = chain_of(board)
    placed = layout(chain)
    where = {point.id: point for point in board.points}
    return MapShapeAnswer(
        columns=placed.columns,
        rows=placed.rows,
        nodes=[map_node(node, placed, where.get(node.point or "")) for node in chain.nodes],
    )


class BlankBoard(APIView):
    """A blank model to begin with."""

    roles = {"GET": BENCH}

    @extend_schema(responses=OpenApiTypes.OBJECT)
    def get(self, request: Request) -> Response:
        """An ordinary outline and a core in its middle."""
        return Response(BLANK)


@dataclass(frozen=True, slots=True)
class SaveRequest:
    """An edited model to save; `base` is the edition that was edited, 0 for a new model."""

    document: Annotated[dict[str, Any], declared(DocumentField())]
    base: Annotated[int, given(min_value=0, max_value=2**31 - 1)]
    note: Annotated[str, given(allow_blank=True, max_length=200)] = ""


class SavedBoards(APIView):
    """Saving."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(SaveRequest), responses={201: BoardModelSerializer})
    def post(self, request: Request) -> Response:
        """A new edition; 409 where somebody saved one meanwhile."""
        asked = entry_of(request, SaveRequest)
        edition = save_board(asked.document, asked.base, asked.note, person(request))
        return Response(BoardModelSerializer(edition.model).data, 201)


class PlacedSerializer(serializers.Serializer[Any]):
    """A component of a placement file."""

    designator = serializers.CharField(max_length=80)
    x_mm = serializers.FloatField(min_value=-10000, max_value=10000)
    y_mm = serializers.FloatField(min_value=-10000, max_value=10000)
    side = serializers.ChoiceField(choices=["front", "back"])
    rotation_deg = serializers.FloatField(min_value=0, max_value=360)
    value = serializers.CharField(allow_blank=True, max_length=80)
    package = serializers.CharField(allow_blank=True, max_length=80)


@dataclass(frozen=True, slots=True)
class PlacementAnswer:
    """A placement file as read, with what looks like memory and core."""

    rows: Annotated[Iterable[Any], declared(PlacedSerializer(many=True))]
    columns: Mapping[str, str]
    unit: Annotated[str, chosen(list(MM))]
    unit_why: str
    unread: Sequence[UnreadAnswer]
    unread_count: int
    memory: Sequence[str]
    core: str | None


@dataclass(frozen=True, slots=True)
class PlacementFileRequest:
    """A placement file; `unit` overrides what it says."""

    file: Annotated[Any, declared(serializers.FileField(allow_empty_file=True))]
    unit: Annotated[Unit | None, chosen(MM)] = None


class Placements(APIView):
    """Placement files."""

    roles = {"POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(request={"multipart/form-data": shape(PlacementFileRequest)}, responses=shape(PlacementAnswer))
    def post(self, request: Request) -> Response:
        """Read one; nothing is stored."""
        entry = entry_of(request, PlacementFileRequest)
        name, data = small_file(request, LARGEST_PLACEMENT_BYTES)
        try:
            found = read_placement(data, entry.unit)
        except Refusal as refusal:
            raise refusal.of(name) from None
        if len(found.rows) > MOST_ROWS:
            raise Refusal(
                "",
                gettext("{number} components", number=len(found.rows)),
                gettext("at most {most_rows}", most_rows=MOST_ROWS),
                name,
            )
        shown = PlacementAnswer(
            rows=[asdict(row) for row in found.rows],
            columns=dict(found.columns),
            unit=found.unit,
            unit_why=found.unit_why,
            unread=[UnreadAnswer(line=line, text=text) for line, text in found.unread],
            unread_count=found.unread_count,
            memory=list(found.memory),
            core=found.core,
        )
        return Response(written(shown))
