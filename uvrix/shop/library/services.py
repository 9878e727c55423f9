"""Taking files into the library, and saving what is edited there. Each file that came is kept as an edition."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Mapping
from typing import Any, TypeVar

from django.db import transaction
from django.utils import timezone
from django.utils.text import slugify

from uvrix.core.boards.document import read_board
from uvrix.core.boards.edit import walked
from uvrix.core.boards.families import family_from, read_family
from uvrix.core.boards.packages import read_package
from uvrix.core.errors import Refusal
from uvrix.core.memory.reader_file import read_reader
from uvrix.core.memory.recipes import read_recipe
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.library.models import (
    BoardEdition,
    BoardModel,
    CoreFamily,
    FamilyEdition,
    Package,
    Reader,
    ReaderEdition,
    Recipe,
    RecipeEdition,
)
from uvrix.shop.library.signals import board_changed

Parsed = TypeVar("Parsed")
LONGEST_SLUG = 64


def _parsed(read: Callable[[bytes], Parsed], data: bytes, name: str) -> Parsed:
    try:
        return read(data)
    except Refusal as refusal:
        raise refusal.of(name) from None


def _slug(name: str) -> str:
    return slugify(name)[:LONGEST_SLUG] or hashlib.sha256(name.encode()).hexdigest()[:12]


# Rows are locked without their relations: a joined row would be that of before the wait, or none at all.
def _next(owner: Any, data: bytes, by: User, **more: Any) -> tuple[Any, bool]:
    """The edition that these bytes make of what owns it, and whether it is new: the newest again changes nothing."""
    type(owner).objects.select_for_update().get(pk=owner.pk)
    owner.refresh_from_db()
    digest = hashlib.sha256(data).hexdigest()
    if owner.newest and owner.newest.sha256 == digest:
        return owner.newest, False
    number = owner.newest.number + 1 if owner.newest else 1
    edition = owner.editions.create(number=number, text=data.decode("utf-8-sig"), sha256=digest, added_by=by, **more)
    return edition, True


@transaction.atomic
def import_board(data: bytes, name: str, by: User, note: str = "") -> tuple[BoardEdition, bool]:
    """The edition that a `.board.json` makes, and whether it is new."""
    board = _parsed(read_board, data, name)
    model, _ = BoardModel.objects.get_or_create(slug=board.id, defaults={"name": board.name})
    edition, new = _next(model, data, by, note=note)
    if new:
        family = board.family[:LONGEST_SLUG]
        fields = {"newest": edition, "name": board.name, "revision": board.revision, "family": family}
        BoardModel.objects.filter(pk=model.pk).update(**fields)
        edition.model.refresh_from_db()
        board_changed.send(BoardModel, model=edition.model)
    return edition, new


@transaction.atomic
def save_board(document: Mapping[str, Any], base: int, note: str, by: User) -> BoardEdition:
    """The edition that an edited document makes; `base` is the number of the edition that was edited, 0 for a new one.

    Raises Problem 409 `edited-meanwhile` where the model has a newer edition by now, or exists already.
    """
    slug = str(document.get("id", ""))
    known = BoardModel.objects.select_for_update().filter(slug=slug).first()
    number = known.newest.number if known and known.newest else 0
    if number != base:
        whose = known.newest.added_by.shown_name if known and known.newest else gettext("nobody")
        detail = gettext(
            "{slug} is at edition {number} by {whose}; yours is made from edition {base}. Yours is kept here.",
            slug=slug,
            number=number,
            whose=whose,
            base=base,
        )
        raise Problem(409, "edited-meanwhile", detail, edition=number)
    text = json.dumps(document, ensure_ascii=False, indent=1)
    return import_board(text.encode(), slug, by, note)[0]


@transaction.atomic
def name_unknown_board(name: str) -> BoardModel:
    """A board model that has a name and no drawing yet; the same name again is the same model."""
    found = BoardModel.objects.filter(name__iexact=name).first()
    if found:
        return found
    slug, number = _slug(name), 1
    while BoardModel.objects.filter(slug=slug).exists():
        number += 1
        slug = f"{_slug(name)[: LONGEST_SLUG - 4]}-{number}"
    return BoardModel.objects.create(slug=slug, name=name)


@transaction.atomic
def fill_place(model: BoardModel, designator: str, channel: str, job: str, by: User) -> BoardEdition:
    """A new edition in which a place that was open has the channel that a proven repair showed.

    Raises Problem 422 `place-known` where the place is not open, or the channel has a place already.
    """
    model = BoardModel.objects.select_for_update().get(pk=model.pk)
    assert model.newest is not None
    document = json.loads(model.newest.text)
    met = [site["designator"] for site in walked(document)]
    order = list(document.get("walk", {}).get("order", ()))
    if designator not in met or len(order) != len(met) or order[met.index(designator)] is not None:
        raise Problem(
            422, "place-known", gettext("{designator} is no open place of {model}.", designator=designator, model=model)
        )
    if channel in order:
        raise Problem(
            422,
            "place-known",
            gettext("Channel {channel} has its place already: {met}.", channel=channel, met=met[order.index(channel)]),
        )
    order[met.index(designator)] = channel
    document["walk"]["order"] = order
    at = timezone.now().date().isoformat()
    entry = {"designator": designator, "channel": channel, "job": job, "by": by.shown_name, "at": at}
    document["learned"] = [*document.get("learned", ()), entry]
    text = json.dumps(document, ensure_ascii=False, indent=1)
    return import_board(
        text.encode(),
        model.slug,
        by,
        gettext("{designator} is {channel}: proven on {job}", designator=designator, channel=channel, job=job),
    )[0]


@transaction.atomic
def import_reader(data: bytes, name: str, by: User) -> tuple[ReaderEdition, bool]:
    """The edition that a `.reader.json` makes, and whether it is new; readers of one name are one reader."""
    taught = _parsed(read_reader, data, name)
    reader, _ = Reader.objects.get_or_create(slug=_slug(taught.name), defaults={"name": taught.name})
    return _kept(reader, data, taught.name, by)


@transaction.atomic
def import_family(data: bytes, name: str, by: User) -> tuple[FamilyEdition, bool]:
    """The edition that a `.family.json` makes, and whether it is new."""
    family = _parsed(read_family, data, name)
    owner, _ = CoreFamily.objects.get_or_create(slug=family.id, defaults={"name": family.name})
    return _kept(owner, data, family.name, by)


@transaction.atomic
def make_family(model: BoardModel, name: str, by: User) -> FamilyEdition:
    """A core family made from a board, which carries it from then on in a new edition.

    Raises Problem 409 `family-known` where a family has that name.
    """
    model = BoardModel.objects.select_for_update().get(pk=model.pk)
    assert model.newest is not None
    slug = _slug(name)
    if CoreFamily.objects.filter(slug=slug).exists():
        detail = gettext("The family {name} is in the library already; choose it in the board's editor.", name=name)
        raise Problem(409, "family-known", detail)
    document = json.loads(model.newest.text)
    made = json.dumps(family_from(document, slug, name), ensure_ascii=False, indent=1)
    edition, _ = import_family(made.encode(), slug, by)
    text = json.dumps({**document, "family": slug}, ensure_ascii=False, indent=1)
    import_board(text.encode(), model.slug, by, gettext("Core family {name}", name=name))
    return edition


@transaction.atomic
def import_recipe(data: bytes, name: str, by: User) -> tuple[RecipeEdition, bool]:
    """The edition that a `.recipe.json` makes, and whether it is new; recipes of one name are one recipe."""
    recipe = _parsed(read_recipe, data, name)
    owner, _ = Recipe.objects.get_or_create(slug=_slug(recipe.name), defaults={"name": recipe.name})
    return _kept(owner, data, recipe.name, by, retired_at=None)


def _kept(owner: Any, data: bytes, name: str, by: User, **more: Any) -> tuple[Any, bool]:
    edition, new = _next(owner, data, by)
    type(owner).objects.filter(pk=owner.pk).update(newest=edition, name=name, **more)
    owner.refresh_from_db()
    return edition, new


def retire_recipe(recipe: Recipe) -> None:
    """Take a recipe out of use; its editions stay, and saving it again brings it back."""
    recipe.retired_at = timezone.now()
    recipe.save(update_fields=["retired_at"])


def import_package(data: bytes, name: str, by: User) -> Package:
    """The package that a ball map makes."""
    _parsed(lambda content: read_package(content, name), data, name)
    fields = {"text": data.decode("utf-8-sig"), "added_by": by}
    return Package.objects.update_or_create(name=name, defaults=fields)[0]
