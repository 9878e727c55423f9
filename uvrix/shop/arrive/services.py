"""Entering what arrived: symptoms, trials, reproductions; printing the label."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from django.db import transaction

from uvrix.core.arrive import symptoms
from uvrix.core.arrive.elimination import BY_ID, CELLS, MOST_TRIES, SHOWS
from uvrix.core.arrive.intake import PROVENANCE, SEALS, WARRANTY
from uvrix.core.arrive.symptoms import KINDS
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.arrive.models import (
    Evidence,
    EvidenceFile,
    EvidenceWord,
    Intake,
    Reproduction,
    Symptom,
    Trial,
    TrialWithdrawal,
)
from uvrix.shop.config.contents import keep
from uvrix.shop.config.labels import paper_labels
from uvrix.shop.config.limits import MOST_MINUTES
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, given
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.pictures.models import Picture

CELL_IDS = [cell.id for cell in CELLS]


@dataclass(frozen=True, slots=True)
class NewSymptom:
    """What the shop sees; `often` is always, often or rarely."""

    id: UUID
    often: Annotated[str, chosen(SHOWS)]
    seen: Annotated[str, given(allow_blank=True, max_length=400)] = ""
    began: Annotated[str, given(allow_blank=True, max_length=200)] = ""
    conditions: Annotated[tuple[str, ...], given(max_length=12, child_kwargs={"max_length": 40})] = ()
    kinds: Annotated[tuple[str, ...], chosen(symptoms.KINDS)] = ()


@dataclass(frozen=True, slots=True)
class NewTrial:
    """A cell that was tried: `cell` as core.arrive.elimination names it."""

    id: UUID
    cell: Annotated[str, chosen(CELL_IDS)]
    shows: bool
    tries: Annotated[int, given(min_value=1, max_value=MOST_TRIES, default=1)] = 1
    note: Annotated[str, given(allow_blank=True, max_length=200)] = ""


@transaction.atomic
def say_symptom(job: Job, new: NewSymptom, by: User) -> tuple[Symptom, bool]:
    """What the shop sees, and whether it is new: the same entry twice is one."""
    if new.often not in SHOWS:
        raise Problem(
            422,
            "does-not-fit",
            gettext("found {often}, expected one of {shows}", often=repr(new.often), shows=", ".join(SHOWS)),
        )
    if unknown := set(new.kinds) - set(KINDS):
        raise Problem(
            422,
            "does-not-fit",
            gettext("found {unknown}, expected one of {kinds}", unknown=repr(min(unknown)), kinds=", ".join(KINDS)),
        )
    fields: dict[str, Any] = {"often": new.often, "seen": new.seen, "began": new.began}
    fields |= {"conditions": list(new.conditions), "kinds": list(new.kinds)}
    return keep_row(Symptom, job, new.id, by, **fields)


@transaction.atomic
def enter_trial(job: Job, new: NewTrial, by: User) -> tuple[Trial, bool]:
    """A trial, and whether it is new. Raises Problem 422 where the matrix has no such cell or the tries are none."""
    if new.cell not in BY_ID:
        raise Problem(
            422, "unknown-cell", gettext("found {cell}, expected a cell as own or computer+lead", cell=repr(new.cell))
        )
    if not 1 <= new.tries <= MOST_TRIES:
        raise Problem(
            422,
            "does-not-fit",
            gettext("found {tries} tries, expected 1 to {most_tries}", tries=new.tries, most_tries=MOST_TRIES),
        )
    return keep_row(Trial, job, new.id, by, cell=new.cell, shows=new.shows, tries=new.tries, note=new.note)


@dataclass(frozen=True, slots=True)
class NewIntake:
    """What was in the parcel; `serial` is read off the card itself."""

    id: UUID
    serial: Annotated[str, given(max_length=80)]
    provenance: Annotated[str, chosen(list(PROVENANCE))] = "unknown"
    seals: Annotated[str, chosen(list(SEALS))] = "none"
    came_with: Annotated[str, given(allow_blank=True, max_length=400)] = ""
    missing: Annotated[str, given(allow_blank=True, max_length=400)] = ""
    bare: bool = False
    warranty: Annotated[str, chosen(list(WARRANTY), allow_blank=True)] = ""


@dataclass(frozen=True, slots=True)
class NewEvidence:
    """Something that others say or show, and who."""

    id: UUID
    kind: str
    source: str
    text: str = ""
    picture: Picture | None = None
    file: EvidenceFile | None = None
    file_name: str = ""


@transaction.atomic
def take_in(job: Job, new: NewIntake, by: User) -> tuple[Intake, bool]:
    """What was in the parcel, and whether the entry is new.

    Raises Problem 422 `other-card` where the serial on the card is not the ticket's: it may be another customer's.
    """
    if new.serial.strip().upper() != job.card.serial.upper():
        detail = gettext(
            "The ticket says {serial}; found {serial_2} on the card. Is it another customer's parcel?",
            serial=job.card.serial,
            serial_2=new.serial,
        )
        raise Problem(422, "other-card", detail, expected=job.card.serial, found=new.serial)
    fields = {name: getattr(new, name) for name in NewIntake.__slots__ if name != "id"}
    return keep_row(Intake, job, new.id, by, **fields)


@transaction.atomic
def add_evidence(job: Job, new: NewEvidence, by: User) -> tuple[Evidence, bool]:
    """A piece of evidence, unproven, and whether it is new. Raises Problem 422 where it says and shows nothing."""
    if not new.text.strip() and new.picture is None and new.file is None:
        raise Problem(
            422, "says-nothing", gettext("found neither words nor a photograph nor a file, expected one of them")
        )
    fields: dict[str, Any] = {"kind": new.kind, "source": new.source, "text": new.text, "picture": new.picture}
    fields |= {"file": new.file, "file_name": new.file_name}
    return keep_row(Evidence, job, new.id, by, **fields)


def keep_file(data: bytes, by: User) -> EvidenceFile:
    """A file kept as it came, once by its content; never opened, only handed out again as a download."""
    kept = keep("evidence", data)
    fields = {"size": kept.size, "stored_as": kept.stored_as, "added_by": by}
    return EvidenceFile.objects.get_or_create(pk=kept.sha256, defaults=fields)[0]


def judge_evidence(evidence: Evidence, word: str, by: User) -> EvidenceWord:
    """What the shop found it to be; what was said of it before stays in the record."""
    return EvidenceWord.objects.create(evidence=evidence, word=word, by=by)


def withdraw_trial(trial: Trial, by: User) -> None:
    """Take a trial back; doing so twice changes nothing."""
    TrialWithdrawal.objects.get_or_create(trial=trial, defaults={"by": by})


@dataclass(frozen=True, slots=True)
class NewReproduction:
    """A reproduction, to enter: under which load, for how many minutes, what came of it."""

    id: UUID
    load: Annotated[str, given(max_length=200)]
    minutes: Annotated[float, given(min_value=0, max_value=MOST_MINUTES)]
    outcome: Annotated[str, given(max_length=400)]


@transaction.atomic
def enter_reproduction(job: Job, new: NewReproduction, by: User) -> tuple[Reproduction, bool]:
    """The symptom called up, and whether the entry is new."""
    return keep_row(Reproduction, job, new.id, by, load=new.load, minutes=new.minutes, outcome=new.outcome)


def labels_pdf(jobs: Sequence[Job]) -> bytes:
    """Labels, one a page: number, card, model, customer, and a code that the scan box reads."""
    return paper_labels([(job.label, [job.card.serial, str(job.card.model), job.customer.name]) for job in jobs])
