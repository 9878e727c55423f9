"""A part that is to come onto a card: whether it is at hand and fits, as Stock answers, which stands above Rework."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from uvrix.core.stock.fits import Fits
from uvrix.shop.jobs.models import Job


@dataclass(frozen=True, slots=True)
class Coming:
    """A part that is to come: why it is not at hand, the drawer that it is one piece of, whether it fits.

    `fits` is None where nobody said what the part is.
    """

    not_at_hand: str = ""
    drawer: str = ""
    fits: Fits | None = None


Answers = Callable[[Job, str, str], Coming]
_ANSWERS: list[Answers] = []


def answers_for_parts(answer: Answers) -> Answers:
    """Register who knows parts by their labels."""
    _ANSWERS.append(answer)
    return answer


def coming(job: Job, site: str, label: str) -> Coming:
    """What is known of a part that is to come onto a site; nothing of one without a label."""
    return _ANSWERS[-1](job, site, label) if label and _ANSWERS else Coming()
