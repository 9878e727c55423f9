"""Reading jobs: the shelf, search, one job, and the one sentence that says what is next."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any

from django.contrib.postgres.search import TrigramWordDistance, TrigramWordSimilarity
from django.db.models import Exists, F, OuterRef, Q, QuerySet
from django.db.models.functions import Greatest

from uvrix.core.finding_kinds import OF_ONE_CHIP
from uvrix.core.memory.finding.reasons import title
from uvrix.core.planning.habits import Habits
from uvrix.core.planning.plan import Action
from uvrix.core.values.words import percent
from uvrix.shop.bench.models import ChipMark, MemoryRun
from uvrix.shop.jobs.models import Card, Customer, Job
from uvrix.shop.jobs.standing import Standing, with_standing
from uvrix.shop.look.models import LookFinding
from uvrix.shop.look.queries import looked
from uvrix.shop.planning.queries import plan_for
from uvrix.shop.record.models import Note

DO = {
    "measure-lines": "Measure the lines of {0}",
    "reball": "Reball {0}",
    "replace": "Replace {0}",
    "check-supply": "Measure the supply of {0}",
    "rerun": "Run the memory test again under another condition",
    "ohms": "Go to Ohms: rails first, no chip",
    "volts": "Go to Volts: rails first, no chip",
    "lift-core": "Lift the core",
    "recipe": "Set the tester right: build, index, command",
}
# Actions that touch one chip, so its mark is confirmed before them.
HANDS_ON = frozenset({"measure-lines", "reball", "replace"})
MOST_FOUND, MOST_CANDIDATES, MOST_DIGITS = 20, 60, 10
# How unlike a word may be and still be meant: two letters that changed places in five.
FARTHEST = 0.7
DESIGNATOR = re.compile(r"[A-Za-z]{1,4}\d{1,5}")


@dataclass(frozen=True, slots=True)
class NextStep:
    """What to do next and why; `what` tells which part of which page it is; `left` says where the job was left."""

    what: str
    do: str
    why: str
    left: str


# What a row of a list is made of, beside how the job stands.
LISTED = (
    *("complaint", "place", "express", "move", "waits_for", "due", "opened_at", "closed_at", "customer__name"),
    *("card__serial", "card__model__slug", "card__model__name", "card__model__revision"),
    *("card__model__newest__sha256", "card__model__newest__number"),
)


def jobs() -> QuerySet[Job]:
    """Jobs as lists show them; whatever else is asked of one costs a query."""
    return Job.objects.select_related("card__model__newest", "customer").only(*LISTED)


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
    return with_standing(found.order_by("-express", F("due").asc(nulls_last=True), "opened_at"))


def search(text: str) -> list[Job]:
    """Jobs, open or closed, by number, serial, customer, model, complaint, designator or note, the likest first.

    Where nothing holds the text as it is typed, typing errors are forgiven.
    """
    meant = jobs().filter(pk__in=_meant_by(text)).annotate(like=_likeness(text))
    return with_standing(meant.order_by("-like", "-opened_at")[:MOST_FOUND])


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


def next_step(job: Job, habits: Habits) -> NextStep:
    """The one sentence of the job strip; `job` comes with its standing."""
    if job.move != "hands":
        return NextStep("wait", job.waits_for or f"Wait: {job.get_move_display()}", "", _left(job))
    if back := _back(job):
        return back
    now = job.standing
    if not now.finding:
        return _before_any_run(job)
    if _to_prove(now):
        why = "Repaired is not proven: faults appear many minutes in, warm, or the next morning."
        return NextStep("prove", "Prove it, check by check", why, _left(job))
    actions = plan_for(job, habits)
    if now.finding["kind"] in OF_ONE_CHIP or (now.placeless and now.finding["kind"] == "unclear"):
        return _about_a_chip(job, now.finding, actions)
    return _act(job, actions[0])


def _back(job: Job) -> NextStep | None:
    """Where a fault came late and nothing was done since, the job is back at its step; who is suspect is named."""
    now = job.standing
    fault = now.fault
    if not fault or any(later and later > fault.at for later in (now.rework_at, now.last_run_at)):
        return None
    near = ", ".join(f"{one['designator']} ({one['why']})" for one in fault.suspects[:2])
    why = f"It failed while it was proven: {fault.words.rstrip('.')}." + (f" Look first at {near}." if near else "")
    return NextStep("fault", f"Back to {fault.back_to.capitalize()}, everything is kept", why, _left(job))


def _to_prove(now: Standing) -> bool:
    """Whether the card was worked on and its newest memory runs are clean since."""
    if not now.finding or not now.rework_at or not now.last_run_at:
        return False
    clean: bool = now.finding["kind"] == "no-errors" and now.last_run_at > now.rework_at
    return clean


def _before_any_run(job: Job) -> NextStep:
    """The order of the trade: arrive, look, ohms, then power and the tester; skipping is the technician's choice."""
    if not job.standing.symptom_said:
        why = "What it does, when, and how often decides what is looked at first."
        return NextStep("arrive", "Check the card against its ticket and pin the symptom down", why, _left(job))
    figures = looked(job)
    if left := figures["regions"] - figures["looked"]:
        words = (
            "Look the board over, region by region"
            if left == figures["regions"]
            else f"Look at the other {left} regions"
        )
        why = "A missing part is the thing most easily overlooked, and no meter shows it."
        return NextStep("look", words, why, _left(job))
    if figures["regions"] and not job.standing.readings:
        why = "Power on a short does harm: every fuse and input is measured cold first."
        return NextStep("ohms", "Measure fuses, inputs and rails, unplugged", why, _left(job))
    why = "The report's channels are not the order round the board; Uvrix counts."
    return NextStep("report", "Run the memory tester and drop its report", why, _left(job))


def _about_a_chip(job: Job, finding: dict[str, Any], actions: list[Action]) -> NextStep:
    """Nothing is lifted before its board is drawn and its mark confirmed; tests come before that where they rank so."""
    first, mark = actions[0], job.standing.mark
    names = " and ".join(finding["designators"][:4])
    if not names:
        return _act(job, first)
    if job.standing.placeless:
        why = f"The report points to channel {names}; which chip that is, only the board's model tells."
        return NextStep("draw", "Draw this board's model from a photograph", why, _left(job))
    then = do_words(first)
    if mark is None and first.do in HANDS_ON:
        why = f"{finding['title']}, chance {percent(finding['chance'])}; then {then[0].lower()}{then[1:]}."
        return NextStep("mark", f"Confirm the mark on {names}", why, _left(job))
    if mark is not None and mark.designator not in finding["designators"]:
        why = f"The mark stands on {mark.designator}, but all runs together now point to {names}."
        return NextStep("mark", f"Look at the mark again: {names}", why, _left(job))
    return _act(job, first)


def _act(job: Job, action: Action) -> NextStep:
    """An action as the next step; its reason's first sentence is enough in the strip, the rest stands in the plan."""
    return NextStep("act", do_words(action), f"{action.why.split('. ')[0].removesuffix('.')}.", _left(job))


def do_words(action: Action) -> str:
    """An action as the sentence says it."""
    return DO[action.do].format(" and ".join(action.designators[:4]) or "the chip")


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
