"""Volts' part of a card's thread: the draw, the ladder."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from uvrix.shop.case.given import gives
from uvrix.shop.case.rows import Row, rows_of, source
from uvrix.shop.jobs.models import Job
from uvrix.shop.volts.models import FirstDraw, Rung
from uvrix.shop.volts.queries import past_idle


@source(FirstDraw)
def draws(jobs: Sequence[int]) -> Iterable[Row]:
    """What the card drew on the supply."""

    def entries(first_draw: FirstDraw) -> Iterable[Mapping[str, Any]]:
        limit = {"limit": first_draw.limit_amps} if first_draw.limit_amps else {}
        return [{"draw": {"volts": first_draw.volts, "amps": first_draw.amps, **limit}}]

    return rows_of(FirstDraw.objects.all(), jobs, "volts", entries)


@source(Rung)
def rungs(jobs: Sequence[int]) -> Iterable[Row]:
    """How far it came; a picture that is the other adapter's is none."""

    def entries(rung: Rung) -> Iterable[Mapping[str, Any]]:
        return [{"rung": "absent" if rung.picture_of == "other" else rung.rung}]

    return rows_of(Rung.objects.all(), jobs, "volts", entries)


@gives("idle")
def draw_at_rest(job: Job) -> tuple[float, float] | None:
    """The band of what other cards of the model drew at rest, in amperes."""
    known = past_idle(job)
    return known[0] if known else None
