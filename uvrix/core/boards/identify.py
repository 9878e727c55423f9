"""Which board model is this? Suggested from what can be counted and read on the board itself (docs/trade §1.4).

A cooler's brand or a retail name does not identify a board, so neither is asked. Each clue that was noted agrees with
a model or does not; a miscount is likelier than a misprint, so each kind of clue has its own weight of evidence.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from uvrix.core.boards.model import Board
from uvrix.language import gettext

# How likely a clue is noted wrong, and how likely it agrees with a model it is not from.
SLIP = 0.08
BY_CHANCE = 0.3
PRINTED_BY_CHANCE = 0.02
# Lengths are laid beside a ruler on the bench.
LENGTH_MM = 3.0
MOST = 5


@dataclass(frozen=True, slots=True)
class Clues:
    """What was noted; None and empty where nobody looked. Counts are of footprints, fitted or not."""

    printed: str = ""
    core: str = ""
    front_sites: int | None = None
    back_sites: int | None = None
    plugs: int | None = None
    sockets: int | None = None
    length_mm: float | None = None


@dataclass(frozen=True, slots=True)
class Match:
    """A model that may be it: its chance among those known, what agrees, what does not."""

    board: Board
    chance: float
    agrees: tuple[str, ...]
    differs: tuple[str, ...]


def identify(boards: Sequence[Board], clues: Clues) -> tuple[Match, ...]:
    """The likeliest models, best first; none where nothing was noted.

    The chance is among the models known, one more counted in that none of them is: a board that fits nowhere well
    leaves all of them unlikely.
    """
    scored = [(board, *_compare(board, clues)) for board in boards]
    if not any(agrees or differs for _, _, agrees, differs in scored):
        return ()
    weights = [math.exp(score) for _, score, _, _ in scored]
    whole = sum(weights) + 1.0
    found = [
        Match(board, weight / whole, tuple(agrees), tuple(differs))
        for (board, _, agrees, differs), weight in zip(scored, weights, strict=True)
    ]
    return tuple(sorted(found, key=lambda match: (-match.chance, match.board.id))[:MOST])


def _compare(board: Board, clues: Clues) -> tuple[float, list[str], list[str]]:
    """The weight of evidence (natural log of the likelihood ratio) for this model, and the clues in words."""
    score = 0.0
    agrees: list[str] = []
    differs: list[str] = []
    for words, fits, chance in _clues(board, clues):
        score += math.log((1 - SLIP) / chance) if fits else math.log(SLIP / (1 - chance))
        (agrees if fits else differs).append(words)
    return score, agrees, differs


def _clues(board: Board, clues: Clues) -> list[tuple[str, bool, float]]:
    found: list[tuple[str, bool, float]] = []
    if clues.printed.strip():
        known = _plain(f"{board.name} {board.revision} {board.id} {board.printed}")
        fits = _plain(clues.printed) in known
        found.append(
            (
                gettext("printed “{printed}”", printed=clues.printed.strip())
                if fits
                else gettext("printed {name}", name=board.name),
                fits,
                PRINTED_BY_CHANCE,
            )
        )
    if clues.core.strip():
        own = board.family
        if own:
            found.append((gettext("core family {own}", own=own), _plain(own) == _plain(clues.core), BY_CHANCE))
    counts = {
        "memory sites on the front": (clues.front_sites, sum(site.side == "front" for site in board.sites)),
        "memory sites on the back": (clues.back_sites, sum(site.side == "back" for site in board.sites)),
        "power plugs": (clues.plugs, _marks(board, "power-plug")),
        "display sockets": (clues.sockets, _marks(board, "display-socket")),
    }
    found += [
        (f"{own} {words}", noted == own, BY_CHANCE) for words, (noted, own) in counts.items() if noted is not None
    ]
    if clues.length_mm is not None:
        left, _, right, _ = board.extents
        length = float(right - left)
        found.append(
            (gettext("{length} mm long", length=f"{length:.0f}"), abs(length - clues.length_mm) <= LENGTH_MM, BY_CHANCE)
        )
    return found


def _marks(board: Board, kind: str) -> int:
    return sum(mark.kind == kind for mark in board.landmarks)


def _plain(text: str) -> str:
    return "".join(sign for sign in text.casefold() if sign.isalnum())
