"""The card that resumes a job: where it was left, what is ruled out, what is off the board, what is owed, what next."""

from __future__ import annotations

from dataclasses import dataclass

from uvrix.shop.hypotheses.queries import Hypothesis, hypotheses
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import knowing
from uvrix.shop.promises.queries import Owed, owed
from uvrix.shop.record.timeline import Event, timeline

# What a person needs to read to be back in it.
LAST = 4
# Kinds of promises that are something off the board, or on it that does not belong there.
# Kinds of events that say nothing about the card itself.
ASIDE = frozenset({"clock", "worth", "task"})
OFF = frozenset({"part-off", "wire-on", "coil-lifted", "together"})


@dataclass(frozen=True, slots=True)
class Resume:
    """`last` newest first; `off` what is off the board or on it for now, `owed` the rest of what is owed."""

    last: tuple[Event, ...]
    ruled_out: tuple[Hypothesis, ...]
    confirmed: tuple[Hypothesis, ...]
    open: tuple[Hypothesis, ...]
    off: tuple[Owed, ...]
    owed: tuple[Owed, ...]


def resume(job: Job) -> Resume:
    """What to know before going on."""
    with knowing(job):
        debts = [debt for debt in owed(job) if debt.blocks]
        thoughts = hypotheses(job)
        events = timeline(job)
    return Resume(
        tuple(event for event in events if event.kind not in ASIDE)[:LAST],
        tuple(thought for thought in thoughts if thought.state == "ruled-out"),
        tuple(thought for thought in thoughts if thought.state == "confirmed"),
        tuple(thought for thought in thoughts if thought.state == "open"),
        tuple(debt for debt in debts if debt.kind in OFF),
        tuple(debt for debt in debts if debt.kind not in OFF),
    )
