"""Phases of one rail held against each other (docs/trade §4.5): alike in frequency, alike in warmth.

At idle a controller may rest some of them, so they are compared under load. With one gone the others share its load.
"""

from __future__ import annotations

import statistics
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from uvrix.core.boards.model import Board
from uvrix.core.startup.limits import LEAST_PHASES, PHASE_FREQUENCY_SHARE, PHASE_WARMER_C
from uvrix.core.values.edges import over, under
from uvrix.language import gettext

Word = Literal["alike", "silent", "frequency", "hot", "cool", "empty", "not read"]


@dataclass(frozen=True, slots=True)
class PhaseRead:
    """What was read at a phase: kilohertz (0 where it does not switch), degrees Celsius; None where not read."""

    khz: float | None = None
    celsius: float | None = None


@dataclass(frozen=True, slots=True)
class Phase:
    """A phase of the model, what was read, the word and the sentence."""

    designator: str
    rail: str
    point: str
    amps: float | None
    read: PhaseRead
    word: Word
    says: str


@dataclass(frozen=True, slots=True)
class Share:
    """The load of a rail on the phases that are left, in amperes each, and whether that is within their rating."""

    rail: str
    each: float
    within: bool
    says: str


def compared(board: Board, read: Mapping[str, PhaseRead], empty: Collection[str]) -> tuple[Phase, ...]:
    """Every phase of a board among the others of its rail; `empty` are those that stay empty for good."""
    found = []
    for phase in board.phases:
        name, rail = phase.designator, phase.rail
        equals = [other.designator for other in board.phases if other.rail == rail and other.designator not in empty]
        mine = read.get(name, PhaseRead())
        word, says = _word(name, mine, [read.get(equal, PhaseRead()) for equal in equals])
        if name in empty:
            word, says = "empty", gettext("{name} stays empty: its layers were cut out.", name=name)
        found.append(Phase(name, rail, phase.point, phase.amps, mine, word, says))
    return tuple(found)


def _word(name: str, mine: PhaseRead, equals: Sequence[PhaseRead]) -> tuple[Word, str]:
    if mine.khz is None and mine.celsius is None:
        return "not read", gettext("{name} was not read.", name=name)
    switching = [equal.khz for equal in equals if equal.khz]
    if mine.khz == 0 and switching:
        return "silent", gettext(
            "{name} does not switch, others do: resting at idle, or dead. Compare them under load.", name=name
        )
    common = statistics.median(switching) if switching else None
    if mine.khz and common and over(abs(mine.khz - common), PHASE_FREQUENCY_SHARE * common):
        return "frequency", gettext(
            "{name} switches at {khz} kHz, the others at {common} kHz.",
            name=name,
            khz=f"{mine.khz:g}",
            common=f"{common:g}",
        )
    warm = [equal.celsius for equal in equals if equal.celsius is not None]
    if mine.celsius is not None and len(warm) >= LEAST_PHASES:
        usual = statistics.median(warm)
        if over(mine.celsius, usual + PHASE_WARMER_C):
            return "hot", gettext(
                "{name} is at {celsius} °C, its equals at {usual} °C: it is failing.",
                name=name,
                celsius=f"{mine.celsius:g}",
                usual=f"{usual:g}",
            )
        if under(mine.celsius, usual - PHASE_WARMER_C):
            return "cool", gettext(
                "{name} is at {celsius} °C, its equals at {usual} °C: it carries less.",
                name=name,
                celsius=f"{mine.celsius:g}",
                usual=f"{usual:g}",
            )
    return "alike", gettext("{name} is like its equals.", name=name)


def shares(phases: Sequence[Phase], amps: Mapping[str, float]) -> tuple[Share, ...]:
    """The load on the phases that work, by rail; `amps` is the load of each rail that is known."""
    found = []
    for rail, load in amps.items():
        mine = [phase for phase in phases if phase.rail == rail]
        working = [phase for phase in mine if phase.word not in {"empty", "silent"}]
        if not working:
            continue
        each = load / len(working)
        rated = min((phase.amps for phase in working if phase.amps is not None), default=None)
        within = rated is None or each <= rated
        gone = (
            gettext(" ({number} of {number_2} gone)", number=len(mine) - len(working), number_2=len(mine))
            if len(working) < len(mine)
            else ""
        )
        limit = gettext(", rated {rated} A", rated=f"{rated:g}") if rated is not None else ""
        says = gettext(
            "{load} A on {number} phases{gone}: {each} A each{limit}{verdict}.",
            load=f"{load:g}",
            number=len(working),
            gone=gone,
            each=f"{each:.3g}",
            limit=limit,
            verdict="" if within else gettext(", too much"),
        )
        found.append(Share(rail, each, within, says))
    return tuple(found)
