"""Which part shorts the rails: those on more of the shorted ones first (docs/trade §3.7)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from uvrix.core.boards.model import Board, Part
from uvrix.core.readings.points import Places
from uvrix.core.readings.verdict import Judged
from uvrix.language import gettext

SHORTED = frozenset({"short", "partial-short"})
KINDS: Mapping[str, int] = {"power-stage": 0, "converter": 1}
# How much each further shorted rail, each healthy rail and each kind weighs in the chance.
FOR_SHORTED, FOR_HEALTHY, FOR_KIND = 6.0, 0.4, (1.0, 0.6, 0.3)


@dataclass(frozen=True, slots=True)
class ShortSuspect:
    """A part that may short the rails; `shorted` and `healthy` are the rails that it is on."""

    part: Part
    chance: float
    shorted: tuple[str, ...]
    healthy: tuple[str, ...]
    why: str


def rail_verdicts(judged: Iterable[Judged], places: Places) -> dict[str, str]:
    """The verdict of every rail that was read to ground."""
    found: dict[str, str] = {}
    for judgement in judged:
        key = places.key(judgement.reading.point, judgement.reading.to)
        if key[0] == "ground" and key[1] in places.rails:
            found[key[1]] = judgement.verdict
    return found


def short_suspects(board: Board, verdicts: Mapping[str, str]) -> tuple[ShortSuspect, ...]:
    """Parts on a shorted rail, likeliest first; their chances add to 1. None where no rail is shorted."""
    shorted = [rail for rail, verdict in verdicts.items() if verdict in SHORTED]
    healthy = [rail for rail, verdict in verdicts.items() if verdict == "within"]
    on = [(part, _of(part, shorted), _of(part, healthy)) for part in board.parts]
    ranked = sorted((row for row in on if row[1]), key=_rank)
    weights: list[float] = []
    for part, bad, good in ranked:
        kind = FOR_KIND[KINDS.get(part.kind, 2)]
        weight = FOR_SHORTED ** len(bad) * FOR_HEALTHY ** len(good) * kind * max(float(part.weight), 1e-6)
        weights.append(min(weight, weights[-1]) if weights else weight)  # the order stands, whatever the weights
    whole = sum(weights)
    return tuple(
        ShortSuspect(part, weight / whole, bad, good, _why(part, bad, good, shorted))
        for (part, bad, good), weight in zip(ranked, weights, strict=True)
    )


def _of(part: Part, rails: Sequence[str]) -> tuple[str, ...]:
    return tuple(rail for rail in rails if rail in part.rails)


def _rank(suspect: tuple[Part, tuple[str, ...], tuple[str, ...]]) -> tuple[int, int, int, float, str]:
    part, bad, good = suspect
    return -len(bad), len(good), KINDS.get(part.kind, 2), -float(part.weight), part.designator


def _why(part: Part, bad: Sequence[str], good: Sequence[str], shorted: Sequence[str]) -> str:
    words = gettext(
        "{kind} on {number} of {number_2} shorted rails ({bad})",
        kind=part.kind.replace("-", " ").capitalize(),
        number=len(bad),
        number_2=len(shorted),
        bad=", ".join(bad),
    )
    return gettext("{words}, also on the healthy {good}.", words=words, good=", ".join(good)) if good else f"{words}."
