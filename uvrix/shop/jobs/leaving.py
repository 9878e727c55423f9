"""A card that left: nothing more is measured on it or done to it under the job with which it went."""

from __future__ import annotations

from uvrix.language import gettext
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Job


def at_hand(job: Job) -> bool:
    """Whether the job's card is in the shop under it: the job is open, or the card stayed as a donor."""
    if job.closed_at is None:
        return True
    donor = getattr(job.card, "donor", None)
    return donor is not None and donor.job_id == job.pk


def here_as(job: Job) -> Job | None:
    """The open job of the card, where it came back."""
    return job.card.jobs.filter(closed_at=None).first()


def must_be_at_hand(job: Job) -> None:
    """Raises Problem 409 `left`, with the job under which the card is here, where it left with this one."""
    if at_hand(job):
        return
    if job.practice:
        raise Problem(409, "left", gettext("{label} is finished: nothing more is entered on it.", label=job.label))
    names = {"serial": job.card.serial, "label": job.label}
    if now := here_as(job):
        detail = gettext(
            "The card {serial} left with {label} and is here as {now}: enter it there.", **names, now=now.label
        )
        raise Problem(409, "left", detail, job=now.pk)
    raise Problem(
        409, "left", gettext("The card {serial} left with {label}. Is it back? Open a new job for it.", **names)
    )
