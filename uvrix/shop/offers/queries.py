"""What a customer is asked and was told, and what a template may say of a job."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import timedelta
from typing import Any

from django.db.models import QuerySet
from django.utils import timezone

from uvrix.core.values.words import percent
from uvrix.core.worth.worth import Money
from uvrix.language import gettext
from uvrix.shop.clock.queries import money
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.offers.models import Message, MessageTemplates, Offer
from uvrix.shop.offers.templates import USUAL

SHOP = gettext("The bench")
ANSWER_DAYS = 14
AGAINST = gettext(
    "This is against our advice: what is left on the card may fail soon, the warranty covers only what was replaced, "
    "and a second repair is charged."
)


def templates_now() -> Any:
    """The shop's templates, as saved last, else the usual ones."""
    newest = MessageTemplates.objects.last()
    return newest.content if newest else USUAL


def offers_of(job: Job) -> QuerySet[Offer]:
    """What a job's customer was asked, oldest first."""
    return job.offer_rows.select_related("by", "answer", "answer__by").order_by("at")


def open_offer(job: Job) -> Offer | None:
    """The newest offer, where it waits for an answer."""
    newest = offers_of(job).last()
    return newest if newest and not hasattr(newest, "answer") else None


def option_words(option: dict[str, Any], shop: Money) -> str:
    """An option in one line: price, chance, what follows from it."""
    chance = option.get("chance")
    sure = gettext(", {chance} that it holds", chance=percent(chance)) if chance is not None else ""
    follows = f" {option['consequence']}" if option.get("consequence") else ""
    against = f" {AGAINST}" if option.get("against_advice") else ""
    return f"{option['name']}: {shop.amount(option['price'])}{sure}.{follows}{against}"


def wording_of(offer: Offer) -> str:
    """All that a customer saw when they answered."""
    shop = money()
    lines = [offer.title, offer.found, *(option_words(option, shop) for option in offer.options)]
    return "\n".join(lines)


_FILLS: list[Callable[[Job], Mapping[str, str]]] = []


def fills_places(fill: Callable[[Job], Mapping[str, str]]) -> Callable[[Job], Mapping[str, str]]:
    """Register who fills places of a template from what a later step knows."""
    _FILLS.append(fill)
    return fill


def places_of(job: Job) -> dict[str, str]:
    """What a template's places are filled with."""
    shop, offer = money(), offers_of(job).last()
    usual = {
        "customer": job.customer.name,
        "job": job.label,
        "card": str(job.card.model),
        "complaint": job.complaint,
        "found": offer.found if offer else "",
        "options": "\n".join(f"- {option_words(option, shop)}" for option in offer.options) if offer else "",
        "due": shop.day(timezone.localdate() + timedelta(days=ANSWER_DAYS)),
        "price": "",
        "warranty": shop.day(job.warranty_until) if job.warranty_until else "",
        "handling": "",
        "shop": SHOP,
    }
    return usual | {place: words for fill in _FILLS for place, words in fill(job).items()}


def mailbox() -> QuerySet[Message]:
    """Everything that was written to customers, newest first."""
    return of_the_shop(Message.objects.select_related("job__customer", "by")).order_by("-at")
