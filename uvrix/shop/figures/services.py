"""What a proven card gives to the library, and taking it back."""

from __future__ import annotations

from uuid import uuid5

from django.db import transaction

from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.figures.queries import learnable, source_of
from uvrix.shop.jobs.models import Job
from uvrix.shop.ohms.models import KnownReading
from uvrix.shop.ohms.services import take_out
from uvrix.shop.returning.models import Return


@transaction.atomic
def learn(job: Job, by: User) -> int:
    """The card's good readings join the known-good library, with the consent of who presses; how many.

    Raises Problem 409 `not-proven` where it did not leave repaired, 422 `nothing-read` where nothing was read since.
    """
    job = Job.objects.select_for_update().select_related("card__model").get(pk=job.pk)
    if not Return.objects.filter(job=job, no_fix="").exists():
        raise Problem(409, "not-proven", gettext("{label} has not left repaired and proven.", label=job.label))
    rows = learnable(job)
    if not rows:
        raise Problem(
            422, "nothing-read", gettext("found no cold reading since the last rework, expected some to learn from")
        )
    source = source_of(job)
    if KnownReading.objects.filter(source=source, out_at=None).exists():
        return 0
    times = KnownReading.objects.filter(source=source).count()
    for row in rows:
        fields = {"point": row.point, "to": row.to, "quantity": row.quantity, "mode": row.mode, "text": row.text}
        fields |= {"polarity": row.polarity, "meter": row.meter.name if row.meter else "", "source": source}
        KnownReading.objects.create(
            board=job.card.model.slug,
            card=job.card.serial,
            low=row.low,
            high=row.high,
            entry=uuid5(row.pk, gettext("learned {times}", times=times)),
            added_by=by,
            **fields,
        )
    return len(rows)


@transaction.atomic
def unlearn(job: Job, by: User) -> int:
    """What the card gave counts no more; how many readings. They stay in the record."""
    rows = KnownReading.objects.filter(source=source_of(job), out_at=None)
    for row in rows:
        take_out(row, by)
    return len(rows)
