"""The clock's part of a card's thread: what the repair may cost, and the minutes spent."""

from __future__ import annotations

from uvrix.core.case.shop import Worth
from uvrix.shop.case.given import gives
from uvrix.shop.clock.models import ClockSpan, JobWorth, MoneyEdition
from uvrix.shop.clock.queries import money, time_of
from uvrix.shop.jobs.models import Job


@gives("worth", MoneyEdition, of_its_job=[JobWorth, ClockSpan])
def worth(job: Job) -> Worth:
    """The share of the card's value that a repair may cost, the hour, the minutes; nothing where no value was said."""
    said = job.jobworth_rows.last()
    if said is None:
        return Worth()
    shop = money()
    return Worth(said.value * shop.share, shop.hour, time_of(job).minutes, said.value)
