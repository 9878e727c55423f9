"""Ohms' part of a card's thread: how it stands, what was read, fuses ticked."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from uvrix.core.case.generic import Undrawn
from uvrix.core.case.rails import GoodCards
from uvrix.core.readings.notation import UNIT, Quantity
from uvrix.shop.case.given import gives
from uvrix.shop.case.rows import Row, rows_of, source
from uvrix.shop.jobs.models import Job
from uvrix.shop.ohms.models import KnownReading, PhotoPoint, PowerState, Reading, Tick
from uvrix.shop.ohms.queries import reading_context, undrawn_of


@source(PowerState)
def power(jobs: Sequence[int]) -> Iterable[Row]:
    """What the card hangs on."""

    def entries(power_state: PowerState) -> Iterable[Mapping[str, Any]]:
        return [{"power": power_state.state}]

    return rows_of(PowerState.objects.all(), jobs, "ohms", entries)


@source(Reading)
def readings(jobs: Sequence[int]) -> Iterable[Row]:
    """Every reading, cold and powered, with the leads' own ohms taken off."""

    def entries(reading: Reading) -> Iterable[Mapping[str, Any]]:
        ends = [reading.low, reading.high]
        value = "OL" if None in ends else "..".join(dict.fromkeys(f"{end:.9g}" for end in ends if end is not None))
        quantity: Quantity = reading.quantity  # type: ignore[assignment]
        found = {
            "point": reading.point,
            "quantity": quantity,
            "value": value,
            "unit": UNIT[quantity],
            "mode": reading.mode,
        }
        more = {"to": reading.to, "polarity": reading.polarity, "meter": reading.meter.name if reading.meter else ""}
        condition = {"condition": ",".join(reading.condition)} if reading.condition else {}
        return [{"reading": {**found, **{key: word for key, word in more.items() if word}, **condition}}]

    cold_or_live = Reading.objects.select_related("meter")
    return rows_of(cold_or_live, jobs, "ohms", entries)


@source(Tick)
def ticks(jobs: Sequence[int]) -> Iterable[Row]:
    """Fuses that were looked at, or passed over for a written reason."""

    def entries(tick: Tick) -> Iterable[Mapping[str, Any]]:
        return [{"ticked": tick.point, **({"note": tick.skipped} if tick.skipped else {})}]

    return rows_of(Tick.objects.all(), jobs, "ohms", entries)


@gives("points", of_its_job=[PhotoPoint])
def named_points(job: Job) -> Iterable[str]:
    """The names of the model's points and of those clicked on the job's photographs."""
    return [point.name for point in reading_context(job).points]


@gives("undrawn", of_its_job=[PhotoPoint])
def undrawn(job: Job) -> Undrawn | None:
    """The bench plan of a card whose board nobody has drawn, and what was named on its photographs."""
    return undrawn_of(job)


@gives("good", KnownReading)
def good_cards(job: Job) -> GoodCards:
    """What good cards of the model, or of those that lend to it, read."""
    bench = reading_context(job)
    return GoodCards(bench.library, bench.places, bench.boards)
