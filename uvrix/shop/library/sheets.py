"""Sheets that the shop keeps of a board model (teardown recipe, watchlist): read, borrowed from relatives, saved."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from rest_framework import serializers

from uvrix.core.hypotheses.watchlist import read_watchlist
from uvrix.core.proving.protocol import read_protocol
from uvrix.core.teardown.recipe import read_teardown
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.library.models import BoardModel, ModelSheet
from uvrix.shop.library.queries import model_board, relatives

# What each kind of sheet must fit; the reader raises Refusal where it does not.
READERS: Mapping[str, Callable[[Any], Any]] = {
    "teardown": read_teardown,
    "watchlist": read_watchlist,
    "proof": read_protocol,
}


@dataclass(frozen=True, slots=True)
class Sheet:
    """What a model's sheet says now: `content` as the core's reader gives it, `document` as it was saved.

    `edition` is 0 where the model has none of its own; then `lender` is the relative whose sheet stands in.
    """

    content: Any
    document: Any
    edition: int
    saved: ModelSheet | None
    lender: BoardModel | None


class SheetSerializer(serializers.Serializer[Any]):
    """A sheet's head; `edition` 0 and `borrowed_from` where a relative's stands in."""

    edition = serializers.IntegerField()
    borrowed_from = serializers.CharField(allow_null=True)
    by = serializers.CharField(allow_null=True)
    at = serializers.DateTimeField(allow_null=True)


def head_of(sheet: Sheet) -> dict[str, Any]:
    """What SheetSerializer shows of a sheet."""
    saved = sheet.saved
    return {
        "edition": sheet.edition,
        "borrowed_from": str(sheet.lender) if sheet.lender else None,
        "by": saved.by.shown_name if saved else None,
        "at": saved.at if saved else None,
    }


def sheet_of(model: BoardModel, kind: str, empty: Any) -> Sheet:
    """The newest sheet of a kind, else the nearest relative's, else `empty` read."""
    if own := model.sheets.filter(kind=kind).order_by("-number").first():
        return Sheet(READERS[kind](own.content), own.content, own.number, own, None)
    of_kind = ModelSheet.objects.filter(kind=kind).order_by("model", "-number").distinct("model")
    newest = {sheet.model_id: sheet for sheet in of_kind}
    board = model_board(model) if newest else None
    relative = board.relative_of if board else ""
    for other in relatives(model.slug, model.family, relative) if newest else ():
        if lent := newest.get(other.pk):
            return Sheet(READERS[kind](lent.content), lent.content, 0, lent, other)
    return Sheet(READERS[kind](empty), empty, 0, None, None)


@transaction.atomic
def save_sheet(model: BoardModel, kind: str, document: Any, base: int, by: User) -> ModelSheet:
    """Save a sheet as the edition after `base`.

    Raises Refusal where it does not fit; Problem 409 `saved-meanwhile` where somebody saved another since `base`.
    """
    READERS[kind](document)
    BoardModel.objects.select_for_update(of=("self",)).get(pk=model.pk)
    newest = model.sheets.filter(kind=kind).select_related("by").order_by("-number").first()
    number = newest.number if newest else 0
    if number != base:
        who = newest.by.shown_name if newest else ""
        detail = gettext(
            "{who} saved edition {number} meanwhile; yours was made from edition {base}. Nothing was overwritten.",
            who=who,
            number=number,
            base=base,
        )
        raise Problem(409, "saved-meanwhile", detail, edition=number)
    return model.sheets.create(kind=kind, number=number + 1, content=document, by=by)
