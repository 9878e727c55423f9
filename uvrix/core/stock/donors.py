"""Donors: accepted by inspection, tested in place, and matched half by half (docs/trade §6.9)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from uvrix.core.rework.acts import HEATS
from uvrix.core.values.words import times
from uvrix.language import gettext

Half = Literal["good", "dead", "unknown"]
HALVES: tuple[Half, ...] = ("good", "dead", "unknown")
# What an inspection answers before a donor is accepted; a no speaks against it.
QUESTIONS: Mapping[str, str] = {
    "straight": gettext("The board is straight and not cracked"),
    "clean": gettext("No corrosion, no burn through its layers"),
    "unheated": gettext("No sign of an oven or of burnt solder mask"),
    "complete": gettext("Every part is on it, or what is missing is listed"),
    "unmoved": gettext("No part is moved or turned, or what is moved is listed"),
    "inputs": gettext("Its inputs read as good cards do, cold"),
}


# A core is heated coming off and going on.
MOVE_CYCLES = HEATS["remove"].chip + HEATS["place"].chip_in


@dataclass(frozen=True, slots=True)
class Inspection:
    """What an inspection found: answers by question, parts missing and moved with those put right, the halves."""

    answers: Mapping[str, bool] = field(default_factory=dict)
    missing: tuple[str, ...] = ()
    moved: tuple[str, ...] = ()
    repaired: tuple[str, ...] = ()
    core: Half = "unknown"
    board: Half = "unknown"
    memory: Half = "unknown"


@dataclass(frozen=True, slots=True)
class Accepted:
    """`open` while something is not answered or repaired, `refused` where an answer speaks against it."""

    verdict: Literal["accepted", "open", "refused"]
    why: tuple[str, ...]
    serves: tuple[str, ...]


def judge_donor(inspection: Inspection) -> Accepted:
    """Whether a donor is accepted, and for what it serves. Missing and moved parts are repaired first."""
    against = [
        gettext("No: {key}", key=QUESTIONS[key].lower())
        for key, yes in inspection.answers.items()
        if key in QUESTIONS and not yes
    ]
    waits = [
        gettext("Not looked at: {words}", words=words.lower())
        for key, words in QUESTIONS.items()
        if key not in inspection.answers
    ]
    waits += [
        (
            gettext("{part} is missing: put it right first", part=part)
            if part in inspection.missing
            else gettext("{part} is moved: put it right first", part=part)
        )
        for part in (*inspection.missing, *inspection.moved)
        if part not in inspection.repaired
    ]
    serves = []
    if inspection.core == "good":
        serves.append("core")
    if inspection.memory == "good":
        serves.append("memory")
    if inspection.board == "good":
        serves.append("board")
    serves.append("small parts")
    if against:
        return Accepted("refused", (*against, gettext("Small parts may still be taken off it.")), ("small parts",))
    if waits:
        return Accepted("open", tuple(waits), ())
    return Accepted("accepted", (gettext("Everything was looked at and nothing speaks against it."),), tuple(serves))


@dataclass(frozen=True, slots=True)
class DonorBoard:
    """A card that may give or take a half: its model and core family, its halves, cycles of its core."""

    serial: str
    model: str
    family: str
    core: Half
    board: Half
    memory: Half = "unknown"
    core_cycles: int = 0


@dataclass(frozen=True, slots=True)
class Match:
    """A core of one card for the board of another: how sure, what moves, why; `chance` only where both are known."""

    core_from: str
    board_from: str
    together: str
    sure: bool
    score: float
    why: tuple[str, ...]


def match_halves(cards: Sequence[DonorBoard], most_cycles: int) -> tuple[Match, ...]:
    """Cards with a dead core or a dead board, matched to make one: the likeliest first.

    A core goes onto another board of its own model with its memory or without; onto another model of the same family
    only with its memory as a set, because channels are alike there and chips need not be.
    """
    found = [
        _match(giver, taker, most_cycles)
        for giver in cards
        for taker in cards
        if giver.serial != taker.serial and _halves(giver, taker)
    ]
    return tuple(sorted(found, key=lambda match: (-match.score, match.core_from, match.board_from)))


def _halves(giver: DonorBoard, taker: DonorBoard) -> bool:
    """Whether one lacks its board, the other its core, and their boards carry the same core."""
    if giver.board != "dead" or giver.core == "dead" or taker.core != "dead" or taker.board == "dead":
        return False
    return giver.model == taker.model or (bool(giver.family) and giver.family == taker.family)


def _match(giver: DonorBoard, taker: DonorBoard, most_cycles: int) -> Match:
    same = giver.model == taker.model
    said = [
        gettext("board of {serial} is dead, core of {serial_2} is dead", serial=giver.serial, serial_2=taker.serial)
    ]
    score = 10.0
    if same:
        said.append(gettext("the same model"))
    else:
        said.append(gettext("another model with a {family} core: move memory with it", family=giver.family))
        score -= 3
    for half, serial, state in (("core", giver.serial, giver.core), ("board", taker.serial, taker.board)):
        if state == "unknown":
            said.append(gettext("nobody has seen the {half} of {serial} work", half=half, serial=serial))
            score -= 2
    if giver.core_cycles:
        said.append(gettext("that core was heated {core_cycles}", core_cycles=times(giver.core_cycles)))
        score -= 0.5 * giver.core_cycles
    if giver.core_cycles + MOVE_CYCLES > most_cycles:
        said.append(gettext("moving it goes beyond the shop's {most_cycles} cycles", most_cycles=most_cycles))
        score -= 4
    worse = giver.memory == "good" and taker.memory != "good"
    together = gettext("core and memory") if worse or not same else "core"
    sure = giver.core == "good" and taker.board == "good"
    return Match(giver.serial, taker.serial, together, sure, score, tuple(said))
