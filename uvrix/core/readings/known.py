"""The known-good library: what good cards read, as a band on a log scale, honest about how few they are.

For each thing (model, point or rail, quantity, mode) the cards' medians are taken as logarithms; their middle is the
median, their spread the median absolute deviation, so that a wrong entry or two does not move them. The spread is drawn
towards the library's own usual spread (pooled over all things with three cards or more) by a prior worth PRIOR_CARDS
cards, and the band is the central 99 % of a Student prediction for the next good card: wide with one card, narrow with
thirty. Two leads resolve no better than RESOLVES; the band is never narrower than that.
"""

from __future__ import annotations

import math
import statistics
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

from uvrix.core.readings.limits import (
    BAND_COVERS,
    ENOUGH_CARDS,
    KNOWN_ODD_SPREADS,
    LEAST_SPREAD,
    MOST_SPREAD,
    PRIOR_CARDS,
    RESOLVES,
    USUAL_SPREAD,
)
from uvrix.core.readings.notation import Quantity
from uvrix.core.readings.points import Key, Places
from uvrix.core.readings.reading_file import Observation, Reading, key_of
from uvrix.core.values.spread import normal_spread
from uvrix.language import gettext

# The median's variance is this much more than the mean's.
MEDIAN_EXCESS = math.pi / 2
# Temperatures and what may lie below nothing are compared as they are, not by their logarithms.
TINY = 1e-6
Thing = tuple[str, Key, Quantity, str]


@dataclass(frozen=True, slots=True)
class Reference:
    """What good cards read: `ol` where they read over-limit, else the middle and the accepted band.

    `cards` are distinct, `board` is whose they are, `lent` says by what other mode or polarity they were read, `seen`
    are the cards' own medians without those of `odd`, the cards that stand out in the library itself; `by_card` has
    every card with its median, None where it read over-limit.
    """

    centre: float | None
    low: float | None
    high: float | None
    cards: int
    board: str
    lent: str
    seen: tuple[float, ...]
    odd: tuple[str, ...] = ()
    by_card: tuple[tuple[str, float | None], ...] = ()

    @property
    def ol(self) -> bool:
        """Whether good cards read over-limit here."""
        return self.centre is None


class Library:
    """Known-good observations, grouped; knows its own usual spread."""

    def __init__(self, observations: Iterable[Observation], places: Places) -> None:
        self._by_thing: dict[Thing, list[Observation]] = defaultdict(list)
        for observation in observations:
            reading = observation.reading
            self._by_thing[observation.board, key_of(reading, places), reading.quantity, reading.mode].append(
                observation
            )
        self._places = places
        self._answered: dict[object, Reference | None] = {}

    def reference(self, reading: Reading, boards: Sequence[str]) -> Reference | None:
        """What the first of the models that has any says of a reading's place; None where none has.

        Cards read in the same mode, with the same lead on ground, come before others that lend theirs; those read with
        the same meter stand alone where they are enough, else cards read with others count too.
        """
        key = key_of(reading, self._places)
        asked = (key, reading.quantity, reading.mode, reading.polarity, reading.meter, tuple(boards))
        if asked not in self._answered:
            self._answered[asked] = self._reference(key, reading, boards)
        return self._answered[asked]

    def _reference(self, key: Key, reading: Reading, boards: Sequence[str]) -> Reference | None:
        for board in boards:
            found = self._entries(board, key, reading)
            if found:
                entries, lent = found
                return _reference(entries, board, lent, reading.quantity, self.spread)
        return None

    def _entries(self, board: str, key: Key, reading: Reading) -> tuple[list[Observation], str] | None:
        modes = {
            mode: entries
            for (model, where, quantity, mode), entries in self._by_thing.items()
            if (model, where, quantity) == (board, key, reading.quantity)
        }
        own = modes.get(reading.mode, [])
        entries = own or [entry for others in modes.values() for entry in others]
        if not entries:
            return None
        lent = "" if own or not reading.mode else gettext("read in another mode")
        if reading.meter:
            same = [entry for entry in entries if entry.reading.meter in {reading.meter, ""}]
            if len({observation.card for observation in same}) >= ENOUGH_CARDS:
                entries = same
            elif len(same) < len(entries):
                lent = lent or gettext("read with another meter")
        if reading.polarity:
            alike = [entry for entry in entries if entry.reading.polarity in {reading.polarity, ""}]
            if alike:
                return alike, lent
            return entries, lent or gettext("read with the other lead on ground")
        return entries, lent

    @cached_property
    def spread(self) -> float:
        """The usual spread of good cards' logarithms, pooled over all things with cards enough."""
        away = []
        for entries in self._by_thing.values():
            logs = [math.log(value) for value in _by_card(entries).values() if value > TINY]
            if len(logs) >= ENOUGH_CARDS and min(logs) > math.log(10 * RESOLVES[entries[0].reading.quantity]):
                middle = statistics.median(logs)
                small = math.sqrt(len(logs) / (len(logs) - 1))
                away += [small * abs(log - middle) for log in logs]
        if len(away) < 3 * ENOUGH_CARDS:
            return USUAL_SPREAD
        return min(MOST_SPREAD, max(LEAST_SPREAD, normal_spread(away)))


def _by_card(entries: Iterable[Observation]) -> dict[str, float]:
    """One value a card: the median of its readings, spans by their middle; cards that read over-limit are left out."""
    values: dict[str, list[float]] = defaultdict(list)
    for entry in entries:
        middle = entry.reading.value.middle
        if middle is not None:
            values[entry.card].append(middle)
    return {card: statistics.median(found) for card, found in values.items()}


def _reference(entries: Sequence[Observation], board: str, lent: str, quantity: Quantity, usual: float) -> Reference:
    cards = {entry.card for entry in entries}
    by_card = _by_card(entries)
    every = tuple((card, by_card.get(card)) for card in sorted(cards))
    if 2 * len(by_card) <= len(cards):  # most of them read over-limit
        return Reference(None, None, None, len(cards), board, lent, (), (), every)
    values = sorted(by_card.values())
    if values[0] <= TINY:
        low, centre, high, spread = _plain(values, quantity)
        odd: tuple[str, ...] = ()
    else:
        logs = {card: math.log(value) for card, value in by_card.items()}
        middle = statistics.median(logs.values())
        spread = _spread([abs(log - middle) for log in logs.values()], usual)
        wide = _student(len(logs)) * spread * math.sqrt(1 + MEDIAN_EXCESS / len(logs))
        centre, low, high = _middle(values), math.exp(middle - wide), math.exp(middle + wide)
        odd = tuple(
            card
            for card, log in logs.items()
            if len(logs) > ENOUGH_CARDS and abs(log - middle) > KNOWN_ODD_SPREADS * spread
        )
    resolves = RESOLVES[quantity]
    seen = tuple(sorted(value for card, value in by_card.items() if card not in odd))
    return Reference(
        centre, min(low, centre - resolves), max(high, centre + resolves), len(cards), board, lent, seen, odd, every
    )


def _middle(values: Sequence[float]) -> float:
    """The median of sorted values on a log scale: exactly what was read, where one or two alike stand in the middle."""
    below, above = values[(len(values) - 1) // 2], values[len(values) // 2]
    return below if below == above else math.sqrt(below * above)


def _plain(values: Sequence[float], quantity: Quantity) -> tuple[float, float, float, float]:
    """Band of values that may be nothing or below it: by their own spread, without logarithms."""
    centre = statistics.median(values)
    spread = max(RESOLVES[quantity], normal_spread(abs(value - centre) for value in values))
    wide = _student(len(values)) * spread
    return centre - wide, centre, centre + wide, spread


def _spread(away: Sequence[float], usual: float) -> float:
    """A thing's own spread drawn towards the usual one: by that prior's worth in cards."""
    free = len(away) - 1
    own = normal_spread(away) * math.sqrt(len(away) / max(1, free)) if free else 0.0
    return math.sqrt((PRIOR_CARDS * usual**2 + free * own**2) / (PRIOR_CARDS + free))


@lru_cache(256)
def _student(cards: int) -> float:
    """The two-sided Student quantile for the next good card after so many."""
    from scipy.special import stdtrit

    return float(stdtrit(PRIOR_CARDS + cards - 1, (1 + BAND_COVERS) / 2))
