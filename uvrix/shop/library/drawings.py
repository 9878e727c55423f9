"""A board model as the screen draws it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated

from uvrix.core.boards.drawing import Drawing, draw
from uvrix.core.boards.model import Board
from uvrix.shop.config.shapes import chosen, given
from uvrix.shop.library.models import BoardEdition
from uvrix.shop.library.queries import CACHED_BOARDS, board_of_sha256


@dataclass(frozen=True, slots=True)
class OrientationAnswer:
    """How the card lies: the side seen, quarter turns counterclockwise."""

    side: Annotated[str, chosen(["front", "back"])]
    turns: Annotated[int, given(min_value=0, max_value=3)]


@dataclass(frozen=True, slots=True)
class EdgesAnswer:
    """On which edge of the drawing something lies."""

    bracket: Annotated[str, chosen(["left", "right", "up", "down"])]
    contacts: Annotated[str | None, chosen(["left", "right", "up", "down"])]


@dataclass(frozen=True, slots=True)
class CoreShapeAnswer:
    """The core as drawn."""

    designator: str
    mark_corner: str
    corners: Sequence[Sequence[float]]
    mark: Sequence[Sequence[float]]


@dataclass(frozen=True, slots=True)
class WalkAnswer:
    """The way round the core."""

    start: str
    direction: str


@dataclass(frozen=True, slots=True)
class SiteShapeAnswer:
    """A site as drawn."""

    designator: str
    side: Annotated[str, chosen(["front", "back"])]
    fitted: bool
    channel: str | None
    position: int | None
    lines: Sequence[int]
    corners: Sequence[Sequence[float]]
    pin1: Sequence[float]


@dataclass(frozen=True, slots=True)
class LandmarkAnswer:
    """A landmark as drawn."""

    kind: str
    text: str
    corners: Sequence[Sequence[float]]


@dataclass(frozen=True, slots=True)
class PointShapeAnswer:
    """A probe point as drawn."""

    id: str
    side: Annotated[str, chosen(["front", "back"])]
    kind: str
    at: Sequence[float]


@dataclass(frozen=True, slots=True)
class PartShapeAnswer:
    """A part as drawn."""

    designator: str
    side: Annotated[str, chosen(["front", "back"])]
    kind: str
    at: Sequence[float]


@dataclass(frozen=True, slots=True)
class PlacedPhotographAnswer:
    """A photograph under the drawing: an SVG matrix from its pixels to the model's millimetres."""

    side: Annotated[str, chosen(["front", "back"])]
    sha256: str
    width_px: int
    height_px: int
    matrix: Annotated[Sequence[float], given(min_length=6, max_length=6)]


@dataclass(frozen=True, slots=True)
class ViewAnswer(OrientationAnswer):
    """One of the eight views: an SVG matrix from the model's millimetres to the drawing's."""

    matrix: Annotated[Sequence[float], given(min_length=6, max_length=6)]
    width_mm: float
    height_mm: float
    edges: EdgesAnswer
    flipped: OrientationAnswer
    turned: OrientationAnswer


@dataclass(frozen=True, slots=True)
class DrawingAnswer:
    """A board's drawing."""

    outline: Sequence[Sequence[float]]
    core: CoreShapeAnswer
    walk: WalkAnswer | None
    sites: Sequence[SiteShapeAnswer]
    landmarks: Sequence[LandmarkAnswer]
    points: Sequence[PointShapeAnswer]
    parts: Sequence[PartShapeAnswer]
    photographs: Sequence[PlacedPhotographAnswer]
    views: Sequence[ViewAnswer]


@lru_cache(CACHED_BOARDS)
def _drawing(sha256: str) -> DrawingAnswer:
    board = board_of_sha256(sha256)
    return drawing_json(draw(board), board)


def drawing_of(edition: BoardEdition) -> DrawingAnswer:
    """The drawing of an edition, as the screen takes it."""
    return _drawing(edition.sha256)


def drawing_json(drawing: Drawing, board: Board) -> DrawingAnswer:
    """A drawing as JSON: millimetres of the front view, and the eight views as SVG matrices."""
    walk = board.walk
    return DrawingAnswer(
        outline=drawing.outline,
        core=CoreShapeAnswer(
            designator=board.core.designator,
            mark_corner=board.core.mark_corner,
            corners=drawing.core.corners,
            mark=drawing.core.mark,
        ),
        walk=WalkAnswer(start=walk.start, direction=walk.direction) if walk else None,
        sites=[
            SiteShapeAnswer(
                designator=shape.site.designator,
                side=shape.site.side,
                fitted=shape.site.fitted,
                channel=shape.channel,
                position=shape.position,
                lines=[line for line in range(32) if shape.site.lines >> line & 1],
                corners=shape.corners,
                pin1=shape.pin1,
            )
            for shape in drawing.sites
        ],
        landmarks=[LandmarkAnswer(kind=kind, text=text, corners=corners) for kind, text, corners in drawing.landmarks],
        points=[PointShapeAnswer(id=point.id, side=point.side, kind=point.kind, at=at) for point, at in drawing.points],
        parts=[
            PartShapeAnswer(designator=part.designator, side=part.side, kind=part.kind, at=at)
            for part, at in drawing.parts
        ],
        photographs=[
            PlacedPhotographAnswer(
                side=photograph.side,
                sha256=sha256,
                width_px=photograph.width_px,
                height_px=photograph.height_px,
                matrix=list(photograph.matrix),
            )
            for sha256, photograph in drawing.photographs
        ],
        views=[
            ViewAnswer(
                side=orientation.side,
                turns=orientation.turns,
                matrix=[float(number) for number in view.matrix],
                width_mm=float(view.width_mm),
                height_mm=float(view.height_mm),
                edges=EdgesAnswer(bracket=edges["bracket"], contacts=edges.get("edge-contacts")),
                flipped=OrientationAnswer(side=orientation.flipped().side, turns=orientation.flipped().turns),
                turned=OrientationAnswer(side=orientation.turned().side, turns=orientation.turned().turns),
            )
            for orientation, view, edges in drawing.views
        ],
    )


@dataclass(frozen=True, slots=True)
class SmallBoardAnswer:
    """A board model drawn small: outline, core, sites of its front, in millimetres."""

    width_mm: float
    height_mm: float
    matrix: Sequence[float]
    outline: Sequence[Sequence[float]]
    core: Sequence[Sequence[float]]
    sites: Sequence[SiteShapeAnswer]


def small_board(edition: BoardEdition) -> SmallBoardAnswer:
    """An edition drawn small, front side."""
    drawing = drawing_of(edition)
    view = drawing.views[0]
    return SmallBoardAnswer(
        width_mm=view.width_mm,
        height_mm=view.height_mm,
        matrix=view.matrix,
        outline=drawing.outline,
        core=drawing.core.corners,
        sites=drawing.sites,
    )
