"""Fuses: good, sick or blown by what is read across them and at their ends (docs/trade §3.11)."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from uvrix.core.readings.limits import (
    BLOWN_END_SHARE,
    BLOWN_FUSE_OHMS,
    LIVE_V,
    SICK_ENDS_SHARE,
    SICK_FUSE_OHMS,
    SICK_FUSE_V,
)
from uvrix.core.readings.notation import Value, shown
from uvrix.core.readings.reading_file import Reading
from uvrix.core.values.edges import over, under
from uvrix.language import gettext

State = Literal["good", "sick", "blown"]
WORST: tuple[State, ...] = ("good", "sick", "blown")


@dataclass(frozen=True, slots=True)
class FuseState:
    """How a fuse is, and why."""

    state: State
    why: str


def fuse_state(reading: Reading) -> FuseState | None:
    """How a fuse is by one reading across it: ohms, diode mode or volts; None for any other reading."""
    if reading.to != "across":
        return None
    if reading.quantity == "resistance":
        return _by_ohms(reading)
    return _by_drop(reading) if reading.quantity in {"diode", "voltage"} else None


@dataclass(frozen=True, slots=True)
class FuseFound:
    """A fuse by everything that was read at it; `unread` where nothing tells."""

    designator: str
    state: Literal["good", "sick", "blown", "unread"]
    why: str


def judge_fuse(designator: str, readings: Iterable[Reading]) -> FuseFound:
    """How a fuse is by its readings: ohms, diode mode and volts across it, and its ends `F1.1` and `F1.2` live.

    The worst of several stands (docs/trade §3.11). Readings of other things are passed over.
    """
    ends: dict[str, Value] = {}
    found: list[FuseState] = []
    for reading in readings:
        end = _end_of(designator, reading)
        if end:
            ends[end] = reading.value
        elif _is_across(designator, reading):
            found += [state for state in [fuse_state(reading)] if state]
    if len(ends) == 2 and (state := _live(ends["1"], ends["2"])):
        found.append(state)
    if not found:
        return FuseFound(
            designator, "unread", gettext("Nothing that was read tells how {designator} is.", designator=designator)
        )
    worst = max(found, key=lambda candidate: WORST.index(candidate.state))
    return FuseFound(designator, worst.state, worst.why)


def _end_of(designator: str, reading: Reading) -> str:
    """Which end of the fuse was read to ground live; empty for anything else."""
    head, dot, end = reading.point.rpartition(".")
    live = reading.quantity == "voltage" and reading.to == "ground"
    return end if dot and head == designator and end in {"1", "2"} and live else ""


def _is_across(designator: str, reading: Reading) -> bool:
    if reading.point == designator:
        return reading.to == "across"
    return set(reading.point.split("/")) == {f"{designator}.1", f"{designator}.2"}


def _by_ohms(reading: Reading) -> FuseState:
    high, said = reading.value.high, shown(reading.value, "resistance")
    if high is None or not under(high, BLOWN_FUSE_OHMS):
        what = gettext("Open") if high is None else gettext("{said} across", said=said)
        return FuseState(
            "blown",
            gettext("{what}: blown. A symptom: clear what is behind it first, or the next one blows.", what=what),
        )
    if over(high, SICK_FUSE_OHMS):
        why = gettext(
            "a sick fuse passes the beeper and drops voltage as the current grows; millivolts under load prove it."
        )
        return FuseState(
            "sick",
            gettext(
                "{said} across, more than two leads add ({sick_fuse_ohms} Ω): {why}",
                said=said,
                sick_fuse_ohms=f"{SICK_FUSE_OHMS:g}",
                why=why,
            ),
        )
    two = gettext("two leads cannot tell a good one from one of 0.2 Ω, millivolts across it under load can")
    return FuseState("good", gettext("{said} across, about nothing; {two}.", said=said, two=two))


def _by_drop(reading: Reading) -> FuseState | None:
    low, high, said = reading.value.low, reading.value.high, shown(reading.value, reading.quantity)
    cold = reading.quantity == "diode"
    if low is None or high is None:
        return (
            FuseState("blown", gettext("Open in diode mode: blown. Clear what is behind it first.")) if cold else None
        )
    how = gettext("in diode mode") if cold else gettext("under load")
    if over(max(abs(high), abs(low)), SICK_FUSE_V):
        return FuseState(
            "sick",
            gettext(
                "{said} across it {how}, more than {sick_fuse_v} mV: a sick fuse.",
                said=said,
                how=how,
                sick_fuse_v=f"{1000 * SICK_FUSE_V:.0f}",
            ),
        )
    return FuseState("good", gettext("{said} across it {how}, about nothing.", said=said, how=how))


def _live(one: Value, other: Value) -> FuseState | None:
    if one.middle is None or other.middle is None:
        return None
    high, low = max(abs(one.middle), abs(other.middle)), min(abs(one.middle), abs(other.middle))
    said = gettext(
        "{shown} at one end, {shown_2} at the other", shown=shown(one, "voltage"), shown_2=shown(other, "voltage")
    )
    if high < LIVE_V:
        return None
    if under(low, BLOWN_END_SHARE * high):
        return FuseState(
            "blown", gettext("{said}: blown. Clear what is behind it first, or the next one blows too.", said=said)
        )
    if over(high - low, SICK_ENDS_SHARE * high) and over(high - low, SICK_FUSE_V):
        return FuseState("sick", gettext("{said}: it drops more than a fuse may.", said=said))
    return FuseState("good", gettext("{said}: alike.", said=said))
