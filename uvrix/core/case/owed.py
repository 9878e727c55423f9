"""What must be settled before the card leaves (docs/trade §8.5)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from uvrix.core.case.card import Card
from uvrix.core.case.counts import Counted
from uvrix.core.case.entries import Did, Entry, Measured
from uvrix.core.case.power import PowerBlock
from uvrix.core.case.touches import Touches

# Acts after which the customer is told: a place that stays empty, a contact that stays weak, an oven.
TOLD = frozenset({"cut-layers", "contact-repaired", "bake"})


@dataclass(frozen=True, slots=True)
class Owed:
    """What is owed (`fit`, `read`, `unsolder`, `refit-coil`, `cooler`, `tell`), of what, and the entry since which."""

    what: str
    target: str
    since: int


def owed_of(
    entries: Sequence[Entry], card: Card, counted: Counted, blocks: Sequence[PowerBlock], touches: Touches
) -> tuple[Owed, ...]:
    """Everything owed, oldest first."""
    found = [Owed("fit", site, since) for places in (card.off, card.missing) for site, since in places.items()]
    found += [Owed("unsolder", site, since) for site, since in card.leads.items()]
    found += [Owed("refit-coil", site, since) for site, since in card.lifted.items()]
    if card.cooler_off is not None:
        found.append(Owed("cooler", "cooler", card.cooler_off))
    told: dict[tuple[str, str], Owed] = {}
    for entry in entries:
        what = entry.what
        if isinstance(what, Did) and what.act in TOLD:
            key = what.act, what.site
            told.setdefault(key, Owed("tell", what.site or what.act, entry.number))
    return tuple(
        sorted([*found, *told.values(), *_to_read(entries, counted, blocks, touches)], key=lambda debt: debt.since)
    )


def _to_read(entries: Sequence[Entry], counted: Counted, blocks: Sequence[PowerBlock], touches: Touches) -> list[Owed]:
    """Inputs and fuses whose reading an act made void, and that were not read since."""
    since: dict[str, int] = {}
    for void in counted.void.values():
        what = entries[void.entry].what
        if isinstance(what, Measured):
            for name in {*touches.of_reading(what.reading.point), what.reading.point}:
                since[name] = void.by
    return [Owed("read", block.about, since[block.about]) for block in blocks if block.read and block.about in since]
