"""What was done to a card, replayed, with the history of the parts that came from elsewhere."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, cast

from django.db.models import Q, QuerySet

from uvrix.core.rework.acts import OF_THE_CARD, Do
from uvrix.core.rework.events import Event, Ledger, replay
from uvrix.shop.acts.models import Act
from uvrix.shop.jobs.models import Job, of_the_shop


def of_card(job: Job) -> QuerySet[Act]:
    """Everything done to a job's card, in all its visits, that was not withdrawn."""
    rows = Act.objects.filter(card=job.card_id, withdrawal=None)
    return rows.select_related("by", "job", "card").order_by("at", "pk")


def of_job(job: Job, *does: str) -> QuerySet[Act]:
    """What was done in this visit and not withdrawn, oldest first; of some kinds only where they are named."""
    rows = job.act_rows.filter(withdrawal=None).select_related("by")
    return rows.filter(do__in=does) if does else rows


def with_chips(job: Job, chips: Iterable[str] = ()) -> list[Act]:
    """The card's history and that of the chips on it, and of some more, on other cards, in the order of time."""
    own = list(of_card(job))
    labels = {*chips, *(row.chip for row in own), *(row.chip_in for row in own)} - {""}
    foreign = [label for label in labels if not label.startswith(f"{job.card.serial}/")]
    others = Act.objects.filter(Q(chip__in=foreign) | Q(chip_in__in=foreign), withdrawal=None)
    others = of_the_shop(others).exclude(card=job.card_id).select_related("by", "job", "card")
    mine = {f"{job.card.serial}/{row.site}" for row in own} & labels
    left = Act.objects.filter(Q(chip__in=mine) | Q(chip_in__in=mine), withdrawal=None)
    left = of_the_shop(left).exclude(card=job.card_id)
    every = {row.pk: row for row in [*own, *others, *left.select_related("by", "job", "card")]}
    return sorted(every.values(), key=lambda row: (row.at, str(row.pk)))


def event_of(row: Act) -> Event:
    """A row as the core has it."""
    return Event(
        row.at,
        cast("Do", row.do),
        row.card.serial if row.site or row.do in OF_THE_CARD else "",
        row.site,
        row.chip,
        row.chip_in,
        cast("Any", row.alloy_on),
        cast("Any", row.alloy_off),
        str(row.pk),
    )


def ledger_of(rows: Sequence[Act], whole: str = "") -> Ledger:
    """The rows replayed; those of the card `whole` are checked anew. Raises Refusal where they do not fit any more."""
    return replay((event_of(row) for row in rows), whole={whole})
