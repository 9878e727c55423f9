"""Lift and measure again: whether the odd value stays with the board or leaves with the chip (docs/trade §3.15).

Lifting parts what lay parallel: the board's side (core, trace) reads on the empty pads, the chip on its own balls. What
is odd on the pads stays with the board; where the pads read like their fellows the value left with the chip, and the
chip's own ball tells the chip from its joint. Without fellows the pads are held against what was read before lifting.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from uvrix.core.readings.balls import BallJudged
from uvrix.core.readings.limits import LIFTED_BACK_SHARE
from uvrix.core.readings.notation import shown, shown_number
from uvrix.core.readings.peers import alike
from uvrix.core.values.edges import over
from uvrix.language import gettext

Answer = Literal["lift", "board", "left", "chip", "joint", "unclear"]
ANSWERS: tuple[Answer, ...] = ("lift", "board", "left", "chip", "joint", "unclear")
# In words, as a screen or a report says them.
WORDS: dict[Answer, str] = {
    "lift": gettext("lift and measure again"),
    "board": gettext("stays with the board"),
    "left": gettext("left with the chip"),
    "chip": gettext("the chip"),
    "joint": gettext("its joint"),
    "unclear": "unclear",
}


@dataclass(frozen=True, slots=True)
class Lifted:
    """What became of an odd value; `says` why, and what to do or measure next."""

    chip: str
    pin: str
    answer: Answer
    says: str


def after_lifting(odd: BallJudged, pads: BallJudged | None, alone: BallJudged | None) -> Lifted:
    """Where the odd value of a ball in circuit belongs, by its pad and by the lifted chip's own ball."""
    chip, pin = odd.chip, odd.pin
    if pads is None:
        says = gettext(
            "Lift {chip}, measure {pin} on the empty pads, and some data lines beside it.", chip=chip, pin=pin
        )
        return Lifted(chip, pin, "lift", says)
    answer, why = _by_fellows(pads) if pads.among else _by_before(odd, pads)
    if answer == "unclear":
        return Lifted(
            chip, pin, "unclear", gettext("{why} Measure more data lines on the pads of {chip}.", why=why, chip=chip)
        )
    if answer == "board":
        says = gettext(
            "{why} The odd value stays with the board: trace, core or the core's joint. {chip} may go back.",
            why=why,
            chip=chip,
        )
        return Lifted(chip, pin, "board", says)
    return Lifted(chip, pin, *_chip_or_joint(odd, alone, why))


def _chip_or_joint(odd: BallJudged, alone: BallJudged | None, why: str) -> tuple[Answer, str]:
    """The value left with the chip: its own ball tells the chip from its joint."""
    chip, pin = odd.chip, odd.pin
    if alone is None:
        says = gettext(
            "The odd value left with {chip}: measure {pin} on the chip itself, it tells the chip from its joint.",
            chip=chip,
            pin=pin,
        )
        return "left", f"{why} {says}"
    if not alone.among:
        return "left", gettext(
            "{why} The odd value left with {chip}. On the chip alone: {why_2}", why=why, chip=chip, why_2=alone.why
        )
    if alone.odd:
        return "chip", gettext(
            "{why} On the chip alone: {why_2} {chip} is bad: replace it.", why=why, why_2=alone.why, chip=chip
        )
    says = gettext(
        "The chip alone is like its fellows: {why} It was the joint: reball the same chip, test again.", why=alone.why
    )
    return "joint", f"{why} {says}"


def _by_fellows(pads: BallJudged) -> tuple[Answer, str]:
    return ("board" if pads.odd else "left"), gettext("On the pads: {why}", why=pads.why)


def _by_before(odd: BallJudged, pads: BallJudged) -> tuple[Answer, str]:
    """Without fellows: an open board side is open; a low one stays low; what was high had no chip beside it."""
    quantity = pads.reading.quantity
    before, now, usual = odd.reading.value.middle, pads.reading.value.middle, odd.usual
    was, now_is = shown(odd.reading.value, quantity), shown(pads.reading.value, quantity)
    if now is None:
        return "board", gettext("The pad is open with the chip off, where {was} was read with it.", was=was)
    if before is None:
        return "left", gettext("The pad reads {now_is} with the chip off, where it was OL with it.", now_is=now_is)
    if usual is None or alike(before, usual, quantity):
        return "unclear", gettext("The pad reads {now_is}, {was} before.", now_is=now_is, was=was)
    if before > usual:
        says = gettext(
            "The pad reads {now_is} with the chip off, about the {was} of before: the chip took no part in it.",
            now_is=now_is,
            was=was,
        )
        return ("left", says) if now >= before or alike(now, before, quantity) else ("unclear", says)
    if alike(now, before, quantity):
        return "board", gettext("The pad still reads {now_is} with the chip off.", now_is=now_is)
    back = (now - before) / (usual - before)
    says = gettext(
        "The pad reads {now_is} with the chip off, {was} with it; the others read {shown_number}.",
        now_is=now_is,
        was=was,
        shown_number=shown_number(usual, quantity),
    )
    return ("left", says) if over(back, LIFTED_BACK_SHARE) else ("unclear", says)
