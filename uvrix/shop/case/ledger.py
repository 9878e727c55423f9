"""The acts on a card as its thread has them, on whichever screen they were entered."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any

from uvrix.core.rework.acts import OF_THE_CARD
from uvrix.core.rework.events import original
from uvrix.language import gettext
from uvrix.shop.acts.models import Act
from uvrix.shop.acts.queries import ledger_of
from uvrix.shop.case.rows import ANOTHER_BOARD, Row, key_of, row, source
from uvrix.shop.jobs.boards import board_since
from uvrix.shop.jobs.models import Job, JobBoard

# What a part without a label is called where it comes onto a card.
UNLABELLED = gettext("another one")


@source(Act)
def acts(jobs: Sequence[int]) -> Iterable[Row]:
    """What was done and not taken back."""
    found = Act.objects.filter(job__in=jobs, withdrawal=None).select_related("card").order_by("at", "pk")
    for act in found:
        if entry := act_entry(act):
            yield row(act, act.step, entry)


@source(None)
def left_from_before(jobs: Sequence[int]) -> Iterable[Row]:
    """What earlier visits of a card left as it is: parts off, leads on, coils lifted, places cut out."""
    visits = Job.objects.filter(pk__in=jobs)
    moved = board_since(jobs)
    found = Act.objects.filter(card__in=visits.values("card"), withdrawal=None)
    if not moved:
        found = found.exclude(job__in=jobs)
    cards: dict[int, list[Act]] = defaultdict(list)
    for act in found.select_related("job", "card").order_by("at", "pk"):
        cards[act.card_id].append(act)
    for job in visits.filter(card__in=cards) if cards else ():
        since = moved.get(job.pk)
        before = {str(act.pk): act for act in cards[job.card_id] if _stood_before(act, job, since)}
        ledger = ledger_of(list(before.values()))
        for left in (ledger.emptied_by, ledger.leads, ledger.lifted, ledger.cut):
            for act in (before[key] for key in left.values()):
                entry = {"did": "remove" if left is ledger.emptied_by else act.do, "site": act.site}
                yield Row(job.pk, since or act.at, act.by_id, key_of(act), act.step, entry)


def _stood_before(act: Act, job: Job, since: datetime | None) -> bool:
    """Whether an act on the job's board was done before the job had it, in an earlier visit or on another's job."""
    return act.at < since if since else act.job.opened_at < job.opened_at


@source(JobBoard)
def moved_to_another_board(jobs: Sequence[int]) -> Iterable[Row]:
    """From when the card has lived on another board: what was measured on the one before is of that one."""
    for moved in JobBoard.objects.filter(job__in=jobs).select_related("after"):
        yield row(moved, "rework", {ANOTHER_BOARD: moved.after.serial})


def act_entry(act: Act) -> Mapping[str, Any] | None:
    """An act as an entry; None of a chip in the hand, and of drying one that lay open.

    A part that comes is named where it is another one than the card came with.
    """
    if act.do == "baked" or (not act.site and act.do not in OF_THE_CARD):
        return None
    another = act.do == "place" and act.chip_in != original(act.card.serial, act.site)
    site = {"site": act.site} if act.site else {}
    return {"did": act.do, **site, **({"chip": act.chip_in or act.drawer or UNLABELLED} if another else {})}
