"""A board model while it is being made: everything that is wrong with it, and a drawing of what is right.

A draft need not be whole. What does not fit is left out of the drawing and named by its path, so that the one who
draws sees the rest all the while.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from uvrix.core.boards.document import board_unchecked
from uvrix.core.boards.edit import BLANK, SECTIONS
from uvrix.core.boards.model import Board
from uvrix.core.boards.schema import BOARD_SCHEMA
from uvrix.core.errors import Refusal
from uvrix.core.values.shape import misfits

PATH = re.compile(r"\$\.(\w+)(?:\[(\d+)\])?(.*)")
LISTS = (*SECTIONS, "photographs", "rails", "supervisors", "phases", "learned")
NEEDED = ("outline_mm", "core", "sites", "id", "name")
MOST = 60


@dataclass(frozen=True, slots=True)
class Draft:
    """`board` holds what fits, `misfits` the rest; `whole` where nothing is wrong and the model can be saved."""

    board: Board
    misfits: tuple[Refusal, ...]

    @property
    def whole(self) -> bool:
        """Whether the document is a board model as it is."""
        return not self.misfits


def draft(document: Mapping[str, Any]) -> Draft:
    """What can be drawn of a document, and what is wrong with it."""
    wrong = misfits(document, BOARD_SCHEMA)
    kept = {**BLANK, "id": "draft", "name": "Draft", **document}
    places = {key: list(range(len(kept[key]))) for key in LISTS if isinstance(kept.get(key), list)}
    for misfit in sorted(wrong, key=_entry, reverse=True):
        _leave_out(kept, places, misfit)
    found = list(wrong)
    for _ in range(MOST):
        try:
            return Draft(board_unchecked(kept), tuple(found[:MOST]))
        except Refusal as refusal:
            found.append(_as_in_the_file(refusal, places))
            _leave_out(kept, places, refusal)
    return Draft(board_unchecked({**BLANK, "id": "draft", "name": "Draft"}), tuple(found[:MOST]))


def _entry(misfit: Refusal) -> int:
    path = PATH.match(misfit.place)
    return int(path[2]) if path and path[2] else -1


def _leave_out(kept: dict[str, Any], places: dict[str, list[int]], misfit: Refusal) -> None:
    """Take what is wrong out of what is drawn: an entry of a list, the walk, or a whole section."""
    path = PATH.match(misfit.place)
    if path is None:
        return
    key, index = path[1], path[2]
    if path[3] == ".channel" and key == "sites" and "walk" in kept:
        del kept["walk"]
    elif index is not None and key in places and key in kept and int(index) < len(kept[key]):
        kept[key] = [entry for n, entry in enumerate(kept[key]) if n != int(index)]
        places[key] = [number for n, number in enumerate(places[key]) if n != int(index)]
    elif key in NEEDED:
        kept[key] = BLANK.get(key, "draft")
        places.pop(key, None)
    else:
        kept.pop(key, None)


def _as_in_the_file(misfit: Refusal, places: Mapping[str, list[int]]) -> Refusal:
    """The misfit with the index that its entry has in the document, not among those that are drawn."""
    path = PATH.match(misfit.place)
    if path is None or path[2] is None or path[1] not in places or int(path[2]) >= len(places[path[1]]):
        return misfit
    place = f"$.{path[1]}[{places[path[1]][int(path[2])]}]{path[3]}"
    return Refusal(place, misfit.found, misfit.expected, misfit.source)
