"""What blocks a card's way out, what became of it, and when to ask how it is."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from django.db.models import Max, QuerySet
from django.utils import timezone

from uvrix.core.boards.schema import Schema, list_of, object_of
from uvrix.core.values.shape import check_shape
from uvrix.language import gettext
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.look.models import JobPhotograph
from uvrix.shop.offers.queries import open_offer
from uvrix.shop.promises.models import Waiver
from uvrix.shop.promises.queries import owed
from uvrix.shop.proving.queries import ProofContext, last_rework, proof_context
from uvrix.shop.returning.models import Comeback, FollowUp, ReturnSettings

SETTINGS_SCHEMA: Schema = object_of(
    [],
    warranty_days={"type": "integer", "minimum": 0, "maximum": 3650},
    follow_up_days=list_of({"type": "integer", "minimum": 1, "maximum": 3650}),
)
USUAL: dict[str, Any] = {"warranty_days": 365, "follow_up_days": [28, 365]}
CAUSES = {
    "material": gettext("the shop's own material"),
    "same": gettext("the same fault again"),
    "new": gettext("a new fault"),
}
SIDES = ("front", "back")


def read_settings(document: Any) -> dict[str, Any]:
    """The shop's settings for Return. Raises Refusal naming the path."""
    check_shape(document, SETTINGS_SCHEMA)
    return {**USUAL, **document}


def settings_now() -> dict[str, Any]:
    """As the shop set them last, else as usual."""
    newest = ReturnSettings.objects.last()
    return read_settings(newest.content) if newest else dict(USUAL)


# What a card that goes back unrepaired need not have: parts that are off or missing. A lifted coil is no such part.
STAYS_OFF = frozenset({"part-off"})


@dataclass(frozen=True, slots=True)
class Item:
    """Something to be settled before a card leaves; `key` names it for a waiver, `step` is where it is settled."""

    key: str
    words: str
    why: str
    step: str
    settled: bool
    waived: Waiver | None

    @property
    def blocks(self) -> bool:
        """Whether the card may not leave because of it."""
        return not self.settled and self.waived is None


def return_check(job: Job, *, no_fix: bool = False) -> tuple[tuple[Item, ...], ProofContext]:
    """Everything to be settled, and the card's proof.

    A card that is not repaired is not proven, and its parts may stay off: the report names them, nobody lets each go.
    A prototype may lack parts that it came without, and has no like that a measurement could be held against.
    """
    prototype = is_prototype(job)
    proof = proof_context(job)
    waived = {waiver.key: waiver for waiver in job.waivers.select_related("by")}
    items = [
        Item(debt.key, debt.words, debt.kind, "teardown" if debt.kind == "together" else "", False, debt.waived)
        for debt in owed(job)
        if not (debt.kind in STAYS_OFF and (no_fix or (prototype and debt.came_so)))
    ]
    if not no_fix:
        for judged in proof.checks:
            key = f"proof:{judged.check.id}"
            alone = prototype and judged.no_reference
            reasons = (*judged.why, *([gettext("A prototype: there is no other to compare it with.")] if alone else []))
            settled = judged.state == "passed" or alone
            let_go = proof.waived.get(judged.check.id)
            items.append(Item(key, judged.check.name, " ".join(reasons), "prove", settled, let_go))
    since = last_rework(job)
    taken = {
        row.side for row in JobPhotograph.objects.filter(job=job, side__in=SIDES) if since is None or row.at > since
    }
    for side in SIDES:
        key = f"photo:{side}"
        why = gettext("as it leaves") if since is None else gettext("after the last rework")
        items.append(
            Item(
                key,
                gettext("Photograph of the {side}, {why}", side=side, why=why),
                "",
                "look",
                side in taken,
                waived.get(key),
            )
        )
    if offer := open_offer(job):
        key = f"offer:{offer.pk}"
        words = gettext("The customer has not answered: {title}", title=offer.title)
        items.append(Item(key, words, "", "return", False, waived.get(key)))
    return tuple(items), proof


def is_prototype(job: Job) -> bool:
    """Whether the card was said at its arrival to be a prototype: parts unmarked, perhaps never fitted."""
    parcel = job.intakes.last()
    return parcel is not None and parcel.provenance == "prototype"


def earlier(job: Job) -> QuerySet[Job]:
    """Earlier visits of the same card, newest first."""
    return (
        Job.objects.filter(card=job.card_id, opened_at__lt=job.opened_at).exclude(closed_at=None).order_by("-opened_at")
    )


def in_warranty(job: Job) -> Job | None:
    """The earlier visit whose warranty still ran when this one began."""
    return next(
        (
            candidate
            for candidate in earlier(job)
            if candidate.warranty_until and candidate.warranty_until >= job.opened_at.date()
        ),
        None,
    )


def comeback_of(job: Job) -> Comeback | None:
    """What was said of why a card came back."""
    return Comeback.objects.filter(job=job).select_related("of", "by").last()


@dataclass(frozen=True, slots=True)
class Reminder:
    """Something to write to a customer about: an answer that is late, a card to ask after."""

    kind: str
    job: Job
    due: date
    words: str
    key: str


def reminders(today: date | None = None) -> list[Reminder]:
    """What is due, the oldest first."""
    now = today or timezone.localdate()
    found = [
        Reminder("follow-up", follow_up.job, follow_up.due, follow_up.words, str(follow_up.pk))
        for follow_up in of_the_shop(FollowUp.objects.filter(done_at=None, due__lte=now)).select_related(
            "job__customer", "job__card__model"
        )
    ]
    waiting = of_the_shop(
        Job.objects.filter(move="customer", closed_at=None, offer_rows__isnull=False), "pk"
    ).distinct()
    for job in waiting.select_related("customer", "card__model"):
        offer = open_offer(job)
        if offer is None:
            continue
        written: datetime = job.message_rows.aggregate(at=Max("at"))["at"] or offer.at
        since = (now - max(written, offer.at).date()).days
        if since >= REMIND_DAYS:
            words = gettext("No answer for {since} days: {title}", since=since, title=offer.title)
            found.append(Reminder("answer", job, max(written, offer.at).date(), words, str(offer.pk)))
    return sorted(found, key=lambda reminder: reminder.due)


# An answer is asked for again after this many days.
REMIND_DAYS = 5
