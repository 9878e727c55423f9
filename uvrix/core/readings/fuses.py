"""Fuses: good, sick or blown by what is read across them (domain.md §3)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from uvrix.core.readings.known import Reference
from uvrix.core.readings.limits import SICK_FUSE_OHMS
from uvrix.core.readings.notation import shown, shown_number
from uvrix.core.readings.reading_file import Reading
from uvrix.core.values.edges import over

State = Literal["good", "sick", "blown"]


@dataclass(frozen=True, slots=True)
class FuseState:
    """How a fuse is, and why."""

    state: State
    why: str


def fuse_state(reading: Reading, reference: Reference | None) -> FuseState | None:
    """How a fuse is by an ohm reading across it; None for any other reading."""
    if reading.quantity != "resistance" or reading.to != "across":
        return None
    high = reading.value.high
    if high is None:
        return FuseState("blown", "Open: blown. A symptom: clear what is behind it first, or the next one blows too.")
    limit = SICK_FUSE_OHMS
    if reference is not None and reference.high is not None:
        limit = max(limit, reference.high)
    said = shown(reading.value, "resistance")
    if over(high, limit):
        why = (
            f"{said} across, more than {shown_number(limit, 'resistance')}: a sick fuse passes the beeper and drops "
            "voltage as the current grows; millivolts across it under load prove it."
        )
        return FuseState("sick", why)
    return FuseState("good", f"{said} across, about nothing.")
