"""Two cards of one model read in turn, no library needed (docs/trade §3.20).

Each thing read on both is compared: good cards of one model differ by a usual spread, what lies farther apart differs.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from uvrix.core.readings.limits import RESOLVES, USUAL_SPREAD
from uvrix.core.readings.notation import Quantity, shown
from uvrix.core.readings.points import Places
from uvrix.core.readings.reading_file import Reading
from uvrix.core.readings.sweeps import thing_of
from uvrix.language import gettext

Word = Literal["alike", "higher", "lower", "open", "over", "one"]
# Two cards differ by the root of two spreads; what lies beyond 99 % of that differs.
FAR = 2.58 * math.sqrt(2)
# Junctions differ less than resistances, by this part of their spread.
JUNCTION = 0.35


@dataclass(frozen=True, slots=True)
class Beside:
    """A thing read on either card. `word` is how this card reads against the other (`one`: only one was read).

    `apart` orders them: how many times what two good cards differ by; infinite where one is open.
    """

    mine: Reading | None
    other: Reading | None
    word: Word
    apart: float
    says: str

    @property
    def point(self) -> str:
        """Where."""
        has = self.mine or self.other
        assert has
        return has.point


def beside(
    mine: Sequence[Reading], other: Sequence[Reading], places: Places, spread: float = USUAL_SPREAD
) -> tuple[Beside, ...]:
    """Every thing of two cards, what differs most first, then what only one card was read for, then what is alike.

    A later reading of a thing counts. `spread` is how far good cards usually lie apart, as a share.
    """
    first, second = _last(mine, places), _last(other, places)
    found = [_compared(first.get(key), second.get(key), spread) for key in dict.fromkeys([*first, *second])]
    return tuple(
        sorted(found, key=lambda comparison: (comparison.word == "alike", comparison.word == "one", -comparison.apart))
    )


def _last(readings: Sequence[Reading], places: Places) -> Mapping[tuple[object, ...], Reading]:
    return {thing_of(reading, places): reading for reading in readings}


def _compared(mine: Reading | None, other: Reading | None, spread: float) -> Beside:
    if mine is None or other is None:
        has = mine or other
        assert has
        whose = gettext("Only this card") if mine else gettext("Only the other card")
        return Beside(
            mine,
            other,
            "one",
            0.0,
            gettext("{whose} was read: {shown}.", whose=whose, shown=shown(has.value, has.quantity)),
        )
    here, there = shown(mine.value, mine.quantity), shown(other.value, other.quantity)
    a, b = mine.value.middle, other.value.middle
    if a is None or b is None:
        if a is None and b is None:
            return Beside(mine, other, "alike", 0.0, gettext("Both OL."))
        word: Word = "open" if a is None else "over"
        says = (
            gettext("OL here, {there} on the other card.", there=there)
            if a is None
            else gettext("{here} here, OL on the other card.", here=here)
        )
        return Beside(mine, other, word, math.inf, says)
    apart = _apart(a, b, mine.quantity, spread)
    if apart <= 1:
        return Beside(
            mine,
            other,
            "alike",
            apart,
            gettext("Alike: {here} here, {there} on the other card.", here=here, there=there),
        )
    more = _more(a, b, mine.quantity)
    return Beside(
        mine,
        other,
        "higher" if a > b else "lower",
        apart,
        gettext("{here} here, {there} on the other card{more}.", here=here, there=there, more=more),
    )


def _apart(a: float, b: float, quantity: Quantity, spread: float) -> float:
    """How far two values lie apart, in what two good cards differ by."""
    least = RESOLVES[quantity] * math.sqrt(2)
    if quantity == "resistance":
        allowed = max(math.expm1(FAR * spread) * min(abs(a), abs(b)), 2 * least)
    else:
        allowed = max(FAR * spread * JUNCTION * max(abs(a), abs(b)), 2 * least)
    return abs(a - b) / allowed


def _more(a: float, b: float, quantity: Quantity) -> str:
    """How many times, where that says more than the two numbers."""
    low, high = sorted((abs(a), abs(b)))
    if quantity != "resistance" or low <= 0 or high / low < 1.5:
        return ""
    times = high / low
    many = f"{times:,.0f}" if times >= 10 else f"{times:.1f}"
    if abs(a) > abs(b):
        return gettext(": {many} times higher", many=many)
    return gettext(": {many} times lower", many=many)
