"""Letting a card go: what blocks it, warranty, donors, comebacks, follow-ups."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import timedelta
from typing import Annotated, Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, given
from uvrix.shop.jobs.models import Job, WhoseMove
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.promises.models import Waiver
from uvrix.shop.returning.models import Comeback, FollowUp, Return, ReturnSettings
from uvrix.shop.returning.queries import CAUSES, read_settings, return_check, settings_now
from uvrix.shop.stock.models import Donor

WAYS = ("parcel", "collected", "donor")


@dataclass(frozen=True, slots=True)
class NewReturn:
    """A card to let go (models.Return)."""

    id: UUID
    way: Annotated[str, chosen(WAYS)]
    found: Annotated[str, given(max_length=4000)]
    done: Annotated[str, given(max_length=4000, allow_blank=True)] = ""
    handling: Annotated[str, given(max_length=2000, allow_blank=True)] = ""
    no_fix: Annotated[str, given(max_length=400, allow_blank=True)] = ""
    tracking: Annotated[str, given(max_length=80, allow_blank=True)] = ""
    price: Annotated[float | None, given(min_value=0, max_value=10000000.0)] = None
    warranty_days: Annotated[int | None, given(min_value=0, max_value=3650)] = None


@transaction.atomic
def let_go(job: Job, new: NewReturn, by: User) -> tuple[Return, bool]:
    """The card leaves, or stays as a donor, and the job is closed; whether it is new.

    Raises Problem 409 `blocked` with everything that is not settled; 409 `closed` where it left before; 422 `no-why`
    where a donor is not said to be beyond repair.
    """
    if known := Return.objects.filter(pk=new.id).first():
        return keep_row(Return, job, known.pk, by)
    job = Job.objects.select_for_update().get(pk=job.pk)
    if job.practice:
        detail = gettext("{label} is a practice card: finish it at its bench, below the steps.", label=job.label)
        raise Problem(409, "practice", detail)
    if job.closed_at is not None:
        raise Problem(409, "closed", gettext("{label} left before.", label=job.label))
    if new.way == "donor" and not new.no_fix.strip():
        raise Problem(
            422, "no-why", gettext("found no reason, expected why it cannot be repaired: only then it becomes a donor")
        )
    items, _ = return_check(job, no_fix=bool(new.no_fix.strip()))
    if blocking := [item for item in items if item.blocks]:
        names = "; ".join(item.words for item in blocking[:6])
        more = gettext(" and {number} more", number=len(blocking) - 6) if len(blocking) > 6 else ""
        facts = {"blocking": [item.key for item in blocking]}
        raise Problem(409, "blocked", gettext("It may not leave yet: {names}{more}.", names=names, more=more), **facts)
    fixed = not new.no_fix.strip()
    days = settings_now()["warranty_days"] if new.warranty_days is None else new.warranty_days
    fields: dict[str, Any] = {"way": new.way, "tracking": new.tracking.strip(), "found": new.found.strip()}
    fields |= {"done": new.done.strip(), "handling": new.handling.strip(), "no_fix": new.no_fix.strip()}
    row, fresh = keep_row(Return, job, new.id, by, price=new.price, warranty_days=days if fixed else 0, **fields)
    job.closed_at, job.move, job.waits_for = timezone.now(), WhoseMove.HANDS, ""
    if fixed and days:
        job.warranty_until = (job.closed_at + timedelta(days=days)).date()
    job.save(update_fields=["closed_at", "move", "waits_for", "warranty_until"])
    if new.way == "donor":
        Donor.objects.get_or_create(
            card=job.card, defaults={"job": job, "origin": gettext("left by its owner"), "by": by}
        )
    elif fixed:
        for number, after in enumerate(settings_now()["follow_up_days"]):
            due = (job.closed_at + timedelta(days=after)).date()
            FollowUp.objects.create(
                job=job,
                by=by,
                at=job.closed_at,
                due=due,
                words=gettext("Question {number} after return", number=number + 1),
            )
    return row, fresh


@transaction.atomic
def waive_item(job: Job, key: str, reason: str, by: User) -> Waiver:
    """The lead lets something unsettled go, with a reason. Raises Problem 404 where nothing of that key is."""
    items, _ = return_check(job)
    if key not in {item.key for item in items if not item.settled}:
        raise Problem(404, "not-owed", gettext("This is settled already."))
    row, fresh = Waiver.objects.get_or_create(job=job, key=key, defaults={"reason": reason, "by": by})
    if not fresh:  # waived in an earlier round of proof, and unsettled again
        row.reason, row.by, row.at = reason, by, timezone.now()
        row.save(update_fields=["reason", "by", "at"])
    return row


def say_comeback(job: Job, entry: UUID, of: Job, why: tuple[str, str], by: User) -> tuple[Comeback, bool]:
    """Say that a visit follows from an earlier one of the same card, and why.

    `why` is (cause, words). Raises Problem 422 for another card's visit.
    """
    cause, words = why
    if of.card_id != job.card_id or of.pk == job.pk:
        raise Problem(
            422,
            "other-card",
            gettext("found {label}, expected an earlier visit of {serial}", label=of.label, serial=job.card.serial),
        )
    if cause and cause not in CAUSES:
        raise Problem(
            422,
            "no-cause",
            gettext("found {cause}, expected one of {causes}", cause=repr(cause), causes=", ".join(CAUSES)),
        )
    return keep_row(Comeback, job, entry, by, of=of, cause=cause, words=words)


def follow_up_done(follow: FollowUp, by: User) -> None:
    """Somebody asked."""
    if follow.done_at is None:
        follow.done_at, follow.done_by = timezone.now(), by
        follow.save(update_fields=["done_at", "done_by"])


def save_settings(document: Mapping[str, Any], by: User) -> ReturnSettings:
    """The shop's settings. Raises Refusal where they do not fit."""
    read_settings(document)
    return ReturnSettings.objects.create(content=dict(document), by=by)
