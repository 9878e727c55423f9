"""Reading jobs: the shelf, search, one job, and the one sentence that says what is next."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.contrib.postgres.search import TrigramWordDistance, TrigramWordSimilarity
from django.db.models import Exists, F, OuterRef, Q, QuerySet
from django.db.models.functions import Greatest

from uvrix.core.finding_kinds import OF_ONE_CHIP
from uvrix.core.memory.finding.reasons import title
from uvrix.core.values.words import percent
from uvrix.shop.bench.models import ChipMark, MemoryRun
from uvrix.shop.case.answers import with_told
from uvrix.shop.jobs.models import Card, Customer, Job
from uvrix.shop.jobs.standing import with_standing
from uvrix.shop.look.models import LookFinding
from uvrix.shop.look.queries import looked
from uvrix.shop.proving.queries import at_proof, next_check
from uvrix.shop.record.models import Note

MOST_FOUND, MOST_CANDIDATES, MOST_DIGITS = 20, 60, 10
# How unlike a word may be and still be meant: two letters that changed places in five.
FARTHEST = 0.7
DESIGNATOR = re.compile(r"[A-Za-z]{1,4}\d{1,5}")


@dataclass(frozen=True, slots=True)
class NextStep:
    """What to do next and why: `what` is its word (case.md, `next[].do`), `room` its screen, empty where it has none.

    `left` says where the job was left.
    """

    what: str
    do: str
    why: str
    left: str
    room: str


# What a row of a list is made of, beside how the job stands.
LISTED = (
    *("complaint", "place", "express", "move", "waits_for", "due", "opened_at", "closed_at", "customer__name"),
    *("card__serial", "card__model__slug", "card__model__name", "card__model__revision"),
    *("card__model__newest__sha256", "card__model__newest__number"),
)


def jobs() -> QuerySet[Job]:
    """Jobs as lists show them; whatever else is asked of one costs a query."""
    return Job.objects.select_related("card__model__newest", "customer").only(*LISTED)


def whole(found: Iterable[Job]) -> list[Job]:
    """The jobs with how they stand, and what the cases of those that are open told."""
    ordered = with_standing(found)
    with_told(job for job in ordered if job.closed_at is None)
    return ordered


@dataclass(frozen=True, slots=True)
class Wanted:
    """What the shelf shows of the open jobs; empty fields ask for nothing."""

    text: str = ""
    board_model: str = ""
    move: str = ""
    express: bool = False


def shelf(wanted: Wanted | None = None) -> list[Job]:
    """Open jobs: express first, then by due date, then the oldest."""
    found = jobs().filter(closed_at=None)
    if wanted and wanted.text:
        exact = found.filter(_holds(wanted.text))
        found = exact if exact.exists() else found.annotate(like=_likeness(wanted.text)).filter(like__gte=1 - FARTHEST)
    if wanted and wanted.board_model:
        found = found.filter(card__model__slug=wanted.board_model)
    if wanted and wanted.move:
        found = found.filter(move=wanted.move)
    if wanted and wanted.express:
        found = found.filter(express=True)
    return whole(found.order_by("-express", F("due").asc(nulls_last=True), "opened_at"))


def search(text: str) -> list[Job]:
    """Jobs, open or closed, by number, serial, customer, model, complaint, designator or note, the likest first.

    Where nothing holds the text as it is typed, typing errors are forgiven.
    """
    meant = jobs().filter(pk__in=_meant_by(text)).annotate(like=_likeness(text))
    return whole(meant.order_by("-like", "-opened_at")[:MOST_FOUND])


def _likeness(text: str) -> Greatest:
    """How like a job's words are to a text, 0 to 1."""
    return Greatest(*(TrigramWordSimilarity(text, field) for field in ("card__serial", "customer__name", "complaint")))


def _holds(text: str) -> Q:
    """Open jobs are few: all of those that hold a text are wanted, whatever thousands of closed ones hold."""
    match = Q(card__serial__icontains=text) | Q(customer__name__icontains=text) | Q(complaint__icontains=text)
    match |= Q(card__model__name__icontains=text) | Q(place__iexact=text)
    for rows in (
        Note.objects.filter(text__icontains=text),
        ChipMark.objects.filter(designator__iexact=text, withdrawal=None),
        LookFinding.objects.filter(part__iexact=text, withdrawal=None),
    ):
        match |= Q(Exists(rows.filter(job=OuterRef("pk"))))
    number = _number(text)
    return match if number is None else match | Q(pk=number)


def _number(text: str) -> int | None:
    """The number of a job that a text is, with or without its J-."""
    digits = text.upper().removeprefix("J-")
    return int(digits) if digits.isascii() and digits.isdigit() and len(digits) < MOST_DIGITS else None


def _meant_by(text: str) -> set[int]:
    """Numbers of the jobs that a text may mean; a number of a job means that job alone.

    Each kind of text gives a limited number of candidates, so that a word which thousands share costs no more.
    """
    number = _number(text)
    by_number = set(Job.objects.filter(pk=number).values_list("pk", flat=True)) if number is not None else set()
    if number is not None and text.upper().startswith("J-"):
        return by_number
    return by_number | _holding(text) or _like(text)


def _holding(text: str) -> set[int]:
    """Jobs of which something holds the text as it is typed."""
    some = Job.objects.all()
    customers = Customer.objects.filter(name__icontains=text)
    sources = [
        some.filter(card__in=list(_keys(Card.objects.filter(serial__icontains=text)))),
        some.filter(customer__in=list(_keys(customers))),
        some.filter(complaint__icontains=text),
        some.filter(card__model__name__icontains=text),
        some.filter(pk__in=list(_keys(Note.objects.filter(text__icontains=text), "job"))),
    ]
    if DESIGNATOR.fullmatch(text):
        marks = ChipMark.objects.filter(designator__iexact=text, withdrawal=None)
        parts = LookFinding.objects.filter(part__iexact=text, withdrawal=None)
        sources += [some.filter(pk__in=list(_keys(rows, "job"))) for rows in (marks, parts)]
    return {pk for source in sources for pk in source.order_by("-opened_at").values_list("pk", flat=True)[:MOST_FOUND]}


def _like(text: str) -> set[int]:
    """Jobs of which some words are like the text, the likest of each kind."""
    some = Job.objects.order_by("-opened_at")
    sources = [
        some.filter(card__in=_nearest(Card.objects.all(), "serial", text)),
        some.filter(customer__in=_nearest(Customer.objects.all(), "name", text)),
        some.filter(pk__in=_nearest(Job.objects.all(), "complaint", text)),
        some.filter(pk__in=_nearest(Note.objects.all(), "text", text, "job")),
    ]
    return {pk for source in sources for pk in source.values_list("pk", flat=True)[:MOST_FOUND]}


def _nearest(rows: QuerySet[Any], field: str, text: str, key: str = "pk") -> list[int]:
    """Keys of the rows whose words are likest to the text, by an index that gives the nearest first."""
    near = rows.annotate(far=TrigramWordDistance(text, field)).order_by("far")
    return [found for found, far in near.values_list(key, "far")[:MOST_CANDIDATES] if far <= FARTHEST]


def _keys(rows: QuerySet[Any], name: str = "pk") -> QuerySet[Any]:
    return rows.values_list(name, flat=True)[:MOST_CANDIDATES]


def standing_runs(job: Job) -> QuerySet[MemoryRun]:
    """The runs that count, oldest first."""
    return job.runs.filter(withdrawal=None).select_related("file", "added_by", "edition").order_by("number")


def next_step(job: Job) -> NextStep:
    """The one sentence of the job strip, the shelf and the resume card: the first step of the case's plan.

    `job` comes with its standing, and with what its case told.
    """
    if job.closed_at is not None:
        return NextStep("closed", "Nothing: it is closed", "", _left(job), "return")
    if job.move != "hands":
        return NextStep("wait", job.waits_for or f"Wait: {job.get_move_display()}", "", _left(job), "")
    if back := _back(job):
        return back
    first = (job.told or {})["next"][0]
    if first["do"] == "return" and first.get("target") == "repaired" and (still := next_check(at_proof(job))):
        # checks that this shop, this model or this repair asks for beside the usual ones of the case
        return NextStep("proof", still.check.name, " ".join(still.why), _left(job), "prove")
    return NextStep(first["do"], first["says"], first["why"], _left(job), first["step"])


def _back(job: Job) -> NextStep | None:
    """Where a fault came late and nothing was done since, the job is back at its step; who is suspect is named."""
    now = job.standing
    fault = now.fault
    if not fault or any(later and later > fault.at for later in (now.rework_at, now.last_run_at)):
        return None
    near = ", ".join(f"{one['designator']} ({one['why']})" for one in fault.suspects[:2])
    why = f"It failed while it was proven: {fault.words.rstrip('.')}." + (f" Look first at {near}." if near else "")
    room = fault.back_to.lower()
    return NextStep("fault", f"Back to {fault.back_to.capitalize()}, everything is kept", why, _left(job), room)


def _left_before(job: Job) -> str:
    """Where a job without a memory run was left."""
    figures = looked(job)
    if readings := job.standing.readings:
        return f"Ohms: {readings} {'reading' if readings == 1 else 'readings'}"
    if figures["findings"]:
        return f"Look: {figures['findings']} {'finding' if figures['findings'] == 1 else 'findings'}"
    if figures["looked"]:
        return f"Look: {figures['looked']} of {figures['regions']} regions"
    return "Arrive: symptom said" if job.standing.symptom_said else "Arrive: as it came"


def _left(job: Job) -> str:
    """Where the job was left, in a few words."""
    finding, mark = job.standing.finding, job.standing.mark
    if not finding:
        return _left_before(job)
    names = ", ".join(finding["designators"][:4])
    if len(finding["designators"]) > 4:
        names = f"{len(finding['designators'])} chips"
    if job.standing.placeless and names:
        names = f"channel {names}"
    words = title(finding["kind"]).lower()
    text = f"Memory: {names}, {words}" if names else f"Memory: {words}"
    if finding["kind"] in OF_ONE_CHIP:
        text += f", chance {percent(finding['chance'])}"
    return text + (f"; {mark.designator} marked" if mark else "")
