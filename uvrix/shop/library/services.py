"""Taking files into the library: board models, taught readers, packages. Each file that came is kept as an edition."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from typing import TypeVar

from django.db import transaction
from django.utils.text import slugify

from uvrix.core.boards.document import read_board
from uvrix.core.boards.packages import read_package
from uvrix.core.errors import Refusal
from uvrix.core.memory.reader_file import read_reader
from uvrix.shop.accounts.models import User
from uvrix.shop.library.models import BoardEdition, BoardModel, Edition, Package, Reader, ReaderEdition

Parsed = TypeVar("Parsed")


def _parsed(read: Callable[[bytes], Parsed], data: bytes, name: str) -> Parsed:
    try:
        return read(data)
    except Refusal as refusal:
        raise refusal.of(name) from None


def _next(newest: Edition | None, data: bytes, by: User) -> dict[str, object] | None:
    """What a new edition of these bytes holds, or None where the newest has them already."""
    digest = hashlib.sha256(data).hexdigest()
    if newest and newest.sha256 == digest:
        return None
    text = data.decode("utf-8-sig")
    return {"number": newest.number + 1 if newest else 1, "text": text, "sha256": digest, "added_by": by}


@transaction.atomic
def import_board(data: bytes, name: str, by: User) -> tuple[BoardEdition, bool]:
    """The edition that a `.board.json` makes, and whether it is new: the newest file again changes nothing."""
    board = _parsed(read_board, data, name)
    model, _ = BoardModel.objects.get_or_create(slug=board.id, defaults={"name": board.name})
    model = BoardModel.objects.select_for_update().get(pk=model.pk)
    fields = _next(model.newest, data, by)
    if fields is None:
        assert model.newest is not None
        return model.newest, False
    model.newest = BoardEdition.objects.create(model=model, **fields)
    model.name, model.revision = board.name, board.revision
    model.save()
    return model.newest, True


@transaction.atomic
def import_reader(data: bytes, name: str, by: User) -> tuple[ReaderEdition, bool]:
    """The edition that a `.reader.json` makes, and whether it is new; readers of one name are one reader."""
    taught = _parsed(read_reader, data, name)
    slug = slugify(taught.name)[:80] or hashlib.sha256(taught.name.encode()).hexdigest()[:12]
    reader, _ = Reader.objects.get_or_create(slug=slug, defaults={"name": taught.name})
    reader = Reader.objects.select_for_update().get(pk=reader.pk)
    fields = _next(reader.newest, data, by)
    if fields is None:
        assert reader.newest is not None
        return reader.newest, False
    reader.newest = ReaderEdition.objects.create(reader=reader, **fields)
    reader.name = taught.name
    reader.save()
    return reader.newest, True


def import_package(data: bytes, name: str, by: User) -> Package:
    """The package that a ball map makes."""
    _parsed(lambda content: read_package(content, name), data, name)
    fields = {"text": data.decode("utf-8-sig"), "added_by": by}
    return Package.objects.update_or_create(name=name, defaults=fields)[0]
