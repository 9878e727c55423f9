"""Saying what a hypothesis has become."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated
from uuid import UUID

from django.db import transaction

from uvrix.core.hypotheses.suggest import key_of
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, given
from uvrix.shop.hypotheses.models import HypothesisWord
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row

STATES = ("open", "ruled-out", "confirmed")


STEPS = ("arrive", "look", "ohms", "volts", "memory", "rework", "prove", "return", "")


@dataclass(frozen=True, slots=True)
class NewWord:
    """What is said of a cause: `state` of STATES, `by_what` needed unless it is open, `step` where it was found."""

    id: UUID
    cause: Annotated[str, given(max_length=120)]
    state: Annotated[str, chosen(STATES)]
    by_what: Annotated[str, given(max_length=200, allow_blank=True)] = ""
    step: Annotated[str, chosen(STEPS)] = ""


@transaction.atomic
def say(job: Job, new: NewWord, by: User) -> tuple[HypothesisWord, bool]:
    """A word on a hypothesis, and whether it is new.

    Raises Problem 422 where the cause has no letter, or nothing says by what it was ruled out or confirmed.
    """
    key = key_of(new.cause)
    if not key:
        raise Problem(
            422, "no-cause", gettext("found {cause}, expected words that name a cause", cause=repr(new.cause))
        )
    if new.state != "open" and not new.by_what.strip():
        raise Problem(422, "by-what", gettext("found no reason, expected what ruled it out or confirmed it"))
    fields = {"key": key, "cause": new.cause.strip(), "state": new.state}
    return keep_row(HypothesisWord, job, new.id, by, **fields, by_what=new.by_what.strip(), step=new.step)
