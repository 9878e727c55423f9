"""Runs of the virtual card dropped on the demo's jobs, and the marks that follow from them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from uuid import NAMESPACE_URL, uuid5

from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from uvrix.core.boards.mark import question_for
from uvrix.core.boards.model import Board
from uvrix.core.virtual.reports import simulate
from uvrix.shop.accounts.models import User
from uvrix.shop.bench.models import ChipMark, MemoryRun
from uvrix.shop.bench.services import DroppedReport, NewMark, add_run, drawn_board, set_mark
from uvrix.shop.jobs.models import Job


@dataclass(frozen=True, slots=True)
class DemoRun:
    """A run by the virtual card: a fault and its errors, or what the tester said instead."""

    condition: str
    fault: str = ""
    errors: int = 0
    layout: str = "full"
    says: str = ""
    seed: int = 417


def drop_run(job: Job, run: DemoRun, by: User, number: int, board: Board) -> None:
    """Drop a run on a job, as it was read in the first days."""
    text = (
        run.says
        or simulate(
            board,
            run.fault,
            run.errors,
            run.seed + number,
            noise=0.02,
            condition=run.condition,
            layout=run.layout,
        ).report
    )
    name = f"run-{number + 1}.{'txt' if run.layout.startswith('text') else 'csv'}"
    run_id = uuid5(NAMESPACE_URL, f"uvrix-demo/{job.card.serial}/{number}")
    add_run(job, DroppedReport(run_id, SimpleUploadedFile(name, text.encode()), board_confirmed=True), by)
    at = job.opened_at + timedelta(hours=20, minutes=25 * number)
    MemoryRun.objects.filter(pk=run_id).update(added_at=min(at, timezone.now()))


def mark_chip(job: Job, designator: str, by: User) -> None:
    """Confirm the mark on a chip, the landmark question answered."""
    job.refresh_from_db()
    question = question_for(drawn_board(job), designator)
    mark_id = uuid5(NAMESPACE_URL, f"uvrix-demo/{job.entry}/{designator}")
    set_mark(job, NewMark(mark_id, designator, designator, question.answer if question else ""), by)
    ChipMark.objects.filter(pk=mark_id).update(at=job.opened_at + timedelta(hours=22))
