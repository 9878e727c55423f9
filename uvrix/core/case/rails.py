"""The readings that count, judged against good cards: the rails' verdicts, and the fuses."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from uvrix.core.boards.model import Board
from uvrix.core.case.counts import Counted
from uvrix.core.case.entries import Entry, Measured
from uvrix.core.case.generic import GenericPlan, judge_undrawn, usual
from uvrix.core.case.touches import Touches
from uvrix.core.readings.fuses import FuseFound, judge_fuse
from uvrix.core.readings.guard import below_guard
from uvrix.core.readings.known import Library
from uvrix.core.readings.notation import COLD
from uvrix.core.readings.points import Places, board_places, places_of
from uvrix.core.readings.reading_file import Observation, Reading
from uvrix.core.readings.shorts import SHORTED
from uvrix.core.readings.sweeps import PADS, thing_of
from uvrix.core.readings.verdict import Judged, judge


@dataclass(frozen=True, slots=True)
class Standing:
    """A reading that counts, the last one of its thing: the entry it stands in, its verdict, whose pins were meant."""

    entry: int
    judged: Judged
    pins: str = ""

    @property
    def reading(self) -> Reading:
        """The reading."""
        return self.judged.reading


@dataclass(frozen=True, slots=True)
class RailFound:
    """A rail's verdict, and the reading that it comes from."""

    id: str
    verdict: str
    standing: Standing


@dataclass(frozen=True, slots=True)
class GoodCards:
    """What good cards read, by which names, and the models whose cards lend, nearest first."""

    library: Library
    places: Places
    boards: Sequence[str]


def good_cards(board: Board | None, known: Iterable[Observation]) -> GoodCards:
    """The good cards of a model and its relative."""
    places = board_places(board) if board else places_of({})
    boards = [name for name in (board.id, board.relative_of) if name] if board else []
    return GoodCards(Library(known, places), places, boards)


class Readings:
    """Every reading of a case that counts; judges each when it is asked for."""

    def __init__(
        self,
        board: Board | None,
        entries: Sequence[Entry],
        counted: Counted,
        touches: Touches,
        good: GoodCards,
        *,
        plan: GenericPlan | None = None,
    ) -> None:
        self.plan = plan or usual()
        self.board = board
        self.touches = touches
        self.places: Places = good.places
        self._good = good
        last: dict[object, tuple[int, Measured]] = {}
        every: list[tuple[int, Measured]] = []
        for entry in entries:
            pad = isinstance(entry.what, Measured) and entry.what.reading.condition & PADS
            # a pad of a lifted coil, or a ball without its chip, is not the rail as it will be powered
            if isinstance(entry.what, Measured) and counted.stands(entry) and not pad:
                every.append((entry.number, entry.what))
                key = (thing_of(entry.what.reading, self.places), entry.what.pins)
                last.pop(key, None)
                last[key] = every[-1]
        self.of_points = self._by_point(every)
        self.standing = tuple(self.judged(number, measurement) for number, measurement in last.values())

    def _by_point(self, every: Sequence[tuple[int, Measured]]) -> tuple[tuple[int, Measured], ...]:
        """The last reading of every point: one that reads well does not answer for another point of its net.

        A reading that is named by the rail stands for the points that the rail lists, and they for it.
        """
        last: dict[tuple[object, ...], tuple[int, Measured]] = {}
        listed: dict[str, list[str]] = {}
        for point, rail in self.places.rail_of.items():
            listed.setdefault(rail, []).append(point)
        for number, measurement in every:
            reading = measurement.reading
            rest = (reading.to, reading.quantity, reading.mode, measurement.pins)
            same = listed.get(reading.point, []) if reading.point in self.places.rails else []
            of_rail = self.places.rail_of.get(reading.point)
            same = [*same, of_rail] if of_rail else same
            for name in (reading.point, *same):
                last.pop((name, *rest), None)
            last[reading.point, *rest] = (number, measurement)
        return tuple(last.values())

    def judged(self, number: int, measured: Measured) -> Standing:
        """A reading with its verdict."""
        if self.board is None:
            return Standing(number, judge_undrawn(measured.reading, self.plan), measured.pins)
        return Standing(number, judge(measured.reading, self._good.library, self._good.boards), measured.pins)

    def since(self, number: int | None) -> tuple[Standing, ...]:
        """The readings that count and were taken after an entry."""
        return tuple(standing for standing in self.standing if number is None or standing.entry > number)

    def rails(self) -> tuple[RailFound, ...]:
        """The rails that cold readings name, in the model's order: by the last, or by a short anywhere on the net."""
        if self.board is None:
            return self._undrawn()
        found = []
        for rail in self.touches.rails:
            on = [standing for standing in self.standing if self._to_ground(standing) and rail in self.names(standing)]
            if not on:
                continue
            listed = [standing for standing in on if self.places.key(standing.reading.point, "ground")[1] == rail]
            beside = [standing for standing in on if standing not in listed and standing.judged.verdict in SHORTED]
            best = max(beside or listed or on, key=lambda standing: standing.entry)
            found.append(RailFound(rail, best.judged.verdict, best))
        return tuple(found)

    def _undrawn(self) -> tuple[RailFound, ...]:
        last = {standing.reading.point: standing for standing in self.standing if self._to_ground(standing)}
        return tuple(RailFound(name, standing.judged.verdict, standing) for name, standing in last.items())

    @staticmethod
    def _to_ground(standing: Standing) -> bool:
        return (
            standing.reading.quantity in COLD and standing.reading.to == "ground" and "/" not in standing.reading.point
        )

    def names(self, standing: Standing) -> frozenset[str]:
        """What a reading is measured on."""
        return self.touches.of_reading(standing.reading.point)

    def low_at(self, rail: str) -> Standing | None:
        """The last reading of a point of a rail's net that lies under the guard's limit; None where none does."""
        low = [
            (number, measurement)
            for number, measurement in self.of_points
            if below_guard(measurement.reading) and "/" not in measurement.reading.point
            and rail in self.touches.of_reading(measurement.reading.point)
        ]  # fmt: skip
        return self.judged(*low[-1]) if low else None

    def read_to_ground(self, rail: str) -> bool:
        """Whether any point of a rail's net was read to ground in ohms."""
        return any(
            standing.reading.quantity == "resistance" and self._to_ground(standing) and rail in self.names(standing)
            for standing in self.standing
        )

    def fuse(self, designator: str) -> FuseFound:
        """How a fuse is by its readings that count."""
        return judge_fuse(designator, (measurement.reading for _, measurement in self.of_points))

    def pairs(self) -> tuple[Standing, ...]:
        """Readings between two points."""
        return tuple(standing for standing in self.standing if "/" in standing.reading.point)
