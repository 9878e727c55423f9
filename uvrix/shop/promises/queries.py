"""What a job owes: promises made by hand, and what follows from what was done to the card."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from uvrix.core.boards.model import Board
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.queries import model_board, on_board
from uvrix.shop.promises.models import Promise, Waiver
from uvrix.shop.rework.queries import rework_debts
from uvrix.shop.teardown.queries import owed_states


@dataclass(frozen=True, slots=True)
class Place:
    """Where something owed is: millimetres where a board is drawn there, pixels where it was clicked."""

    side: str
    x_mm: float | None
    y_mm: float | None
    picture: str | None
    x_px: float | None
    y_px: float | None


@dataclass(frozen=True, slots=True)
class Owed:
    """Something owed: `key` names it for as long as the event stands that it follows from.

    `by_hand` says that a person ends it by a press; the others end when the thing itself is done.
    """

    key: str
    kind: str
    words: str
    part: str
    by: str
    at: datetime
    by_hand: bool
    waived: Waiver | None
    place: Place | None = None

    @property
    def blocks(self) -> bool:
        """Whether the card may not leave because of it."""
        return self.waived is None


def owed(job: Job) -> list[Owed]:
    """What is owed now, oldest first; what was waived stays in the list and no longer blocks."""
    waived = {one.key: one for one in job.waivers.select_related("by")}
    board = model_board(job.card.model)
    found = [_promised(board, one, waived) for one in job.promise_rows.filter(kept=None).select_related("by")]
    for state in owed_states(job):
        assert state.off
        last, key = (state.back or state.off).source, f"teardown:{state.off.source.pk}"
        found.append(Owed(key, "together", state.says, "", last.by.shown_name, last.at, False, waived.get(key)))
    found += [
        Owed(debt.key, debt.kind, debt.words, debt.part, debt.by, debt.at, False, waived.get(debt.key))
        for debt in rework_debts(job)
    ]
    return sorted(found, key=lambda one: one.at)


def _promised(board: Board | None, one: Promise, waived: Mapping[str, Waiver]) -> Owed:
    key = str(one.pk)
    return Owed(
        key, one.kind, one.words, one.part, one.by.shown_name, one.at, True, waived.get(key), _place(board, one)
    )


def _place(board: Board | None, one: Promise) -> Place | None:
    """Its place on the board, also one clicked on the photograph over which the board was drawn since."""
    if not one.side:
        return None
    x, y = one.x_mm, one.y_mm
    if x is None and one.picture_id and one.x_px is not None and one.y_px is not None:
        x, y = on_board(board, one.picture_id, one.side, (one.x_px, one.y_px)) or (None, None)
    return Place(one.side, x, y, one.picture_id, one.x_px, one.y_px)


def on_loan(words: str, but: Job) -> Promise | None:
    """The promise by which a thing of that name is lent to another open job already."""
    lent = Promise.objects.filter(kind="loan", kept=None, words__iexact=words, job__closed_at=None).exclude(job=but)
    return lent.select_related("job").first()
