"""Which entries still count, and which act made the others void (docs/trade §8.1).

Every measurement is kept under the names that it is about; an act takes away what is kept under what it touches. Each
entry is stored and taken once, so that long cases take no longer than their length.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from uvrix.core.case.entries import Did, Drawn, Entry, Glow, Injected, Measured, Powered, Run, Ticked
from uvrix.core.case.names import contact
from uvrix.core.case.touches import Touches
from uvrix.core.readings.notation import POWERED
from uvrix.language import gettext

# After these a fuse is not the one that was looked at.
ANOTHER_FUSE = frozenset({"swap", "remove", "place"})


@dataclass(frozen=True, slots=True)
class Void:
    """An entry that no longer counts, the entry that made it void, and the act of that in words."""

    entry: int
    by: int
    act: str

    @property
    def why(self) -> str:
        """Why it does not count."""
        return gettext("before {act}", act=self.act)


@dataclass(frozen=True)
class Counted:
    """The entries that are void, by number, and what each glow speaks of: the names that were fed, with the watts."""

    void: dict[int, Void]
    fed: dict[int, tuple[frozenset[str], float | None]]

    def stands(self, entry: Entry) -> bool:
        """Whether an entry still counts."""
        return entry.number not in self.void


def count(entries: Sequence[Entry], touches: Touches) -> Counted:
    """What counts of a case."""
    store = _Store(touches)
    for entry in entries:
        store.take(entry)
    return Counted(dict(sorted(store.void.items())), store.fed)


class _Store:
    def __init__(self, touches: Touches) -> None:
        self.touches = touches
        self.void: dict[int, Void] = {}
        self.fed: dict[int, tuple[frozenset[str], float | None]] = {}
        self.cold: dict[str, set[int]] = defaultdict(set)
        self.powered: dict[str, set[int]] = defaultdict(set)
        self.glows: dict[str, set[int]] = defaultdict(set)
        self.ticks: dict[str, set[int]] = defaultdict(set)
        self.draws: set[int] = set()
        self.runs: set[int] = set()
        self.feeding: tuple[frozenset[str], float | None] = (frozenset(), None)

    def take(self, entry: Entry) -> None:
        """Keep what an entry measured, or take away what its act made void."""
        what, number = entry.what, entry.number
        if isinstance(what, Did):
            self.act(what, number)
        elif isinstance(what, Measured):
            kept = self.powered if what.reading.quantity in POWERED else self.cold
            for name in self.touches.of_reading(what.reading.point):
                kept[name].add(number)
        elif isinstance(what, Injected):
            self.feeding = (self.touches.of_reading(what.point), what.volts * what.amps)
        elif isinstance(what, Powered) and what.state != "off":
            self.feeding = (frozenset(self.touches.inputs), None)
        elif isinstance(what, Glow):
            self.fed[number] = self.feeding
            for name in self.feeding[0]:
                self.glows[name].add(number)
        elif isinstance(what, Ticked):
            self.ticks[what.fuse].add(number)
        elif isinstance(what, Drawn | Run):
            (self.draws if isinstance(what, Drawn) else self.runs).add(number)

    def act(self, did: Did, number: int) -> None:
        act = did.says
        if did.act == "bake" or (self.touches.board is None and did.site and not contact(did.site)):
            # of a board that nobody has drawn nobody knows what a part touches
            for kept in (self.cold, self.powered, self.glows, self.ticks):
                for numbers in kept.values():
                    self._void(numbers, number, act)
            self._void(self.draws, number, act)
        elif did.site:
            touched = self.touches.of_site(did.site)
            behind = self.touches.behind(touched)
            self._all(self.cold, touched, number, act)
            self._all(self.glows, touched, number, act)
            self._all(self.powered, behind, number, act)
            if touched and not contact(did.site):
                self._void(self.draws, number, act)
            if did.act in ANOTHER_FUSE:
                self._all(self.ticks, (did.site,), number, act)
        if self.touches.ends_runs(did):
            self._void(self.runs, number, act)

    def _all(self, kept: dict[str, set[int]], names: Iterable[str], by: int, act: str) -> None:
        for name in names:
            if name in kept:
                self._void(kept[name], by, act)

    def _void(self, numbers: set[int], by: int, act: str) -> None:
        for number in numbers:
            self.void.setdefault(number, Void(number, by, act))
        numbers.clear()
