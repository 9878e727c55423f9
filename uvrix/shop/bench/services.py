"""Memory runs and marks: one function a thing that happens, one transaction each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Any, BinaryIO, cast
from uuid import UUID

from django.conf import settings
from django.core.files.storage import default_storage
from django.core.files.uploadedfile import SimpleUploadedFile, UploadedFile
from django.db import transaction
from django.db.models.signals import post_save
from django.dispatch import receiver
from django.utils import timezone

from uvrix.core.boards.mark import UnknownDesignator, question_for, site_named
from uvrix.core.boards.model import Board
from uvrix.core.boards.walk import places
from uvrix.core.errors import NotOurs, Refusal, quoted
from uvrix.core.memory.finding.runs import AFTER
from uvrix.core.memory.locate import as_json, locate
from uvrix.core.memory.placeless import any_channel, channel_board, channel_order, channels_in
from uvrix.core.memory.reading import read_report
from uvrix.core.memory.report import Report
from uvrix.core.memory.sites import board_channels
from uvrix.core.memory.stored import channels_of, report_from_json, report_to_json
from uvrix.core.memory.typed import TotalDiffers, TypedRow, tally_file
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act, ActWithdrawal
from uvrix.shop.bench.models import ChipMark, MarkWithdrawal, MemoryRun, ReportFile, RunWithdrawal
from uvrix.shop.case.rows import changed, key_of
from uvrix.shop.case.threads import thread
from uvrix.shop.config.contents import digest_of, keep
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, given
from uvrix.shop.jobs.leaving import must_be_at_hand
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.library.models import BoardEdition, BoardModel, ReaderEdition
from uvrix.shop.library.queries import board_of, family_of, fitting_reader, model_board, packages, reader_of

MOST_MIB = 1024
# This much of a file is looked at to find the reader that fits.
SAMPLE_BYTES = 1 << 18


@dataclass(frozen=True, slots=True)
class DroppedReport:
    """A report dropped on a job: `id` is the client's, the flags are answers to questions asked before."""

    id: UUID
    file: UploadedFile[Any]
    condition: tuple[str, ...] = ()
    another: bool = False
    board_confirmed: bool = False
    partly: bool = False


def add_run(job: Job, dropped: DroppedReport, by: User) -> tuple[MemoryRun, bool]:
    """The run that a dropped report makes, and whether it is new; nothing of a refused report is stored.

    Raises Problem: `left` where the card left; `same-file` where this job has the file already and `another` does not
    say that it is a second run alike; `other-board` where the report names another board and `board_confirmed` is
    false; `mostly-unread` where a taught reader knows less than half of the lines and `partly` does not say that they
    are enough; `refused-file`.
    """
    digest, size = digest_of(dropped.file)
    if known := MemoryRun.objects.filter(pk=dropped.id).first():
        return _same_entry(known, job, digest), False
    must_be_at_hand(job)
    _ask_about_twins(job, dropped, digest)
    edition = job.card.model.newest
    board = board_of(edition) if edition else None
    report, reader = _read(dropped.file, board, partly=dropped.partly)
    if board:
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
            file=_store(dropped.file, digest, size),
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


def _located_alone(board: Board | None, name: str, report: Report, condition: Sequence[str]) -> dict[str, Any]:
    return _located(board, [(name, under(report, condition))])


def _located(board: Board | None, reports: Sequence[tuple[str, Report]]) -> dict[str, Any]:
    """What reports say; in channels instead of chips where the board is not drawn yet."""
    stand_in = board or channel_board(channels_in([report for _, report in reports]))
    return {**as_json(locate(stand_in, reports, packages())), "placeless": board is None}


def under(report: Report, condition: Sequence[str]) -> Report:
    """A report under the condition that was entered for it."""
    return replace(report, meta=replace(report.meta, condition=tuple(condition)))


def _same_entry(known: MemoryRun, job: Job, digest: str) -> MemoryRun:
    if known.job_id != job.pk or known.file_id != digest:
        raise Problem(409, "id-used", gettext("This entry's id was used for another report. Drop the report again."))
    return known


def _ask_about_twins(job: Job, dropped: DroppedReport, digest: str) -> None:
    twin = job.runs.filter(file_id=digest, withdrawal=None).order_by("-number").first()
    if twin and not dropped.another:
        detail = gettext(
            "Run {number} has this very file. The same run, or another one that came out alike?", number=twin.number
        )
        raise Problem(409, "same-file", detail, run=str(twin.pk), number=twin.number)


def _read(file: UploadedFile[Any], board: Board | None, *, partly: bool) -> tuple[Report, ReaderEdition | None]:
    """The report, and the taught reader that read it where it is none of our own formats."""
    name = file.name or "report"
    if (file.size or 0) > settings.LARGEST_REPORT_BYTES:
        raise Problem(
            413,
            "too-large",
            gettext(
                "{name}: found {size} bytes, expected at most {most_mib} MiB.",
                name=name,
                size=file.size,
                most_mib=MOST_MIB,
            ),
        )
    stream = cast("BinaryIO", file.file)
    channels = board_channels(board) if board else any_channel()
    try:
        stream.seek(0)
        return read_report(stream, channels), None
    except NotOurs as refusal:
        not_ours = refusal.of(name)
    except Refusal as refusal:
        raise refusal.of(name) from None
    stream.seek(0)
    sample = stream.read(SAMPLE_BYTES)
    fitting = fitting_reader(sample[: sample.rfind(b"\n") + 1] or sample)
    if fitting is None:
        detail = gettext(
            "{not_ours}. No taught reader knows an error, count or result in it; teach one from this file.",
            not_ours=not_ours,
        )
        raise Problem(422, "no-reader", detail, place=not_ours.place, found=not_ours.found, file=name)
    edition, fit = fitting
    if fit.mostly_unread and not partly:
        known = gettext(
            "The reader {name} knows {known} of {filled} lines",
            name=edition.reader.name,
            known=fit.known,
            filled=fit.filled,
        )
        detail = gettext(
            "{known} of {name}: what the others say would be lost. Teach a reader from it, or read what is known?",
            known=known,
            name=name,
        )
        raise Problem(409, "mostly-unread", detail, reader=edition.reader.name, known=fit.known, lines=fit.filled)
    try:
        stream.seek(0)
        return read_report(stream, channels, reader=reader_of(edition)), edition
    except Refusal as refusal:
        raise refusal.of(name) from None


def _ask_about_board(report: Report, board: Board, dropped: DroppedReport) -> None:
    named = report.meta.board
    if not named or named in (board.id, board.name) or dropped.board_confirmed:
        return
    detail = gettext(
        "The report says board {named}; this job's card is {id}. Read it for this card?",
        named=quoted(named),
        id=quoted(board.id),
    )
    raise Problem(409, "other-board", detail, named=named, expected=board.id)


def _store(file: UploadedFile[Any], digest: str, size: int) -> ReportFile:
    """The stored file of this content; the bytes are written before the row that names them."""
    kept = keep("reports", file, (digest, size))
    return ReportFile.objects.get_or_create(pk=digest, defaults={"size": size, "stored_as": kept.stored_as})[0]


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
    """What some of a job's runs say together, read against the newest edition of its model.

    Which of them are after rework follows from the card's thread, and nobody types it.
    """
    if not runs:
        return None
    edition, voids = job.card.model.newest, thread(job).voids
    before = {run.pk for run in runs if key_of(run) in voids}
    reports = [
        (run.file_name, under(report_of(run, edition), _conditions(run, run.pk in before, bool(before))))
        for run in runs
    ]
    return _located(board_of(edition) if edition else None, reports)


def _conditions(run: MemoryRun, before: bool, reworked: bool) -> tuple[str, ...]:
    """A run's condition; `before` the last act on memory, core or their rails, where the card was `reworked` at all."""
    if not reworked:
        return tuple(run.condition)
    said = tuple(word for word in run.condition if word != AFTER)
    return said if before else (*said, AFTER)


@receiver(post_save, sender=Act)
@receiver(post_save, sender=ActWithdrawal)
def _runs_after_an_act(instance: Act | ActWithdrawal, **_: Any) -> None:
    """An act on the card, or one taken back: which runs are after it is another question now."""
    changed()
    job = (instance.act if isinstance(instance, ActWithdrawal) else instance).job
    if job.runs.filter(withdrawal=None).exists():
        judge_again(job)


def report_of(run: MemoryRun, edition: BoardEdition | None) -> Report:
    """A run's report; read again from the file where the model has a newer edition than it was read against."""
    if run.edition_id == (edition.pk if edition else None):
        return report_from_json(run.report)
    channels = board_channels(board_of(edition)) if edition else any_channel()
    with default_storage.open(run.file.stored_as) as stream:
        reader = reader_of(run.reader) if run.reader else None
        return read_report(cast("BinaryIO", stream), channels, reader=reader)


def judge_model_again(model: BoardModel) -> None:
    """Make the findings of a model's open jobs anew: its board was drawn or corrected."""
    with_runs = MemoryRun.objects.filter(job__card__model=model).values("job")
    for job in Job.objects.select_for_update().filter(pk__in=with_runs, closed_at=None).order_by("pk"):
        job.card.model = model
        for run in job.runs.select_related("reader", "file"):
            edition = model.newest
            board = board_of(edition) if edition else None
            run.located = _located_alone(board, run.file_name, report_of(run, edition), run.condition)
            run.save(update_fields=["located"])
        judge_again(job)


@dataclass(frozen=True, slots=True)
class TypedTable:
    """A table typed off a photographed screen; `total` as the photograph shows it, `picture` the photograph."""

    id: UUID
    rows: tuple[TypedRow, ...]
    condition: tuple[str, ...] = ()
    total: int | None = None
    picture: str = ""


def add_typed_run(job: Job, table: TypedTable, by: User) -> tuple[MemoryRun, bool]:
    """The run that a typed table makes: a tally file of our own, kept like any other report.

    Raises Problem 422 `total-differs` with the slips that would explain it, or `refused-file`.
    """
    if known := MemoryRun.objects.filter(pk=table.id).first():
        return _same_entry(known, job, known.file_id), False
    keys = {"report": gettext("typed from a photograph"), "condition": ", ".join(table.condition)}
    keys |= {"photograph": table.picture, "board": job.card.model.slug}
    try:
        data = tally_file(table.rows, keys, table.total)
    except TotalDiffers as error:
        slips = [{"channel": slip.channel, "typed": slip.typed, "would": slip.would} for slip in error.slips]
        detail = gettext(
            "{error_2}{error}. Nothing typed is lost.", error_2=str(error)[0].upper(), error=str(error)[1:]
        )
        raise Problem(422, "total-differs", detail, total=error.total, found=error.found, slips=slips) from None
    file = SimpleUploadedFile(f"typed-{job.runs.count() + 1}.csv", data)
    return add_run(job, DroppedReport(table.id, file, table.condition, another=True, board_confirmed=True), by)


def report_order(job: Job) -> tuple[list[str], str]:
    """The channels in the order in which this shop's tester lists them, and how that is known.

    From the newest tally of this model; else the family's channels; else the board's channels by name.
    """
    model = job.card.model
    tallies = MemoryRun.objects.filter(job__card__model=model, report__evidence__tally=True)
    recent = of_the_shop(tallies).order_by("-added_at")
    board = model_board(model)
    known = (
        {place.channel for place in places(board.core, board.walk, board.sites) if place.channel} if board else set()
    )
    for run in recent.select_related("job")[:3]:
        listed = channels_of(run.report)
        if listed and known <= set(listed):
            return listed, gettext("as run {number} of {label} lists them", number=run.number, label=run.job.label)
    family = family_of(model.family)
    if family and known <= set(family.channels):
        return list(family.channels), gettext("as the core family {name} lists them", name=family.name)
    return sorted(known, key=channel_order), gettext("by name; no report of this model says otherwise") if known else ""


@dataclass(frozen=True, slots=True)
class NewMark:
    """A mark to confirm: the chip meant, what was typed from the board, the answer to the landmark question."""

    id: UUID
    designator: Annotated[str, given(max_length=80)]
    typed: Annotated[str, given(max_length=80)]
    answer: Annotated[str, chosen(["yes", "no", ""])]


def set_mark(job: Job, new: NewMark, by: User) -> tuple[ChipMark, bool]:
    """The confirmed mark, and whether it is new.

    Raises Problem `unknown-designator`, `wrong-designator` or `wrong-answer`, each with what shows the slip; `left`
    where the card left.
    """
    if known := ChipMark.objects.filter(pk=new.id).first():
        if known.job_id != job.pk:
            raise Problem(409, "id-used", gettext("This entry's id was used for another job."))
        return known, False
    must_be_at_hand(job)
    board = drawn_board(job)
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


def drawn_board(job: Job) -> Board:
    """The board of a job's card; raises Problem 409 `not-drawn` where its model has no drawing yet."""
    board = model_board(job.card.model)
    if board is None:
        detail = gettext(
            "Which chip that is, only a drawing of {model} shows: a few clicks. The rest goes on without one.",
            model=job.card.model,
        )
        raise Problem(409, "not-drawn", detail, board_model=job.card.model.slug)
    return board


def check_mark(board: Board, new: NewMark) -> None:
    """Raise Problem where the typed designator or the answer is not that of the chip meant."""
    try:
        meant, typed = site_named(board, new.designator), site_named(board, new.typed)
    except UnknownDesignator as error:
        raise Problem(422, "unknown-designator", str(error), typed=new.typed) from None
    if typed.designator != meant.designator:
        detail = gettext(
            "You typed {designator}, but the mark is for {designator_2}. {designator} lies where the "
            "drawing shows it now.",
            designator=typed.designator,
            designator_2=meant.designator,
        )
        raise Problem(422, "wrong-designator", detail, typed=typed.designator, meant=meant.designator)
    question = question_for(board, meant.designator)
    if question and new.answer != question.answer:
        answer = new.answer or "nothing"
        detail = gettext(
            "You answered {answer}; for {designator} it is {answer_2}. {why}",
            answer=answer,
            designator=meant.designator,
            answer_2=question.answer,
            why=question.why,
        )
        facts = {"reference": question.reference, "landmark": question.landmark, "meant": meant.designator}
        raise Problem(422, "wrong-answer", detail, **facts)


@transaction.atomic
def withdraw_mark(mark: ChipMark, reason: str, by: User) -> None:
    """Take a mark back; doing so twice changes nothing."""
    MarkWithdrawal.objects.get_or_create(mark=mark, defaults={"reason": reason, "by": by})
