"""What a job owes: promises made by hand, and what follows from what was done to the card."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from uuid import uuid5

from uvrix.core.boards.model import Board, Part, Site
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.case.answers import with_told
from uvrix.shop.jobs.boards import of_this_board
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.jobs.rows import has_rows, rows_of
from uvrix.shop.library.queries import model_board, on_board
from uvrix.shop.look.models import LookFinding
from uvrix.shop.promises.models import Promise, Waiver
from uvrix.shop.rework.queries import flushes_owed
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


# Keys of what was seen at Look.
SEEN = "lookfinding:"


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

    @property
    def came_so(self) -> bool:
        """Whether the card came without it: it was seen missing, and not taken off here."""
        return self.key.startswith(SEEN)


def owed(job: Job) -> list[Owed]:
    """What is owed now, oldest first; what was waived stays in the list and no longer blocks."""
    waived = {waiver.key: waiver for waiver in rows_of(job, "waivers", "by")}
    board = model_board(job.card.model)
    promised = [row for row in rows_of(job, "promise_rows", "by", "kept") if not hasattr(row, "kept")]
    found = [_promised(board, entry, waived) for entry in promised]
    found += _of_case(job, board, waived)
    found += _nameless(job, board, waived)
    for state in owed_states(job):
        assert state.off
        last, key = (state.back or state.off).source, f"teardown:{state.off.source.pk}"
        found.append(Owed(key, "together", state.says, "", last.by.shown_name, last.at, False, waived.get(key)))
    for site, act in flushes_owed(job):
        words, key = (
            gettext("{site}: low-melt alloy below leaded solder melts below 100 °C. Flush it.", site=site),
            f"flush:{act.pk}",
        )
        found.append(Owed(key, "flush", words, site, act.by.shown_name, act.at, False, waived.get(key)))
    return sorted(found, key=lambda debt: debt.at)


# What the case owes that keeps a card here, by the kind that it is shown as, and what is said of the part.
OF_CASE = {
    "fit": ("part-off", gettext("{} is off: fit it again, or a good one.")),
    "unsolder": ("wire-on", gettext("An injection lead is still on {}: unsolder it.")),
    "refit-coil": ("coil-lifted", gettext("{} is lifted: fit it again.")),
}
MISSING, MISSING_PART = gettext("{} is missing: fit one."), "missing-part"


def _of_case(job: Job, board: Board | None, waived: Mapping[str, Waiver]) -> list[Owed]:
    """What follows from the card's thread: parts off or missing, leads on, coils lifted; by the row since which."""
    debts = [debt for debt in (with_told([job])[0].told or {})["owed"] if debt["what"] in OF_CASE]
    names = {user.pk: user.shown_name for user in User.objects.filter(pk__in={debt["by"] for debt in debts})}
    found = []
    for debt in debts:
        kind, words = OF_CASE[debt["what"]]
        seen = debt["key"].startswith(SEEN)
        said, at = (MISSING if seen else words).format(debt["target"]), datetime.fromisoformat(debt["at"])
        by, let_go = names.get(debt["by"], ""), waived.get(debt["key"])
        where = _centre(board, debt["target"])
        found.append(Owed(debt["key"], kind, said, debt["target"], by, at, True, let_go, where))
    return found


def _nameless(job: Job, board: Board | None, waived: Mapping[str, Waiver]) -> list[Owed]:
    """Parts that were seen missing where no name is known, unless somebody said since that one is on."""
    if not has_rows(job, LookFinding):
        return []
    nameless = job.look_findings.filter(kind=MISSING_PART, part="", withdrawal=None)
    seen = list(of_this_board(job, nameless).select_related("by", "picture"))
    promised = set(job.promise_rows.values_list("pk", flat=True)) if seen else set()
    found = []
    for finding in seen:
        if uuid5(finding.pk, "part-off") in promised:
            continue
        key, words = f"{SEEN}{finding.pk}", gettext("A part is missing: fit it.")
        where = _place(board, finding)
        found.append(Owed(key, "part-off", words, "", finding.by.shown_name, finding.at, True, waived.get(key), where))
    return found


def _centre(board: Board | None, designator: str) -> Place | None:
    """Where a part is on a drawn board."""
    things: list[Part | Site] = [*board.parts, *board.sites] if board else []
    thing = next((part for part in things if part.designator == designator and part.centre), None)
    if thing is None or thing.centre is None:
        return None
    return Place(thing.side, float(thing.centre[0]), float(thing.centre[1]), None, None, None)


def _promised(board: Board | None, promise: Promise, waived: Mapping[str, Waiver]) -> Owed:
    key = str(promise.pk)
    return Owed(
        key,
        promise.kind,
        promise.words,
        promise.part,
        promise.by.shown_name,
        promise.at,
        True,
        waived.get(key),
        _place(board, promise),
    )


def _place(board: Board | None, promise: Promise | LookFinding) -> Place | None:
    """A promise's place on the board, also one clicked on a photograph over which the board was drawn later."""
    if not promise.side:
        return None
    x, y = promise.x_mm, promise.y_mm
    if x is None and promise.picture_id and promise.x_px is not None and promise.y_px is not None:
        x, y = on_board(board, promise.picture_id, promise.side, (promise.x_px, promise.y_px)) or (None, None)
    return Place(promise.side, x, y, promise.picture_id, promise.x_px, promise.y_px)


def on_loan(words: str, but: Job) -> Promise | None:
    """The promise by which a thing of that name is lent to another open job already."""
    lent = Promise.objects.filter(kind="loan", kept=None, words__iexact=words, job__closed_at=None)
    lent = of_the_shop(lent).exclude(job=but)
    return lent.select_related("job").first()
