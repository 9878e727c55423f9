"""Values and notes of a model's parts by designator, with where each is from, and where they disagree.

A value is written as on the bench: 10k, 4R7, 100n, 2u2, 22p, 0R001, 1u5H. Two that are further apart than the usual
tolerance of what they came from disagree; texts that are no figures disagree where they are not the same.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from uvrix.language import gettext

From = Literal["donor", "measured", "drawing", "known"]
SOURCES: dict[From, str] = {
    "donor": gettext("read off a donor"),
    "measured": gettext("measured"),
    "drawing": gettext("from a drawing of the shop's own"),
    "known": gettext("known from another job"),
}
# A measured value strays by the part's own tolerance and the meter's: these shares are still the same value.
APART = {"donor": 0.02, "measured": 0.1, "drawing": 0.02, "known": 0.05}
FACTORS = {"p": 1e-12, "n": 1e-9, "u": 1e-6, "µ": 1e-6, "μ": 1e-6, "m": 1e-3, "R": 1.0, "k": 1e3, "K": 1e3, "M": 1e6}
FIGURE = re.compile(r"(\d+)(?:[.,](\d+))?\s?([pnuµμmRkKM])?(\d*)\s?(ohm|Ω|F|H|V|A|Hz)?")


@dataclass(frozen=True, slots=True)
class Noted:
    """One value or note of a part: what was said, where it is from, who said it."""

    designator: str
    text: str
    source: From
    of: str
    by: str
    at: datetime
    id: str = ""


@dataclass(frozen=True, slots=True)
class Known:
    """What is known of a part: every value, the one to go by (the surest, then the newest), and what disagrees."""

    designator: str
    values: tuple[Noted, ...]
    best: Noted | None
    conflicts: tuple[str, ...]


def figure(text: str) -> float | None:
    """The figure that a value says, in its own unit; None where it is none: 4k7 is 4700, 2u2 is 0.0000022."""
    found = FIGURE.fullmatch(text.strip())
    if found is None:
        return None
    whole, decimals, factor, behind, _ = found.groups()
    if behind and (decimals or not factor):
        return None
    return float(f"{whole}.{decimals or behind or 0}") * FACTORS[factor or "R"]


def agree(one: Noted, other: Noted) -> bool:
    """Whether two say the same within what their sources allow."""
    first, second = figure(one.text), figure(other.text)
    if first is None or second is None:
        return " ".join(one.text.casefold().split()) == " ".join(other.text.casefold().split())
    return abs(first - second) <= max(APART[one.source], APART[other.source]) * max(first, second)


# What a donor shows goes before what was measured in circuit.
SURER: tuple[From, ...] = ("drawing", "donor", "known", "measured")


def known(designator: str, values: Iterable[Noted]) -> Known:
    """What some values of one part add up to."""
    every = tuple(sorted(values, key=lambda note: note.at))
    if not every:
        return Known(designator, (), None, ())
    best = min(reversed(every), key=lambda note: SURER.index(note.source))
    said = tuple(
        gettext("{value} against {best}", value=_noted(note), best=_noted(best))
        for note in every
        if not agree(note, best)
    )
    return Known(designator, every, best, said)


def _noted(value: Noted) -> str:
    return " ".join(word for word in (value.text, SOURCES[value.source], value.of) if word)
