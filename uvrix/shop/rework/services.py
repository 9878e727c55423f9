"""Entering what was done: rework, pads, curves, timers, cautions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from typing import Annotated, Any
from uuid import UUID, uuid5

from django.db import transaction
from django.utils import timezone
from rest_framework import serializers

from uvrix.core.boards.model import Part, Site
from uvrix.core.cautions import CAUTIONS
from uvrix.core.rework.acts import DOES, OF_THE_CARD, PUTS_ON, TAKES_OFF, WAYS, Do
from uvrix.core.rework.curve import read_curve
from uvrix.core.rework.events import SOLDERS
from uvrix.core.rework.pads import PAD_STATES
from uvrix.core.rework.settings import read_settings
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.case.acting import NewAct, entered, fitting, keep_act
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, declared, given
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.library.queries import model_board, packages
from uvrix.shop.look.services import NewFinding, Spot, enter_finding
from uvrix.shop.ohms.chips_api import CORNERS
from uvrix.shop.rework.coming import Coming, coming
from uvrix.shop.rework.models import (
    CautionSeen,
    ChipLot,
    HeatCurve,
    PadMarks,
    ReworkSettings,
    Timer,
)
from uvrix.shop.rework.queries import package_of, pin1_corner, surveyed_at

# What has two ends has no pin 1.
NO_PIN = "none"


class AirSerializer(serializers.Serializer[Any]):
    """A phase of hot air."""

    phase = serializers.CharField(max_length=40)
    celsius = serializers.FloatField(min_value=0, max_value=600, allow_null=True, required=False)
    seconds = serializers.FloatField(min_value=0, max_value=100_000, allow_null=True, required=False)


@dataclass(frozen=True, slots=True)
class NewRework:
    """Something done, to enter (acts.Act).

    `no_photo` says why none was taken before lifting, `despite` why a part is fitted that does not fit.
    """

    id: UUID
    do: Annotated[Do, chosen(list(DOES))]
    site: Annotated[str, given(max_length=80, allow_blank=True)] = ""
    chip: Annotated[str, given(max_length=120, allow_blank=True)] = ""
    chip_in: Annotated[str, given(max_length=120, allow_blank=True)] = ""
    alloy_off: Annotated[str, chosen(SOLDERS)] = ""
    alloy_on: Annotated[str, chosen(SOLDERS)] = ""
    preheat_c: Annotated[float | None, given(min_value=0, max_value=400)] = None
    air: Annotated[list[dict[str, Any]], declared(AirSerializer(many=True, required=False))] = field(
        default_factory=list
    )
    minutes: Annotated[float | None, given(min_value=0, max_value=6000)] = None
    way: Annotated[str, chosen([*WAYS, ""])] = ""
    cures_minutes: Annotated[float | None, given(min_value=0.5, max_value=20000)] = None
    balls: Annotated[str, chosen(["stencil", "hand", ""])] = ""
    ball_mm: Annotated[float | None, given(min_value=0.05, max_value=3)] = None
    ball_count: Annotated[int | None, given(min_value=1, max_value=20000)] = None
    shields: Annotated[list[str], given(max_length=200, child_kwargs={"max_length": 80})] = field(default_factory=list)
    pin1: Annotated[str, chosen([*CORNERS, NO_PIN, ""])] = ""
    moved: Annotated[str, given(max_length=200, allow_blank=True)] = ""
    result: Annotated[str, given(max_length=200, allow_blank=True)] = ""
    note: Annotated[str, given(max_length=400, allow_blank=True)] = ""
    no_photo: Annotated[str, given(max_length=200, allow_blank=True)] = ""
    despite: Annotated[str, given(max_length=200, allow_blank=True)] = ""


@transaction.atomic
def enter_rework(job: Job, new: NewRework, by: User) -> tuple[Act, bool]:
    """Something done, and whether it is new.

    Raises Problem 422 `does-not-fit` where it does not fit what stood before; 409 `photo`, `pin1` where a chip is
    lifted without a photograph or a reason, or with pin 1 noted elsewhere than the model has it.
    """
    if known := entered(job, new.id, by):
        return known
    fits = fitting(
        job, NewAct(new.id, new.do, "rework", "" if new.do in OF_THE_CARD else new.site, new.chip, new.chip_in)
    )
    part = coming(job, fits.site, fits.chip_in)
    note = _check_part(job, fits, new, part).strip()
    photograph = job.photographs.filter(before__iexact=fits.site).last() if fits.site else None
    if fits.do in TAKES_OFF:
        if photograph is None and not new.no_photo.strip():
            detail = gettext(
                "No photograph of {site} was taken before lifting. Take one, or say why not.", site=fits.site
            )
            raise Problem(409, "photo", detail)
        _check_pin1(job, fits.site, new.pin1)
        if photograph is None:
            note = gettext("{note} No photograph: {no_photo}", note=note, no_photo=new.no_photo.strip()).strip()
    skipped = {"id", "do", "site", "chip", "chip_in", "note", "no_photo", "despite"}
    more = {name: getattr(new, name) for name in NewRework.__dataclass_fields__ if name not in skipped}
    more |= {"note": note[:400], "picture": photograph.picture if photograph else None, "drawer": part.drawer}
    kept = keep_act(job, replace(fits, chip_in="" if part.drawer else fits.chip_in, more=more), by)
    if new.cures_minutes:
        ends = timezone.now() + timedelta(minutes=new.cures_minutes)
        start_timer(job, uuid5(new.id, "cures"), (gettext("{site} cures", site=fits.site)[:60], "curing"), ends, by)
    _see_moved(job, new, fits.site, by)
    return kept


def _see_moved(job: Job, new: NewRework, site: str, by: User) -> None:
    """Enter each part that was said to have moved as a finding of Look, owed until it is set right."""
    board = model_board(job.card.model)
    if board is None or not new.moved.strip():
        return
    named = {word.strip(".,;:()").casefold() for word in new.moved.split()}
    things: list[Part | Site] = [*board.parts, *board.sites]
    for part in things:
        if part.designator.casefold() in named and part.centre is not None:
            spot = Spot(part.side, float(part.centre[0]), float(part.centre[1]))
            note = gettext("moved at {site}: {moved}", site=site or gettext("the rework"), moved=new.moved.strip())[
                :400
            ]
            seen = NewFinding(uuid5(new.id, part.designator), "crooked-part", spot, note)
            enter_finding(job, seen, by)


def _check_part(job: Job, act: NewAct, new: NewRework, known: Coming) -> str:
    """The note of a step, with why a part is fitted that does not fit.

    Raises Problem 422 where the part that comes is not at hand, 409 `no-fit` with the reasons where it does not fit.
    """
    despite = new.despite.strip()
    if act.do not in PUTS_ON:
        return new.note
    board = model_board(job.card.model)
    if not act.chip_in and board and act.site in {board.core.designator, *board.by_designator}:
        raise Problem(422, "does-not-fit", gettext("found no chip, expected which chip comes onto the site"))
    if known.not_at_hand:
        raise Problem(422, "does-not-fit", known.not_at_hand)
    fits = known.fits
    if fits is None or not fits.refused:
        return new.note
    reasons = "; ".join(fits.refused)
    if not despite:
        facts = {"refused": list(fits.refused), "agrees": list(fits.fits), "unknown": list(fits.open)}
        raise Problem(
            409,
            "no-fit",
            gettext("{chip_in} does not fit {site}: {reasons}.", chip_in=act.chip_in, site=act.site, reasons=reasons),
            **facts,
        )
    return gettext(
        "{note} Does not fit ({reasons}); fitted all the same: {despite}",
        note=new.note,
        reasons=reasons,
        despite=despite,
    ).strip()


def _check_pin1(job: Job, site: str, said: str) -> None:
    expected = pin1_corner(model_board(job.card.model), site, job.orientation)
    if said == NO_PIN and not expected:
        return
    if not said:
        raise Problem(409, "pin1", gettext("Say where pin 1 of {site} is before it is lifted.", site=site))
    if expected and said != expected:
        detail = gettext(
            "Pin 1 of {site} is noted {said}; as the board lies the model has it {expected}. Look again.",
            site=site,
            said=said,
            expected=expected,
        )
        raise Problem(409, "pin1", detail, expected=expected)


def note_lot(job: Job, entry: UUID, chip: str, lot: str, by: User) -> tuple[ChipLot, bool]:
    """The lot printed on a chip, and whether the entry is new."""
    return keep_row(ChipLot, job, entry, by, chip=chip, lot=lot)


@transaction.atomic
def mark_pads(job: Job, entry: UUID, designator: str, states: Mapping[str, str], by: User) -> tuple[PadMarks, bool]:
    """Pads marked, and whether the entry is new. Raises Problem 422 for a ball that the package lacks, or no state."""
    board = model_board(job.card.model)
    designator = surveyed_at(board, designator)
    package = packages().get(package_of(board, designator))
    for ball, state in states.items():
        if state not in PAD_STATES:
            raise Problem(
                422,
                "no-state",
                gettext(
                    "found {state} for {ball}, expected one of {pad_states}",
                    state=repr(state),
                    ball=ball,
                    pad_states=", ".join(PAD_STATES),
                ),
            )
        if package and ball not in package.classes:
            raise Problem(
                422,
                "unknown-ball",
                gettext("found the ball {ball}, expected one of {name}", ball=repr(ball), name=package.name),
            )
    return keep_row(PadMarks, job, entry, by, designator=designator, states=states)


@transaction.atomic
def keep_curve(job: Job, entry: UUID, file: tuple[str, bytes], alloy: str, by: User) -> HeatCurve:
    """A thermocouple's log. Raises Refusal naming the line where it is none."""
    name, data = file
    samples = [list(row) for row in read_curve(data)]
    return keep_row(HeatCurve, job, entry, by, name=name[:120], alloy=alloy, samples=samples)[0]


def save_settings(document: dict[str, Any], by: User) -> ReworkSettings:
    """The shop's settings. Raises Refusal where they do not fit."""
    read_settings(document)
    return ReworkSettings.objects.create(content=document, by=by)


def start_timer(job: Job, entry: UUID, named: tuple[str, str], ends_at: datetime, by: User) -> tuple[Timer, bool]:
    """A timer that rings whatever page is open, `named` its name and kind; and whether it is new."""
    return keep_row(Timer, job, entry, by, name=named[0], kind=named[1], ends_at=ends_at)


def stop_timer(timer: Timer, by: User) -> None:
    """Stop a timer that was heard, or is no longer needed."""
    if timer.stopped_at is None:
        timer.stopped_at, timer.stopped_by = timezone.now(), by
        timer.save(update_fields=["stopped_at", "stopped_by"])


def acknowledge(key: str, by: User) -> CautionSeen:
    """A caution was read. Raises Problem 404 where there is none of that key."""
    if key not in CAUTIONS:
        raise Problem(
            404,
            "no-caution",
            gettext("found {key}, expected one of {cautions}", key=repr(key), cautions=", ".join(CAUTIONS)),
        )
    return CautionSeen.objects.create(user=by, key=key)
