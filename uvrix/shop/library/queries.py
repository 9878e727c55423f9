"""Reading board models."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from django.db.models import Q

from uvrix.core.boards.document import read_board
from uvrix.core.boards.drawing import Drawing, draw
from uvrix.core.boards.families import Family, read_family
from uvrix.core.boards.model import Board
from uvrix.core.boards.packages import Package as CorePackage
from uvrix.core.boards.packages import read_package
from uvrix.core.boards.photograph import photograph_from
from uvrix.core.memory.reader_file import TaughtReader, read_reader
from uvrix.core.memory.recipes import Recipe as CoreRecipe
from uvrix.core.memory.recipes import read_recipe
from uvrix.core.memory.taught import Fit, fit_of
from uvrix.shop.library.models import BoardEdition, BoardModel, CoreFamily, Package, Reader, ReaderEdition, Recipe

CACHED_BOARDS = 256


def board_of(edition: BoardEdition) -> Board:
    """The core's board of an edition; editions never change, so it is kept in memory."""
    return _board(edition.sha256)


@lru_cache(CACHED_BOARDS)
def _board(sha256: str) -> Board:
    text = BoardEdition.objects.filter(sha256=sha256).values_list("text", flat=True)[0]
    return read_board(text.encode())


def model_board(model: BoardModel) -> Board | None:
    """The core's board of a model's newest edition; None where it is not drawn yet."""
    return board_of(model.newest) if model.newest else None


def on_board(board: Board | None, picture: str, side: str, pixel: tuple[float, float]) -> tuple[float, float] | None:
    """Where a pixel of a photograph lies on the board that is drawn over it; None where none is."""
    for entry in board.document.get("photographs", ()) if board else ():
        if entry["sha256"] == picture and entry["side"] == side:
            return photograph_from(entry).place(pixel)
    return None


def document_of(edition: BoardEdition) -> dict[str, Any]:
    """An edition's document, its numbers as JSON has them."""
    found: dict[str, Any] = json.loads(edition.text)
    return found


def family_of(slug: str) -> Family | None:
    """A core family by its id."""
    found = CoreFamily.objects.filter(slug=slug).select_related("newest").first() if slug else None
    return read_family(found.newest.text.encode()) if found and found.newest else None


def relatives(slug: str, family: str, relative_of: str) -> list[BoardModel]:
    """Drawn models that a model may learn from, nearest first: what it is a relative of, its family, its siblings."""
    drawn = BoardModel.objects.filter(newest__isnull=False).exclude(slug=slug).select_related("newest")
    near = [Q(slug=relative_of)] if relative_of else []
    near += [Q(family=family)] if family else []
    found: dict[int, BoardModel] = {}
    for match in near:
        found |= {
            model.pk: model for model in drawn.filter(match).order_by("-newest__added_at") if model.pk not in found
        }
    return list(found.values())


def relative_slugs(slug: str, family: str, relative_of: str) -> list[str]:
    """The ids of those, nearest first, without their boards."""
    drawn = BoardModel.objects.filter(newest__isnull=False).exclude(slug=slug)
    near = [Q(slug=relative_of)] if relative_of else []
    near += [Q(family=family)] if family else []
    matched = [
        drawn.filter(condition).order_by("-newest__added_at").values_list("slug", flat=True) for condition in near
    ]
    return list(dict.fromkeys(found for one in matched for found in one))


def recipes() -> list[tuple[Recipe, CoreRecipe]]:
    """All recipes in use, by name."""
    kept = (
        Recipe.objects.filter(retired_at=None, newest__isnull=False).select_related("newest__added_by").order_by("name")
    )
    return [(recipe, read_recipe(recipe.newest.text.encode())) for recipe in kept if recipe.newest]


def reader_of(edition: ReaderEdition) -> TaughtReader:
    """The core's reader of an edition."""
    return _reader(edition.sha256)


@lru_cache(CACHED_BOARDS)
def _reader(sha256: str) -> TaughtReader:
    text = ReaderEdition.objects.filter(sha256=sha256).values_list("text", flat=True)[0]
    return read_reader(text.encode())


def fitting_reader(sample: bytes) -> tuple[ReaderEdition, Fit] | None:
    """The reader that knows the most telling lines of a sample of a file, or None where none knows any."""
    editions = [reader.newest for reader in Reader.objects.select_related("newest") if reader.newest]
    ranked = [(edition, fit_of(sample, reader_of(edition))) for edition in editions]
    best = max(ranked, key=lambda row: (row[1].telling, row[1].known), default=None)
    return best if best and best[1].telling else None


def packages() -> dict[str, CorePackage]:
    """All ball maps by name."""
    return {package.name: _package(package.text, package.name) for package in Package.objects.all()}


@lru_cache(CACHED_BOARDS)
def _package(text: str, name: str) -> CorePackage:
    return read_package(text.encode(), name)


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
        "points": [{"id": point.id, "side": point.side, "kind": point.kind, "at": at} for point, at in drawing.points],
        "parts": [
            {"designator": part.designator, "side": part.side, "kind": part.kind, "at": at}
            for part, at in drawing.parts
        ],
        "photographs": [
            {
                "side": photograph.side,
                "sha256": sha256,
                "width_px": photograph.width_px,
                "height_px": photograph.height_px,
                "matrix": list(photograph.matrix),
            }
            for sha256, photograph in drawing.photographs
        ],
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
