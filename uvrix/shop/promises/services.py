"""Making promises, keeping them, letting them go."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any
from uuid import UUID, uuid5

from django.db import transaction

from uvrix.core.promises import BY_HAND
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.pictures.models import Picture
from uvrix.shop.promises.models import Promise, PromiseKept, Waiver
from uvrix.shop.promises.queries import on_loan, owed


@dataclass(frozen=True, slots=True)
class NewPromise:
    """A promise to make; `picture`, `x_px`, `y_px` place it where no board is drawn."""

    id: UUID
    kind: str
    words: str
    part: str = ""
    side: str = ""
    x_mm: float | None = None
    y_mm: float | None = None
    picture: str = ""
    x_px: float | None = None
    y_px: float | None = None


@transaction.atomic
def make_promise(job: Job, new: NewPromise, by: User) -> tuple[Promise, bool]:
    """A promise, and whether it is new.

    Raises Problem 422 where its kind is none that is made by hand; 409 `lent-already` where the thing that it lends
    is with another open job.
    """
    if new.kind not in BY_HAND:
        raise Problem(422, "unknown-kind", f"found {new.kind!r}, expected one of {', '.join(BY_HAND)}")
    words = new.words.strip()
    if new.kind == "loan" and (lent := on_loan(words, job)):
        raise Problem(409, "lent-already", f"{lent.words} is with {lent.job.label} already.", job=lent.job.pk)
    picture = Picture.objects.filter(pk=new.picture).first() if new.picture else None
    if new.picture and picture is None:
        raise Problem(422, "unknown-picture", "found a picture that was not sent, expected one of this job's")
    place = {name: getattr(new, name) for name in ("side", "x_mm", "y_mm", "x_px", "y_px")}
    return keep_row(Promise, job, new.id, by, kind=new.kind, words=words, part=new.part, picture=picture, **place)


def made_by_event(job: Job, event: UUID, kind: str, words: str, by: User, **place: Any) -> Promise:
    """The promise that an event makes: its id follows from the event's, so that each makes one and can end it."""
    return keep_row(Promise, job, uuid5(event, kind), by, kind=kind, words=words[:200], **place)[0]


def end_with_event(event: UUID, kind: str, by: User) -> None:
    """The event was taken back or answered, and with it what it promised."""
    if promise := Promise.objects.filter(pk=uuid5(event, kind)).first():
        keep_promise(promise, by)


def ended(events: Iterable[UUID], kind: str) -> set[UUID]:
    """Those of some events whose promise was kept: the part is on again, the wire removed."""
    by_promise = {uuid5(event, kind): event for event in events}
    kept = PromiseKept.objects.filter(promise__in=list(by_promise)).values_list("promise", flat=True)
    return {by_promise[promise] for promise in kept}


def keep_promise(promise: Promise, by: User) -> None:
    """What was owed was done; saying so twice changes nothing."""
    PromiseKept.objects.get_or_create(promise=promise, defaults={"by": by})


def waive(job: Job, key: str, reason: str, by: User) -> Waiver:
    """Let the card go although this is owed. Raises Problem 404 where nothing of that key is owed."""
    if key not in {one.key for one in owed(job)}:
        raise Problem(404, "not-owed", "This is not owed any more.")
    found, _ = Waiver.objects.get_or_create(job=job, key=key, defaults={"reason": reason, "by": by})
    return found
