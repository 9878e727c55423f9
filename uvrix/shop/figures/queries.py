"""The shop's jobs as figures see them, in a fixed number of queries; which proven cards the library learned from."""

from __future__ import annotations

import re
from collections import defaultdict
from dataclasses import dataclass
from datetime import timedelta

from django.utils import timezone

from uvrix.core.figures.counting import Case
from uvrix.core.look.findings import KINDS as SEEN
from uvrix.core.planning.causes import REPAIRS
from uvrix.language import gettext
from uvrix.shop.acts.models import Act
from uvrix.shop.clock.models import ClockSpan, JobWorth
from uvrix.shop.clock.queries import money
from uvrix.shop.hypotheses.models import HypothesisWord
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.look.models import LookFinding
from uvrix.shop.ohms.models import KnownReading, Reading
from uvrix.shop.planning.models import Attempt
from uvrix.shop.returning.models import Comeback, Return
from uvrix.shop.stock.parts import stock
from uvrix.shop.stock.queries import failed_chips
from uvrix.shop.stock.services import OWN

# A card that has been gone for this long and is not back holds; before that nobody knows.
HOLDS_DAYS = 90
CONNECTORS = frozenset({"plug", "socket", "contact"})
DESIGNATOR = re.compile(r"\b[A-Z]{1,3}\d{1,4}\b")
# What a comeback says of the repair before it: a new fault is not its fault.
AGAINST = frozenset({"material", "same"})


def cases() -> list[Case]:
    """Every job of a customer's card, oldest first."""
    every = of_the_shop(Job.objects.select_related("card__model", "customer"), "pk")
    jobs = every.exclude(customer__name=OWN).order_by("pk")
    causes, words = _causes()
    tried, cured = _attempts()
    done = _rework()
    connectors: dict[int, list[str]] = defaultdict(list)
    seen = LookFinding.objects.filter(kind__in=CONNECTORS, withdrawal=None).values_list("job", "kind")
    for number, kind in seen:
        connectors[number].append(SEEN[kind])
    returned = {row.job_id: row for row in Return.objects.order_by("at")}
    back = {row.of_id: row.cause for row in Comeback.objects.order_by("at")}
    minutes: dict[int, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    for span in ClockSpan.objects.exclude(ended_at=None).prefetch_related("corrections"):
        minutes[span.job_id][span.step] += span.minutes
    parts_cost = dict(JobWorth.objects.order_by("at").values_list("job", "parts"))
    lots = _lots()
    hour, now = money().hour, timezone.now()
    found = []
    for job in jobs:
        last = returned.get(job.pk)
        repaired = None if job.closed_at is None else not last.no_fix if last else bool(job.warranty_until)
        held = job.closed_at is not None and now - job.closed_at > timedelta(days=HOLDS_DAYS)
        came_back = back[job.pk] in AGAINST if job.pk in back else False if held else None
        by_step = dict(minutes.get(job.pk, {}))
        named = DESIGNATOR.findall(" ".join(words.get(job.pk, ())))
        worked = sum(by_step.values()) / 60 * hour
        found.append(
            Case(
                job.pk,
                str(job.card.model),
                job.opened_at.date(),
                job.closed_at.date() if job.closed_at else None,
                tuple(causes.get(job.pk, ())),
                tuple(dict.fromkeys([*cured.get(job.pk, ()), *named])),
                tuple(dict.fromkeys(connectors.get(job.pk, ()))),
                tuple(lots.get(job.card.serial, ())),
                tuple(dict.fromkeys([*tried.get(job.pk, ()), *done.get(job.pk, ())])),
                repaired,
                came_back,
                by_step,
                last.price if last else None,
                worked + parts_cost.get(job.pk, 0.0),
            )
        )
    return found


def _causes() -> tuple[dict[int, list[str]], dict[int, list[str]]]:
    """The causes that stand confirmed, by job; and the words in which that was said."""
    newest: dict[tuple[int, str], HypothesisWord] = {}
    for row in HypothesisWord.objects.order_by("at", "pk"):
        newest[row.job_id, row.key] = row
    causes: dict[int, list[str]] = defaultdict(list)
    words: dict[int, list[str]] = defaultdict(list)
    for (job, _), row in newest.items():
        if row.state == "confirmed":
            causes[job].append(row.cause)
            words[job] += [row.cause, row.by_what]
    return causes, words


def _attempts() -> tuple[dict[int, list[str]], dict[int, list[str]]]:
    """Kinds of repair in the order in which they were tried, and the places that one of them cured."""
    tried: dict[int, list[str]] = defaultdict(list)
    cured: dict[int, list[str]] = defaultdict(list)
    for row in Attempt.objects.filter(withdrawal=None, do__in=REPAIRS).order_by("at"):
        tried[row.job_id].append(row.do)
        if row.outcome == "yes":
            cured[row.job_id] += [name for name in row.chips.split(",") if name]
    return tried, cured


def _rework() -> dict[int, list[str]]:
    """Kinds of repair by what was done: a chip put back is reballed, one from elsewhere is a replacement."""
    done: dict[int, list[str]] = defaultdict(list)
    rows = Act.objects.filter(withdrawal=None, do__in=("reball", "place", "swap")).order_by("at")
    for job, serial, do, site, chip_in in rows.values_list("job", "card__serial", "do", "site", "chip_in"):
        if do == "reball":
            done[job].append("reball")
        elif chip_in != f"{serial}/{site}":  # also of a part without a label
            done[job].append("replace")
    return done


def _lots() -> dict[str, list[str]]:
    """The lots of chips that failed, by the card that they came with."""
    at = stock()
    dead = failed_chips(at)
    found: dict[str, list[str]] = defaultdict(list)
    for label in sorted(dead):
        serial = label.rpartition("/")[0]
        if label in at.lots and at.lots[label] not in found[serial]:
            found[serial].append(at.lots[label])
    return found


@dataclass(frozen=True, slots=True)
class Learned:
    """A proven card and what the library has of it: its readings, who let them in, whether they count now."""

    job: Job
    readings: int
    counts: bool
    by: str
    repaired: Return


def source_of(job: Job) -> str:
    """Where a known-good reading says that it is from."""
    return gettext("{label}, proven", label=job.label)


def learnable(job: Job) -> list[Reading]:
    """The readings that a proven card could give: the newest of each thing since its last rework.

    Where no rework is on record nothing tells what was read before the repair from what was read after it.
    """
    from uvrix.shop.ohms.queries import measured
    from uvrix.shop.proving.queries import last_rework

    since, found = last_rework(job), measured(job)
    return [row for row in found.readings if since is not None and row.pk in found.standing and row.at > since]


def learning() -> list[Learned]:
    """Cards that left repaired and were read after it, newest first."""
    rows = (
        of_the_shop(Return.objects.filter(no_fix="")).select_related("job__card__model__newest", "by").order_by("-at")
    )
    known: dict[str, list[KnownReading]] = defaultdict(list)
    sources = [source_of(row.job) for row in rows]
    for source in KnownReading.objects.filter(source__in=sources).select_related("added_by"):
        known[source.source].append(source)
    found = []
    for row in rows:
        mine = known.get(source_of(row.job), [])
        counting = [reading for reading in mine if reading.out_at is None]
        many = len(counting) or len(learnable(row.job))
        by = counting[0].added_by.shown_name if counting else ""
        found.append(Learned(row.job, many, bool(counting), by, row))
    return found
