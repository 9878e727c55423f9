"""Opening a job; how the card lies."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Card, Customer, Job
from uvrix.shop.library.models import BoardModel


@dataclass(frozen=True, slots=True)
class NewJob:
    """What the short form asks; `entry` is the id that the client made for it."""

    entry: UUID
    serial: str
    board_model: str
    customer: str
    complaint: str
    contact: str = ""
    place: str = ""
    express: bool = False


def open_job(new: NewJob, by: User, at: datetime | None = None) -> tuple[Job, bool]:
    """The job that an entry opens, and whether it is new: the same entry sent twice opens one job."""
    if known := Job.objects.filter(entry=new.entry).first():
        return known, False
    return _open(new, by, at or timezone.now())


@transaction.atomic
def _open(new: NewJob, by: User, at: datetime) -> tuple[Job, bool]:
    model = BoardModel.objects.filter(slug=new.board_model).first()
    if model is None:
        raise Problem(422, "unknown-model", f"found board model {new.board_model!r}, expected one of the library")
    Card.objects.get_or_create(serial=new.serial, defaults={"model": model})
    card = Card.objects.select_for_update().get(serial=new.serial)
    if known := Job.objects.filter(entry=new.entry).first():  # the same entry, sent again in the same moment
        return known, False
    if card.model_id != model.pk:
        detail = (
            f"The card {card.serial} was here before as {card.model}; found {model}. Check the serial or the board."
        )
        raise Problem(409, "other-model", detail, known_model=card.model.slug)
    if open_before := card.jobs.filter(closed_at=None).first():
        detail = f"The card {card.serial} is already here as {open_before.label}."
        raise Problem(409, "already-here", detail, job=open_before.pk)
    customer = Customer.objects.filter(name__iexact=new.customer).first()
    if customer is None:
        customer = Customer.objects.create(name=new.customer, contact=new.contact)
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


def lay(job: Job, side: str, turns: int) -> None:
    """Keep how the card lies on the bench."""
    job.lie_side, job.lie_turns = side, turns
    job.save(update_fields=["lie_side", "lie_turns"])
