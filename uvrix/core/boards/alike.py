"""How alike two boards are, by what can be counted on both: chips round the core, plugs, phases."""

from __future__ import annotations

from dataclasses import dataclass

from uvrix.core.boards.model import Board
from uvrix.language import gettext


@dataclass(frozen=True, slots=True)
class Count:
    """How many of a thing each of two boards has."""

    name: str
    here: int
    there: int


def counts(board: Board, other: Board) -> tuple[Count, ...]:
    """Chips fitted, power plugs, phases: here and on the other board; what neither has is left out."""
    found = (
        Count("chips", _chips(board), _chips(other)),
        Count("plugs", _plugs(board), _plugs(other)),
        Count("phases", _phases(board), _phases(other)),
    )
    return tuple(count for count in found if count.here or count.there)


def alike_words(board: Board, other: Board) -> str:
    """The comparison in one clause: "8 chips on both, 2 plugs where it has 1"."""
    said = [
        gettext("{here} {name} on both", here=count.here, name=count.name)
        if count.here == count.there
        else gettext("{here} {name} where it has {there}", here=count.here, name=count.name, there=count.there)
        for count in counts(board, other)
    ]
    return ", ".join(said)


def _chips(board: Board) -> int:
    return sum(site.fitted for site in board.sites)


def _plugs(board: Board) -> int:
    return sum(mark.kind == "power-plug" for mark in board.landmarks)


def _phases(board: Board) -> int:
    return len(board.phases)
