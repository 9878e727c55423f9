"""Entering what proves a card, and a fault that came late."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import datetime
from decimal import Decimal
from typing import Annotated, Any
from uuid import UUID

from django.db import transaction

from uvrix.core.proving.identity import read_identity
from uvrix.core.proving.judge import under_load
from uvrix.core.proving.log import COLUMNS, Log, UnknownColumns, guess_columns, read_log
from uvrix.core.proving.protocol import BY_HAND, read_protocol
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, given
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.proving.models import (
    CardIdentity,
    CheckSaid,
    LateFault,
    LogColumns,
    ProofFigure,
    ProofLog,
    ShopProtocol,
)
from uvrix.shop.proving.queries import checks_of, columns_now, near_last_rework, proof_context

# More samples than a screen or a verdict can use are thinned, ends kept.
MOST_KEPT = 6000
PHASES = ("before", "after")
STEPS = ("look", "ohms", "volts", "memory", "rework")


@dataclass(frozen=True, slots=True)
class NewLog:
    """A log to keep: its file's name and bytes, under which load, before or after the repair."""

    id: UUID
    name: str
    data: bytes
    load: str = ""
    phase: str = "after"


@transaction.atomic
def keep_log(job: Job, new: NewLog, by: User) -> tuple[ProofLog, bool]:
    """A log, and whether it is new.

    Raises Problem 409 `columns` with the file's headers and a guess, where nobody said yet which column is which;
    Refusal naming the line where it cannot be read.
    """
    try:
        log = read_log(new.data, columns_now())
    except UnknownColumns as unknown:
        guess = guess_columns(unknown.headers)
        detail = gettext(
            "found {found}, expected to know which is the time and which the temperature. Say it once.",
            found=unknown.found,
        )
        raise Problem(409, "columns", detail, headers=list(unknown.headers), guess=guess) from None
    return keep_read(job, new, log, by)


def keep_read(job: Job, new: NewLog, log: Log, by: User) -> tuple[ProofLog, bool]:
    """A log that was read, thinned to what is kept; and whether it is new."""
    step = max(1, math.ceil(len(log.seconds) / MOST_KEPT))
    wanted = next((check.load_watts for check in checks_of(job) if check.kind == "stress"), None)
    kept = [*range(0, len(log.seconds) - 1, step), len(log.seconds) - 1]
    figures = {
        name: [None if math.isnan(values[at]) else values[at] for at in kept] for name, values in log.figures.items()
    }
    fields: dict[str, Any] = {"name": new.name[:120], "load": new.load.strip(), "phase": new.phase}
    fields |= {f"{figure}_loaded": under_load(log, figure, wanted) for figure in ("celsius", "mhz")}
    return keep_row(ProofLog, job, new.id, by, seconds=[log.seconds[at] for at in kept], figures=figures, **fields)


def say_columns(columns: Mapping[str, str], by: User) -> LogColumns:
    """Which column is which. Raises Problem 422 for one that is none, or without time and temperature."""
    if unknown := set(columns) - set(COLUMNS):
        raise Problem(
            422,
            "no-column",
            gettext(
                "found {unknown}, expected some of {columns}", unknown=repr(min(unknown)), columns=", ".join(COLUMNS)
            ),
        )
    kept = {name: header.strip() for name, header in columns.items() if header.strip()}
    if lacking := [name for name in ("seconds", "celsius") if name not in kept]:
        raise Problem(
            422,
            "no-column",
            gettext("found no column for {lacking}, expected time and temperature at least", lacking=lacking[0]),
        )
    if len(set(kept.values())) < len(kept):
        raise Problem(422, "same-column", gettext("found one column for two things, expected one each"))
    return LogColumns.objects.create(columns=kept, by=by)


@transaction.atomic
def keep_identity(job: Job, entry: UUID, data: bytes, phase: str, by: User) -> tuple[CardIdentity, bool]:
    """What the test computer says of the card, and whether it is new. Raises Refusal where it does not fit."""
    return keep_row(CardIdentity, job, entry, by, document=_plain(read_identity(data)), phase=phase)


def _plain(value: Any) -> Any:
    """JSON numbers as they are stored."""
    if isinstance(value, dict):
        return {key: _plain(entry) for key, entry in value.items()}
    if isinstance(value, list):
        return [_plain(entry) for entry in value]
    return float(value) if isinstance(value, Decimal) else value


@dataclass(frozen=True, slots=True)
class NewSaid:
    """What a person says of a check (models.CheckSaid)."""

    id: UUID
    check_id: Annotated[str, given(max_length=64)]
    passed: bool
    minutes: Annotated[float | None, given(min_value=0, max_value=1000000.0)] = None
    off_since: datetime | None = None
    part: Annotated[str, given(max_length=80, allow_blank=True)] = ""
    note: Annotated[str, given(max_length=400, allow_blank=True)] = ""


@transaction.atomic
def say_check(job: Job, new: NewSaid, by: User) -> tuple[CheckSaid, bool]:
    """What a person says of a check, and whether it is new.

    Raises Problem 422 `no-check` where the protocol has none of that id; `follows` where a pass follows from what was
    measured and cannot be said; `no-part` where the check is said part by part and none of its parts is named;
    `no-off` where a start from cold does not say since when it was off.
    """
    check = next((candidate for candidate in checks_of(job) if candidate.id == new.check_id), None)
    if check is None:
        raise Problem(
            422,
            "no-check",
            gettext("found {check_id}, expected a check of this model's protocol", check_id=repr(new.check_id)),
        )
    if new.passed and check.kind not in BY_HAND:
        detail = gettext(
            "{name} passes by what was measured, logged or dropped; it cannot be ticked by hand.", name=check.name
        )
        raise Problem(422, "follows", detail)
    if new.part not in (check.parts or ("",)):
        expected = (
            gettext("one of {parts}", parts=", ".join(check.parts))
            if check.parts
            else gettext("none: this check is said as a whole")
        )
        raise Problem(
            422,
            "no-part",
            gettext("found {part}, expected {expected}", part=repr(new.part or gettext("no part")), expected=expected),
        )
    if new.passed and check.kind == "cold-start" and new.off_since is None:
        raise Problem(422, "no-off", gettext("found no time, expected since when it was off"))
    if not new.passed and not new.note.strip():
        raise Problem(422, "no-note", gettext("found no word on it, expected what happened"))
    fields = {name: value for name, value in asdict(new).items() if name != "id"}
    row, fresh = keep_row(CheckSaid, job, new.id, by, **fields, completes=not check.parts)
    if fresh and check.parts:
        judged = next(judgement for judgement in proof_context(job).checks if judgement.check.id == check.id)
        row.completes = judged.state != "open"
        row.save(update_fields=["completes"])
    return row, fresh


def keep_figure(job: Job, entry: UUID, figure: tuple[str, str, float], note: str, by: User) -> tuple[ProofFigure, bool]:
    """A figure (what, phase, value), and whether it is new."""
    what, phase, value = figure
    return keep_row(ProofFigure, job, entry, by, what=what, phase=phase, value=value, note=note)


@dataclass(frozen=True, slots=True)
class NewFault:
    """A fault that came late (models.LateFault)."""

    id: UUID
    check_id: Annotated[str, given(max_length=64)]
    words: Annotated[str, given(max_length=400)]
    back_to: Annotated[str, chosen(STEPS)]
    minutes: Annotated[float | None, given(min_value=0, max_value=1000000.0)] = None


@transaction.atomic
def send_back(job: Job, new: NewFault, by: User) -> tuple[LateFault, bool]:
    """The job goes back to a step with everything kept; who stands near the last rework is named with it."""
    suspects = [{"designator": rework.designator, "why": rework.why} for rework in near_last_rework(job)]
    fields = {name: value for name, value in asdict(new).items() if name != "id"}
    return keep_row(LateFault, job, new.id, by, suspects=suspects, **fields)


def save_protocol(document: Any, by: User) -> ShopProtocol:
    """The shop's protocol. Raises Refusal where it does not fit."""
    read_protocol(document)
    return ShopProtocol.objects.create(content=document, by=by)
