"""The customer's part of a card's thread: what they answered."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from uvrix.shop.case.rows import Row, key_of, source
from uvrix.shop.offers.models import Offer, OfferAnswer


@source(Offer)
def answers(jobs: Sequence[int]) -> Iterable[Row]:
    """Offers that were answered: the title of what was chosen, or that nothing was."""
    found = OfferAnswer.objects.filter(offer__job__in=jobs).select_related("offer").order_by("at")
    for answer in found:
        chosen = answer.offer.options[answer.option].get("title", "") if answer.option is not None else "no"
        entry = {"answered": {"do": "ask", "answer": chosen}}
        yield Row(answer.offer.job_id, answer.at, answer.by_id, key_of(answer), "arrive", entry)
