"""Announcing parcels, tying them to the job that they become, asking the courier."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import cache
from typing import Annotated, Protocol
from uuid import UUID

from django.conf import settings
from django.db import transaction
from django.utils import timezone
from django.utils.module_loading import import_string

from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import given
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.parcels.models import ExpectedParcel


class Event(Protocol):
    """What a courier says of a parcel."""

    at: object
    kind: str
    words: str


@dataclass(frozen=True, slots=True)
class NewParcel:
    """An announcement; `id` is the client's, `board_model` a slug or empty."""

    id: UUID
    customer: Annotated[str, given(max_length=120)]
    due: date
    contact: Annotated[str, given(max_length=200, allow_blank=True)] = ""
    complaint: Annotated[str, given(max_length=4000, allow_blank=True)] = ""
    serial: Annotated[str, given(max_length=80, allow_blank=True)] = ""
    board_model: Annotated[str, given(max_length=64, allow_blank=True)] = ""
    reference: Annotated[str, given(max_length=80, allow_blank=True)] = ""
    express: bool = False


@transaction.atomic
def announce(new: NewParcel, by: User) -> tuple[ExpectedParcel, bool]:
    """The expected parcel of an announcement, and whether it is new."""
    model = BoardModel.objects.filter(slug=new.board_model).first() if new.board_model else None
    if new.board_model and model is None:
        raise Problem(
            422,
            "unknown-model",
            gettext("found board model {board_model}, expected one of the library", board_model=repr(new.board_model)),
        )
    fields = {name: getattr(new, name) for name in NewParcel.__slots__ if name not in {"id", "board_model"}}
    fields |= {"model": model, "announced_by": by, "announced_at": timezone.now()}
    return ExpectedParcel.objects.get_or_create(pk=new.id, defaults=fields)


@transaction.atomic
def arrived(parcel: UUID, job: Job) -> ExpectedParcel:
    """The parcel is here and became this job; raises Problem 409 where it became another or was called off."""
    found = ExpectedParcel.objects.select_for_update().filter(pk=parcel).first()
    if found is None:
        raise Problem(404, "not-found", gettext("This parcel was never announced."))
    if found.job_id not in {None, job.pk}:
        raise Problem(
            409,
            "came-already",
            gettext("This parcel has arrived already, as J-{job_id}.", job_id=f"{found.job_id:04d}"),
            job=found.job_id,
        )
    found.job = job
    found.save(update_fields=["job"])
    return found


@transaction.atomic
def call_off(parcel: UUID, why: str, by: User) -> ExpectedParcel:
    """Call a parcel off, and say why; doing so twice changes nothing. Raises Problem 409 where it is here already."""
    found = ExpectedParcel.objects.select_for_update().filter(pk=parcel).first()
    if found is None:
        raise Problem(404, "not-found", gettext("This parcel was never announced."))
    if found.job_id is not None:
        raise Problem(
            409,
            "came-already",
            gettext("This parcel has arrived already, as J-{job_id}.", job_id=f"{found.job_id:04d}"),
            job=found.job_id,
        )
    if found.called_off_at is None:
        found.called_off_at, found.called_off_by, found.why = timezone.now(), by, why
        found.save(update_fields=["called_off_at", "called_off_by", "why"])
    return found


def to_come() -> list[ExpectedParcel]:
    """Parcels still expected, the one due first at the top."""
    waiting = ExpectedParcel.objects.filter(job=None, called_off_at=None)
    return list(waiting.select_related("model", "announced_by").order_by("due", "announced_at"))


def tracked(parcel: ExpectedParcel) -> Sequence[Event]:
    """What the courier says of it, oldest first; nothing where it has no reference."""
    if not parcel.reference:
        return ()
    found: Sequence[Event] = _courier().events(parcel.reference, parcel.announced_at, parcel.due, timezone.now())
    return found


@cache
def _courier():  # type: ignore[no-untyped-def]  # noqa: ANN202 - whatever the settings name
    return import_string(settings.UVRIX_COURIER)()
