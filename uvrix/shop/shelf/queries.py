"""Reading jobs: the shelf, search, one job, and the one sentence that says what is next."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.db.models import F, QuerySet

from uvrix.core.case.plan.steps import PROOF_MINUTES
from uvrix.core.case.plan.words import MEANS
from uvrix.core.finding_kinds import OF_ONE_CHIP
from uvrix.core.memory.finding.reasons import title
from uvrix.core.values.words import percent
from uvrix.language import gettext, ngettext
from uvrix.shop.case.answers import advice_hidden, with_told
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.jobs.standing import with_standing
from uvrix.shop.look.queries import looked
from uvrix.shop.proving.queries import next_check, proof_context
from uvrix.shop.shelf.matching import FARTHEST, MOST_FOUND, holds, likeness, meant_by


@dataclass(frozen=True, slots=True)
class NextStep:
    """What to do next and why: `what` is its word (docs/formats §18), `step` its screen, empty where it has none.

    `left` says where the job was left.
    """

    what: str
    do: str
    why: str
    left: str
    step: str


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
    found = of_the_shop(jobs(), "pk").filter(closed_at=None)
    if wanted and wanted.text:
        exact = found.filter(holds(wanted.text))
        found = exact if exact.exists() else found.annotate(like=likeness(wanted.text)).filter(like__gte=1 - FARTHEST)
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
    meant = jobs().filter(pk__in=meant_by(text)).annotate(like=likeness(text))
    return whole(meant.order_by("-like", "-opened_at")[:MOST_FOUND])


def next_step(job: Job) -> NextStep:
    """The one sentence of the job strip, the shelf and the resume card: the first step of the case's plan.

    `job` comes with its standing, and with what its case told.
    """
    if job.closed_at is not None:
        return NextStep("closed", gettext("The job is closed"), "", _left(job), "return")
    if job.move != "hands":
        return NextStep(
            "wait",
            job.waits_for or gettext("Wait: {move}", move=job.get_move_display()),
            "",
            _left(job),
            "",
        )
    if advice_hidden(job):
        why = gettext("The advice is hidden; the debrief compares what you did with it.")
        return NextStep("practice", gettext("Practice"), why, _left(job), "")
    if back := _back(job):
        return back
    first = next_steps(job)[0]
    return NextStep(first["do"], first["says"], first["why"], _left(job), first["step"])


def next_steps(job: Job) -> list[dict[str, Any]]:
    """What to do next, best first (docs/formats §18); `job` comes with what its case told.

    Before a card goes back repaired comes the check that this shop, this model or this repair asks for beside the
    case's own and that is not passed yet.
    """
    steps: list[dict[str, Any]] = list((job.told or {"next": []})["next"])
    first = steps[0] if steps else {}
    if first.get("do") == "return" and first.get("target") == "repaired" and (still := next_check(proof_context(job))):
        asked = {
            "do": "proof",
            "target": still.check.id,
            "step": "prove",
            "says": still.check.name,
            "why": " ".join(still.why) or still.check.fails,
            "means": MEANS["proof"],
            "minutes": still.check.minutes or PROOF_MINUTES.get(still.check.id, first["minutes"]),
        }
        steps.insert(0, {**first, **asked})
    return steps


def _back(job: Job) -> NextStep | None:
    """Where a fault came late and nothing was done since, the job is back at its step; who is suspect is named."""
    now = job.standing
    fault = now.fault
    if not fault or any(later and later > fault.at for later in (now.rework_at, now.last_run_at)):
        return None
    near = ", ".join(f"{suspect['designator']} ({suspect['why']})" for suspect in fault.suspects[:2])
    why = gettext("It failed while it was proven: {words}.", words=fault.words.rstrip(".")) + (
        gettext(" Look first at {near}.", near=near) if near else ""
    )
    step = fault.back_to.lower()
    return NextStep(
        "fault",
        gettext("Back to {back_to}, everything is kept", back_to=fault.back_to.capitalize()),
        why,
        _left(job),
        step,
    )


def _left_before(job: Job) -> str:
    """Where a job without a memory run was left."""
    figures = looked(job)
    if readings := job.standing.readings:
        return ngettext("Ohms: {count} reading", "Ohms: {count} readings", readings)
    if figures["findings"]:
        return ngettext("Look: {count} finding", "Look: {count} findings", figures["findings"])
    if figures["looked"]:
        return gettext("Look: {looked} of {regions} regions", looked=figures["looked"], regions=figures["regions"])
    return gettext("Arrive: symptom said") if job.standing.symptom_said else gettext("Arrive: as it came")


def _left(job: Job) -> str:
    """Where the job was left, in a few words."""
    finding, mark = job.standing.finding, job.standing.mark
    if not finding:
        return _left_before(job)
    names = ", ".join(finding["designators"][:4])
    if len(finding["designators"]) > 4:
        names = gettext("{number} chips", number=len(finding["designators"]))
    if job.standing.placeless and names:
        names = gettext("channel {names}", names=names)
    words = title(finding["kind"]).lower()
    text = (
        gettext("Memory: {names}, {words}", names=names, words=words)
        if names
        else gettext("Memory: {words}", words=words)
    )
    if finding["kind"] in OF_ONE_CHIP:
        text += gettext(", chance {percent}", percent=percent(finding["chance"]))
    return text + (gettext("; {designator} marked", designator=mark.designator) if mark else "")
