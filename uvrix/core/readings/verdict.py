"""What a reading says against good cards (docs/trade §3.5), in a word and in a sentence with the numbers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from uvrix.core.readings.known import Library, Reference
from uvrix.core.readings.limits import ENOUGH_CARDS, SHORT_SHARE, SHORT_UNDER, SICK_FUSE_OHMS, TWO_LEADS_OHMS
from uvrix.core.readings.notation import Quantity, shown, shown_number
from uvrix.core.readings.reading_file import Reading
from uvrix.core.values.edges import over, under

Verdict = Literal["within", "low", "high", "short", "partial-short", "open", "unsteady", "no-reference"]
NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


@dataclass(frozen=True, slots=True)
class Judged:
    """A reading with its verdict, the reference it was held against, and the sentence."""

    reading: Reading
    verdict: Verdict
    reference: Reference | None
    why: str


def judge(reading: Reading, library: Library, boards: Sequence[str]) -> Judged:
    """The verdict on a reading; `boards` are the model's id, then those that lend, nearest first."""
    reference = library.reference(reading, boards)
    if reference is None:
        why = f"{shown(reading.value, reading.quantity)}; no good card of this model or a relative was read here yet."
        return Judged(reading, "no-reference", None, why)
    verdict, more = _verdict(reading, reference)
    return Judged(reading, verdict, reference, _sentence(reading, reference, verdict, more, boards[0]))


def _verdict(reading: Reading, reference: Reference) -> tuple[Verdict, str]:
    value = reading.value
    if reference.centre is None or reference.low is None or reference.high is None:
        return ("within", "") if value.ol else ("low", "Good cards are open here.")
    if value.low is None or value.high is None:
        return "open", ""
    if value.span:
        return _span(value.high, reference.low)
    if _short(reading, reference.centre):
        return _shorted(reading, reference.centre, value.low < reference.low)
    if value.low < reference.low:
        # across a fuse or shunt two leads tell no less from about nothing
        return ("within", "") if reading.to == "across" and not over(value.high, SICK_FUSE_OHMS) else ("low", "")
    return ("high", "") if value.high > reference.high else ("within", "")


def _span(high: float, least: float) -> tuple[Verdict, str]:
    if high < least:
        return "partial-short", "It does not settle, and lies below good cards all the way."
    return "unsteady", "It does not settle: a capacitor charging creeps upwards, a bad joint jumps."


def _shorted(reading: Reading, centre: float, low: bool) -> tuple[Verdict, str]:
    if reading.quantity == "resistance" and under(SHORT_SHARE * centre, TWO_LEADS_OHMS):
        more = "Two leads cannot tell a short from so low a rail: use four wires, or inject and look for heat."
        return ("low" if low else "within"), more
    return "short", ""


def _short(reading: Reading, centre: float) -> bool:
    below = SHORT_UNDER.get(reading.quantity)
    value = reading.value.low
    if below is None or value is None or reading.to == "across":
        return False
    return under(value, SHORT_SHARE * centre) and value < below


def _sentence(reading: Reading, reference: Reference, verdict: Verdict, more: str, own: str) -> str:
    quantity = reading.quantity
    many = NUMBERS[reference.cards] if reference.cards < len(NUMBERS) else str(reference.cards)
    cards = f"{many} good {'card' if reference.cards == 1 else 'cards'}"
    read = "read" if reference.cards != 1 else "reads"
    if reference.centre is None or reference.low is None or reference.high is None:
        said = f"{shown(reading.value, quantity)}; {cards} {read} OL."
    else:
        ends = sorted({shown_number(reference.seen[0], quantity), shown_number(reference.seen[-1], quantity)}, key=len)
        seen = ends[0] if len(ends) == 1 else _from_to(reference, quantity)
        band = f"{_about(max(reference.low, 0.0), quantity)} to {_about(reference.high, quantity)}"
        said = f"{shown(reading.value, quantity)}; {cards} {read} {seen}, accepted is {band}."
    words = [said, more]
    if reference.cards < ENOUGH_CARDS:
        words.append(f"Only {cards} {'stands' if reference.cards == 1 else 'stand'} behind it: take it as a hint.")
    if reference.board != own:
        words.append(f"Borrowed from the relative {reference.board}.")
    if reference.lent:
        words.append(f"The good cards were {reference.lent}.")
    if "warm" in reading.condition:
        words.append("It was read warm: a cold card may read otherwise.")
    if reference.odd:
        words.append(f"In the library itself {', '.join(reference.odd)} stands out.")
    return " ".join(word for word in words if word)


def _about(number: float, quantity: Quantity) -> str:
    """A band's end: three digits, more would claim too much."""
    return shown_number(float(f"{number:.3g}"), quantity)


def _from_to(reference: Reference, quantity: Quantity) -> str:
    return f"{shown_number(reference.seen[0], quantity)} to {shown_number(reference.seen[-1], quantity)}"
