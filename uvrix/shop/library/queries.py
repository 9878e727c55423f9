"""Reading board models."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from uvrix.core.boards.document import read_board
from uvrix.core.boards.drawing import Drawing, draw
from uvrix.core.boards.model import Board
from uvrix.core.boards.packages import Package as CorePackage
from uvrix.core.boards.packages import read_package
from uvrix.core.memory.reader_file import TaughtReader, read_reader
from uvrix.core.memory.taught import fitting_lines
from uvrix.shop.library.models import BoardEdition, BoardModel, Package, Reader, ReaderEdition

CACHED_BOARDS = 256


def board_of(edition: BoardEdition) -> Board:
    """The core's board of an edition; editions never change, so it is kept in memory."""
    return _board(edition.sha256)


@lru_cache(CACHED_BOARDS)
def _board(sha256: str) -> Board:
    text = BoardEdition.objects.filter(sha256=sha256).values_list("text", flat=True)[0]
    return read_board(text.encode())


def reader_of(edition: ReaderEdition) -> TaughtReader:
    """The core's reader of an edition."""
    return _reader(edition.sha256)


@lru_cache(CACHED_BOARDS)
def _reader(sha256: str) -> TaughtReader:
    text = ReaderEdition.objects.filter(sha256=sha256).values_list("text", flat=True)[0]
    return read_reader(text.encode())


def fitting_reader(sample: bytes) -> ReaderEdition | None:
    """The reader that knows the most lines of a sample of a file, or None where none knows any."""
    editions = [reader.newest for reader in Reader.objects.select_related("newest") if reader.newest]
    ranked = [(fitting_lines(sample, reader_of(edition))[0], edition) for edition in editions]
    best = max(ranked, key=lambda one: one[0], default=None)
    return best[1] if best and best[0] > 0 else None


def packages() -> dict[str, CorePackage]:
    """All ball maps by name."""
    return {one.name: read_package(one.text.encode(), one.name) for one in Package.objects.all()}


def newest(model: BoardModel) -> BoardEdition:
    """The newest edition; every model has one."""
    assert model.newest is not None
    return model.newest


@lru_cache(CACHED_BOARDS)
def _drawing(sha256: str) -> dict[str, Any]:
    board = _board(sha256)
    return drawing_json(draw(board), board)


def drawing_of(edition: BoardEdition) -> dict[str, Any]:
    """The drawing of an edition, as the screen takes it."""
    return _drawing(edition.sha256)


def drawing_json(drawing: Drawing, board: Board) -> dict[str, Any]:
    """A drawing as JSON: millimetres of the front view, and the eight views as SVG matrices."""
    walk = board.walk
    return {
        "outline": drawing.outline,
        "core": {
            "designator": board.core.designator,
            "mark_corner": board.core.mark_corner,
            "corners": drawing.core.corners,
            "mark": drawing.core.mark,
        },
        "walk": {"start": walk.start, "direction": walk.direction} if walk else None,
        "sites": [
            {
                "designator": shape.site.designator,
                "side": shape.site.side,
                "fitted": shape.site.fitted,
                "channel": shape.channel,
                "position": shape.position,
                "lines": [line for line in range(32) if shape.site.lines >> line & 1],
                "corners": shape.corners,
                "pin1": shape.pin1,
            }
            for shape in drawing.sites
        ],
        "landmarks": [{"kind": kind, "text": text, "corners": corners} for kind, text, corners in drawing.landmarks],
        "views": [
            {
                "side": lie.side,
                "turns": lie.turns,
                "matrix": [float(number) for number in view.matrix],
                "width_mm": float(view.width_mm),
                "height_mm": float(view.height_mm),
                "edges": {"bracket": edges["bracket"], "contacts": edges.get("edge-contacts")},
                "flipped": {"side": lie.flipped().side, "turns": lie.flipped().turns},
                "turned": {"side": lie.turned().side, "turns": lie.turned().turns},
            }
            for lie, view, edges in drawing.views
        ],
    }
