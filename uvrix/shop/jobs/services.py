"""Opening a job; the card's orientation on the bench."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Annotated, Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.limits import MOST_NUMBER
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import given
from uvrix.shop.jobs.customers import customer_for
from uvrix.shop.jobs.models import Card, Job, JobChange, WhoseMove
from uvrix.shop.jobs.rows import keep_row, own
from uvrix.shop.library.models import BoardModel


@dataclass(frozen=True, slots=True)
class NewJob:
    """What the short form asks; `entry` is the id that the client made for it.

    `customer_id` says which of several with that name, `another_customer` that it is none of them.
    """

    entry: UUID
    serial: Annotated[str, given(max_length=80)]
    board_model: Annotated[str, given(max_length=64)]
    customer: Annotated[str, given(max_length=120)]
    complaint: Annotated[str, given(max_length=4000)]
    contact: Annotated[str, given(max_length=200, allow_blank=True)] = ""
    place: Annotated[str, given(max_length=20, allow_blank=True)] = ""
    express: bool = False
    customer_id: Annotated[int | None, given(min_value=1, max_value=MOST_NUMBER)] = None
    another_customer: bool = False


def open_job(new: NewJob, by: User, at: datetime | None = None) -> tuple[Job, bool]:
    """The job that an entry opens, and whether it is new: the same entry sent twice opens one job."""
    if known := Job.objects.filter(entry=new.entry).first():
        return known, False
    return _open(new, by, at or timezone.now())


@transaction.atomic
def _open(new: NewJob, by: User, at: datetime) -> tuple[Job, bool]:
    model = BoardModel.objects.filter(slug=new.board_model).first()
    if model is None:
        raise Problem(
            422,
            "unknown-model",
            gettext("found board model {board_model}, expected one of the library", board_model=repr(new.board_model)),
        )
    Card.objects.get_or_create(serial=new.serial, defaults={"model": model})
    card = Card.objects.select_for_update().get(serial=new.serial)
    if known := Job.objects.filter(entry=new.entry).first():  # the same entry, sent again in the same moment
        return known, False
    if card.model_id != model.pk:
        detail = gettext(
            "The card {serial} was here before as {model}; found {model_2}. Check the serial or the board.",
            serial=card.serial,
            model=card.model,
            model_2=model,
        )
        raise Problem(409, "other-model", detail, known_model=card.model.slug)
    if open_before := card.jobs.filter(closed_at=None).first():
        detail = gettext("The card {serial} is already here as {label}.", serial=card.serial, label=open_before.label)
        raise Problem(409, "already-here", detail, job=open_before.pk)
    customer = customer_for(new.customer, new.contact, new.customer_id, another=new.another_customer)
    job = Job.objects.create(
        entry=new.entry,
        card=card,
        customer=customer,
        complaint=new.complaint,
        place=new.place,
        express=new.express,
        opened_by=by,
        opened_at=at,
    )
    return job, True


CHANGEABLE = ("move", "waits_for", "due", "place", "express")


@transaction.atomic
def change_job(job: Job, entry: UUID, changes: Mapping[str, Any], by: User) -> tuple[JobChange, bool]:
    """Whose move it is, the place, the date, express; and whether the entry is new. What changes is kept beside it.

    Raises Problem 422 `no-reason` where the job waits and nothing says for what.
    """
    if known := JobChange.objects.filter(pk=entry).first():
        return own(known, job), False
    job = Job.objects.select_for_update().get(pk=job.pk)
    before = {name: getattr(job, name) for name in CHANGEABLE}
    after = {**before, **changes}
    if after["move"] == WhoseMove.HANDS:
        after["waits_for"] = ""
    elif not after["waits_for"].strip():
        raise Problem(
            422,
            "no-reason",
            gettext("found no reason to wait for {label}", label=WhoseMove(after["move"]).label.lower()),
        )
    differing = {
        name: [_plain(before[name]), _plain(after[name])] for name in CHANGEABLE if before[name] != after[name]
    }
    for name in differing:
        setattr(job, name, after[name])
    job.save(update_fields=[*differing] or ["move"])
    return keep_row(JobChange, job, entry, by, changes=differing)


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date) else value


def set_orientation(job: Job, side: str, turns: int) -> None:
    """Keep how the card lies on the bench."""
    job.orientation_side, job.orientation_turns = side, turns
    job.save(update_fields=["orientation_side", "orientation_turns"])
