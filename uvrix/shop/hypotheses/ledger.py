"""What a model's watchlist gives to the belief of its cards: the parts that it names."""

from __future__ import annotations

from collections.abc import Iterable

from uvrix.core.case.shop import Watched
from uvrix.shop.case.given import gives
from uvrix.shop.hypotheses.queries import watchlist_of
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import ModelSheet


@gives("watched", ModelSheet)
def watched(job: Job) -> Iterable[Watched]:
    """The watchlist's entries that name a part; those in words alone are hypotheses for people."""
    return [Watched(entry.part, entry.cause) for entry in watchlist_of(job.card.model).content if entry.part]
