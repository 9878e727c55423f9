"""A practice card as a file: board, what is hidden, seed, and the case as it is handed over (docs/formats §19)."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from uvrix.core.boards.model import Board
from uvrix.core.boards.schema import NAME, NUMBER, TEXT, Schema, list_of, object_of, words_of
from uvrix.core.case.case_file import case_document, case_from
from uvrix.core.errors import Refusal, quoted
from uvrix.core.practice.levels import LEVELS, Level
from uvrix.core.values.shape import check_shape
from uvrix.core.values.text import decode, parse_json
from uvrix.core.virtual.bench import hidden_faults
from uvrix.core.virtual.dice import dice
from uvrix.core.virtual.faults import fault_from as memory_fault

FORMAT, VERSION = "uvrix-practice", 1
MOST_SEED, MOST_FAULTS = 2**31 - 1, 6
SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix practice card",
    "description": "A virtual card with a hidden fault: the same file answers the same steps alike everywhere.",
    **object_of(
        ["format", "version", "name", "level", "faults", "seed", "case"],
        format={"const": FORMAT},
        version={"const": VERSION},
        name=NAME,
        level=words_of(*LEVELS),
        complaint=TEXT,
        faults={**list_of(NAME), "maxItems": MOST_FAULTS},
        seed={"type": "integer", "minimum": 0, "maximum": MOST_SEED},
        good={"type": "object", "additionalProperties": list_of({**NUMBER, "minimum": 0}, 1)},
        case={"type": "object"},
    ),
}


@dataclass(frozen=True, slots=True)
class PracticeCard:
    """A virtual card: its board model, what is hidden, by which seed it answers, what was entered before it starts.

    `good` is what good cards of the model read to ground, ohms by point, when the card was made: kept with it, so that
    it reads the same wherever it is worked on. `complaint` is what its owner says, in nobody's words.
    """

    name: str
    level: Level
    board: str
    faults: tuple[str, ...]
    seed: int
    complaint: str = ""
    good: Mapping[str, tuple[float, ...]] = field(default_factory=dict)
    entries: tuple[Mapping[str, Any], ...] = ()

    def document(self) -> dict[str, Any]:
        """The card as its file holds it."""
        return {
            "format": FORMAT,
            "version": VERSION,
            "name": self.name,
            "level": self.level,
            **({"complaint": self.complaint} if self.complaint else {}),
            "faults": list(self.faults),
            "seed": self.seed,
            **({"good": {point: list(ohms) for point, ohms in self.good.items()}} if self.good else {}),
            "case": case_document(self.board, [dict(entry) for entry in self.entries]),
        }


def read_card(data: bytes) -> PracticeCard:
    """The practice card of a file. Raises Refusal naming the path; whether it fits a board `see_that_it_fits` says."""
    parse_json(data)  # refuses what no file may hold
    return card_from(json.loads(decode(data)))


def card_from(document: Any) -> PracticeCard:
    """The practice card of a document. Raises Refusal naming the path."""
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        found = document.get("format") if isinstance(document, dict) else document
        raise Refusal("$.format", quoted(found), quoted(FORMAT))
    check_shape(document, SCHEMA)
    board = document["case"].get("board")
    if not isinstance(board, str):
        raise Refusal("$.case.board", quoted(board), "the id of a board model: only a drawn board can be practised on")
    return PracticeCard(
        document["name"],
        document["level"],
        board,
        tuple(document["faults"]),
        document["seed"],
        document.get("complaint", ""),
        {point: tuple(float(value) for value in ohms) for point, ohms in document.get("good", {}).items()},
        tuple(document["case"].get("entries", ())),
    )


def see_that_it_fits(card: PracticeCard, board: Board) -> None:
    """Raise Refusal where a card is not for this board: another model, a fault of a part that it lacks, an entry."""
    if card.board != board.id:
        raise Refusal("$.case.board", quoted(card.board), quoted(board.id))
    for place, fault in enumerate(card.faults):
        try:
            for hidden in hidden_faults(board, fault):
                if hidden.kind in {"dq-line", "cells"}:
                    memory_fault(board, hidden.text, dice("lines", card.seed, hidden.text))
        except Refusal as refusal:
            raise Refusal(f"$.faults[{place}]", refusal.found, refusal.expected) from None
    try:
        case_from(card.document()["case"], board)
    except Refusal as refusal:
        raise Refusal(f"$.case{refusal.place.removeprefix('$')}", refusal.found, refusal.expected) from None
