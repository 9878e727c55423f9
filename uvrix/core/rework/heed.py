"""What to heed before a place is heated: alloys, cycles, chips to be baked dry, lots, worn neighbours."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from uvrix.core.rework.acts import HEATS, Do
from uvrix.core.rework.events import Ledger, unbaked
from uvrix.core.rework.near import Limits, Neighbour, alloy_warnings
from uvrix.core.rework.settings import Settings
from uvrix.core.values.words import percent, times
from uvrix.language import gettext, ngettext


@dataclass(frozen=True, slots=True)
class Planned:
    """What is about to be done at a site; `alloys` are off and on."""

    site: str
    do: Do
    alloys: tuple[str, str] = ("", "")
    chip_in: str = ""


@dataclass(frozen=True, slots=True)
class LotSeen:
    """A lot that this shop has seen: how many of its chips, and how many of those failed."""

    failed: int
    of: int


@dataclass(frozen=True, slots=True)
class Surroundings:
    """What a place stands in: neighbours, whether it runs hot, lots by place, what the shop knows of lots, the time."""

    near: Sequence[Neighbour]
    hot: bool
    lots: Mapping[str, str]
    known: Mapping[str, LotSeen]
    now: datetime


def heed(ledger: Ledger, card: str, planned: Planned, around: Surroundings, settings: Settings) -> tuple[str, ...]:
    """Everything to heed before a step, in sentences."""
    place, limits = (card, planned.site), settings.limits
    said = list(alloy_warnings(*planned.alloys, hot=around.hot, low_melt=place in ledger.low_melt))
    said += _worn(ledger, place, planned, limits)
    said += _coming(ledger, planned, around.now, settings)
    said += _lots(planned, around)
    worn = [
        neighbour
        for neighbour in around.near
        if neighbour.cycles + neighbour.warmed >= limits.site_cycles and not neighbour.behind
    ]
    said += [
        gettext(
            "{designator} next to it was heated or warmed {times}.",
            designator=neighbour.designator,
            times=times(neighbour.cycles + neighbour.warmed),
        )
        for neighbour in worn
    ]
    return tuple(said)


def _worn(ledger: Ledger, place: tuple[str, str], planned: Planned, limits: Limits) -> list[str]:
    """A place or its chip that was heated as often as the shop allows."""
    heat, cycles, chip = HEATS[planned.do], ledger.cycles(*place), ledger.chip_at(*place)
    said = []
    if heat.site and cycles + heat.site > limits.site_cycles:
        said.append(
            gettext(
                "{site} was heated {cycles}; the shop allows {site_cycles}.",
                site=planned.site,
                cycles=times(cycles),
                site_cycles=limits.site_cycles,
            )
        )
    heats = ledger.chip_heats(chip) if chip else 0
    if heat.chip and chip and heats + heat.chip > limits.chip_cycles:
        said.append(
            gettext(
                "{chip} was heated {heats}; the shop allows {chip_cycles}.",
                chip=chip,
                heats=times(heats),
                chip_cycles=limits.chip_cycles,
            )
        )
    return said


def _coming(ledger: Ledger, planned: Planned, now: datetime, settings: Settings) -> list[str]:
    """A chip that comes, heated too often or too long in the open."""
    chip, limits, said = planned.chip_in, settings.limits, list[str]()
    if not chip:
        return said
    heats = ledger.chip_heats(chip)
    if heats + HEATS[planned.do].chip_in > limits.chip_cycles:
        allowed = gettext("the shop allows {chip_cycles}", chip_cycles=limits.chip_cycles)
        said.append(
            gettext(
                "{chip} was heated {heats}, here and on other cards; {allowed}.",
                chip=chip,
                heats=times(heats),
                allowed=allowed,
            )
        )
    hours = unbaked(ledger, chip, now, settings.open_hours)
    if hours is not None:
        said.append(
            gettext(
                "{chip} lay in the open for {hours} hours: bake it first, moisture bursts it.",
                chip=chip,
                hours=f"{hours:.0f}",
            )
        )
    return said


def _lots(planned: Planned, around: Surroundings) -> list[str]:
    """The lot of the chip itself where chips of it failed here, and neighbours of the same lot."""
    lot = around.lots.get(planned.site, "")
    if not lot:
        return []
    said, known = [], around.known.get(lot)
    if known and known.failed:
        share = percent(known.failed / known.of)
        counted = gettext("{failed} of {of} failed here, {share}", failed=known.failed, of=known.of, share=share)
        said.append(
            gettext(
                "{site} is of lot {lot}: {counted}. One, or all of it?", site=planned.site, lot=lot, counted=counted
            )
        )
    alike = [neighbour.designator for neighbour in around.near if around.lots.get(neighbour.designator) == lot]
    if alike:
        said.append(
            ngettext(
                "{alike} next to it is of the same lot, {lot}: heat may take it too.",
                "{alike} next to it are of the same lot, {lot}: heat may take them too.",
                len(alike),
                alike=", ".join(alike),
                lot=lot,
            )
        )
    return said
