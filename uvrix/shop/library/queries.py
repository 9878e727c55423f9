"""Reading board models."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from django.db.models import Q

from uvrix.core.boards.document import read_board
from uvrix.core.boards.families import Family, read_family
from uvrix.core.boards.model import Board
from uvrix.core.boards.packages import Package as CorePackage
from uvrix.core.boards.packages import read_package
from uvrix.core.boards.photograph import photographs_of
from uvrix.core.memory.reader_file import TaughtReader, read_reader
from uvrix.core.memory.recipes import Recipe as CoreRecipe
from uvrix.core.memory.recipes import read_recipe
from uvrix.core.memory.taught import Fit, fit_of
from uvrix.shop.library.models import BoardEdition, BoardModel, CoreFamily, Package, Reader, ReaderEdition, Recipe

CACHED_BOARDS = 256


def board_of(edition: BoardEdition) -> Board:
    """The core's board of an edition; editions never change, so it is kept in memory."""
    return board_of_sha256(edition.sha256)


@lru_cache(CACHED_BOARDS)
def board_of_sha256(sha256: str) -> Board:
    """The core's board of an edition, by the digest of its text."""
    text = BoardEdition.objects.filter(sha256=sha256).values_list("text", flat=True)[0]
    return read_board(text.encode())


def model_board(model: BoardModel) -> Board | None:
    """The core's board of a model's newest edition; None where it is not drawn yet."""
    return board_of(model.newest) if model.newest else None


def on_board(board: Board | None, picture: str, side: str, pixel: tuple[float, float]) -> tuple[float, float] | None:
    """Where a pixel of a photograph lies on the board that is drawn over it; None where none is."""
    for sha256, photograph in photographs_of(board) if board else ():
        if sha256 == picture and photograph.side == side:
            return photograph.place(pixel)
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
    """The ids of drawn models that a model may learn from, nearest first, without reading their boards."""
    drawn = BoardModel.objects.filter(newest__isnull=False).exclude(slug=slug)
    near = [Q(slug=relative_of)] if relative_of else []
    near += [Q(family=family)] if family else []
    matched = [
        drawn.filter(condition).order_by("-newest__added_at").values_list("slug", flat=True) for condition in near
    ]
    return list(dict.fromkeys(found for names in matched for found in names))


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
