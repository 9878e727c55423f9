"""Entering readings, points, the power state."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID, uuid5

from django.db import transaction
from django.utils import timezone
from rest_framework import serializers

from uvrix.core.errors import Refusal, quoted
from uvrix.core.readings.meter_lines import read_meter_reader
from uvrix.core.readings.notation import (
    COLD,
    MODES,
    POWERED,
    QUANTITIES,
    Mode,
    Quantity,
    Value,
    parse_value,
    shown,
    shown_number,
)
from uvrix.core.readings.points import Places, board_places
from uvrix.core.readings.reading_file import Reading as CoreReading
from uvrix.core.readings.reading_file import read_known
from uvrix.core.readings.shorts import SHORTED
from uvrix.core.readings.slips import slip
from uvrix.core.readings.sweeps import CHIP_ALONE, SITE_PADS
from uvrix.core.values.codes import code_words
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.case.acting import NewAct, enter_act, entered
from uvrix.shop.case.threads import thread
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, declared, given
from uvrix.shop.jobs.leaving import must_be_at_hand
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import model_board
from uvrix.shop.library.startups import with_nodes
from uvrix.shop.ohms.guard import locks
from uvrix.shop.ohms.link import check_address, check_setter
from uvrix.shop.ohms.models import (
    KnownReading,
    Meter,
    PhotoPoint,
    PowerState,
    Reading,
    ReferenceCard,
    Sweep,
    Tick,
)
from uvrix.shop.ohms.nodes import map_of
from uvrix.shop.ohms.queries import (
    forget_bench,
    measured,
    places_of_job,
    plugs_of,
    points,
    power_state,
    reading_context,
)
from uvrix.shop.pictures.models import Picture

# This many reasons are said at once.
MOST_SAID = 4
# A condition of a reading that leaves something off the board.
LIFTED = "coil lifted"


# Leads that read more than this held together are broken.
MOST_LEAD_OHMS = 10.0


POWER_STATES = ["off", "supply", "computer"]


@dataclass(frozen=True, slots=True)
class NewReading:
    """A reading to enter; `value` in shop notation, `to` ground, across, or empty for what the point's kind says."""

    id: UUID
    point: Annotated[str, given(max_length=130)]
    quantity: Annotated[Quantity, chosen(QUANTITIES)]
    value: Annotated[str, given(max_length=40)]
    mode: Annotated[Mode, chosen(["ohms", "diode", "continuity", ""])] = ""
    to: Annotated[str, chosen(["ground", "across", ""])] = ""
    polarity: Annotated[str, chosen(["red", "black", ""])] = ""
    meter: Annotated[str, given(max_length=40, allow_blank=True)] = ""
    condition: Annotated[tuple[str, ...], given(max_length=12, child_kwargs={"max_length": 40})] = ()
    note: Annotated[str, given(max_length=200, allow_blank=True)] = ""
    sure: bool = False


@dataclass(frozen=True, slots=True)
class NewPower:
    """How the card stands, to say; of one that is on, whether all its plugs are in and whether it is bare."""

    id: UUID
    state: Annotated[str, chosen(POWER_STATES)]
    plugs_in: bool = False
    bare: bool = False


@transaction.atomic
def set_power_state(job: Job, new: NewPower, by: User) -> tuple[PowerState, bool]:
    """How the card stands now, and whether the entry is new.

    Raises Problem 409 `locked` where something keeps power locked: nobody can override the guard, not even the lead;
    409 `left` where the card left, `plugs-in` where the model has plugs and nobody says that they are in.
    """
    if known := PowerState.objects.filter(pk=new.id).first():
        return keep_row(PowerState, job, known.pk, by)
    if new.state == "off":
        return keep_row(PowerState, job, new.id, by, state="off")
    must_be_at_hand(job)
    if locked := locks(job, measured(job)):
        raise Problem(
            409, "locked", " ".join(block.why for block in locked[:MOST_SAID]), blocks=[block.point for block in locked]
        )
    plugs = plugs_of(job)
    if plugs and not new.plugs_in:
        many = gettext("the plug") if plugs == 1 else gettext("all {plugs} plugs", plugs=plugs)
        raise Problem(
            409,
            "plugs-in",
            gettext("Confirm that {many} are plugged in: with one missing a card beeps or does nothing.", many=many),
        )
    return keep_row(PowerState, job, new.id, by, state=new.state, plugs_in=new.plugs_in, bare=new.bare)


@dataclass(frozen=True, slots=True)
class NewName:
    """What a click on a photograph names (models.PhotoPoint)."""

    name: str
    kind: str = "pad"
    node: str = ""


@transaction.atomic
def click_point(job: Job, entry: UUID, named: NewName, spot: tuple[str, Picture, float, float], by: User) -> PhotoPoint:
    """A point on a photograph. Raises Problem 409 `name-taken` where this job has a point of that name."""
    if known := PhotoPoint.objects.filter(pk=entry).first():
        return keep_row(PhotoPoint, job, known.pk, by)[0]
    Job.objects.select_for_update().get(pk=job.pk)
    name = named.name.strip()
    if "/" in name or name in {point.name for point in points(job) if point.clicked or point.x_mm is not None}:
        raise Problem(
            409, "name-taken", gettext("found the name {name}, expected one that no other point has", name=quoted(name))
        )
    side, picture, x, y = spot
    forget_bench(job)
    what = {"name": name, "kind": named.kind, "node": named.node.strip()}
    return keep_row(PhotoPoint, job, entry, by, **what, side=side, picture=picture, x_px=x, y_px=y)[0]


@transaction.atomic
def enter_reading(job: Job, new: NewReading, by: User) -> tuple[Reading, bool]:
    """A reading, and whether it is new.

    Raises Refusal where the value is none; Problem 422 where mode and quantity do not fit or the point is unknown;
    409 `left` where the card left, `not-off` where a cold reading is entered and nobody confirmed that the card is
    unplugged and discharged.
    """
    if known := Reading.objects.filter(pk=new.id).first():
        return keep_row(Reading, job, known.pk, by)
    must_be_at_hand(job)
    _check_gate(job, new)
    if new.mode not in MODES[new.quantity]:
        detail = gettext(
            "found the mode {mode} for {quantity}, expected {names}",
            mode=repr(new.mode),
            quantity=new.quantity,
            names=gettext(" or ").join(filter(None, MODES[new.quantity])),
        )
        raise Problem(422, "does-not-fit", detail)
    try:
        value = parse_value(new.value, new.quantity)
    except Refusal as refusal:
        raise Problem(
            422,
            "no-value",
            gettext("found {found}, expected {expected}", found=refusal.found, expected=refusal.expected),
        ) from None
    to = new.to or _usual_to(job, new.point, new.quantity)
    meter = _meter(new.meter)
    if meter and new.quantity == "resistance":
        value = without_leads(value, meter.lead_ohms)
    if not new.sure:
        _ask_about_slip(job, CoreReading(new.point, new.quantity, value, new.mode, to, new.polarity, new.meter))
    fields = {"quantity": new.quantity, "mode": new.mode, "text": new.value.strip(), "to": to}
    fields |= {"polarity": new.polarity, "note": new.note}
    _lifted_for_it(job, new, by)
    lead = meter.lead_ohms if meter and new.quantity == "resistance" else 0.0
    value_fields = {"low": value.low, "high": value.high, "condition": list(new.condition), "meter": meter}
    value_fields |= {"lead_ohms": lead}
    return keep_row(Reading, job, new.id, by, point=new.point, **fields, **value_fields)


def _lifted_for_it(job: Job, new: NewReading, by: User) -> None:
    """Enter the act that a reading's condition says was done for it, unless it was entered: a coil or chip lifted."""
    if not {LIFTED, SITE_PADS, CHIP_ALONE} & set(new.condition):
        return
    card = thread(job).facts.card
    part, note = new.point.partition(".")[0], gettext("to be measured")
    if LIFTED in new.condition and new.point not in card.lifted:
        enter_act(job, NewAct(uuid5(new.id, "lift-coil"), "lift-coil", "ohms", new.point, more={"note": note}), by)
    if {SITE_PADS, CHIP_ALONE} & set(new.condition) and part not in card.empty:
        enter_act(job, NewAct(uuid5(new.id, "remove"), "remove", "ohms", part, more={"note": note}), by)


def without_leads(value: Value, lead_ohms: float) -> Value:
    """An ohm reading without what the meter's leads read held together; never below nothing."""
    if value.low is None or value.high is None:
        return value
    return Value(max(0.0, value.low - lead_ohms), max(0.0, value.high - lead_ohms))


def _meter(name: str) -> Meter | None:
    """The meter of a name. Raises Problem 422 where the shop has none."""
    if not name:
        return None
    if found := Meter.objects.filter(name=name).first():
        return found
    raise Problem(
        422, "unknown-meter", gettext("found the meter {name}, expected one of this shop's", name=quoted(name))
    )


def _ask_about_slip(job: Job, reading: CoreReading) -> None:
    bench = reading_context(job)
    reference = bench.library.reference(reading, bench.boards)
    if off := slip(reading, reference):
        assert reference is not None
        assert reference.centre is not None
        said = shown(reading.value, reading.quantity)
        usual = shown_number(reference.centre, reading.quantity)
        many = (
            gettext("{off} times too high", off=f"{off:,.0f}")
            if off > 1
            else gettext("{off} times too low", off=f"{1 / off:,.0f}")
        )
        raise Problem(
            409,
            "unit-slip",
            gettext(
                "{said} is about {many} for {point}, where good cards read {usual}. Is it?",
                said=said,
                many=many,
                point=reading.point,
                usual=usual,
            ),
        )


@transaction.atomic
def tick(job: Job, entry: UUID, point: str, skipped: str, by: User) -> tuple[Tick, bool]:
    """A fuse or input looked at by hand, or skipped with a reason; and whether the entry is new."""
    return keep_row(Tick, job, entry, by, point=point, skipped=skipped)


def begin_sweep(job: Job, entry: UUID, name: str, by: User) -> tuple[Sweep, bool]:
    """A new pass over all rails begins; and whether the entry is new."""
    return keep_row(Sweep, job, entry, by, name=name)


@transaction.atomic
def swap_fuse(job: Job, entry: UUID, point: str, said: tuple[str, str], by: User) -> tuple[Act, bool]:
    """A fuse replaced, `said` its rating and a reason; and whether the entry is new. It is to be read and ticked anew.

    Raises Problem 422 where the board has no such fuse; 409 `rail-short` where what is behind it is short or was not
    read, and no reason is given: the next one blows too.
    """
    if known := entered(job, entry, by):
        return known
    fuse = next((candidate for candidate in points(job) if candidate.name == point and candidate.kind == "fuse"), None)
    if fuse is None:
        raise Problem(
            422, "unknown-point", gettext("found the fuse {point}, expected one of this board's", point=quoted(point))
        )
    rating, reason = said
    if not reason and (why := _behind(job, fuse.net)):
        raise Problem(
            409, "rail-short", gettext("{why} Clear it first, or write why the fuse goes in all the same.", why=why)
        )
    more = {"rating": rating, "note": gettext("Although its rail was short: {reason}", reason=reason) if reason else ""}
    return enter_act(job, NewAct(entry, "swap", "ohms", point, more=more), by)


def _behind(job: Job, rail: str) -> str:
    """Why a fuse may not go in yet; empty where nothing says so."""
    found = measured(job)
    verdict = found.rail_verdicts.get(rail)
    if verdict is None:
        return (
            gettext("{rail} behind the fuse was not read to ground.", rail=rail or gettext("The rail")) if rail else ""
        )
    if rail in found.low_inputs or verdict in SHORTED:
        return gettext(
            "{rail} behind the fuse is {verdict}.",
            rail=rail,
            verdict=gettext("short") if rail in found.low_inputs else code_words(verdict),
        )
    return ""


@dataclass(frozen=True, slots=True)
class NewMeter:
    """A meter as it is to be; without a `reader` it keeps the one it has."""

    name: Annotated[str, given(max_length=40)]
    lead_ohms: Annotated[float, given(min_value=0, max_value=MOST_LEAD_OHMS)] = 0.0
    address: Annotated[str, given(max_length=120, allow_blank=True)] = ""
    reader: Annotated[dict[str, Any] | None, declared(serializers.JSONField(required=False))] = None


def set_meter(new: NewMeter, by: User) -> Meter:
    """Add a meter, or set what its leads read, where it answers and how its lines are read.

    Raises Problem 422 where the address is none, 403 where somebody but the lead sets it, Refusal where the reader does
    not fit.
    """
    check_address(new.address)
    known = Meter.objects.filter(name=new.name).first()
    check_setter(by, known.address if known else "", new.address)
    if new.reader is not None:
        read_meter_reader(new.reader)
    fields: dict[str, Any] = {"lead_ohms": new.lead_ohms, "address": new.address}
    fields |= {"reader": new.reader} if new.reader is not None else {}
    return Meter.objects.update_or_create(name=new.name, defaults=fields, create_defaults={**fields, "added_by": by})[0]


@dataclass(frozen=True, slots=True)
class NewKnown:
    """A reading of a reference card, to enter; as `NewReading`."""

    id: UUID
    point: Annotated[str, given(max_length=130)]
    quantity: Annotated[Quantity, chosen(["resistance", "diode"])]
    value: Annotated[str, given(max_length=40)]
    mode: Annotated[Mode, chosen(["ohms", "diode", "continuity", ""])] = ""
    to: Annotated[str, chosen(["ground", "across", ""])] = ""
    polarity: Annotated[str, chosen(["red", "black", ""])] = ""
    meter: Annotated[str, given(max_length=40, allow_blank=True)] = ""


def begin_reference(model: BoardModel, entry: UUID, card: str, note: str, by: User) -> ReferenceCard:
    """A good card whose readings are to be captured. Raises Problem 409 `captured` where the model has one so named."""
    if known := ReferenceCard.objects.filter(pk=entry).first():
        return known
    if ReferenceCard.objects.filter(board=model.slug, card=card).exists():
        raise Problem(
            409,
            "captured",
            gettext("{card} was captured already: name another card, or go on with that one.", card=card),
        )
    return ReferenceCard.objects.create(id=entry, board=model.slug, card=card, note=note, by=by)


@transaction.atomic
def capture(reference: ReferenceCard, new: NewKnown, by: User) -> KnownReading:
    """A reading of a reference card joins the library; a later one of the same thing takes the former out.

    Raises Problem 422 where the value is none or the point unknown.
    """
    if known := KnownReading.objects.filter(entry=new.id).first():
        return known
    board = model_board(BoardModel.objects.select_related("newest").get(slug=reference.board))
    if board is None or not (places := board_places(board)).known(new.point):
        raise Problem(
            422,
            "unknown-point",
            gettext("found the point {point}, expected one of this board", point=quoted(new.point)),
        )
    if new.mode not in MODES[new.quantity]:
        raise Problem(
            422,
            "does-not-fit",
            gettext("found the mode {mode} for {quantity}", mode=repr(new.mode), quantity=code_words(new.quantity)),
        )
    try:
        value = parse_value(new.value, new.quantity)
    except Refusal as refusal:
        raise Problem(
            422,
            "no-value",
            gettext("found {found}, expected {expected}", found=refusal.found, expected=refusal.expected),
        ) from None
    meter = _meter(new.meter)
    if meter and new.quantity == "resistance":
        value = without_leads(value, meter.lead_ohms)
    where = {"point": new.point, "to": new.to or places.usual_to(new.point)}
    same = {**where, "quantity": new.quantity, "mode": new.mode, "polarity": new.polarity}
    for former in reference.readings.filter(out_at=None, **same):
        take_out(former, by)
    fields = {"board": reference.board, "card": reference.card, "text": new.value.strip(), "meter": new.meter}
    fields |= {"source": gettext("captured from {card}", card=reference.card)[:200]}
    return KnownReading.objects.create(
        entry=new.id, reference=reference, added_by=by, low=value.low, high=value.high, **same, **fields
    )


@transaction.atomic
def import_known(data: bytes, name: str, by: User) -> int:
    """Add a file's known-good observations, all or none; gives how many. Raises Refusal naming the line."""
    places = Places({}, {}, frozenset(), {})
    found = read_known(data, places)
    kinds: dict[str, Places] = {}
    rows = []
    for observation in found:
        if observation.board not in kinds:
            model = BoardModel.objects.filter(slug=observation.board).select_related("newest").first()
            board = model_board(model) if model else None
            kinds[observation.board] = board_places(board) if board else places
        read = observation.reading
        to = kinds[observation.board].usual_to(read.point) if read.to == "ground" else read.to
        fields = {"point": read.point, "to": to, "quantity": read.quantity, "mode": read.mode, "meter": read.meter}
        fields |= {"polarity": read.polarity, "text": shown(read.value, read.quantity), "source": name[:200]}
        value = {"low": read.value.low, "high": read.value.high}
        rows.append(KnownReading(board=observation.board, card=observation.card, added_by=by, **fields, **value))
    KnownReading.objects.bulk_create(rows)
    return len(rows)


def take_out(row: KnownReading, by: User) -> None:
    """A wrong entry counts no more; it stays in the record."""
    if row.out_at is None:
        row.out_at, row.out_by = timezone.now(), by
        row.save(update_fields=["out_at", "out_by"])


def _check_gate(job: Job, new: NewReading) -> None:
    said = power_state(job)
    if new.quantity in POWERED and (said is None or said.state == "off"):
        detail = gettext(
            "The card is recorded as off: set it to on the supply or in the computer before you read volts."
        )
        raise Problem(409, "not-on", detail)
    if new.quantity not in COLD:
        return
    if said is None or said.state != "off":
        detail = gettext(
            "Unplug the card, let it discharge, and confirm it: cold readings on a powered card harm it and the meter."
        )
        raise Problem(409, "not-off", detail)


def _usual_to(job: Job, name: str, quantity: Quantity) -> str:
    """Across for fuses and shunts and between two points, else to ground (docs/formats §11). Raises Problem 422."""
    places = places_of_job(job)
    if quantity in POWERED and not places.known(name):
        # a node of a map that a relative lends
        places = with_nodes(places, map_of(job))
    if not places.known(name):
        raise Problem(
            422,
            "unknown-point",
            gettext("found the point {name}, expected one of this board or photograph", name=repr(name)),
        )
    return places.usual_to(name)
