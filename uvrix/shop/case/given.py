"""What steps give to a card's case beside its rows: named points, good cards, the draw at rest, what the shop knows."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any, Literal, TypeVar

from django.db.models import Model

from uvrix.core.case.generic import Undrawn
from uvrix.core.case.rails import GoodCards
from uvrix.core.case.shop import Shop
from uvrix.shop.jobs.models import Job

Asked = Literal[
    "points", "good", "idle", "school", "lots", "past", "worth", "watched", "shares", "warranty", "undrawn", "part"
]
Giver = TypeVar("Giver", bound=Callable[..., Any])
_GIVERS: dict[Asked, Callable[..., Any]] = {}
# Rows of these change the answer of every job, and of their own job.
OF_ALL: set[type[Model]] = set()
OF_ITS_JOB: set[type[Model]] = set()


def gives(what: Asked, *changed_by: type[Model], of_its_job: Iterable[type[Model]] = ()) -> Callable[[Giver], Giver]:
    """Register who answers what a case asks.

    Rows of `changed_by` change the answer for every job, those of `of_its_job` for the job that they are of.
    """

    def register(giver: Giver) -> Giver:
        _GIVERS[what] = giver
        OF_ALL.update(changed_by)
        OF_ITS_JOB.update(of_its_job)
        return giver

    return register


@dataclass(frozen=True, slots=True)
class Given:
    """What a job's case is read with: `points` named on it, `good` cards of the model, `idle` amperes at rest."""

    points: tuple[str, ...]
    good: GoodCards
    idle: tuple[float, float] | None
    undrawn: Undrawn | None


def given(job: Job, *, drawn: bool) -> Given:
    """What the steps know beside the rows; the draw at rest is asked for where the card was `drawn` on a supply."""
    names: Iterable[str] = _GIVERS["points"](job)
    idle = _GIVERS["idle"](job) if drawn else None
    return Given(tuple(names), _GIVERS["good"](job), idle, _GIVERS["undrawn"](job))


def shop_beside(job: Job) -> Shop:
    """What the shop knows beside a card: lots, past cards, its habits, what the repair may cost, the watchlist."""
    asked: tuple[Asked, ...] = ("lots", "past", "school", "worth", "watched", "shares", "warranty", "part")
    lots, past, school, worth, watched, shares, warranty, part = (_GIVERS[what](job) for what in asked)
    return Shop(tuple(lots), tuple(past), school, worth, tuple(watched), shares, warranty, part)
