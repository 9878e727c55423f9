"""Rework events and what follows from them: which chip is where, how often each site and chip was heated, what is owed.

The history is append-only; everything here is replayed from it (docs/trade §6.2). A chip carries its label with it
between cards; one that was on a card from the first is called CARD/SITE. How much heat a step is to a site and to a
chip is counted in cycles (acts.py); how many are too many is the shop's to say.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Literal

from uvrix.core.errors import Refusal, quoted
from uvrix.core.rework.acts import DOES, HEATS, OF_THE_CARD, PUTS_ON, TAKES_OFF, Do, Heat
from uvrix.core.rework.limits import OPEN_HOURS
from uvrix.language import gettext

Solder = Literal["leaded", "lead-free", "low-melt", ""]
SOLDERS: tuple[Solder, ...] = ("leaded", "lead-free", "low-melt", "")


@dataclass(frozen=True, slots=True)
class Event:
    """Something done: on a card's site (both empty for a chip in the hand), to which chip, which chip came.

    A part that bears no label comes as an empty `chip_in`.
    """

    at: datetime
    do: Do
    card: str = ""
    site: str = ""
    chip: str = ""
    chip_in: str = ""
    alloy_on: Solder = ""
    alloy_off: Solder = ""
    id: str = ""


@dataclass
class Ledger:
    """Replayed: cycles by (card, site) and by chip, where each chip is, low-melt places, open and unbaked chips.

    `on_site` holds the label, "" of a part without one, None of an empty place. `leads` are soldered on, `lifted` coils
    stand on one end, `cut` places stay empty for good; each by the id of the event since which it is so. `ovens` counts
    how often a whole card was heated.
    """

    site_cycles: dict[tuple[str, str], int] = field(default_factory=dict)
    chip_cycles: dict[str, int] = field(default_factory=dict)
    on_site: dict[tuple[str, str], str | None] = field(default_factory=dict)
    emptied_by: dict[tuple[str, str], str] = field(default_factory=dict)
    low_melt: dict[tuple[str, str], str] = field(default_factory=dict)
    owes_flush: dict[tuple[str, str], str] = field(default_factory=dict)
    open_since: dict[str, datetime] = field(default_factory=dict)
    leads: dict[tuple[str, str], str] = field(default_factory=dict)
    lifted: dict[tuple[str, str], str] = field(default_factory=dict)
    cut: dict[tuple[str, str], str] = field(default_factory=dict)
    ovens: dict[str, int] = field(default_factory=dict)

    def chip_at(self, card: str, site: str) -> str | None:
        """The chip on a site: the one that it came with unless something was done; None where it is off."""
        return self.on_site.get((card, site), original(card, site))

    def cycles(self, card: str, site: str) -> int:
        """How often a place was heated, by what was done to it and with the whole card."""
        return self.site_cycles.get((card, site), 0) + self.ovens.get(card, 0)

    def chip_heats(self, chip: str) -> int:
        """How often a chip was heated; one that nothing was done to shared the ovens of the card that it came with."""
        return self.chip_cycles.get(chip, self.ovens.get(chip.rpartition("/")[0], 0))

    def where(self, chip: str) -> tuple[str, str] | None:
        """The one place where a chip is; None while it lies loose, or was never seen on a card."""
        for place, there in self.on_site.items():
            if there == chip:
                return place
        card, _, site = chip.rpartition("/")
        if card and (card, site) not in self.on_site:
            return card, site
        return None


def original(card: str, site: str) -> str:
    """The label of a chip that a card came with."""
    return f"{card}/{site}"


def replay(events: Iterable[Event], heats: Mapping[Do, Heat] = HEATS, whole: Collection[str] | None = None) -> Ledger:
    """What the events add up to, in the order of time. Raises Refusal where one does not fit what stood before.

    `whole` are the cards whose history is all there; events of others, which are here for a chip that they share, are
    taken as they are. None: every card's is.
    """
    ledger = Ledger()
    for event in events:
        if whole is None or event.card in whole:
            check(ledger, event)
        _take(ledger, event, heats)
    return ledger


def misfits(events: Iterable[Event], whole: Collection[str], heats: Mapping[Do, Heat] = HEATS) -> dict[str, Refusal]:
    """The events of some cards, by id, that do not fit what stood before them, in the order of time."""
    ledger, found = Ledger(), dict[str, Refusal]()
    for event in events:
        try:
            if event.card in whole:
                check(ledger, event)
        except Refusal as refusal:
            found[event.id] = refusal
        _take(ledger, event, heats)
    return found


def check(ledger: Ledger, event: Event) -> None:
    """Raise Refusal where an event does not fit: nothing there to remove, a place that is taken, a chip elsewhere."""
    place = (event.card, event.site)
    there = ledger.chip_at(*place) if event.site else None
    if not event.site and not event.chip and event.do not in OF_THE_CARD:
        raise Refusal("chip", gettext("no chip"), gettext("which chip is {do}", do=DOES[event.do]))
    _check_states(ledger, event, place)
    if event.do in {"remove", "renew-joint", "lift-coil"} and event.site and there is None:
        raise Refusal(
            "do",
            gettext("{site} empty", site=event.site),
            gettext("a chip on {site} to be {do}", site=event.site, do=DOES[event.do]),
        )
    if event.do == "place" and there is not None:
        found = (
            gettext("{there} on {site}", there=there, site=event.site)
            if there
            else gettext("a part on {site}", site=event.site)
        )
        raise Refusal("do", found, gettext("{site} empty: remove it first, or swap it", site=event.site))
    if event.do in PUTS_ON and event.chip_in:
        _check_chip_in(ledger, event, place, there)
    if event.do in {"reball", "baked"} and not event.chip and there is None:
        raise Refusal("chip", gettext("no chip"), gettext("which chip is {do}", do=DOES[event.do]))


def _check_states(ledger: Ledger, event: Event, place: tuple[str, str]) -> None:
    """What was cut out stays empty; what ends a state needs it begun."""
    if place in ledger.cut and event.do in TAKES_OFF | PUTS_ON | {"cut-layers"}:
        raise Refusal(
            "do",
            gettext("{site} with its layers cut out", site=event.site),
            gettext("another place: it stays empty for good"),
        )
    if event.do == "unsolder-lead" and place not in ledger.leads:
        raise Refusal(
            "do", gettext("no injection lead at {site}", site=event.site), gettext("one that was soldered on")
        )
    if event.do == "fit-coil" and place not in ledger.lifted:
        raise Refusal("do", gettext("{site} not lifted", site=event.site), gettext("a coil that stands on one end"))
    if event.do == "lift-coil" and place in ledger.lifted:
        raise Refusal(
            "do", gettext("{site} lifted already", site=event.site), gettext("a coil that stands on both ends")
        )


def _check_chip_in(ledger: Ledger, event: Event, place: tuple[str, str], there: str | None) -> None:
    """A part is in one place, and a swap brings another one."""
    elsewhere = ledger.where(event.chip_in)
    if elsewhere is not None and elsewhere != place:
        raise Refusal(
            "chip_in",
            gettext(
                "{chip_in} on {elsewhere} of {elsewhere_2}",
                chip_in=quoted(event.chip_in),
                elsewhere=elsewhere[1],
                elsewhere_2=elsewhere[0],
            ),
            gettext("a loose chip"),
        )
    if event.do == "swap" and event.chip_in == there:
        raise Refusal(
            "chip_in",
            gettext("{chip_in} on {site} already", chip_in=quoted(event.chip_in), site=event.site),
            gettext("another chip"),
        )


def worked_on(ledger: Ledger, event: Event) -> str:
    """The chip that an event works on: the one named, else the one on its site."""
    return event.chip or (ledger.chip_at(event.card, event.site) if event.site else "") or ""


def _take(ledger: Ledger, event: Event, heats: Mapping[Do, Heat]) -> None:
    place, heat, chip = (event.card, event.site), heats[event.do], worked_on(ledger, event)
    if event.site:
        _seen_first(ledger, place)
        ledger.site_cycles[place] = ledger.site_cycles.get(place, 0) + heat.site
        _alloys(ledger, event, place)
    if chip:
        ledger.chip_cycles[chip] = ledger.chip_cycles.get(chip, 0) + heat.chip
    if event.chip_in:
        ledger.chip_cycles[event.chip_in] = ledger.chip_cycles.get(event.chip_in, 0) + heat.chip_in
    if event.do in TAKES_OFF and event.site:
        ledger.on_site[place] = None
        ledger.emptied_by[place] = event.id
        ledger.lifted.pop(place, None)
        if chip:
            ledger.open_since[chip] = event.at
    if event.do in PUTS_ON:
        ledger.on_site[place] = event.chip_in
        ledger.emptied_by.pop(place, None)
        ledger.open_since.pop(event.chip_in, None)
    if heat.card:
        _oven(ledger, event.card, heat.card)
    _states(ledger, event, place)
    if event.do == "baked" and chip in ledger.open_since:
        ledger.open_since[chip] = event.at


def _seen_first(ledger: Ledger, place: tuple[str, str]) -> None:
    """The part that a place came with, with the heat of the ovens that it shared so far."""
    own = original(*place)
    if place not in ledger.on_site:
        ledger.on_site[place] = own
        if own not in ledger.chip_cycles and place[0] in ledger.ovens:
            ledger.chip_cycles[own] = ledger.ovens[place[0]]


def _oven(ledger: Ledger, card: str, cycles: int) -> None:
    ledger.ovens[card] = ledger.ovens.get(card, 0) + cycles
    for chip in filter(None, (chip for (there, _), chip in ledger.on_site.items() if there == card)):
        ledger.chip_cycles[chip] = ledger.chip_cycles.get(chip, 0) + cycles


def _states(ledger: Ledger, event: Event, place: tuple[str, str]) -> None:
    """What is begun by one act and ended by another; a place that was cut stays empty."""
    match event.do:
        case "solder-lead":
            ledger.leads[place] = event.id
        case "unsolder-lead":
            ledger.leads.pop(place, None)
        case "lift-coil":
            ledger.lifted[place] = event.id
        case "fit-coil":
            ledger.lifted.pop(place, None)
        case "cut-layers":
            ledger.cut[place] = event.id
            ledger.on_site[place] = None
            ledger.emptied_by.pop(place, None)
            ledger.lifted.pop(place, None)


def _alloys(ledger: Ledger, event: Event, place: tuple[str, str]) -> None:
    """Low-melt alloy left on a place that gets leaded solder melts below 100 °C: to be flushed (docs/trade §6.3)."""
    if event.do == "flushed":
        ledger.low_melt.pop(place, None)
        ledger.owes_flush.pop(place, None)
        return
    if "low-melt" in {event.alloy_on, event.alloy_off}:
        ledger.low_melt.setdefault(place, event.id)
    if event.alloy_on == "leaded" and place in ledger.low_melt:
        ledger.owes_flush.setdefault(place, event.id)


def unbaked(ledger: Ledger, chip: str, now: datetime, open_hours: float = OPEN_HOURS) -> float | None:
    """The hours that a chip lay in the open unbaked, where they are too many; else None."""
    since = ledger.open_since.get(chip)
    if since is None or now - since <= timedelta(hours=open_hours):
        return None
    return (now - since) / timedelta(hours=1)
