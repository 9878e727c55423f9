"""An entry of a case as a technician would say it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from uvrix.core.arrive.symptoms import KINDS as SYMPTOMS
from uvrix.core.case.entries import (
    Answered,
    Checked,
    Climbed,
    Did,
    Drawn,
    Entry,
    Glow,
    Injected,
    Looked,
    LotRead,
    Measured,
    Powered,
    Run,
    Seen,
    Surveyed,
    Symptom,
    Ticked,
    Trial,
)
from uvrix.core.look.findings import KINDS as SEEN
from uvrix.core.readings.notation import shown
from uvrix.core.startup.ladder import WORDS as RUNGS

POWER = {"off": "Switched off, discharged", "supply": "On the bench supply", "computer": "In the test computer"}


def entry_words(entry: Entry) -> str:
    """The entry in one sentence, without its end."""
    said = WORDS[type(entry.what)](entry.what)
    return f"{said[0].upper()}{said[1:]}"


def _measured(one: Measured) -> str:
    reading = one.reading
    if "/" in reading.point:
        where = "between {} and {}".format(*reading.point.split("/"))
        where += f", at the pins of {one.pins}" if one.pins else ""
    else:
        where = f"{reading.point} {'across itself' if reading.to == 'across' else 'to ground'}"
    mode = ", diode mode" if reading.quantity == "diode" else ""
    return f"{where}: {shown(reading.value, reading.quantity)}{mode}"


def _seen(one: Seen) -> str:
    where = one.part or f"{one.side}, {one.x_mm:.0f} mm across and {one.y_mm:.0f} mm up"
    return f"{SEEN[one.kind]}: {where}"


def _glow(one: Glow) -> str:
    return f"warm at {one.x_mm:.0f}, {one.y_mm:.0f} mm, {one.side}" if one.warm else "nothing warmed"


def _run(one: Run) -> str:
    meta = one.report.meta
    condition = ", ".join(meta.condition) or "no condition given"
    if one.refused:
        return f"memory run, {condition}: refused ({meta.refusal or 'no reason given'})"
    result = "clean" if one.clean else f"{one.report.errors} errors" if one.report.errors else "failed"
    return f"memory run, {condition}: {result}"


def _trial(one: Trial) -> str:
    how = f" ({one.how_often})" if one.how_often else ""
    return f"with another {one.changed} the fault {'shows' if one.shows else 'is gone'}{how}"


def _looked(one: Looked) -> str:
    where = "all of it" if one.target == "all" else one.target
    return f"looked at {where}: nothing wrong"


WORDS: Mapping[type, Callable[[Any], str]] = {
    Symptom: lambda one: "symptom: " + ", ".join(SYMPTOMS[kind] for kind in one.kinds),
    Trial: _trial,
    Looked: _looked,
    LotRead: lambda one: f"{one.site} is of lot {one.lot}",
    Answered: lambda one: f"mark confirmed on {one.answer}" if one.do == "mark" else f"answered: {one.answer}",
    Seen: _seen,
    Measured: _measured,
    Ticked: lambda one: f"fuse {one.fuse} looked at and whole",
    Injected: lambda one: f"injected into {one.point}: {one.volts:g} V, {one.amps:g} A",
    Glow: _glow,
    Powered: lambda one: POWER[one.state],
    Drawn: lambda one: f"drew {one.amps:g} A at {one.volts:g} V",
    Climbed: lambda one: f"it comes to: {RUNGS[one.rung]}",
    Run: _run,
    Surveyed: lambda one: f"pads of {one.site}: {one.verdict}",
    Checked: lambda one: f"proof, {one.check}: {'passed' if one.passed else 'failed'}",
    Did: lambda one: one.says,
}
