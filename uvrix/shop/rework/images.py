"""Firmware images: the old one first and twice alike, the store, which fits, what was written."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from itertools import pairwise
from typing import Annotated, Any
from uuid import UUID

from django.db import transaction
from rest_framework import serializers

from uvrix.core.boards.model import FirmwareWanted
from uvrix.core.rework.image_file import Fit, ImageFacts, facts_of, fit, sha256_of
from uvrix.core.rework.images import ImageDiff, compare
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.acts.queries import of_job
from uvrix.shop.case.acting import NewAct, enter_act, entered
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, declared, given
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import model_board
from uvrix.shop.rework.models import FirmwareImage, ImageRead, ImageWrite

VOLTS = (1.8, 2.5, 3.3, 5.0)
RESULTS = ("works", "no-change", "worse", "not-tried")
# The volts of a programmer and of a storage chip are the same within this.
SAME_V = 0.2


@dataclass(frozen=True, slots=True)
class Origin:
    """Where an image is from: the file's name, in words, the model that it is for."""

    name: str
    source: str
    model: BoardModel | None


def keep_image(data: bytes, beside: bytes | None, origin: Origin, by: User) -> FirmwareImage:
    """An image in the store; the same bytes are one. Raises Problem 422 where it is empty, Refusal for bad facts."""
    if not data:
        raise Problem(422, "empty", gettext("{name}: found no byte, expected an image", name=origin.name))
    facts = asdict(facts_of(data, beside))
    fields = {"data": data, "name": origin.name[:120], "facts": facts, "model": origin.model, "source": origin.source}
    found, new = FirmwareImage.objects.get_or_create(pk=sha256_of(data), defaults={**fields, "by": by})
    if not new and beside is not None and found.facts != facts:
        found.facts = facts
        found.save(update_fields=["facts"])
    return found


@transaction.atomic
def read_image(job: Job, entry: UUID, file: tuple[str, bytes], chip_volts: float, by: User) -> tuple[ImageRead, bool]:
    """The card's storage as it was read, and whether the entry is new.

    Raises Problem 409 `chip-volts` where the model's storage chip is known to take another voltage.
    """
    _check_volts(job, chip_volts)
    if known := ImageRead.objects.filter(pk=entry).first():
        return keep_row(ImageRead, job, known.pk, by)
    name, data = file
    image = keep_image(
        data,
        None,
        Origin(name, gettext("read from {serial}, {label}", serial=job.card.serial, label=job.label), job.card.model),
        by,
    )
    return keep_row(ImageRead, job, entry, by, image=image, chip_volts=chip_volts)


def _check_volts(job: Job, chip_volts: float) -> None:
    board = model_board(job.card.model)
    expected = board.firmware.volts if board else None
    if expected is not None and abs(float(expected) - chip_volts) > SAME_V:
        takes = gettext(
            "The storage chip of {name} takes {expected} V", name=job.card.model.name, expected=f"{float(expected):g}"
        )
        detail = gettext("{takes}, not {chip_volts} V: it would die.", takes=takes, chip_volts=f"{chip_volts:g}")
        raise Problem(409, "chip-volts", detail)


@dataclass(frozen=True, slots=True)
class OldImage:
    """How the old image stands: it counts once two reads in a row are alike; else what two reads differ by."""

    reads: tuple[ImageRead, ...]
    image: FirmwareImage | None
    differ: ImageDiff | None


def old_image(job: Job) -> OldImage:
    """The old image of a job's card: what was read before anything was written."""
    first_write = of_job(job, "write").first()
    rows = job.imageread_rows.select_related("image", "by")
    reads = tuple(row for row in rows if first_write is None or row.at < first_write.at)
    for one, other in pairwise(reads):
        if one.image_id == other.image_id:
            return OldImage(reads, one.image, None)
    if len(reads) < 2:
        return OldImage(reads, None, None)
    return OldImage(reads, None, compare(bytes(reads[-2].image.data), bytes(reads[-1].image.data)))


@dataclass(frozen=True, slots=True)
class NewImageWrite:
    """A write to enter."""

    id: UUID
    image: Annotated[str, declared(serializers.RegexField("^[0-9a-f]{64}$"))]
    chip_volts: Annotated[float, given(min_value=0.5, max_value=6)]
    power_off: bool
    result: Annotated[str, chosen(list(RESULTS))]
    note: Annotated[str, given(max_length=200, allow_blank=True)] = ""


@transaction.atomic
def write_image(job: Job, new: NewImageWrite, by: User) -> tuple[Act, bool]:
    """What was written, and whether the entry is new.

    Raises Problem 409 `old-first` while the old image does not count yet, `power-off` where power was not off after it;
    404 for an image that the store lacks.
    """
    if known := entered(job, new.id, by):
        return known
    _check_volts(job, new.chip_volts)
    old = old_image(job).image
    if old is None:
        raise Problem(
            409,
            "old-first",
            gettext("Read the old image first, twice with the same result: without it there is no way back."),
        )
    if not new.power_off:
        raise Problem(
            409,
            "power-off",
            gettext("Confirm that power was fully off after writing: otherwise the card starts from the old image."),
        )
    image = FirmwareImage.objects.filter(pk=new.image).first()
    if image is None:
        raise Problem(404, "no-image", gettext("found no such image, expected one of the store"))
    act, fresh = enter_act(job, NewAct(new.id, "write", "rework", more={"note": new.note}), by)
    ImageWrite.objects.create(
        act=act, image=image, old=old, chip_volts=new.chip_volts, power_off=True, result=new.result
    )
    return act, fresh


def facts(image: FirmwareImage) -> ImageFacts:
    """What an image says of itself."""
    known: Mapping[str, Any] = image.facts
    return ImageFacts(**{**known, "vendors": tuple(known.get("vendors", ()))})


def wanted(job: Job, old: FirmwareImage | None) -> ImageFacts:
    """What an image for this card must be: as the old one says, with the memory maker that the model's file names."""
    from_old = facts(old) if old else ImageFacts()
    board = model_board(job.card.model)
    firmware = board.firmware if board else FirmwareWanted()
    vendors = board.memory.vendors if board else ()
    return ImageFacts(
        firmware.bus or from_old.bus,
        firmware.memory or from_old.memory,
        vendors[:1] or from_old.vendors[:1],
        firmware.core_mhz or from_old.core_mhz,
        firmware.memory_mhz or from_old.memory_mhz,
        # of an image that nobody described, the text is all that stands in it: no other edition has the same
        from_old.text if from_old.bus or from_old.memory else "",
    )


def ranked(want: ImageFacts) -> list[tuple[FirmwareImage, Fit]]:
    """The store's images, the best first."""
    found = [(image, fit(want, facts(image))) for image in FirmwareImage.objects.defer("data").select_related("by")]
    return sorted(found, key=lambda row: -row[1].score)
