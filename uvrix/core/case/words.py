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
from uvrix.core.values.codes import code_words
from uvrix.language import gettext

POWER = {
    "off": gettext("Switched off, discharged"),
    "supply": gettext("On the bench supply"),
    "computer": gettext("In the test computer"),
}


def entry_words(entry: Entry) -> str:
    """The entry in one sentence, without its end."""
    said = WORDS[type(entry.what)](entry.what)
    return f"{said[0].upper()}{said[1:]}"


def _measured(measured: Measured) -> str:
    reading = measured.reading
    if "/" in reading.point:
        where = gettext("between {} and {}").format(*reading.point.split("/"))
        where += gettext(", at the pins of {pins}", pins=measured.pins) if measured.pins else ""
    else:
        where = (
            gettext("{point} across itself", point=reading.point)
            if reading.to == "across"
            else gettext("{point} to ground", point=reading.point)
        )
    mode = gettext(", diode mode") if reading.quantity == "diode" else ""
    return f"{where}: {shown(reading.value, reading.quantity)}{mode}"


def _seen(seen: Seen) -> str:
    where = seen.part or gettext(
        "{side}, {x_mm} mm across and {y_mm} mm up",
        side=code_words(seen.side),
        x_mm=f"{seen.x_mm:.0f}",
        y_mm=f"{seen.y_mm:.0f}",
    )
    return f"{SEEN[seen.kind]}: {where}"


def _glow(glow: Glow) -> str:
    return (
        gettext(
            "warm at {x_mm}, {y_mm} mm, {side}",
            x_mm=f"{glow.x_mm:.0f}",
            y_mm=f"{glow.y_mm:.0f}",
            side=code_words(glow.side),
        )
        if glow.warm
        else gettext("nothing warmed")
    )


def _run(run: Run) -> str:
    meta = run.report.meta
    condition = ", ".join(meta.condition) or gettext("no condition given")
    if run.refused:
        return gettext(
            "memory run, {condition}: refused ({refusal})",
            condition=condition,
            refusal=meta.refusal or gettext("no reason given"),
        )
    result = (
        gettext("clean")
        if run.clean
        else gettext("{errors} errors", errors=run.report.errors)
        if run.report.errors
        else gettext("failed")
    )
    return gettext("memory run, {condition}: {result}", condition=condition, result=result)


def _trial(trial: Trial) -> str:
    how = f" ({trial.how_often})" if trial.how_often else ""
    if trial.shows:
        return gettext("with another {changed} the fault shows{how}", changed=code_words(trial.changed), how=how)
    return gettext("with another {changed} the fault is gone{how}", changed=code_words(trial.changed), how=how)


def _looked(looked: Looked) -> str:
    where = gettext("all of it") if looked.target == "all" else looked.target
    return gettext("looked at {where}: nothing wrong", where=where)


WORDS: Mapping[type, Callable[[Any], str]] = {
    Symptom: lambda said: gettext("symptom: {kinds}", kinds=", ".join(SYMPTOMS[kind] for kind in said.kinds)),
    Trial: _trial,
    Looked: _looked,
    LotRead: lambda said: gettext("{site} is of lot {lot}", site=said.site, lot=said.lot),
    Answered: lambda said: (
        gettext("mark confirmed on {answer}", answer=said.answer)
        if said.do == "mark"
        else gettext("answered: {answer}", answer=said.answer)
    ),
    Seen: _seen,
    Measured: _measured,
    Ticked: lambda said: gettext("fuse {fuse} looked at and whole", fuse=said.fuse),
    Injected: lambda said: gettext(
        "injected into {point}: {volts} V, {amps} A", point=said.point, volts=f"{said.volts:g}", amps=f"{said.amps:g}"
    ),
    Glow: _glow,
    Powered: lambda said: POWER[said.state],
    Drawn: lambda said: gettext("drew {amps} A at {volts} V", amps=f"{said.amps:g}", volts=f"{said.volts:g}"),
    Climbed: lambda said: gettext("it comes to: {rung}", rung=RUNGS[said.rung]),
    Run: _run,
    Surveyed: lambda said: gettext("pads of {site}: {verdict}", site=said.site, verdict=code_words(said.verdict)),
    Checked: lambda said: (
        gettext("proof, {check}: passed", check=said.check)
        if said.passed
        else gettext("proof, {check}: failed", check=said.check)
    ),
    Did: lambda said: said.says,
}
