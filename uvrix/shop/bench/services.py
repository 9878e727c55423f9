"""Memory runs and marks: one function a thing that happens, one transaction each."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, BinaryIO, cast
from uuid import UUID

from django.conf import settings
from django.core.files.storage import default_storage
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from django.utils import timezone

from uvrix.core.boards.mark import UnknownDesignator, question_for, site_named
from uvrix.core.boards.model import Board
from uvrix.core.errors import NotOurs, Refusal, quoted
from uvrix.core.memory.locate import as_json, locate
from uvrix.core.memory.reading import read_report
from uvrix.core.memory.report import Report
from uvrix.core.memory.sites import board_channels
from uvrix.core.memory.stored import report_from_json, report_to_json
from uvrix.shop.accounts.models import User
from uvrix.shop.bench.models import ChipMark, MarkWithdrawal, MemoryRun, ReportFile, RunWithdrawal
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardEdition, ReaderEdition
from uvrix.shop.library.queries import board_of, fitting_reader, newest, packages, reader_of

MOST_MIB = 1024
# So much of a file is looked at to find the reader that fits.
SAMPLE_BYTES = 1 << 18


@dataclass(frozen=True, slots=True)
class DroppedReport:
    """A report dropped on a job: `id` is the client's, the flags are answers to questions asked before."""

    id: UUID
    file: UploadedFile[Any]
    condition: tuple[str, ...] = ()
    another: bool = False
    board_confirmed: bool = False


def add_run(job: Job, dropped: DroppedReport, by: User) -> tuple[MemoryRun, bool]:
    """The run that a dropped report makes, and whether it is new; nothing of a refused report is stored.

    Raises Problem: `same-file` where this job has the file already and `another` does not say that it is a second
    run alike; `other-board` where the report names another board and `board_confirmed` is false; `refused-file`.
    """
    digest = _digest(dropped.file)
    if known := MemoryRun.objects.filter(pk=dropped.id).first():
        return _same_entry(known, job, digest), False
    _ask_about_twins(job, dropped, digest)
    edition = newest(job.card.model)
    board = board_of(edition)
    report, reader = _read(dropped.file, board)
    _ask_about_board(report, board, dropped)
    with transaction.atomic():
        job = Job.objects.select_for_update().get(pk=job.pk)
        if known := MemoryRun.objects.filter(pk=dropped.id).first():
            return _same_entry(known, job, digest), False
        _ask_about_twins(job, dropped, digest)
        condition = dropped.condition or report.meta.condition
        run = MemoryRun.objects.create(
            id=dropped.id,
            job=job,
            number=job.runs.count() + 1,
            file=_store(dropped.file, digest),
            file_name=(dropped.file.name or "report")[-200:],
            edition=edition,
            reader=reader,
            condition=list(condition),
            report=report_to_json(report),
            located=_located_alone(board, dropped.file.name or "report", report, condition),
            added_by=by,
            added_at=timezone.now(),
        )
        judge_again(job)
    return run, True


def _located_alone(board: Board, name: str, report: Report, condition: Sequence[str]) -> dict[str, Any]:
    return as_json(locate(board, [(name, under(report, condition))], packages()))


def under(report: Report, condition: Sequence[str]) -> Report:
    """A report under the condition that was entered for it."""
    return replace(report, meta=replace(report.meta, condition=tuple(condition)))


def _digest(file: UploadedFile[Any]) -> str:
    digest = hashlib.sha256()
    for chunk in file.chunks():
        digest.update(chunk)
    return digest.hexdigest()


def _same_entry(known: MemoryRun, job: Job, digest: str) -> MemoryRun:
    if known.job_id != job.pk or known.file_id != digest:
        raise Problem(409, "id-used", "This entry's id was used for another report. Drop the report again.")
    return known


def _ask_about_twins(job: Job, dropped: DroppedReport, digest: str) -> None:
    twin = job.runs.filter(file_id=digest, withdrawal=None).order_by("-number").first()
    if twin and not dropped.another:
        detail = f"Run {twin.number} has this very file. The same run, or another one that came out alike?"
        raise Problem(409, "same-file", detail, run=str(twin.pk), number=twin.number)


def _read(file: UploadedFile[Any], board: Board) -> tuple[Report, ReaderEdition | None]:
    """The report, and the taught reader that read it where it is none of our own formats."""
    name = file.name or "report"
    if (file.size or 0) > settings.LARGEST_REPORT_BYTES:
        raise Problem(413, "too-large", f"{name}: found {file.size} bytes, expected at most {MOST_MIB} MiB.")
    stream = cast("BinaryIO", file.file)
    channels = board_channels(board)
    try:
        stream.seek(0)
        return read_report(stream, channels), None
    except NotOurs as refusal:
        not_ours = refusal.of(name)
    except Refusal as refusal:
        raise refusal.of(name) from None
    stream.seek(0)
    sample = stream.read(SAMPLE_BYTES)
    edition = fitting_reader(sample[: sample.rfind(b"\n") + 1] or sample)
    if edition is None:
        detail = f"{not_ours}. No taught reader knows a line of it either; teach one from this file."
        raise Problem(422, "no-reader", detail, place=not_ours.place, found=not_ours.found, file=name)
    try:
        stream.seek(0)
        return read_report(stream, channels, reader=reader_of(edition)), edition
    except Refusal as refusal:
        raise refusal.of(name) from None


def _ask_about_board(report: Report, board: Board, dropped: DroppedReport) -> None:
    named = report.meta.board
    if not named or named in (board.id, board.name) or dropped.board_confirmed:
        return
    detail = f"The report says board {quoted(named)}; this job's card is {quoted(board.id)}. Read it for this card?"
    raise Problem(409, "other-board", detail, named=named, expected=board.id)


def _store(file: UploadedFile[Any], digest: str) -> ReportFile:
    """The stored file of this content; the bytes are written before the row that names them."""
    if known := ReportFile.objects.filter(pk=digest).first():
        return known
    name = f"reports/{digest[:2]}/{digest}"
    if not default_storage.exists(name):
        file.seek(0)
        default_storage.save(name, file)
    return ReportFile.objects.get_or_create(pk=digest, defaults={"size": file.size or 0, "stored_as": name})[0]


@transaction.atomic
def withdraw_run(run: MemoryRun, reason: str, by: User) -> None:
    """Take a run out of the finding; withdrawing twice changes nothing."""
    job = Job.objects.select_for_update().get(pk=run.job_id)
    RunWithdrawal.objects.get_or_create(run=run, defaults={"reason": reason, "by": by})
    judge_again(job)


def judge_again(job: Job) -> None:
    """Make the job's finding anew from all runs that count."""
    job.located = located_together(
        job, list(job.runs.filter(withdrawal=None).select_related("reader", "file").order_by("number"))
    )
    job.save(update_fields=["located"])


def located_together(job: Job, runs: list[MemoryRun]) -> dict[str, Any] | None:
    """What some of a job's runs say together, read against the newest edition of its model."""
    if not runs:
        return None
    edition = newest(job.card.model)
    reports = [(run.file_name, under(report_of(run, edition), run.condition)) for run in runs]
    return as_json(locate(board_of(edition), reports, packages()))


def report_of(run: MemoryRun, edition: BoardEdition) -> Report:
    """A run's report; read again from the file where the model has a newer edition than it was read against."""
    if run.edition_id == edition.pk:
        return report_from_json(run.report)
    with default_storage.open(run.file.stored_as) as stream:
        reader = reader_of(run.reader) if run.reader else None
        return read_report(cast("BinaryIO", stream), board_channels(board_of(edition)), reader=reader)


@dataclass(frozen=True, slots=True)
class NewMark:
    """A mark to confirm: the chip meant, what was typed from the board, the answer to the landmark question."""

    id: UUID
    designator: str
    typed: str
    answer: str


def set_mark(job: Job, new: NewMark, by: User) -> tuple[ChipMark, bool]:
    """The confirmed mark, and whether it is new.

    Raises Problem `unknown-designator`, `wrong-designator` or `wrong-answer`, each with what shows the slip.
    """
    if known := ChipMark.objects.filter(pk=new.id).first():
        if known.job_id != job.pk:
            raise Problem(409, "id-used", "This entry's id was used for another job.")
        return known, False
    board = board_of(newest(job.card.model))
    check_mark(board, new)
    question = question_for(board, new.designator)
    with transaction.atomic():
        Job.objects.select_for_update().get(pk=job.pk)
        return ChipMark.objects.get_or_create(
            pk=new.id,
            defaults={
                "job": job,
                "designator": new.designator,
                "typed": new.typed,
                "question": question.text if question else "",
                "answer": new.answer if question else "",
                "finding": (job.located or {}).get("finding"),
                "by": by,
            },
        )


def check_mark(board: Board, new: NewMark) -> None:
    """Raise Problem where the typed designator or the answer is not that of the chip meant."""
    try:
        meant, typed = site_named(board, new.designator), site_named(board, new.typed)
    except UnknownDesignator as error:
        raise Problem(422, "unknown-designator", str(error), typed=new.typed) from None
    if typed.designator != meant.designator:
        detail = (
            f"You typed {typed.designator}, but the mark is for {meant.designator}. "
            f"{typed.designator} lies where the drawing shows it now."
        )
        raise Problem(422, "wrong-designator", detail, typed=typed.designator, meant=meant.designator)
    question = question_for(board, meant.designator)
    if question and new.answer != question.answer:
        answer = new.answer or "nothing"
        detail = f"You answered {answer}; for {meant.designator} it is {question.answer}. {question.why}"
        facts = {"reference": question.reference, "landmark": question.landmark, "meant": meant.designator}
        raise Problem(422, "wrong-answer", detail, **facts)


@transaction.atomic
def withdraw_mark(mark: ChipMark, reason: str, by: User) -> None:
    """Take a mark back; doing so twice changes nothing."""
    MarkWithdrawal.objects.get_or_create(mark=mark, defaults={"reason": reason, "by": by})
