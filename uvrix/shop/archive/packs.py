"""A library taken along in one open pack, and another shop's taken in: entry by entry, nothing overwritten."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any
from uuid import NAMESPACE_URL, UUID, uuid5

from django.db import transaction

from uvrix.core.errors import Refusal
from uvrix.core.packs.pack import (
    KINDS,
    Choice,
    Key,
    OwnEntry,
    PackEntry,
    State,
    choices_of,
    pack_document,
    print_of,
    read_pack,
    state_of,
)
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.library.models import (
    BenchPlan,
    BoardModel,
    CoreFamily,
    ModelSheet,
    Package,
    PinoutEdition,
    Reader,
    Recipe,
)
from uvrix.shop.library.pinouts import save_pinout
from uvrix.shop.library.plans import plans, save_plan
from uvrix.shop.library.services import import_board, import_family, import_package, import_reader, import_recipe
from uvrix.shop.library.sheets import save_sheet
from uvrix.shop.ohms.models import KnownReading
from uvrix.shop.practice.models import PracticeFile
from uvrix.shop.practice.services import file_card, save_file

KNOWN = ("board", "card", "point", "to", "quantity", "mode", "text", "low", "high", "polarity", "meter")
Put = Callable[[PackEntry, User], Any]


@dataclass(frozen=True, slots=True)
class Change:
    """What an entry of a pack is to this library, and what is done with it."""

    entry: PackEntry
    state: State
    choice: Choice


Found = dict[Key, tuple[Any, OwnEntry]]


def library() -> Found:
    """What the shop has, by kind and name: what is in use, and the print of every edition."""
    found: Found = {}
    for kind, owners in _EDITED.items():
        for owner in owners.objects.select_related("newest").prefetch_related("editions"):
            texts = [edition.text for edition in sorted(owner.editions.all(), key=lambda edition: edition.number)]
            if texts:
                found[kind, owner.slug] = texts[-1], _held(texts)
    for package in Package.objects.all():
        found["package", package.name] = package.text, _held([package.text])
    for reading in KnownReading.objects.filter(out_at=None):
        content = {name: getattr(reading, name) for name in KNOWN} | {"source": reading.source}
        found["known", _reading_id(content)] = content, _held([content])
    for card in PracticeFile.objects.all():
        found["practice", card.name] = card.content, _held([card.content])
    return found | _documents()


def _documents() -> Found:
    """What is kept as documents: bench plans, sheets of models, notes on chips, each with its editions."""
    rows = [
        *(("plan", str(row.content["id"]), row.content) for row in BenchPlan.objects.order_by("pk")),
        *(
            ("sheet", f"{row.model.slug}/{row.kind}", row.content)
            for row in ModelSheet.objects.select_related("model").order_by("number")
        ),
        *(("pinout", row.key, row.content) for row in PinoutEdition.objects.order_by("number")),
    ]
    editions: dict[Key, list[Any]] = {("plan", name): [document] for name, document in plans().items()}
    own = {(kind, name) for kind, name, _ in rows if kind == "plan"}
    editions = {key: contents for key, contents in editions.items() if key not in own}
    for kind, name, content in rows:
        editions.setdefault((kind, name), []).append(content)
    return {key: (contents[-1], _held(contents)) for key, contents in editions.items()}


_EDITED: Mapping[str, Any] = {"board": BoardModel, "family": CoreFamily, "reader": Reader, "recipe": Recipe}


def _held(contents: Iterable[Any]) -> OwnEntry:
    return OwnEntry(tuple(print_of(content) for content in contents))


def _reading_id(content: Mapping[str, Any]) -> str:
    """What makes two readings one: the same card, point and figure, whoever noted it."""
    return str(uuid5(NAMESPACE_URL, json.dumps([content[name] for name in KNOWN], ensure_ascii=False)))


def write_pack(shop: str) -> bytes:
    """The library as a pack; `shop` is said as where it comes from."""
    entries = [PackEntry(kind, name, content) for (kind, name), (content, _) in library().items()]
    order = list(KINDS)
    entries.sort(key=lambda entry: (order.index(entry.kind), entry.id))
    return json.dumps(pack_document(entries, shop), ensure_ascii=False, indent=1).encode()


def compared(data: bytes, chosen: Mapping[Key, Choice] | None = None) -> list[Change]:
    """What reading a pack would change, entry by entry. Raises Refusal where it is none."""
    here = library()
    entries = [_by_what_it_says(entry) for entry in read_pack(data)]
    states = {entry.key: _state(entry, here) for entry in entries}
    choices = choices_of(states, chosen or {}, states)
    return [Change(entry, states[entry.key], choices[entry.key]) for entry in entries]


def _state(entry: PackEntry, here: Found) -> State:
    """What an entry is to this library; a reading that is here is the same, whoever else noted it."""
    if entry.key not in here:
        return "new"
    return "same" if entry.kind == "known" else state_of(entry, here[entry.key][1])


def _by_what_it_says(entry: PackEntry) -> PackEntry:
    """A reading goes by what it says, whatever it is called in the pack: noted twice it is one."""
    whole = entry.kind == "known" and isinstance(entry.content, Mapping) and not set(KNOWN) - set(entry.content)
    return replace(entry, id=_reading_id(entry.content)) if whole else entry


@transaction.atomic
def take_in(data: bytes, chosen: Mapping[Key, Choice], by: User) -> list[Change]:
    """Take a pack in by the choices made, else the usual ones; all of it or nothing.

    Raises Refusal naming the entry that does not fit.
    """
    here = library()
    changes = compared(data, chosen)
    for change in changes:
        entry = change.entry
        if change.choice == "keep" or change.state in {"same", "known"}:
            continue
        try:
            _put(entry, by)
            if change.choice == "both" and change.state == "differs" and entry.kind not in _BESIDE:
                # kept as an edition of its own; what was in use here goes on
                _put(PackEntry(entry.kind, entry.id, here[entry.key][0]), by)
        except Refusal as refusal:
            raise refusal.of(f"{KINDS[entry.kind]} {entry.id}") from None
    return changes


# Kinds without editions: what differs stands beside under the name of where it came from.
_BESIDE = frozenset({"package", "known", "practice"})


def _put(entry: PackEntry, by: User) -> None:
    _PUTS[entry.kind](entry, by)


def _text(entry: PackEntry) -> bytes:
    text = entry.content if isinstance(entry.content, str) else json.dumps(entry.content, ensure_ascii=False, indent=1)
    return text.encode()


def _put_package(entry: PackEntry, by: User) -> None:
    name = entry.id
    if Package.objects.filter(name=name).exists():
        name = f"{entry.id} ({entry.origin or gettext('another shop')})"[:80]
    import_package(_text(entry), name, by)


def _put_sheet(entry: PackEntry, by: User) -> None:
    slug, _, kind = entry.id.rpartition("/")
    model, _ = BoardModel.objects.get_or_create(slug=slug, defaults={"name": slug})
    newest = model.sheets.filter(kind=kind).order_by("-number").first()
    save_sheet(model, kind, entry.content, newest.number if newest else 0, by)


def _put_pinout(entry: PackEntry, by: User) -> None:
    newest = PinoutEdition.objects.filter(key=entry.id).order_by("-number").first()
    save_pinout(entry.content, newest.number if newest else 0, "", by)


def _put_practice(entry: PackEntry, by: User) -> None:
    card = file_card(entry.content)
    if PracticeFile.objects.filter(name=entry.id).exists():
        card = replace(card, name=f"{entry.id} ({entry.origin or gettext('another shop')})"[:80])
    save_file(card, by)


def _put_known(entry: PackEntry, by: User) -> None:
    content = entry.content
    if not isinstance(content, Mapping) or set(KNOWN) - set(content):
        raise Refusal(
            "content", gettext("a reading that lacks something"), gettext("all of {known}", known=", ".join(KNOWN))
        )
    key = UUID(_reading_id(content))
    if KnownReading.objects.filter(entry=key).exists():
        return
    source = f"{content.get('source', '')}, {entry.origin or gettext('another shop')}"[:200]
    fields = {name: content[name] for name in KNOWN}
    KnownReading.objects.create(entry=key, source=source, added_by=by, **fields)


_PUTS: Mapping[str, Put] = {
    "board": lambda entry, by: import_board(
        _text(entry), entry.id, by, gettext("From {origin}", origin=entry.origin or gettext("another shop"))
    ),
    "family": lambda entry, by: import_family(_text(entry), entry.id, by),
    "reader": lambda entry, by: import_reader(_text(entry), entry.id, by),
    "recipe": lambda entry, by: import_recipe(_text(entry), entry.id, by),
    "plan": lambda entry, by: save_plan(entry.content, by),
    "package": _put_package,
    "sheet": _put_sheet,
    "pinout": _put_pinout,
    "known": _put_known,
    "practice": _put_practice,
}
