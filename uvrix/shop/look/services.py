"""Entering what was seen, and laying photographs over the reference."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

import numpy as np
from django.core.files.storage import default_storage
from django.db import transaction
from PIL import Image, ImageDraw

from uvrix.core.boards.contacts import ROW_SIDE, by_name, contact_at, spot_of
from uvrix.core.boards.model import Board, Side
from uvrix.core.boards.photograph import Photograph, photographs_of
from uvrix.core.look.findings import KINDS, part_at
from uvrix.core.look.overlay import Affine, Grey, Overlay, Point, overlay
from uvrix.core.look.regions import regions
from uvrix.core.look.straighten import straightening
from uvrix.core.rework.near import footprint
from uvrix.core.values.codes import code_words
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.case.threads import thread
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.library.queries import model_board
from uvrix.shop.look.models import JobPhotograph, LookFinding, LookFindingWithdrawal, RegionLook
from uvrix.shop.look.queries import photo_regions_of
from uvrix.shop.pictures.models import Picture
from uvrix.shop.pictures.services import JPEG_QUALITY, take_picture

Landmarks = tuple[Sequence[Point], Sequence[Point]]
# What the eye compares: beyond this, pictures only take longer.
LARGEST_PX = 1800
MISSING, TORN = "missing-part", "contact"


@dataclass(frozen=True, slots=True)
class Spot:
    """Where something was seen: millimetres of the board, or pixels of a photograph where no board is drawn."""

    side: Side
    x_mm: float | None = None
    y_mm: float | None = None
    picture: str = ""
    x_px: float | None = None
    y_px: float | None = None


@dataclass(frozen=True, slots=True)
class NewFinding:
    """Something seen, to enter; `id` is the client's.

    A torn contact may be named (`B38`) in place of its spot, and so may a `part` of the board.
    """

    id: UUID
    kind: str
    spot: Spot
    note: str = ""
    photographs: tuple[UUID, ...] = ()
    contact: str = ""
    part: str = ""


@dataclass(frozen=True, slots=True)
class NewPhotograph:
    """A picture to keep with a job; `id` is the client's, `side` empty where it shows no side whole.

    `before` names what it was taken before lifting: a designator, or a step of the teardown recipe.
    """

    id: UUID
    picture: Picture
    side: str = ""
    note: str = ""
    before: str = ""
    made_from: JobPhotograph | None = None


@transaction.atomic
def keep_photograph(job: Job, new: NewPhotograph, by: User) -> tuple[JobPhotograph, bool]:
    """A picture as a photograph of the job's card, and whether it is new: the same entry twice is one.

    Where nobody has drawn the model yet, the first of a whole side serves as its board on every screen.
    """
    fields = {"picture": new.picture, "side": new.side, "note": new.note}
    kept = keep_row(JobPhotograph, job, new.id, by, **fields, before=new.before, made_from=new.made_from)
    model = job.card.model
    if new.side and not new.before and model.newest is None and not model.pictures.filter(side=new.side).exists():
        model.pictures.create(side=new.side, picture=new.picture, added_by=by)
    return kept


@transaction.atomic
def look_at(job: Job, entry: UUID, region: str, *, clear: bool, by: User) -> tuple[RegionLook, bool]:
    """A region, or closely a part, looked at, or opened again.

    Raises Problem 422 `unknown-region` where the board has neither a region of that id nor a part of that name.
    """
    board = model_board(job.card.model)
    known = regions(board) if board else photo_regions_of(job.card.model)
    if region not in {candidate.id for candidate in known}:
        part = thread(job).names.site(" ".join(region.split())) if board else None
        if not part:
            detail = gettext("found {region}, expected a region or a part of this board", region=repr(region))
            raise Problem(422, "unknown-region", detail, region=region)
        region = part
    return keep_row(RegionLook, job, entry, by, region=region, clear=clear)


@transaction.atomic
def enter_finding(job: Job, new: NewFinding, by: User) -> tuple[LookFinding, bool]:
    """Something seen, and whether it is new.

    Raises Problem 422 where the kind is none, or the place is neither on the board nor on a photograph.
    """
    spot = new.spot
    if new.kind not in KINDS:
        raise Problem(
            422,
            "unknown-kind",
            gettext("found {kind}, expected one of {kinds}", kind=repr(new.kind), kinds=", ".join(KINDS)),
        )
    board = model_board(job.card.model)
    part = new.contact
    if new.contact:
        spot = _spot_of_contact(board, new)
    elif new.part.strip():
        spot, part = _spot_of_part(job, board, new.part)
    on_board = spot.x_mm is not None and spot.y_mm is not None
    on_picture = spot.picture and spot.x_px is not None and spot.y_px is not None
    if not (on_board or on_picture or new.contact):
        raise Problem(422, "no-place", gettext("found no place, expected one on the board or on a photograph"))
    picture = Picture.objects.filter(pk=spot.picture).first() if spot.picture else None
    if spot.picture and picture is None:
        raise Problem(422, "unknown-picture", gettext("found a picture that was not sent, expected one of this job's"))
    if board and not part and spot.x_mm is not None and spot.y_mm is not None:
        part = part_at(board, spot.side, spot.x_mm, spot.y_mm) or ""
        if new.kind == TORN and (contact := contact_at(board, spot.side, spot.x_mm, spot.y_mm)):
            part = contact.name
    place = {"side": spot.side, "x_mm": spot.x_mm, "y_mm": spot.y_mm, "x_px": spot.x_px, "y_px": spot.y_px}
    fields = {**place, "kind": new.kind, "picture": picture, "part": part, "note": new.note}
    found, fresh = keep_row(LookFinding, job, new.id, by, **fields)
    if fresh:
        job.photographs.filter(pk__in=new.photographs).update(finding=found)
    return found, fresh


def _spot_of_contact(board: Board | None, new: NewFinding) -> Spot:
    """Where a named contact lies. Raises Problem 422 where there is none of that name, or the kind is another."""
    contact = by_name().get(new.contact)
    if contact is None or new.kind != TORN:
        detail = gettext(
            "found the contact {contact} for {kind}, expected a slot contact, A1 to B82, that is torn",
            contact=repr(new.contact),
            kind=new.kind,
        )
        raise Problem(422, "unknown-contact", detail)
    at = spot_of(board, contact) if board else None
    return Spot(ROW_SIDE[contact.row], *(at[1:] if at else (None, None)))


def _spot_of_part(job: Job, board: Board | None, name: str) -> tuple[Spot, str]:
    """Where a named part lies, and how the model spells it. Raises Problem 422 `unknown-part` where it has none."""
    part = thread(job).names.site(" ".join(name.split()))
    found = footprint(board, part) if board and part else None
    if part is None or found is None:
        detail = gettext("found {part}, expected a part that the model places on the board", part=repr(name))
        raise Problem(422, "unknown-part", detail)
    side, corners = found
    x, y = (sum(values) / len(corners) for values in zip(*corners, strict=True))
    return Spot(side, x, y), part  # type: ignore[arg-type]  # front or back


def withdraw_finding(finding: LookFinding, by: User) -> None:
    """Take a finding back; doing so twice changes nothing."""
    LookFindingWithdrawal.objects.get_or_create(finding=finding, defaults={"by": by})


def reference_of(board: Board | None, side: str) -> tuple[str, Photograph] | None:
    """The model's reference photograph of a side: its picture, and how it lies on the board."""
    return next((entry for entry in photographs_of(board) if entry[1].side == side), None) if board else None


def overlay_photograph(photograph: JobPhotograph, landmarks: Landmarks) -> tuple[Overlay, Photograph]:
    """The photograph over its model's reference, and the reference; the landmarks are kept with the photograph.

    Raises Problem 409 `no-reference` where the model has no photograph of that side, Refusal where they do not fit.
    """
    board = model_board(photograph.job.card.model)
    reference = reference_of(board, photograph.side)
    if board is None or reference is None:
        detail = gettext(
            "{model} has no reference photograph of the {side} yet.",
            model=photograph.job.card.model,
            side=code_words(photograph.side) or gettext("side"),
        )
        raise Problem(409, "no-reference", detail)
    sha256, placed = reference
    base, base_scale = _grey(Picture.objects.filter(pk=sha256).first())
    other, other_scale = _grey(photograph.picture)
    points = (
        [(x * base_scale, y * base_scale) for x, y in landmarks[0]],
        [(x * other_scale, y * other_scale) for x, y in landmarks[1]],
    )
    found = overlay(
        base,
        other,
        points,
        placed.mm_per_px / base_scale,
        _within(board, placed, base.shape, base_scale),
    )
    here, there = ([list(point) for point in points] for points in landmarks)
    photograph.landmarks = {"reference": here, "photograph": there}
    photograph.save(update_fields=["landmarks"])
    return _unscaled(found, base_scale, other_scale), placed


def _grey(picture: Picture | None) -> tuple[Grey, float]:
    """A picture's grey, no larger than is useful, and by how much it was made smaller."""
    if picture is None:
        raise Problem(409, "no-reference", gettext("The reference photograph is not in this shop's store."))
    with default_storage.open(picture.stored_as) as stream:
        found = Image.open(io.BytesIO(stream.read())).convert("L")
    scale = min(1.0, LARGEST_PX / max(found.size))
    if scale < 1.0:
        found = found.resize((round(found.width * scale), round(found.height * scale)), Image.Resampling.BOX)
    return np.asarray(found, dtype=np.float32), scale


def _within(board: Board, placed: Photograph, shape: tuple[int, ...], scale: float) -> Any:
    """The pixels of the reference that show the board: the table round it differs on every picture."""
    mask = Image.new("1", (shape[1], shape[0]))
    corners = [placed.pixel((float(x), float(y))) for x, y in board.outline]
    ImageDraw.Draw(mask).polygon([(x * scale, y * scale) for x, y in corners], fill=1)
    return np.asarray(mask, dtype=bool)


def _unscaled(found: Overlay, base: float, other: float) -> Overlay:
    """The overlay in the pixels of the pictures as they are stored."""
    map_px = found.affine
    turn = base / other
    affine = Affine(
        map_px.a * turn, map_px.b * turn, map_px.c * turn, map_px.d * turn, map_px.e / other, map_px.f / other
    )
    places = tuple(type(place)(place.x_px / base, place.y_px / base, place.score, place.what) for place in found.places)
    return Overlay(affine, found.alike, places)


def straighten_photograph(
    photograph: JobPhotograph, entry: UUID, corners: Sequence[Sequence[float]], by: User
) -> tuple[JobPhotograph, bool]:
    """A new photograph of the job, cut to the board and seen from straight above; and whether it is new.

    Raises Refusal where the corners do not go round.
    """
    if known := JobPhotograph.objects.filter(pk=entry).first():
        return keep_row(JobPhotograph, photograph.job, known.pk, by)
    board = model_board(photograph.job.card.model)
    aspect = None
    if board:
        left, bottom, right, top = board.extents
        aspect = float((right - left) / (top - bottom))
    size, coefficients = straightening([(float(x), float(y)) for x, y in corners], aspect)
    with default_storage.open(photograph.picture.stored_as) as stream:
        found = Image.open(io.BytesIO(stream.read())).convert("RGB")
    straight = found.transform(size, Image.Transform.PERSPECTIVE, coefficients, Image.Resampling.BICUBIC)
    written = io.BytesIO()
    straight.save(written, "JPEG", quality=JPEG_QUALITY)
    picture = take_picture(written.getvalue(), "straightened.jpg", by)
    fields = NewPhotograph(entry, picture, photograph.side, "Straightened.", photograph.before, photograph)
    return keep_photograph(photograph.job, fields, by)
