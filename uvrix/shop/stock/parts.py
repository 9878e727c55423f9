"""Where every part is and was: of a few that are asked for, or of the whole shop.

The life of one part follows from what happened on the cards that it was on and from its own moves. A page of one part,
a move and a fit read no more than that, however large the shop; a list of everything reads everything.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from functools import cached_property
from typing import Any, cast

from django.db.models import Q, QuerySet

from uvrix.core.boards.model import Board
from uvrix.core.rework.acts import OF_THE_CARD
from uvrix.core.rework.events import original
from uvrix.core.stock.life import Happening, Life, begun, lives
from uvrix.core.stock.lots import decode
from uvrix.core.stock.settings import StockSettings as Settings
from uvrix.core.stock.settings import read_settings
from uvrix.shop.acts.models import Act
from uvrix.shop.jobs.models import Card, of_the_shop
from uvrix.shop.library.queries import model_board
from uvrix.shop.rework.models import ChipLot
from uvrix.shop.stock.models import PartEdition, StockMove, StockSettings


def stock_settings() -> Settings:
    """What the shop set last, else as usual."""
    newest = StockSettings.objects.last()
    return read_settings(newest.content) if newest else Settings()


class Stock:
    """What is known of parts as it stands, read once, when it is first asked for.

    `facts`, `lives`, `printed` and `lots` are of all parts by label; the methods are of one, and read only what
    concerns it.
    """

    def __init__(self) -> None:
        self._lives: dict[str, Life] = {}
        self._editions: dict[str, PartEdition | None] = {}
        self._printed: dict[str, str] = {}

    @cached_property
    def settings(self) -> Settings:
        """The shop's settings."""
        return stock_settings()

    @cached_property
    def facts(self) -> Mapping[str, Mapping[str, Any]]:
        """The newest facts of every part."""
        return {edition.label: edition.facts for edition in newest_editions(PartEdition.objects.all())}

    @cached_property
    def lives(self) -> Mapping[str, Life]:
        """Every part's life."""
        return lives(happenings(of_the_shop(Act.objects.all()), StockMove.objects.all()))

    @cached_property
    def printed(self) -> Mapping[str, str]:
        """The lot printed on every chip that was read."""
        return {
            row.chip: row.lot for row in of_the_shop(ChipLot.objects.order_by("chip", "-at", "-pk")).distinct("chip")
        }

    @cached_property
    def lots(self) -> dict[str, str]:
        """The lot of every chip of which one was read: decoded where a rule of the shop reads it, else as printed."""
        return {label: self._decoded(printed) for label, printed in self.printed.items()}

    def facts_of(self, label: str) -> Mapping[str, Any]:
        """The newest facts of one part; empty where nobody said what it is."""
        return self.facts_of_all([label])[0]

    def facts_of_all(self, labels: Collection[str]) -> list[Mapping[str, Any]]:
        """The newest facts of each of some parts."""
        if "facts" in self.__dict__:
            return [self.facts.get(label, {}) for label in labels]
        unread = [label for label in labels if label not in self._editions]
        if unread:
            newest = newest_editions(PartEdition.objects.filter(label__in=unread))
            self._editions |= dict.fromkeys(unread) | {edition.label: edition for edition in newest}
        return [kept.facts if (kept := self._editions[label]) else {} for label in labels]

    def edition_of(self, label: str) -> int:
        """The number of one part's newest edition; 0 where nobody said what it is."""
        if label not in self._editions:
            self._editions[label] = PartEdition.objects.filter(label=label).order_by("-number").first()
        edition = self._editions[label]
        return edition.number if edition else 0

    def printed_on(self, label: str) -> str:
        """The lot printed on one chip; empty where nobody read it."""
        if "printed" in self.__dict__:
            return self.printed.get(label, "")
        if label not in self._printed:
            row = ChipLot.objects.filter(chip=label).order_by("-at", "-pk").first()
            self._printed[label] = row.lot if row else ""
        return self._printed[label]

    def lot_of(self, label: str) -> str:
        """The lot of one chip, decoded where a rule of the shop reads it; empty where nobody read it."""
        printed = self.printed_on(label)
        return self._decoded(printed) if printed else ""

    def _decoded(self, printed: str) -> str:
        lot = decode(printed, self.settings.rules)
        return lot.key if lot else printed

    def lived(self, labels: Collection[str]) -> dict[str, Life]:
        """The lives of the parts, among those named, to which something happened."""
        if "lives" in self.__dict__:
            return {label: self.lives[label] for label in labels if label in self.lives}
        unread = [label for label in labels if label not in self._lives]
        if unread:
            self._lives |= lives_of(unread)
        return {label: self._lives[label] for label in labels if label in self._lives}

    def life(self, label: str) -> Life | None:
        """A part's life; also of one on a card of which nothing happened yet. None where nobody knows such a label."""
        if found := self.lived([label]).get(label):
            return found
        serial, _, site = label.rpartition("/")
        card = Card.objects.filter(serial=serial).select_related("model__newest").first() if serial else None
        if card is None:
            return begun(label, on_card=False) if self.facts_of(label) else None
        board = model_board(card.model)
        sited = board is None or site in _places(board)
        return begun(label, on_card=True) if sited else None

    def members(self, label: str) -> list[str]:
        """The labels of the parts that lie with a set now."""
        if self.facts_of(label).get("kind") != "set":
            return []
        joined = StockMove.objects.filter(do="joined", to=label).values_list("label", flat=True)
        found = self.lived(sorted(set(joined)))
        return [name for name, life in found.items() if life.place.kind == "set" and life.place.name == label]

    def standing_on(self, serial: str, sites: Iterable[str]) -> dict[str, str]:
        """The label of the part on each place of a card; a place whose own part went and got no other is left out."""
        came = (
            Act.objects.filter(card__serial=serial, withdrawal=None)
            .exclude(chip_in="")
            .values_list("chip_in", flat=True)
        )
        own = {site: original(serial, site) for site in sites}
        found = self.lived(sorted({*own.values(), *came}))
        there = {life.place.name: label for label, life in found.items() if life.place.kind == "card"}
        return {site: there.get(name, name) for site, name in own.items() if name in there or name not in found}


def stock() -> Stock:
    """What is known of parts; what of it is read shows when it is asked for."""
    return Stock()


def whole_stock() -> Stock:
    """Everything, read at once: for lists of all parts."""
    at = Stock()
    at.facts, at.lives, at.printed  # noqa: B018 - read here, so that no part of the list is read by itself
    return at


def newest_editions(editions: QuerySet[PartEdition]) -> QuerySet[PartEdition]:
    """The newest edition of each part among some."""
    return editions.order_by("label", "-number").distinct("label")


def lives_of(labels: Collection[str]) -> dict[str, Life]:
    """The lives of some parts alone, as `lives` of everything has them; a part of which nothing happened is left out.

    What happens to a part where it is not named (its place is reworked, its card goes through an oven) happens on a
    card that it came with or was put on.
    """
    named = Q(chip__in=labels) | Q(chip_in__in=labels) | Q(drawer__in=labels)
    cards = of_the_shop(Act.objects.order_by().filter(named)).values("card")
    if serials := {serial for label in labels if (serial := label.rpartition("/")[0])}:
        cards = cards.union(Card.objects.filter(serial__in=serials).values("pk"))
    found = lives(happenings(Act.objects.filter(card__in=cards), StockMove.objects.filter(label__in=labels)))
    return {label: found[label] for label in labels if label in found}


def happenings(acts: QuerySet[Act], moves: QuerySet[StockMove]) -> list[Happening]:
    """What happened to parts in Rework and in Stock, in the order of time; acts that were withdrawn did not."""
    done = acts.filter(withdrawal=None).values_list(
        "at", "do", "chip", "chip_in", "card__serial", "site", "pk", "drawer"
    )
    found = [
        Happening(
            at, cast("Any", do), chip, chip_in, serial if site or do in OF_THE_CARD else "", site, id=str(pk),
            drawer=drawer,
        )
        for at, do, chip, chip_in, serial, site, pk, drawer in done
    ]  # fmt: skip
    moved = moves.values_list("at", "do", "label", "to", "condition", "amount", "pk")
    found += [
        Happening(at, cast("Any", do), label, to=to, condition=condition, amount=amount, id=str(pk))
        for at, do, label, to, condition, amount, pk in moved
    ]
    return sorted(found, key=lambda happening: (happening.at, happening.id))


def _places(board: Board) -> set[str]:
    return {board.core.designator, *board.by_designator, *(part.designator for part in board.parts)}
