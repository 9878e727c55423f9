"""What every card has in common, for a board that nobody has drawn: its inputs, and what is a short on any board.

Only orders of magnitude are said, never a band of good cards: a 12 V input is kilohms (domain.md §3), and one under a
hundred ohms is not powered.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from uvrix.core.readings.limits import LEAST_INPUT_OHMS
from uvrix.core.readings.notation import shown
from uvrix.core.readings.reading_file import Reading
from uvrix.core.readings.verdict import Judged

# Under this an input is short whatever the board; between it and the guard it is low.
SHORT_INPUT_OHMS = 10.0


@dataclass(frozen=True, slots=True)
class GenericInput:
    """An input that every card has, or may have."""

    id: str
    name: str
    always: bool
    pattern: str

    def means(self, name: str) -> bool:
        """Whether a point's name means this input."""
        return bool(re.fullmatch(self.pattern, "".join(name.casefold().split()).replace("-", "").replace("_", "")))


SLOT_12 = r"(slot|edge|pcie)?(in)?12(v|vs|s|v0)?(slot|edge)?|a[23]|b[123]"
SLOT_3V3 = r"(slot|edge|pcie)?(in)?3[.v]?3v?(slot|edge)?|b8|a9|a10"
PLUG = r"(pl|plug|j|con|pwr|power)\w*|in12[abcd]"
INPUTS: tuple[GenericInput, ...] = (
    GenericInput("slot 12 V", "Slot 12 V", always=True, pattern=SLOT_12),
    GenericInput("slot 3.3 V", "Slot 3.3 V", always=True, pattern=SLOT_3V3),
    GenericInput("plug 1", "Each plug's 12 V", always=False, pattern=PLUG),
)


def input_meant(name: str) -> GenericInput | None:
    """The input that a point's name means; None where it means none."""
    return next((one for one in INPUTS if one.means(name)), None)


def judge_undrawn(reading: Reading) -> Judged:
    """The verdict on a reading of a board that nobody has drawn: only what is wrong on every card is said."""
    said = shown(reading.value, reading.quantity)
    low = reading.value.low
    if reading.quantity == "resistance" and reading.to == "ground" and low is not None:
        meant = input_meant(reading.point)
        if meant and low < SHORT_INPUT_OHMS:
            return Judged(reading, "short", None, f"{said} on an input: a short, whatever the board.")
        if meant and low < LEAST_INPUT_OHMS:
            return Judged(reading, "low", None, f"{said} on an input: too low, whatever the board.")
    return Judged(reading, "no-reference", None, f"{said}; nobody has drawn this board, and no good card was read.")
