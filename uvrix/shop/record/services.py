"""Writing notes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from django.db import transaction

from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, given
from uvrix.shop.jobs.models import Job, JobChange, WhoseMove
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.jobs.services import change_job
from uvrix.shop.promises.services import end_with_event, made_by_event
from uvrix.shop.record.models import Note
from uvrix.shop.record.timeline import timeline

STEPS = ["arrive", "look", "ohms", "volts", "memory", "rework", "prove", "return", ""]


@dataclass(frozen=True, slots=True)
class NewNote:
    """A note; `corrects` is the id of an event of this job's timeline, or empty."""

    id: UUID
    text: Annotated[str, given(max_length=2000)]
    step: Annotated[str, chosen(STEPS)] = ""
    corrects: Annotated[str, given(max_length=40, allow_blank=True)] = ""


@transaction.atomic
def write_note(job: Job, new: NewNote, by: User) -> tuple[Note, bool]:
    """A note, and whether it is new. Raises Problem 422 where it corrects what is not in this job's record."""
    if new.corrects and new.corrects not in {event.id for event in timeline(job)}:
        raise Problem(422, "unknown-event", gettext("found a correction of what this job's record does not hold"))
    return keep_row(Note, job, new.id, by, text=new.text, step=new.step, corrects=new.corrects)


@transaction.atomic
def set_move(job: Job, entry: UUID, changes: Mapping[str, Any], by: User) -> tuple[JobChange, bool]:
    """Whose move it is, place, date, express; and whether the entry is new.

    A job that begins to wait for the customer's word owes them the message; their answer ends that.
    """
    change, new = change_job(job, entry, changes, by)
    before, after = change.changes.get("move", (None, None))
    if new and after == WhoseMove.CUSTOMER:
        words = gettext("Tell {name}: {value}", name=job.customer.name, value=changes.get("waits_for", job.waits_for))
        made_by_event(job, change.pk, "message", words, by)
    if new and before == WhoseMove.CUSTOMER:
        asked = [row for row in job.jobchange_rows.all() if row.changes.get("move", [None, None])[1] == before]
        if asked:
            end_with_event(asked[-1].pk, "message", by)
    return change, new
