"""Past cards of the model that read like this one, of which it is known what they had."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from typing import cast

from uvrix.core.readings.alike import Thing, alike
from uvrix.core.readings.notation import Quantity
from uvrix.language import gettext
from uvrix.shop.hypotheses.models import HypothesisWord
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.ohms.models import Reading
from uvrix.shop.ohms.queries import measured, reading_context

# This many past cards are looked through, newest first, and this many are shown.
MOST_PAST, MOST_SHOWN = 400, 5
OHMS: Quantity = "resistance"


@dataclass(frozen=True, slots=True)
class PastCause:
    """What a past card had, and what confirmed it."""

    cause: str
    by_what: str


@dataclass(frozen=True, slots=True)
class PastCard:
    """A past job, what it had and by what, where both read alike and where not."""

    job: Job
    causes: tuple[PastCause, ...]
    agree: tuple[str, ...]
    differ: tuple[str, ...]


def cards_alike(job: Job) -> list[PastCard]:
    """Nearest first; none where nothing that was read stands out."""
    read = [judgement for judgement in measured(job).standing_judged if judgement.reading.quantity == OHMS]
    own = {
        _thing(judgement.reading.point, judgement.reading.to, job): judgement.reading.value.low for judgement in read
    }
    causes = _known_causes(job)
    patterns: dict[int, dict[Thing, float | None]] = defaultdict(dict)
    for row in Reading.objects.filter(job__in=list(causes), quantity=OHMS).order_by("at", "pk"):
        patterns[row.job_id][_thing(row.point, row.to, job)] = row.low
    healthy: dict[Thing, float] = {
        _thing(judgement.reading.point, judgement.reading.to, job): judgement.reference.centre
        for judgement in read
        if judgement.reference and judgement.reference.centre
    }
    numbers = list(patterns)
    found = alike(own, [patterns[number] for number in numbers], healthy)[:MOST_SHOWN]
    jobs = Job.objects.select_related("card").in_bulk([numbers[likeness.card] for likeness in found])
    return [
        PastCard(
            jobs[numbers[likeness.card]],
            tuple(causes[numbers[likeness.card]]),
            tuple(_name(thing) for thing in likeness.agree),
            tuple(_name(thing) for thing in likeness.differ),
        )
        for likeness in found
    ]


def _thing(point: str, to: str, job: Job) -> tuple[str, ...]:
    return reading_context(job).places.key(point, to)


def _name(thing: Thing) -> str:
    kind, *names = cast("tuple[str, ...]", thing)
    return f"{'/'.join(names)}{(gettext(' across') if kind == 'across' else '')}"


def _known_causes(job: Job) -> dict[int, list[PastCause]]:
    """Jobs of the same model of which a cause stands confirmed, newest first, with causes and what confirmed them."""
    words = (
        of_the_shop(HypothesisWord.objects.filter(job__card__model=job.card.model, state="confirmed"))
        .exclude(job=job)
        .order_by("-at")[:MOST_PAST]
    )
    found: dict[int, list[PastCause]] = defaultdict(list)
    for word in words:
        found[word.job_id].append(PastCause(word.cause, word.by_what))
    return found
