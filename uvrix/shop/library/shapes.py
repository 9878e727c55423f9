"""What the library's answers look like."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from uvrix.core.boards.model import ProbePoint
from uvrix.core.boards.schema import NODE_KINDS
from uvrix.core.startup.chain import MEASURED, VOLTS, Node
from uvrix.core.startup.layout import Layout
from uvrix.shop.config.shapes import chosen, shape
from uvrix.shop.library.drawings import DrawingAnswer, drawing_of
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.plans import BehindAnswer, behind_of
from uvrix.shop.library.queries import model_board


@dataclass(frozen=True, slots=True)
class KindWordsAnswer:
    """A kind, and what the screen calls it."""

    kind: str
    words: str


@dataclass(frozen=True, slots=True)
class UnreadAnswer:
    """A row that could not be read."""

    line: int
    text: str


@dataclass(frozen=True, slots=True)
class BoardPhotographAnswer:
    """A photograph that serves as the board until it is drawn."""

    side: Annotated[str, chosen(["front", "back"])]
    sha256: str
    width_px: int
    height_px: int


class BoardModelSerializer(serializers.ModelSerializer[BoardModel]):
    """A board model in a list; `edition` 0 and no `sites` where it is not drawn yet."""

    sites = serializers.SerializerMethodField()
    places = serializers.SerializerMethodField()
    open_places = serializers.SerializerMethodField()
    edition = serializers.SerializerMethodField()

    class Meta:
        model = BoardModel
        fields = ["slug", "name", "revision", "family", "sites", "places", "open_places", "edition"]

    def get_sites(self, model: BoardModel) -> int:
        """Fitted memory sites."""
        board = model_board(model)
        return sum(site.fitted for site in board.sites) if board else 0

    def get_places(self, model: BoardModel) -> int:
        """Places round the core."""
        board = model_board(model)
        return len(board.walk.order) if board and board.walk else 0

    def get_open_places(self, model: BoardModel) -> int:
        """Places whose channel is not known yet."""
        board = model_board(model)
        return sum(name is None for name in board.walk.order) if board and board.walk else 0

    def get_edition(self, model: BoardModel) -> int:
        """Number of the newest edition."""
        return model.newest.number if model.newest else 0


class BoardModelDetailSerializer(BoardModelSerializer):
    """A board model with its drawing."""

    drawing = serializers.SerializerMethodField()
    photographs = serializers.SerializerMethodField()
    behind = serializers.SerializerMethodField()

    class Meta(BoardModelSerializer.Meta):
        fields = [*BoardModelSerializer.Meta.fields, "plan", "drawing", "photographs", "behind"]

    @extend_schema_field(shape(BehindAnswer)(allow_null=True))
    def get_behind(self, model: BoardModel) -> BehindAnswer | None:
        """How its two photographs lie over each other; null where nobody has said it of these two."""
        return behind_of(model)

    @extend_schema_field(shape(BoardPhotographAnswer)(many=True))
    def get_photographs(self, model: BoardModel) -> list[BoardPhotographAnswer]:
        """The newest photograph of each side."""
        found = {
            picture.side: picture.picture
            for picture in model.pictures.select_related("picture").order_by("added_at", "pk")
        }
        return [
            BoardPhotographAnswer(
                side=side, sha256=picture.sha256, width_px=picture.width_px, height_px=picture.height_px
            )
            for side, picture in found.items()
        ]

    @extend_schema_field(shape(DrawingAnswer)(allow_null=True))
    def get_drawing(self, model: BoardModel) -> DrawingAnswer | None:
        """The newest edition's drawing."""
        return drawing_of(model.newest) if model.newest else None


UNITS = {"voltage": "V", "frequency": "MHz", "current": "A"}


@dataclass(frozen=True, slots=True)
class MapNodeAnswer:
    """A node of a start-up map: where it is drawn, what it needs, its band, where it is probed."""

    id: str
    name: str
    kind: Annotated[str, chosen(NODE_KINDS)]
    column: int
    row: float
    needs: Sequence[str]
    point: str
    side: str
    reach: str
    minutes: float
    parts: Sequence[str]
    low: float
    high: float
    unit: str
    quantity: Annotated[str, chosen(["voltage", "frequency", "current"])]


def map_node(node: Node, placed: Layout, point: ProbePoint | None) -> MapNodeAnswer:
    """A node of the map; `point` is its probe point with side and reach, None where it has none."""
    column, row = placed.places[node.id]
    quantity = MEASURED.get(node.kind, VOLTS)[0]
    return MapNodeAnswer(
        id=node.id,
        name=node.name,
        kind=node.kind,
        column=column,
        row=row,
        needs=node.needs,
        point=node.point or "",
        side=point.side if point else "",
        reach=point.reach if point else "",
        minutes=node.minutes,
        parts=node.parts,
        low=node.low,
        high=node.high,
        unit=UNITS[quantity],
        quantity=quantity,
    )
