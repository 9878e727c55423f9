"""What the demo's people noted, ruled out, timed and handed over on a job left overnight."""

from __future__ import annotations

from datetime import timedelta
from uuid import NAMESPACE_URL, UUID, uuid5

from uvrix.shop.accounts.models import User
from uvrix.shop.clock.models import ClockSpan
from uvrix.shop.clock.services import NewWorth, add_task, say_worth
from uvrix.shop.hypotheses.services import NewWord, say
from uvrix.shop.jobs.models import Job
from uvrix.shop.promises.services import NewPromise, make_promise
from uvrix.shop.record.services import NewNote, write_note

OVERNIGHT = "TL8-55871"
MINUTES = (("arrive", 14), ("look", 31), ("memory", 52))


def left_overnight(job: Job, by: User) -> None:
    """The thread of one job, for whoever takes it up next morning."""
    if job.card.serial != OVERNIGHT:
        return

    def entry(name: str) -> UUID:
        return uuid5(NAMESPACE_URL, f"uvrix-demo/{OVERNIGHT}/record/{name}")

    for number, (step, minutes) in enumerate(MINUTES):
        began = job.opened_at + timedelta(days=8, hours=number)
        span = ClockSpan(id=entry(step), job=job, step=step, by=by, at=began)
        span.ended_at = began + timedelta(minutes=minutes)
        span.save()
    say_worth(job, NewWorth(entry("worth"), 260.0, note="What the customer paid in spring."), by)
    say(
        job,
        NewWord(entry("fan"), "Fan plug half seated", "ruled-out", "pushed home, turns from every position", "look"),
        by,
    )
    make_promise(job, NewPromise(entry("box"), "message", "Tell her the price before the chip is lifted."), by)
    add_task(job, entry("stencil"), "Look whether a stencil for FB180 is clean.", by)
    write_note(
        job, NewNote(entry("note"), "U15 only. Wanted one more run pressed at U14 before the mark.", "memory"), by
    )
