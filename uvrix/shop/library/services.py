"""Taking a board model into the library."""

from __future__ import annotations

import hashlib

from django.db import transaction

from uvrix.core.boards.document import read_board
from uvrix.core.errors import Refusal
from uvrix.shop.accounts.models import User
from uvrix.shop.library.models import BoardEdition, BoardModel


@transaction.atomic
def import_board(data: bytes, name: str, by: User) -> tuple[BoardEdition, bool]:
    """The edition that a file makes, and whether it is new: the newest edition's file again changes nothing."""
    try:
        board = read_board(data)
    except Refusal as refusal:
        raise refusal.of(name) from None
    model, _ = BoardModel.objects.get_or_create(slug=board.id, defaults={"name": board.name})
    model = BoardModel.objects.select_for_update().get(pk=model.pk)
    newest = model.newest
    digest = hashlib.sha256(data).hexdigest()
    if newest and newest.sha256 == digest:
        return newest, False
    text = data.decode("utf-8-sig")
    number = newest.number + 1 if newest else 1
    edition = BoardEdition.objects.create(model=model, number=number, text=text, sha256=digest, added_by=by)
    model.name, model.revision, model.newest = board.name, board.revision, edition
    model.save()
    return edition, True
