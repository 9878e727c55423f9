"""Entering readings, points, the power state."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from uvrix.core.errors import Refusal, quoted
from uvrix.core.readings.notation import MODES, Mode, Quantity, parse_value, shown, shown_number
from uvrix.core.readings.points import Places, board_places
from uvrix.core.readings.reading_file import Reading as CoreReading
from uvrix.core.readings.reading_file import read_known
from uvrix.core.readings.slips import slip
from uvrix.shop.accounts.models import User
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import model_board
from uvrix.shop.ohms.models import KnownReading, Meter, PhotoPoint, PowerState, Reading, Tick
from uvrix.shop.ohms.queries import known_library, lenders, measured, places_of_job, points, power_state
from uvrix.shop.pictures.models import Picture
from uvrix.shop.promises.services import made_by_event

# So many reasons are said at once.
MOST_SAID = 4
# A condition of a reading that leaves something off the board.
LIFTED = "coil lifted"
COLD: tuple[Quantity, ...] = ("resistance", "diode")


@dataclass(frozen=True, slots=True)
class NewReading:
    """A reading to enter; `value` in shop notation, `to` ground, across, or empty for what the point's kind says."""

    id: UUID
    point: str
    quantity: Quantity
    value: str
    mode: Mode = ""
    to: str = ""
    polarity: str = ""
    meter: str = ""
    condition: tuple[str, ...] = ()
    note: str = ""
    sure: bool = False


@transaction.atomic
def say_power(job: Job, entry: UUID, state: str, by: User) -> tuple[PowerState, bool]:
    """How the card stands now, and whether the entry is new.

    Raises Problem 409 `locked` where something keeps power locked: nobody talks the guard over, the lead neither.
    """
    if known := PowerState.objects.filter(pk=entry).first():
        return keep_row(PowerState, job, known.pk, by)
    if state != "off" and (locked := measured(job).blocks):
        raise Problem(
            409, "locked", " ".join(one.why for one in locked[:MOST_SAID]), blocks=[one.point for one in locked]
        )
    return keep_row(PowerState, job, entry, by, state=state)


@transaction.atomic
def click_point(job: Job, entry: UUID, name: str, spot: tuple[str, Picture, float, float], by: User) -> PhotoPoint:
    """A point on a photograph. Raises Problem 409 `name-taken` where this job has a point of that name."""
    if known := PhotoPoint.objects.filter(pk=entry).first():
        return keep_row(PhotoPoint, job, known.pk, by)[0]
    Job.objects.select_for_update().get(pk=job.pk)
    name = name.strip()
    if "/" in name or name in {one.name for one in points(job)}:
        raise Problem(409, "name-taken", f"found the name {quoted(name)}, expected one that no other point has")
    side, picture, x, y = spot
    return keep_row(PhotoPoint, job, entry, by, name=name, side=side, picture=picture, x_px=x, y_px=y)[0]


@transaction.atomic
def enter_reading(job: Job, new: NewReading, by: User) -> tuple[Reading, bool]:
    """A reading, and whether it is new.

    Raises Refusal where the value is none; Problem 422 where mode and quantity do not fit or the point is unknown;
    409 `not-off` where a cold reading is entered and nobody confirmed that the card is unplugged and discharged.
    """
    if known := Reading.objects.filter(pk=new.id).first():
        return keep_row(Reading, job, known.pk, by)
    _check_gate(job, new)
    if new.mode not in MODES[new.quantity]:
        detail = (
            f"found the mode {new.mode!r} for {new.quantity}, expected {' or '.join(filter(None, MODES[new.quantity]))}"
        )
        raise Problem(422, "does-not-fit", detail)
    try:
        value = parse_value(new.value, new.quantity)
    except Refusal as refusal:
        raise Problem(422, "no-value", f"found {refusal.found}, expected {refusal.expected}") from None
    to = new.to or _usual_to(job, new.point)
    meter = Meter.objects.filter(name=new.meter).first() if new.meter else None
    if not new.sure:
        _ask_about_slip(job, CoreReading(new.point, new.quantity, value, new.mode, to, new.polarity))
    fields = {"quantity": new.quantity, "mode": new.mode, "text": new.value.strip(), "to": to}
    fields |= {"polarity": new.polarity, "note": new.note}
    if LIFTED in new.condition and not job.promise_rows.filter(kind="coil-lifted", part=new.point, kept=None).exists():
        made_by_event(job, new.id, "coil-lifted", f"{new.point}: coil lifted, to be refitted.", by, part=new.point)
    value_fields = {"low": value.low, "high": value.high, "condition": list(new.condition), "meter": meter}
    return keep_row(Reading, job, new.id, by, point=new.point, **fields, **value_fields)


def _ask_about_slip(job: Job, reading: CoreReading) -> None:
    where = points(job)
    places, boards = places_of_job(job, where), lenders(job.card.model)
    reference = known_library(boards, places).reference(reading, boards)
    if off := slip(reading, reference):
        assert reference is not None
        assert reference.centre is not None
        said = shown(reading.value, reading.quantity)
        usual = shown_number(reference.centre, reading.quantity)
        many = f"{off:,.0f} times too high" if off > 1 else f"{1 / off:,.0f} times too low"
        raise Problem(
            409, "unit-slip", f"{said} is about {many} for {reading.point}, where good cards read {usual}. Is it?"
        )


@transaction.atomic
def tick(job: Job, entry: UUID, point: str, skipped: str, by: User) -> tuple[Tick, bool]:
    """A fuse or input looked at by hand, or skipped with a reason; and whether the entry is new."""
    return keep_row(Tick, job, entry, by, point=point, skipped=skipped)


@transaction.atomic
def import_known(data: bytes, name: str, by: User) -> int:
    """Add a file's known-good observations, all or none; gives how many. Raises Refusal naming the line."""
    places = Places({}, {}, frozenset(), {})
    found = read_known(data, places)
    kinds: dict[str, Places] = {}
    rows = []
    for one in found:
        if one.board not in kinds:
            model = BoardModel.objects.filter(slug=one.board).select_related("newest").first()
            board = model_board(model) if model else None
            kinds[one.board] = board_places(board) if board else places
        read = one.reading
        to = kinds[one.board].usual_to(read.point) if read.to == "ground" else read.to
        fields = {"point": read.point, "to": to, "quantity": read.quantity, "mode": read.mode, "meter": read.meter}
        fields |= {"polarity": read.polarity, "text": shown(read.value, read.quantity), "source": name[:200]}
        value = {"low": read.value.low, "high": read.value.high}
        rows.append(KnownReading(board=one.board, card=one.card, added_by=by, **fields, **value))
    KnownReading.objects.bulk_create(rows)
    return len(rows)


def take_out(row: KnownReading, by: User) -> None:
    """A wrong entry counts no more; it stays in the record."""
    if row.out_at is None:
        row.out_at, row.out_by = timezone.now(), by
        row.save(update_fields=["out_at", "out_by"])


def _check_gate(job: Job, new: NewReading) -> None:
    if new.quantity not in COLD:
        return
    said = power_state(job)
    if said is None or said.state != "off":
        detail = (
            "Unplug the card, let it discharge, and confirm it: cold readings on a powered card harm it and the meter."
        )
        raise Problem(409, "not-off", detail)


def _usual_to(job: Job, name: str) -> str:
    """Across for fuses and shunts and between two points, else to ground (formats.md §6). Raises Problem 422."""
    places = places_of_job(job, points(job))
    if not places.known(name):
        raise Problem(422, "unknown-point", f"found the point {name!r}, expected one of this board or photograph")
    return places.usual_to(name)
