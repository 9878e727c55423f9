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
from uvrix.language import gettext, ngettext

Verdict = Literal["within", "low", "high", "short", "partial-short", "open", "unsteady", "no-reference"]
NUMBERS = (
    gettext("no"),
    gettext("one"),
    gettext("two"),
    gettext("three"),
    gettext("four"),
    gettext("five"),
    gettext("six"),
    gettext("seven"),
    gettext("eight"),
    gettext("nine"),
    gettext("ten"),
    gettext("eleven"),
    gettext("twelve"),
)


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
        why = gettext(
            "{shown}; no good card of this model or a relative was read here yet.",
            shown=shown(reading.value, reading.quantity),
        )
        return Judged(reading, "no-reference", None, why)
    verdict, more = _verdict(reading, reference)
    return Judged(reading, verdict, reference, _sentence(reading, reference, verdict, more, boards[0]))


def _verdict(reading: Reading, reference: Reference) -> tuple[Verdict, str]:
    value = reading.value
    if reference.centre is None or reference.low is None or reference.high is None:
        return ("within", "") if value.ol else ("low", gettext("Good cards are open here."))
    if value.low is None or value.high is None:
        return "open", ""
    if value.span:
        return _span(value.high, reference.low)
    if _short(reading, reference.centre):
        return _shorted(reading, reference.centre, value.low < reference.low)
    if value.low < reference.low:
        # across a fuse or shunt two leads cannot tell a lower resistance from a short
        return ("within", "") if reading.to == "across" and not over(value.high, SICK_FUSE_OHMS) else ("low", "")
    return ("high", "") if value.high > reference.high else ("within", "")


def _span(high: float, least: float) -> tuple[Verdict, str]:
    if high < least:
        return "partial-short", gettext("It does not settle, and lies below good cards all the way.")
    return "unsteady", gettext("It does not settle: a capacitor charging creeps upwards, a bad joint jumps.")


def _shorted(reading: Reading, centre: float, low: bool) -> tuple[Verdict, str]:
    if reading.quantity == "resistance" and under(SHORT_SHARE * centre, TWO_LEADS_OHMS):
        more = gettext("Two leads cannot tell a short from so low a rail: use four wires, or inject and look for heat.")
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
    if reference.centre is None or reference.low is None or reference.high is None:
        said = ngettext(
            "{shown}; {many} good card reads OL.",
            "{shown}; {many} good cards read OL.",
            reference.cards,
            shown=shown(reading.value, quantity),
            many=many,
        )
    else:
        ends = sorted({shown_number(reference.seen[0], quantity), shown_number(reference.seen[-1], quantity)}, key=len)
        seen = ends[0] if len(ends) == 1 else _from_to(reference, quantity)
        band = gettext(
            "{about} to {about_2}",
            about=_about(max(reference.low, 0.0), quantity),
            about_2=_about(reference.high, quantity),
        )
        said = ngettext(
            "{shown}; {many} good card reads {seen}, accepted is {band}.",
            "{shown}; {many} good cards read {seen}, accepted is {band}.",
            reference.cards,
            shown=shown(reading.value, quantity),
            many=many,
            seen=seen,
            band=band,
        )
    words = [said, more]
    if reference.cards < ENOUGH_CARDS:
        words.append(
            ngettext(
                "Only {many} good card stands behind it: take it as a hint.",
                "Only {many} good cards stand behind it: take it as a hint.",
                reference.cards,
                many=many,
            )
        )
    if reference.board != own:
        words.append(gettext("Borrowed from the relative {board}.", board=reference.board))
    if reference.lent:
        words.append(gettext("The good cards were {lent}.", lent=reference.lent))
    if "warm" in reading.condition:
        words.append(gettext("It was read warm: a cold card may read otherwise."))
    if reference.odd:
        words.append(gettext("In the library {odd} stands out.", odd=", ".join(reference.odd)))
    return " ".join(word for word in words if word)


def _about(number: float, quantity: Quantity) -> str:
    """A band's end: three digits, more would claim too much."""
    return shown_number(float(f"{number:.3g}"), quantity)


def _from_to(reference: Reference, quantity: Quantity) -> str:
    return gettext(
        "{shown_number} to {shown_number_2}",
        shown_number=shown_number(reference.seen[0], quantity),
        shown_number_2=shown_number(reference.seen[-1], quantity),
    )
