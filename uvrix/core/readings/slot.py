"""What the slot contacts read: halves judged among themselves, torn ones, the width that the link will train at."""

from __future__ import annotations

import statistics
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Literal

from uvrix.core.boards.contacts import CLOCK_HALVES, MOST_LANES, Contact, by_name, contacts
from uvrix.core.readings.lanes import Half, Link, link, widest
from uvrix.core.readings.limits import CLOCK_HALVES_SHARE, CLOCK_SHORT_V, LANE_SHORT_V, LANE_WITHIN_SHARE, LEAST_LANES
from uvrix.core.readings.notation import Value, shown, shown_number
from uvrix.core.readings.verdict import Verdict
from uvrix.core.values.edges import over
from uvrix.language import gettext

# Readings at a contact, and on the core's side of its series capacitor (or across that), are named so.
SLOT, CAPACITOR = "slot", "caps"


def route(lanes: int) -> tuple[str, ...]:
    """The points to probe, in turn: the clock, then row B's receive halves, then the transmit halves' capacitors."""
    own = [contact for contact in contacts() if contact.lane is not None and contact.lane < lanes]
    receive = [f"{SLOT}.{contact.name}" for contact in own if contact.pair == "rx"]
    transmit = [f"{CAPACITOR}.{contact.name}" for contact in own if contact.pair == "tx"]
    return (*(f"{SLOT}.{name}" for name in CLOCK_HALVES), *receive, *transmit)


@dataclass(frozen=True, slots=True)
class ContactJudged:
    """A contact's diode reading in a word and a sentence, and what its fellows usually read (volts)."""

    verdict: Verdict
    usual: float | None
    why: str


def judge_contacts(diode: Mapping[str, Value]) -> dict[str, ContactJudged]:
    """Diode readings by point, each by the same half of the other lanes, as `lanes.link` judges lanes."""
    halves: dict[tuple[str, str, str], list[float]] = {}
    for point, value in diode.items():
        where, contact = _named(point)
        if value.middle is not None and value.middle >= LANE_SHORT_V:
            halves.setdefault((where, contact.pair or contact.kind, contact.half), []).append(value.middle)
    return {point: _contact(point, value, halves) for point, value in diode.items()}


def _named(point: str) -> tuple[str, Contact]:
    where, _, name = point.partition(".")
    return where, by_name()[name]


def _contact(point: str, value: Value, halves: Mapping[tuple[str, str, str], list[float]]) -> ContactJudged:
    where, contact = _named(point)
    said = gettext(
        "{shown} at {name}, {carries}", shown=shown(value, "diode"), name=contact.name, carries=contact.carries
    )
    if where == SLOT and contact.pair == "tx":
        if value.ol:
            return ContactJudged(
                "within",
                None,
                gettext("{said}: OL is right before the capacitor; read the side towards the core.", said=said),
            )
        return ContactJudged("low", None, gettext("{said}: OL is right here, the capacitor lets through.", said=said))
    if contact.kind == "clock":
        others = halves.get((where, "clock", "n" if contact.half == "p" else "p"), [])
        return _among(value, said, others, gettext("the other half of the clock"), len(others))
    if contact.kind == "lane":
        others = halves.get((where, contact.pair, contact.half), [])
        fellows = gettext("{pair} {half} of {number} lanes", pair=contact.pair, half=contact.half, number=len(others))
        return _among(value, said, others, fellows, len(others) - LEAST_LANES + 1)
    return ContactJudged("no-reference", None, f"{said}.")


def _among(value: Value, said: str, others: list[float], fellows: str, enough: int) -> ContactJudged:
    usual = statistics.median(others) if others else None
    if value.middle is None:
        return ContactJudged("open", usual, gettext("{said}: open.", said=said))
    if value.middle < LANE_SHORT_V:
        return ContactJudged("short", usual, gettext("{said}: short.", said=said))
    if usual is None or enough < 1:
        return ContactJudged("no-reference", usual, gettext("{said}; its fellows are not read yet.", said=said))
    against = f"{fellows}: {shown_number(usual, 'diode')}"
    if not over(abs(value.middle - usual), float(LANE_WITHIN_SHARE) * usual):
        return ContactJudged("within", usual, f"{said}; {against}.")
    word: Verdict = "low" if value.middle < usual else "high"
    return ContactJudged(word, usual, f"{said}, {word}; {against}.")


@dataclass(frozen=True, slots=True)
class SlotContext:
    """What the slot contacts say: the link as read, at best if what was not read works, how many lanes were read.

    `clock` is a verdict on both halves of the reference clock, `notes` are sentences on torn contacts, capacitors and
    what else was found.
    """

    link: Link
    best_width: int
    best_start: int
    lanes_read: int
    torn_lanes: Mapping[int, tuple[str, ...]]
    clock: Literal["works", "open", "short", "odd", "not read", "torn"]
    notes: tuple[str, ...]


def slot_context(
    diode: Mapping[str, Value], across: Mapping[str, Value], torn: Collection[str], lanes: int = MOST_LANES
) -> SlotContext:
    """Judge what was read.

    `diode` are diode readings by point (`slot.B14`, `caps.A16`), `across` ohm readings across capacitors (`caps.A16`),
    `torn` the contacts that are torn (`B14`).
    """
    notes: list[str] = []
    read: dict[int, dict[Half, Value]] = {}
    for contact in contacts():
        if contact.lane is None or contact.lane >= lanes:
            continue
        if contact.pair == "rx":
            value = diode.get(f"{SLOT}.{contact.name}")
        else:
            value = diode.get(f"{CAPACITOR}.{contact.name}")
            outside = diode.get(f"{SLOT}.{contact.name}")
            if outside is not None and not outside.ol:
                said = shown(outside, "diode")
                notes.append(
                    gettext(
                        "{name} ({carries}) reads {said} at the contact: its capacitor lets through.",
                        name=contact.name,
                        carries=contact.carries,
                        said=said,
                    )
                )
            across_it = across.get(f"{CAPACITOR}.{contact.name}")
            if across_it is not None and not across_it.ol:
                said = shown(across_it, "resistance")
                notes.append(
                    gettext(
                        "The capacitor of {name} ({carries}) reads {said} across: OL is right.",
                        name=contact.name,
                        carries=contact.carries,
                        said=said,
                    )
                )
        if value is not None:
            read.setdefault(contact.lane, {})[contact.pair, contact.half] = value
    contacts_torn = [by_name()[name] for name in sorted(torn, key=lambda name: (name[0], int(name[1:])))]
    torn_lanes: dict[int, tuple[str, ...]] = {}
    for contact in contacts_torn:
        if contact.lane is not None and contact.lane < lanes:
            torn_lanes[contact.lane] = (*torn_lanes.get(contact.lane, ()), contact.name)
        notes.append(_torn(contact, lanes))
    found = link(read, lanes, torn_lanes)
    unread = {lane for lane in range(lanes) if lane not in found.lanes}
    at_best = [found.lanes.get(lane) == "works" or lane in unread for lane in range(lanes)]
    width, start = widest(at_best)
    whole = sum(1 for lane in range(lanes) if len(read.get(lane, ())) == 4)
    clock = _clock(diode, torn)
    if clock not in {"works", "not read"}:
        notes.insert(
            0,
            gettext(
                "The reference clock comes in by both {clock_halves}: {clock}. No link trains.",
                clock_halves=gettext(" and ").join(CLOCK_HALVES),
                clock=clock,
            ),
        )
    return SlotContext(found, width, start, whole, torn_lanes, clock, tuple(notes))


def _torn(contact: Contact, lanes: int) -> str:
    """What a torn contact means."""
    if contact.lane is not None:
        if contact.lane >= lanes:
            return gettext(
                "{name} is torn: lane {lane}, which this board does not use.", name=contact.name, lane=contact.lane
            )
        return gettext(
            "{name} is torn: lane {lane} ({pair} {half}) does not work until it is repaired.",
            name=contact.name,
            lane=contact.lane,
            pair=contact.pair,
            half=contact.half,
        )
    means = {
        "clock": gettext("half of the reference clock is missing: no link trains, the card is not listed."),
        "ground": gettext("one ground of many: the link may still train."),
        "power": gettext(
            "one of the contacts for {carries}: the others carry its share, and run warmer.", carries=contact.carries
        ),
        "detect": gettext(
            "{carries}: the host may not see that a card is there, or how wide it is.", carries=contact.carries
        ),
        "reserved": gettext("it carries nothing."),
    }
    return gettext(
        "{name} is torn: {kind}",
        name=contact.name,
        kind=means.get(contact.kind, gettext("{carries} is missing.", carries=contact.carries)),
    )


def _clock(
    diode: Mapping[str, Value], torn: Collection[str]
) -> Literal["works", "open", "short", "odd", "not read", "torn"]:
    if set(CLOCK_HALVES) & set(torn):
        return "torn"
    halves = [diode.get(f"{SLOT}.{name}") for name in CLOCK_HALVES]
    values = [half.middle for half in halves if half is not None and not half.ol]
    if any(half is not None and half.ol for half in halves):
        return "open"
    if len(values) < 2:
        return "not read"
    low, high = sorted(value for value in values if value is not None)
    if low < CLOCK_SHORT_V:
        return "short"
    return "odd" if over(high - low, CLOCK_HALVES_SHARE * high) else "works"


def pins() -> dict[str, frozenset[str] | None]:
    """What may be read at the slot: every contact, and the capacitors of the transmit halves."""
    return {
        SLOT: frozenset(by_name()),
        CAPACITOR: frozenset(contact.name for contact in contacts() if contact.pair == "tx"),
    }
