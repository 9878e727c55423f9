"""The morning check of a meter (docs/trade §3.18): its leads held together, a reference resistor, the known-good card.

So a bad lead is found before it is found on a customer's board.
"""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from uvrix.core.readings.limits import (
    CONTRADICT,
    CONTRADICT_SHARE,
    ENOUGH_CHECKS,
    LEADS_RISE_OHMS,
    MOST_LEADS_OHMS,
    RESOLVES,
)
from uvrix.core.readings.notation import Value, shown, shown_number
from uvrix.core.values.edges import over, under
from uvrix.language import gettext

Kind = Literal["leads", "resistor", "card"]
KINDS: tuple[Kind, ...] = ("leads", "resistor", "card")


@dataclass(frozen=True, slots=True)
class Checked:
    """Whether a check is passed, and the sentence with the numbers."""

    passed: bool
    says: str


def check_leads(read: Value, past: Sequence[float]) -> Checked:
    """The leads held together, against what a lead may have and what this meter's leads usually read (ohms)."""
    ohms = read.middle
    if ohms is None:
        return Checked(False, gettext("OL with the leads held together: a lead is broken, or not plugged in."))
    said = shown(read, "resistance")
    if read.span:
        return Checked(
            False,
            gettext("{said} with the leads held together: a loose plug or a cracked lead jumps like that.", said=said),
        )
    if ohms > MOST_LEADS_OHMS:
        most = shown_number(MOST_LEADS_OHMS, "resistance")
        return Checked(
            False,
            gettext(
                "{said} with the leads held together, expected at most {most}: worn, dirty or loose.",
                said=said,
                most=most,
            ),
        )
    usual = statistics.median(past) if len(past) >= ENOUGH_CHECKS else None
    if usual is None:
        return Checked(True, gettext("{said} with the leads held together.", said=said))
    usually = shown_number(usual, "resistance")
    if over(ohms, usual + LEADS_RISE_OHMS):
        return Checked(
            False,
            gettext(
                "{said} with the leads held together, usually {usually}: a lead is going bad.",
                said=said,
                usually=usually,
            ),
        )
    return Checked(True, gettext("{said} with the leads held together, usually {usually}.", said=said, usually=usually))


def check_resistor(read: Value, ohms: float, tolerance: float) -> Checked:
    """The reference resistor without the leads, against its value; `tolerance` is a share, the meter's own included."""
    band = max(ohms * tolerance, RESOLVES["resistance"])
    expected = gettext(
        "{shown_number} to {shown_number_2}",
        shown_number=shown_number(ohms - band, "resistance"),
        shown_number_2=shown_number(ohms + band, "resistance"),
    )
    said = shown(read, "resistance")
    if read.low is None or read.high is None:
        return Checked(
            False,
            gettext("OL across the reference resistor, expected {expected}: a lead is broken.", expected=expected),
        )
    passed = not read.span and not under(read.low, ohms - band) and not over(read.high, ohms + band)
    return Checked(
        passed, gettext("{said} across the reference resistor, expected {expected}.", said=said, expected=expected)
    )


def check_card(read: Value, known: Value, where: str) -> Checked:
    """The known-good card at one of its points, against what was captured from that very card there (ohms)."""
    said, was = shown(read, "resistance"), shown(known, "resistance")
    a, b = read.middle, known.middle
    if a is None or b is None:
        return Checked(a is b, gettext("{said} at {where}, captured as {was}.", said=said, where=where, was=was))
    allowed = max(CONTRADICT["resistance"], CONTRADICT_SHARE * max(a, b))
    return Checked(
        not read.span and not over(abs(a - b), allowed),
        gettext("{said} at {where}, captured as {was}.", said=said, where=where, was=was),
    )
