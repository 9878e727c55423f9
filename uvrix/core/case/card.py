"""What the card is by now: on, off, missing, another one, lifted, wired, cut; replayed entry by entry."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from uvrix.core.case.entries import WITHOUT_SITE, Did, Entry, Power, Powered, Seen
from uvrix.language import gettext

HELD = frozenset({"remove", "swap", "place"})
# Acts that begin a state of a place, and those that end it.
BEGINS = {"lift-coil": "lifted", "solder-lead": "leads", "wire": "wires"}
ENDS = {"fit-coil": "lifted", "unsolder-lead": "leads"}


@dataclass(frozen=True, slots=True)
class Card:
    """Designators by what became of them, each with the entry since which it is so.

    `off` are parts taken off that have a place to go back to, `missing` came without one, `swapped` carry another one
    than they came with; a place that was cut stays empty for good and is in none of them.
    """

    off: dict[str, int] = field(default_factory=dict)
    missing: dict[str, int] = field(default_factory=dict)
    swapped: dict[str, int] = field(default_factory=dict)
    lifted: dict[str, int] = field(default_factory=dict)
    leads: dict[str, int] = field(default_factory=dict)
    wires: dict[str, int] = field(default_factory=dict)
    cut: dict[str, int] = field(default_factory=dict)
    cooler_off: int | None = None
    power: Power = "off"
    baked: int | None = None
    odd: tuple[str, ...] = ()

    @property
    def empty(self) -> frozenset[str]:
        """Places without a part, whatever the reason."""
        return frozenset([*self.off, *self.missing, *self.cut])


def replay(entries: Sequence[Entry], unfitted: Iterable[str] = ()) -> Card:
    """The card after all entries; `unfitted` are places that the model leaves empty."""
    card = _Replay(frozenset(unfitted))
    for entry in entries:
        card.take(entry)
    return card.now()


class _Replay:
    def __init__(self, unfitted: frozenset[str]) -> None:
        self.unfitted = unfitted
        self.off: dict[str, int] = {}
        self.missing: dict[str, int] = {}
        self.swapped: dict[str, int] = {}
        self.lifted: dict[str, int] = {}
        self.leads: dict[str, int] = {}
        self.wires: dict[str, int] = {}
        self.cut: dict[str, int] = {}
        self.came_empty: set[str] = set()
        self.placed: set[str] = set()
        self.cooler_off: int | None = None
        self.baked: int | None = None
        self.power: Power = "off"
        self.odd: list[str] = []

    def now(self) -> Card:
        return Card(
            *(self.off, self.missing, self.swapped, self.lifted, self.leads, self.wires, self.cut),
            *(self.cooler_off, self.power, self.baked, tuple(self.odd)),
        )

    def take(self, entry: Entry) -> None:
        what = entry.what
        if isinstance(what, Powered):
            self.power = what.state
        elif isinstance(what, Seen) and what.kind == "missing-part" and what.part:
            if what.part not in self.off and what.part not in self.cut:
                self.missing[what.part] = entry.number
                self.came_empty.add(what.part)
        elif isinstance(what, Did):
            self.do(what, entry.number)

    def do(self, did: Did, number: int) -> None:
        """An act."""
        if did.act in HELD:
            self.held(did, number)
        elif did.act == "cut-layers":
            self.cut[did.site] = number
            for places in (self.off, self.missing, self.swapped, self.lifted):
                places.pop(did.site, None)
        elif did.act == "bake":
            self.baked = number
        elif did.act in WITHOUT_SITE:
            self.cooler_off = number if did.act == "cooler-off" else None
        elif did.act in BEGINS:
            getattr(self, BEGINS[did.act])[did.site] = number
        elif did.act in ENDS:
            getattr(self, ENDS[did.act]).pop(did.site, None)

    def held(self, did: Did, number: int) -> None:
        """Taking off and putting on."""
        site = did.site
        if site in self.cut:
            self.odd.append(
                gettext(
                    "Entry {number}: the layers below {site} are cut out, so its place stays empty.",
                    number=number,
                    site=site,
                )
            )
            return
        if did.act == "remove":
            if site in self.missing or site in self.off or self._is_empty(site):
                self.odd.append(
                    gettext(
                        "Entry {number}: {site} is not on the card, so it cannot be taken off.",
                        number=number,
                        site=site,
                    )
                )
                return
            self.off[site] = number
            self.lifted.pop(site, None)
            return
        came_empty = site in self.came_empty or site in self.unfitted
        if did.act == "place" and site not in self.off and not (site in self.missing or self._is_empty(site)):
            self.odd.append(
                gettext(
                    "Entry {number}: {site} is on the card already; it counts as another one in its place.",
                    number=number,
                    site=site,
                )
            )
        another = did.act == "swap" or bool(did.chip) or (site not in self.off and not came_empty)
        self.off.pop(site, None)
        self.missing.pop(site, None)
        self.lifted.pop(site, None)
        self.placed.add(site)
        if another and not came_empty:
            self.swapped[site] = number

    def _is_empty(self, site: str) -> bool:
        return site in self.unfitted and site not in self.placed
