"""Reading jobs: the shelf, search, one job, and the one sentence that says what is next."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.db.models import Count, F, Max, Prefetch, Q, QuerySet

from uvrix.core.memory.finding.reasons import title
from uvrix.core.planning.habits import Habits
from uvrix.core.planning.plan import Action
from uvrix.shop.bench.models import ChipMark, MemoryRun
from uvrix.shop.jobs.models import Job
from uvrix.shop.planning.models import Attempt
from uvrix.shop.planning.queries import plan_for

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
CHIP_KINDS = frozenset({"dq-line", "dq-bridge", "byte-lane", "half", "site", "cells", "address-line", "joint"})
MOST_FOUND = 20


@dataclass(frozen=True, slots=True)
class NextStep:
    """What to do next and why; `what` tells which part of the page it is; `left` says where the job was left."""

    what: str  # wait, report, draw, mark or act
    do: str
    why: str
    left: str


def jobs() -> QuerySet[Job]:
    """Jobs with everything that lists and pages show of them, in a fixed number of queries."""
    standing = ChipMark.objects.filter(withdrawal=None).order_by("-at")
    attempts = Attempt.objects.filter(withdrawal=None).order_by("at")
    counting = Q(runs__withdrawal=None)
    return (
        Job.objects.select_related("card__model__newest", "customer", "opened_by")
        .defer("card__model__newest__text")
        .prefetch_related(Prefetch("marks", standing, to_attr="standing_marks"))
        .prefetch_related(Prefetch("attempts", attempts, to_attr="standing_attempts"))
        .annotate(run_count=Count("runs", filter=counting), last_run_at=Max("runs__added_at", filter=counting))
    )


def shelf() -> QuerySet[Job]:
    """Open jobs: express first, then by due date, then the oldest."""
    return jobs().filter(closed_at=None).order_by("-express", F("due").asc(nulls_last=True), "opened_at")


def search(text: str) -> QuerySet[Job]:
    """Jobs, open or closed, by number, serial, customer, model or complaint."""
    digits = text.upper().removeprefix("J-")
    match = Q(card__serial__icontains=text) | Q(customer__name__icontains=text) | Q(complaint__icontains=text)
    match |= Q(card__model__name__icontains=text)
    if digits.isascii() and digits.isdigit() and len(digits) < 10:
        match |= Q(pk=int(digits))
    return jobs().filter(match).order_by("-opened_at")[:MOST_FOUND]


def standing_mark(job: Job) -> ChipMark | None:
    """The newest mark that was not withdrawn."""
    marks: list[ChipMark] = job.standing_marks  # type: ignore[attr-defined]
    return marks[0] if marks else None


def standing_runs(job: Job) -> QuerySet[MemoryRun]:
    """The runs that count, oldest first."""
    return job.runs.filter(withdrawal=None).select_related("file", "added_by", "edition").order_by("number")


def next_step(job: Job, habits: Habits) -> NextStep:
    """The one sentence of the job strip."""
    if job.move != "hands":
        return NextStep("wait", job.waits_for or f"Wait: {job.get_move_display()}", "", _left(job))
    located: dict[str, Any] | None = job.located
    if not located:
        why = "The report's channels are not the order round the board; Uvrix counts."
        return NextStep("report", "Run the memory tester and drop its report", why, _left(job))
    actions = plan_for(job, habits)
    finding = located["finding"]
    if finding["kind"] in CHIP_KINDS or (located.get("placeless") and finding["kind"] == "unclear"):
        return _about_a_chip(job, located, actions)
    return _act(job, actions[0])


def _about_a_chip(job: Job, located: dict[str, Any], actions: list[Action]) -> NextStep:
    """Nothing is lifted before its board is drawn and its mark confirmed; tests come before that where they rank so."""
    finding, first, mark = located["finding"], actions[0], standing_mark(job)
    names = " and ".join(finding["designators"][:4])
    if not names:
        return _act(job, first)
    if located.get("placeless"):
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


def percent(chance: float) -> str:
    """A chance as the screen writes it."""
    return f"{int(100 * chance + 0.5)}\N{NO-BREAK SPACE}%"


def do_words(action: Action) -> str:
    """An action as the sentence says it."""
    return DO[action.do].format(" and ".join(action.designators[:4]) or "the chip")


def _left(job: Job) -> str:
    """Where the job was left, in a few words."""
    if not job.located:
        return "Memory: nothing yet"
    finding = job.located["finding"]
    names = ", ".join(finding["designators"][:4])
    if len(finding["designators"]) > 4:
        names = f"{len(finding['designators'])} chips"
    if job.located.get("placeless") and names:
        names = f"channel {names}"
    mark = standing_mark(job)
    words = title(finding["kind"]).lower()
    text = f"Memory: {names}, {words}" if names else f"Memory: {words}"
    if finding["kind"] in CHIP_KINDS:
        text += f", chance {percent(finding['chance'])}"
    return text + (f"; {mark.designator} marked" if mark else "")
