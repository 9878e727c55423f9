"""The demo's meter, and a short that is hunted: everything read, the proof, what was fed, where it glowed."""

from __future__ import annotations

import io
import os
from datetime import timedelta
from uuid import NAMESPACE_URL, UUID, uuid5

from PIL import Image

from uvrix.core.readings.morning import Kind
from uvrix.core.readings.notation import Mode, Quantity, Value, typed
from uvrix.core.readings.points import ACROSS_KINDS
from uvrix.core.readings.slot import route as slot_route
from uvrix.core.virtual.card import VirtualCard
from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.look.services import NewFinding, Spot, enter_finding
from uvrix.shop.ohms.models import Meter
from uvrix.shop.ohms.morning import NewStandard, check_meter, set_standard
from uvrix.shop.ohms.queries import measured
from uvrix.shop.ohms.services import (
    NewKnown,
    NewMeter,
    NewPower,
    NewReading,
    begin_reference,
    capture,
    enter_reading,
    set_meter,
    set_power_state,
    tick,
)
from uvrix.shop.pictures.services import take_picture
from uvrix.shop.shorts.services import NewInjection, enter_glow, enter_injection, overlay_thermal
from uvrix.shop.volts.supply import set_supply
from uvrix.standins.meter import LEAD_OHMS, shipped_cards
from uvrix.standins.thermal import MARGIN_MM, PX_PER_MM, thermal

HUNTED, BEGUN, COMPARED, TORN, GOOD = "TL8-56002", "TL8-56377", "TL8-55871", "WG4-20544", "TG-3"
METER = "bench meter"
# This much of the route was read on the card that was only begun.
SO_FAR = 5


def meters(by: User) -> None:
    """The stand-ins, where ./start serves them, and a meter that nobody has connected."""
    set_meter(NewMeter(METER, LEAD_OHMS, os.environ.get("UVRIX_METER", "")), by)
    set_meter(NewMeter("meter one", 0.1), by)
    if supply := os.environ.get("UVRIX_SUPPLY"):
        set_supply("bench supply", supply, by)
    if line := os.environ.get("UVRIX_SERIAL_METER"):
        set_meter(NewMeter("meter that prints", LEAD_OHMS, line), by)


def good_card(model: BoardModel, technician: User, lead: User) -> None:
    """A good card read along the whole route, which the meters are held against in the morning."""
    card = shipped_cards().card(GOOD, model.slug)
    reference = begin_reference(
        model, uuid5(NAMESPACE_URL, f"uvrix-demo/{GOOD}"), GOOD, "a year in the shop", technician
    )
    for point in card.board.points:
        truth = card.between(point.id, "across" if point.kind in ACROSS_KINDS else "ground")
        value = typed(Value(truth.ohms, truth.ohms), "resistance")
        entry = uuid5(NAMESPACE_URL, f"uvrix-demo/{GOOD}/{point.id}")
        capture(reference, NewKnown(entry, point.id, "resistance", value, "ohms"), technician)
    set_standard(NewStandard(100.0, 0.01, reference.pk, "L9"), lead)
    for name, shown in ((METER, ("0R12", "100R1")), ("meter one", ("0R1",))):
        kinds: tuple[Kind, ...] = ("leads", "resistor")
        for kind, text in zip(kinds, shown, strict=False):
            check_meter(Meter.objects.get(name=name), uuid5(NAMESPACE_URL, f"{name}/{kind}"), kind, text, technician)


def chips(job: Job, by: User) -> None:
    """Data lines of four chips, read ball by ball: one chip has a dead pin."""
    if job.card.serial != COMPARED:
        return
    card = shipped_cards().card(COMPARED, job.card.model.slug)
    set_power_state(job, NewPower(_entry(job, "off again"), "off"), by)
    lines = card.packages["fb180"].lines
    for chip in ("U15", "U14", "U16", "U13"):
        for line in range(16):
            _diode(job, card, f"{chip}.{lines[line]}", by)


def slot(job: Job, by: User) -> None:
    """A torn contact, and the lanes read up to it and beyond."""
    if job.card.serial != TORN:
        return
    card = shipped_cards().card(TORN, job.card.model.slug)
    set_power_state(job, NewPower(_entry(job, "off"), "off"), by)
    for point in slot_route(16)[:26]:
        _diode(job, card, point, by)
    enter_finding(job, NewFinding(_entry(job, "torn"), "contact", Spot("front"), contact="B41"), by)


def _diode(job: Job, card: VirtualCard, name: str, by: User) -> None:
    volts = card.between(name, "ground").diode_v
    shown = None if volts is None else round(volts, 3)
    value = typed(Value(shown, shown), "diode")
    enter_reading(job, NewReading(_entry(job, name), name, "diode", value, "diode", meter=METER, sure=True), by)


def hunt(job: Job, by: User) -> None:
    """A card read wholly, its short fed and seen; another of which only the outside was read."""
    if job.card.serial not in {HUNTED, BEGUN}:
        return
    card = shipped_cards().card(job.card.serial, job.card.model.slug)
    set_power_state(job, NewPower(_entry(job, "off"), "off"), by)
    route = list(measured(job).route)
    for name in route if job.card.serial == HUNTED else route[:SO_FAR]:
        _read(job, card, name, by)
    if job.card.serial == HUNTED:
        tick(job, _entry(job, "F1"), "F1", "", by)
        _read(job, card, "PL2/L3", by)
        _feed(job, card, by)


def read_whole(job: Job, by: User) -> None:
    """A past card, read along the route on the day after it came."""
    card = shipped_cards().card(job.card.serial, job.card.model.slug)
    set_power_state(job, NewPower(_entry(job, "off"), "off"), by)
    for name in measured(job).route:
        _read(job, card, name, by)
    then = job.opened_at + timedelta(days=1)
    job.reading_rows.update(at=then)
    job.powerstate_rows.update(at=then)


def _read(job: Job, card: VirtualCard, name: str, by: User) -> None:
    kind = {point.id: point.kind for point in card.board.points}.get(name, "")
    truth = card.between(name, "across" if kind in {"fuse", "shunt"} else "ground")
    shown = None if truth.ohms is None else float(f"{truth.ohms + LEAD_OHMS:.4g}")
    quantity: Quantity = "resistance"
    mode: Mode = "ohms"
    value = typed(Value(shown, shown), quantity)
    enter_reading(job, NewReading(_entry(job, name), name, quantity, value, mode, meter=METER, sure=True), by)


def _feed(job: Job, card: VirtualCard, by: User) -> None:
    volts, amps, spots = card.fed("PL2", 0.5, 1.5)
    new = NewInjection(
        _entry(job, "fed"), "in12b", round(volts, 2), round(amps, 2), "PL2", wire=True, note="Core stays cold."
    )
    fed, _ = enter_injection(job, new, by)
    png = thermal(card.board, "front", spots)
    margin = MARGIN_MM * PX_PER_MM
    wide, high = Image.open(io.BytesIO(png)).size
    corners = [(margin, margin), (wide - margin, margin), (wide - margin, high - margin), (margin, high - margin)]
    picture, _ = overlay_thermal(
        fed, _entry(job, "thermal"), ("front", take_picture(png, "thermal.png", by), corners), by
    )
    if picture.x_mm is not None and picture.y_mm is not None:
        enter_glow(fed, _entry(job, "glow"), "front", (picture.x_mm, picture.y_mm), by)


def _entry(job: Job, name: str) -> UUID:
    return uuid5(NAMESPACE_URL, f"uvrix-demo/{job.card.serial}/ohms/{name}")
