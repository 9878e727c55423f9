"""What the library's answers look like."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from uvrix.core.boards.schema import NODE_KINDS
from uvrix.core.startup.chain import MEASURED, VOLTS, Node
from uvrix.core.startup.layout import Layout
from uvrix.shop.library.models import BoardEdition, BoardModel
from uvrix.shop.library.plans import behind_of
from uvrix.shop.library.queries import drawing_of, model_board


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


class SmallBoardSerializer(serializers.Serializer[Any]):
    """A board model drawn small: outline, core, sites of its front, in millimetres."""

    width_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    matrix = serializers.ListField(child=serializers.FloatField())
    outline = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    core = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    sites = SiteShapeSerializer(many=True)


def small_board(edition: BoardEdition) -> dict[str, Any]:
    """An edition drawn small, front side (SmallBoardSerializer)."""
    drawing = drawing_of(edition)
    view = drawing["views"][0]
    return {
        "width_mm": view["width_mm"],
        "height_mm": view["height_mm"],
        "matrix": view["matrix"],
        "outline": drawing["outline"],
        "core": drawing["core"]["corners"],
        "sites": drawing["sites"],
    }


class LandmarkSerializer(serializers.Serializer[Any]):
    """A landmark as drawn."""

    kind = serializers.CharField()
    text = serializers.CharField(allow_blank=True)
    corners = CornersField()


class PointShapeSerializer(serializers.Serializer[Any]):
    """A probe point as drawn."""

    id = serializers.CharField()
    side = serializers.ChoiceField(choices=["front", "back"])
    kind = serializers.CharField()
    at = PointField()


class PartShapeSerializer(serializers.Serializer[Any]):
    """A part as drawn."""

    designator = serializers.CharField()
    side = serializers.ChoiceField(choices=["front", "back"])
    kind = serializers.CharField()
    at = PointField()


class LaidPhotographSerializer(serializers.Serializer[Any]):
    """A photograph under the drawing: an SVG matrix from its pixels to the model's millimetres."""

    side = serializers.ChoiceField(choices=["front", "back"])
    sha256 = serializers.CharField()
    width_px = serializers.IntegerField()
    height_px = serializers.IntegerField()
    matrix = serializers.ListField(child=serializers.FloatField(), min_length=6, max_length=6)


class DrawingSerializer(serializers.Serializer[Any]):
    """A board's drawing."""

    outline = CornersField()
    core = CoreShapeSerializer()
    walk = WalkSerializer(allow_null=True)
    sites = SiteShapeSerializer(many=True)
    landmarks = LandmarkSerializer(many=True)
    points = PointShapeSerializer(many=True)
    parts = PartShapeSerializer(many=True)
    photographs = LaidPhotographSerializer(many=True)
    views = ViewSerializer(many=True)


class BoardPhotographSerializer(serializers.Serializer[Any]):
    """A photograph that serves as the board until it is drawn."""

    side = serializers.ChoiceField(choices=["front", "back"])
    sha256 = serializers.CharField()
    width_px = serializers.IntegerField()
    height_px = serializers.IntegerField()


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


class BehindSerializer(serializers.Serializer[Any]):
    """Where a pixel of one side's photograph lies on the other's: x' = ax + cy + e, y' = bx + dy + f, as [a … f]."""

    to_back = serializers.ListField(child=serializers.FloatField())
    to_front = serializers.ListField(child=serializers.FloatField())


class BoardModelDetailSerializer(BoardModelSerializer):
    """A board model with its drawing."""

    drawing = serializers.SerializerMethodField()
    photographs = serializers.SerializerMethodField()
    behind = serializers.SerializerMethodField()

    class Meta(BoardModelSerializer.Meta):
        fields = [*BoardModelSerializer.Meta.fields, "plan", "drawing", "photographs", "behind"]

    @extend_schema_field(BehindSerializer(allow_null=True))
    def get_behind(self, model: BoardModel) -> dict[str, object] | None:
        """How its two photographs lie over each other; null where nobody has said it of these two."""
        return behind_of(model)

    @extend_schema_field(BoardPhotographSerializer(many=True))
    def get_photographs(self, model: BoardModel) -> list[dict[str, object]]:
        """The newest photograph of each side."""
        found = {
            picture.side: picture.picture
            for picture in model.pictures.select_related("picture").order_by("added_at", "pk")
        }
        return [
            {"side": side, "sha256": picture.sha256, "width_px": picture.width_px, "height_px": picture.height_px}
            for side, picture in found.items()
        ]

    @extend_schema_field(DrawingSerializer(allow_null=True))
    def get_drawing(self, model: BoardModel) -> dict[str, object] | None:
        """The newest edition's drawing."""
        return drawing_of(model.newest) if model.newest else None


UNITS = {"voltage": "V", "frequency": "MHz", "current": "A"}


class MapNodeSerializer(serializers.Serializer[Any]):
    """A node of a start-up map: where it is drawn, what it needs, its band, where it is probed."""

    id = serializers.CharField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=NODE_KINDS)
    column = serializers.IntegerField()
    row = serializers.FloatField()
    needs = serializers.ListField(child=serializers.CharField())
    point = serializers.CharField(allow_blank=True)
    side = serializers.CharField(allow_blank=True)
    reach = serializers.CharField(allow_blank=True)
    minutes = serializers.FloatField()
    parts = serializers.ListField(child=serializers.CharField())
    low = serializers.FloatField()
    high = serializers.FloatField()
    unit = serializers.CharField()
    quantity = serializers.ChoiceField(choices=["voltage", "frequency", "current"])


class MapShapeSerializer(serializers.Serializer[Any]):
    """A start-up map as drawn, from left to right."""

    columns = serializers.IntegerField()
    rows = serializers.FloatField()
    nodes = MapNodeSerializer(many=True)


def node_shape(node: Node, laid: Layout, point: Any) -> dict[str, Any]:
    """A node as `MapNodeSerializer` says it; `point` is its probe point with side and reach, None where it has none."""
    column, row = laid.places[node.id]
    quantity = MEASURED.get(node.kind, VOLTS)[0]
    names = ("id", "name", "kind", "needs", "minutes", "parts", "low", "high")
    return {
        **{name: getattr(node, name) for name in names},
        "column": column,
        "row": row,
        "point": node.point or "",
        "side": point.side if point else "",
        "reach": point.reach if point else "",
        "unit": UNITS[quantity],
        "quantity": quantity,
    }
