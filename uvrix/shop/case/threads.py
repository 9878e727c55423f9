"""A job's rows as a case on its board, with what the shop knows beside it."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property, lru_cache, partial
from typing import Any

from uvrix.core.boards.model import Board
from uvrix.core.case.case_file import case_document, entries_that_fit
from uvrix.core.case.entries import Case
from uvrix.core.case.facts import Facts
from uvrix.core.case.lent import with_lent
from uvrix.core.case.names import Names
from uvrix.core.errors import Refusal
from uvrix.core.memory.report import Channels, Report
from uvrix.core.memory.stored import report_from_json
from uvrix.language import gettext
from uvrix.shop.case.findings import find, read_report
from uvrix.shop.case.given import given, shop_beside
from uvrix.shop.case.rows import ANOTHER_BOARD, Row, changes, gather, on_this_board
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardModel, FamilyEdition
from uvrix.shop.library.queries import family_of, model_board

CACHED_BOARDS = 64


@dataclass(frozen=True, slots=True)
class VoidRow:
    """Why a row counts no more ("before U71 was swapped"), by which act, and when that was done."""

    why: str
    act: str
    at: datetime


@dataclass(frozen=True)
class Thread:
    """A job's case: the facts, the row behind each entry, and what could not be taken as an entry."""

    facts: Facts
    names: Names
    rows: tuple[Row, ...]
    left_out: tuple[tuple[Row, Refusal], ...]
    # what was entered while the card lived on another board, and its move from there
    former: tuple[Row, ...] = ()
    move: Row | None = None

    def document(self) -> dict[str, Any]:
        """The case as a file stands by itself: its memory runs in it, not beside it."""
        entries = []
        for row, entry in zip(self.rows, self.facts.entries, strict=True):
            made = dict(row.entry) if not row.report else {"run": _inline(row.report)}
            entries.append({**made, "at": row.at.isoformat(), **({"note": entry.note} if entry.note else {})})
        return case_document(self.facts.board.id if self.facts.board else None, entries)

    @cached_property
    def voids(self) -> Mapping[str, VoidRow]:
        """The rows that count no more, by key."""
        void = self.facts.counted.void
        numbered = zip(self.facts.entries, self.rows, strict=True)
        former: dict[str, VoidRow] = {}
        if self.move:
            why = gettext(
                "before the card moved to the board {another_board}", another_board=self.move.entry[ANOTHER_BOARD]
            )
            former = {row.key: VoidRow(why, "move", self.move.at) for row in self.former if "did" not in row.entry}
        return former | {
            row.key: VoidRow(ended.why, str(self.rows[ended.by].entry["did"]), self.rows[ended.by].at)
            for entry, row in numbered
            if (ended := void.get(entry.number))
        }


# The attribute in which a job keeps its thread, and how many changes had been seen when it was read.
KEPT = "case_thread"


def thread(job: Job) -> Thread:
    """One job's thread; the same for all that one request asks of a job, until something is entered."""
    kept: tuple[int, Thread] | None = vars(job).get(KEPT)
    if kept is None or kept[0] != changes():
        vars(job)[KEPT] = kept = (changes(), threads([job])[job.pk])
    return kept[1]


def threads(jobs: Sequence[Job]) -> dict[int, Thread]:
    """The threads of some jobs; rows of one kind are read for all of them at once."""
    rows = gather([job.pk for job in jobs])
    return {job.pk: _thread(job, rows[job.pk]) for job in jobs}


def _thread(job: Job, every: Sequence[Row]) -> Thread:
    rows, former, move = on_this_board(every)
    known = given(job, drawn=any("draw" in row.entry for row in rows))
    board = case_board(job.card.model)
    reports = {row.key: row.report for row in rows if row.report}

    def report(name: str, channels: Channels) -> Report:
        del channels
        return read_report(json.dumps(reports[name]))

    declared = job.declaredpart_rows.values_list("designator", flat=True)
    names = Names(board, known.points, declared)
    entries, refused = entries_that_fit((row.entry for row in rows), board, report, names)
    kept = tuple(row for place, row in enumerate(rows) if place not in refused)
    left = tuple((rows[place], refusal) for place, refusal in refused.items())
    case = Case(board.id if board else None, tuple(entries))
    late = max((place for place, row in enumerate(kept) if row.key.startswith("latefault:")), default=None)
    facts = Facts(
        case,
        board,
        shop=partial(shop_beside, job),
        good=known.good,
        idle=known.idle,
        begun=late,
        undrawn=known.undrawn,
        find=find,
    )
    return Thread(
        facts,
        names,
        kept,
        left,
        tuple(former),
        move,
    )


def case_board(model: BoardModel) -> Board | None:
    """A model's board with its family's rails and start-up where its own file has none: an input is one either way."""
    board = model_board(model)
    if board is None or not model.family or (board.rails and board.startup_nodes):
        return board
    edition = FamilyEdition.objects.filter(family__slug=model.family).order_by("-number").values_list("pk", flat=True)
    return _with_family(model.newest.sha256, model.family, edition.first() or 0) if model.newest else board


@lru_cache(CACHED_BOARDS)
def _with_family(sha256: str, family: str, edition: int) -> Board:
    del edition  # a new edition of the family is another key
    model = BoardModel.objects.filter(newest__sha256=sha256, family=family).select_related("newest").first()
    board = model_board(model) if model else None
    assert board is not None
    lends = family_of(family)
    return with_lent(board, lends, getattr(lends, "name", family))


def _inline(stored: Mapping[str, Any]) -> dict[str, Any]:
    """A stored report as a tally in the case."""
    report = report_from_json(dict(stored))
    meta, channels = report.meta, report.evidence.channels
    found: dict[str, Any] = {"condition": list(meta.condition)}
    found |= {key: value for key, value in (("result", meta.result), ("refusal", meta.refusal)) if value}
    if channels:
        found["errors"] = {name: evidence.errors for name, evidence in channels.items()}
        if report.evidence.with_lines:
            found["dq"] = {name: list(evidence.lines) for name, evidence in channels.items()}
    if not found.get("result") and not channels:
        found["result"] = "fail"
    return found


def last_act_at(rows: Iterable[Row]) -> Any:
    """When something was last done to the card."""
    return max((row.at for row in rows if "did" in row.entry), default=None)
