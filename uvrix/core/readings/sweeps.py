"""A sweep before against a sweep after: what changed, thing by thing (docs/trade §3.20)."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from uvrix.core.readings.notation import shown
from uvrix.core.readings.points import Places
from uvrix.core.readings.reading_file import Reading, contradict, key_of
from uvrix.core.readings.verdict import Judged
from uvrix.core.values.codes import code_words
from uvrix.language import gettext

# Conditions of a reading at one pad of a coil whose other end is lifted.
CONVERTER_PAD, RAIL_PAD = "converter pad", "rail pad"
# Conditions of a reading at a ball once its chip is lifted: on the board's empty pads, or on the chip itself.
SITE_PADS, CHIP_ALONE = "site pads", "chip alone"
PADS = frozenset({CONVERTER_PAD, RAIL_PAD, SITE_PADS, CHIP_ALONE})


@dataclass(frozen=True, slots=True)
class Change:
    """A thing read in either sweep: the last word of each, and whether they agree (None where one lacks it)."""

    before: Judged | None
    after: Judged | None
    same: bool | None
    says: str


def compare(before: Sequence[Judged], after: Sequence[Judged], places: Places) -> tuple[Change, ...]:
    """Every thing of two sweeps: what changed first, then what is missing from the later one, then the rest."""
    first, second = _last(before, places), _last(after, places)
    found = [_change(first.get(key), second.get(key)) for key in dict.fromkeys([*first, *second])]
    rank = {False: 0, None: 1, True: 2}
    return tuple(sorted(found, key=lambda change: rank[change.same]))


def _last(judged: Iterable[Judged], places: Places) -> dict[tuple[object, ...], Judged]:
    return {thing_of(judgement.reading, places): judgement for judgement in judged}


def thing_of(reading: Reading, places: Places) -> tuple[object, ...]:
    """What a reading is of: a later one of the same thing takes its place.

    A pad of a lifted coil, and a ball without its chip, are things of their own; warm or cold, with the cooler or
    without, it is the same.
    """
    pads = frozenset(word for word in reading.condition if word in PADS)
    return key_of(reading, places), reading.quantity, reading.mode, reading.polarity, pads


def _change(before: Judged | None, after: Judged | None) -> Change:
    if before is None or after is None:
        has = before or after
        assert has
        when = gettext("only before") if before else gettext("only after")
        return Change(before, after, None, gettext("{has}, read {when}.", has=_said(has), when=when))
    if not contradict(before.reading, after.reading):
        return Change(before, after, True, gettext("As before: {after}.", after=_said(after)))
    now = (
        gettext(", now {verdict}", verdict=code_words(after.verdict))
        if after.verdict != before.verdict
        else gettext(", still {verdict}", verdict=code_words(after.verdict))
    )
    return Change(
        before,
        after,
        False,
        gettext("{before} became {after}{now}.", before=_said(before), after=_said(after), now=now.replace("-", " ")),
    )


def _said(judged: Judged) -> str:
    return shown(judged.reading.value, judged.reading.quantity)
