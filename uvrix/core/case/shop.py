"""What the shop knows beside a card (docs/formats §18): lots that failed, past cards, its school, the worth."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from uvrix.core.boards.schema import NAME, TEXT, Schema, list_of, object_of, words_of
from uvrix.core.planning.habits import USUAL
from uvrix.core.values.shape import check_shape
from uvrix.core.values.text import parse_json

# Named by no file: the trade's order where the odds do not say otherwise; `by-numbers`: the odds alone (shops only).
School = Literal["", "reball-first", "replace-first", "by-numbers"]
COUNT = {"type": "integer", "minimum": 0}
MONEY = {"type": ["number", "null"], "minimum": 0}
SHOP_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix shop",
    "description": "What a shop knows beside a card; every key is optional.",
    **object_of(
        ["format", "version"],
        format={"const": "uvrix-shop"},
        version={"const": 1},
        lots=list_of(object_of(["lot", "failed", "of"], lot=NAME, failed=COUNT, of=COUNT)),
        past=list_of(
            object_of(
                ["cause", "had", "of"],
                model={"type": ["string", "null"]},
                cause=TEXT,
                designators=list_of(NAME),
                symptoms=list_of(TEXT),
                had=COUNT,
                of=COUNT,
            )
        ),
        school=words_of("reball-first", "replace-first"),
        worth=object_of([], price=MONEY, hour=MONEY, spent_minutes=MONEY, card=MONEY),
    ),
}


@dataclass(frozen=True, slots=True)
class LotKnown:
    """A lot that the shop has seen: how many of its chips, and how many of those failed."""

    lot: str
    failed: int
    of: int

    @property
    def share(self) -> float:
        """The share that fails, drawn towards one in ten by two chips' worth."""
        return (self.failed + 0.2) / (self.of + 2.0)


@dataclass(frozen=True, slots=True)
class PastCause:
    """How often a cause was proven on cards of a model with these symptoms; an empty model counts for all."""

    model: str
    cause: str
    designators: tuple[str, ...]
    symptoms: frozenset[str]
    had: int
    of: int


@dataclass(frozen=True, slots=True)
class Worth:
    """What the repair brings, what an hour costs, minutes spent, what the card is worth; None where not said."""

    price: float | None = None
    hour: float | None = None
    spent_minutes: float | None = None
    card: float | None = None


@dataclass(frozen=True, slots=True)
class Watched:
    """A part that the model's watchlist names, and for what, in the shop's own words."""

    part: str
    cause: str


@dataclass(frozen=True, slots=True)
class Shop:
    """Everything that a shop knows; what it watches at a model stands in its library and not in its file.

    `shares` are how often each cause lies behind a group of findings in this shop, where it has set or learned it.
    `warranty` is `ask` for a new card with its seals whole until somebody asked, `valid` where its own still stands;
    `part_minutes` what a memory chip costs, in minutes of work.
    """

    lots: tuple[LotKnown, ...] = ()
    past: tuple[PastCause, ...] = ()
    school: School = ""
    worth: Worth = Worth()
    watched: tuple[Watched, ...] = ()
    shares: Mapping[str, Mapping[str, float]] = field(default_factory=dict)
    warranty: Literal["", "ask", "valid"] = ""
    part_minutes: float = USUAL.part_minutes

    def lot(self, name: str) -> LotKnown | None:
        """What is known of a lot; case and spaces do not make another."""
        wanted = "".join(name.casefold().split())
        return next((lot for lot in self.lots if "".join(lot.lot.casefold().split()) == wanted), None)


def read_shop(data: bytes) -> Shop:
    """The shop in a file's bytes. Raises Refusal naming the JSON path."""
    return shop_from(parse_json(data))


def shop_from(document: Any) -> Shop:
    """The shop in a parsed document. Raises Refusal."""
    check_shape(document, SHOP_SCHEMA)
    worth: Mapping[str, Any] = document.get("worth", {})
    figures = {key: None if worth.get(key) is None else float(worth[key]) for key in Worth.__slots__}
    return Shop(
        tuple(LotKnown(lot["lot"], lot["failed"], lot["of"]) for lot in document.get("lots", ())),
        tuple(
            PastCause(
                entry.get("model") or "",
                entry["cause"],
                tuple(entry.get("designators", ())),
                frozenset(entry.get("symptoms", ())),
                entry["had"],
                entry["of"],
            )
            for entry in document.get("past", ())
        ),
        document.get("school", ""),
        Worth(**figures),
    )
