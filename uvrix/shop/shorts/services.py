"""Entering what was done to find a short."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID, uuid5

import numpy as np
from django.core.files.storage import default_storage
from django.db import transaction
from PIL import Image, ImageOps

from uvrix.core.boards.model import Board
from uvrix.core.case.feeding import feeding
from uvrix.core.look.heat import warmest
from uvrix.core.look.straighten import straightening
from uvrix.core.readings.limits import INJECT_MOST_A
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.case.acting import NewAct, enter_act, entered
from uvrix.shop.case.threads import thread
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import given
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.library.queries import model_board
from uvrix.shop.ohms.queries import places_of_job, power_state
from uvrix.shop.pictures.models import Picture
from uvrix.shop.pictures.services import take_picture
from uvrix.shop.shorts.models import Glow, Injection, Thermal
from uvrix.shop.shorts.queries import shorts

# No bench supply that a low voltage is injected with gives more.
MOST_SAID_V = 60.0


@dataclass(frozen=True, slots=True)
class NewInjection:
    """What was fed, to enter: volts measured at the board, amperes; `wire`: a lead was soldered on for it.

    `on_purpose`: it was fed with more than is advised, and that is no slip.
    """

    id: UUID
    rail: Annotated[str, given(max_length=64)]
    volts: Annotated[float, given(min_value=0, max_value=MOST_SAID_V)]
    amps: Annotated[float, given(min_value=0, max_value=2 * INJECT_MOST_A)]
    point: Annotated[str, given(max_length=64, allow_blank=True)] = ""
    wire: bool = False
    note: Annotated[str, given(max_length=200, allow_blank=True)] = ""
    on_purpose: bool = False


@transaction.atomic
def enter_injection(job: Job, new: NewInjection, by: User) -> tuple[Injection, bool]:
    """What was fed, and whether it is new; a lead soldered on for it is to be unsoldered.

    Raises Problem 422 where the model has no such rail or point; 409 `above-advice` where more than may be fed is said
    and nobody says that it was on purpose, `not-off` where the card is on the supply or in the computer.
    """
    if Injection.objects.filter(pk=new.id).exists():
        return keep_row(Injection, job, new.id, by)
    points = _points_of(job, new.rail)
    if new.point and points and new.point not in points:
        found = gettext(
            "found {point}, expected one of {points}: {rail} is fed there",
            point=repr(new.point),
            points=", ".join(points),
            rail=new.rail,
        )
        raise Problem(422, "unknown-point", found)
    advised = feeding(thread(job).facts, new.rail)
    above = new.volts > advised.most_v
    if above and not new.on_purpose:
        detail = gettext(
            "{volts} V is above the {most_v} V that {rail} may be fed with: more kills what it "
            "reaches. Was it so? It is recorded with the card.",
            volts=f"{new.volts:g}",
            most_v=f"{advised.most_v:g}",
            rail=new.rail,
        )
        raise Problem(409, "above-advice", detail, most_v=advised.most_v, volts=new.volts)
    said = power_state(job)
    if said is None or said.state != "off":
        detail = gettext(
            "Unplug the card, let it discharge, and confirm it: nothing is injected into a card that is powered."
        )
        raise Problem(409, "not-off", detail)
    point = new.point or next(iter(points), "")
    lead = None
    if new.wire:
        if not point:
            raise Problem(
                422,
                "no-point",
                gettext("found no point of {rail}, expected where the lead is soldered on", rail=new.rail),
            )
        act = NewAct(uuid5(new.id, "solder-lead"), "solder-lead", "ohms", point, more={"rails": [new.rail]})
        lead = enter_act(job, act, by)[0]
    fields: dict[str, Any] = {"rail": new.rail, "point": new.point, "volts": new.volts, "amps": new.amps}
    fields["advised_v"] = advised.most_v if above else None
    return keep_row(Injection, job, new.id, by, **fields, lead=lead, note=new.note)


@transaction.atomic
def overlay_thermal(
    injection: Injection, entry: UUID, shot: tuple[str, Picture, Sequence[Sequence[float]]], by: User
) -> tuple[Thermal, bool]:
    """A thermal picture cut to the board by its four corners, with its warm spot; and whether it is new.

    `shot` is the side it shows, the picture as it was taken, and the board's corners on it, clockwise from the upper
    left. Raises Refusal where they do not go round.
    """
    if known := Thermal.objects.filter(pk=entry).first():
        return keep_row(Thermal, injection.job, known.pk, by)
    side, taken, corners = shot
    board = _board(injection.job)
    left, bottom, right, top = (float(edge) for edge in board.extents)
    size, coefficients = straightening([(float(x), float(y)) for x, y in corners], (right - left) / (top - bottom))
    with default_storage.open(taken.stored_as) as stream:
        found = Image.open(io.BytesIO(stream.read())).convert("RGB")
    straight = found.transform(size, Image.Transform.PERSPECTIVE, coefficients, Image.Resampling.BILINEAR)
    written = io.BytesIO()
    # stretched as the camera would: a spot of a tenth of a watt is to be seen by eye
    ImageOps.autocontrast(straight, cutoff=(70, 0)).save(written, "PNG")
    picture = take_picture(written.getvalue(), "thermal.png", by)
    spot = warmest(np.asarray(straight.convert("L"), dtype=np.float64), board, side)
    place = {"x_mm": spot.x_mm if spot else None, "y_mm": spot.y_mm if spot else None}
    fields = {"injection": injection, "side": side, "taken": taken, "picture": picture}
    return keep_row(Thermal, injection.job, entry, by, **fields, **place)


def enter_glow(injection: Injection, entry: UUID, side: str, at: tuple[float, float], by: User) -> tuple[Glow, bool]:
    """Where it glowed (no side: nothing did), and whether the entry is new."""
    fields = {"injection": injection, "side": side, "x_mm": at[0], "y_mm": at[1]}
    return keep_row(Glow, injection.job, entry, by, **fields)


@transaction.atomic
def take_off(job: Job, entry: UUID, part: str, note: str, by: User) -> tuple[Act, bool]:
    """A part taken off for the short, and whether it is new; fitting it (or another) again is owed.

    Raises Problem 422 where the board has no such part, or it is off already.
    """
    if known := entered(job, entry, by):
        return known
    more = {"rails": list(shorts(job).shorted), "note": note}
    return enter_act(job, NewAct(entry, "remove", "ohms", part, more=more), by)


@transaction.atomic
def cut_out(job: Job, entry: UUID, what: tuple[str, Sequence[str], str], by: User) -> bool:
    """Burnt layers cut out, `what` the rail, the places that stay empty and a note; gives whether the entry is new.

    One act a place, the first under the entry's own id. Raises Problem 422 where the model has no such rail or part.
    """
    rail, places, note = what
    _points_of(job, rail)
    if not places:
        raise Problem(422, "no-place", gettext("found no place, expected the part below which the layers are cut out"))
    more = {"rails": [rail], "note": note}
    ids = [entry, *(uuid5(entry, place) for place in places[1:])]
    kept = [
        enter_act(job, NewAct(of, "cut-layers", "ohms", place, more=more), by)
        for of, place in zip(ids, places, strict=True)
    ]
    return any(new for _, new in kept)


def _board(job: Job) -> Board:
    board = model_board(job.card.model)
    if board is None:
        raise Problem(
            409, "not-drawn", gettext("{model} is not drawn yet: rails and parts are not known.", model=job.card.model)
        )
    return board


def _points_of(job: Job, rail: str) -> Sequence[str]:
    """Where a rail is fed; of a board that nobody has drawn a rail is a point.

    Raises Problem 422 `unknown-rail` where the model has no such rail, or nobody named such a point.
    """
    board = model_board(job.card.model)
    if board is None:
        if not places_of_job(job).known(rail):
            raise Problem(
                422,
                "unknown-rail",
                gettext("found {rail}, expected a point that was named on this card", rail=repr(rail)),
            )
        return (rail,)
    rails = board.rails
    if rail not in rails:
        raise Problem(
            422,
            "unknown-rail",
            gettext("found the rail {rail}, expected one of {rails}", rail=repr(rail), rails=", ".join(rails)),
        )
    return rails[rail].points
