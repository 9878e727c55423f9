"""The demo's stock: parts in trays, a chip that went from one card to another, a suspect lot, donors, values."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from uuid import NAMESPACE_URL, UUID, uuid5

from django.utils import timezone

from uvrix.shop.accounts.models import User
from uvrix.shop.demo.rework import noted_pin1
from uvrix.shop.demo.times import while_here
from uvrix.shop.jobs.models import Card, Job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.rework.services import NewRework, enter_rework, note_lot
from uvrix.shop.stock.services import (
    NewDonor,
    NewMove,
    NewPart,
    NewValue,
    enter_move,
    inspect,
    note_facts,
    note_value,
    save_settings,
    take_donor,
    take_in,
)

CHIP = {"kind": "chip", "marking": "OX8-14", "vendor": "Ousel", "gbit": 8, "width": 32, "volts": 1.35, "speed": 14}
SLOW = {**CHIP, "marking": "PD4-12", "vendor": "Pochard", "gbit": 4, "speed": 12}
SITES = tuple(f"U{number}" for number in range(11, 19))
# Which card's chips bear which lot.
LOTS = {"TL8-54100": "OK 2204", "TL8-55871": "OK 1931", "TL8-54388": "OK 1931", "TL8-56377": "OK 2204", "TL8-55902": "OK 2118",
        "TL8-52210": "OK 1931", "TL8-53301": "OK 2204", "TL8-53900": "OK 2118"}  # fmt: skip
# Chips of past jobs that were found dead.
DEAD = {"TL8-52210": ("U14", "U16", "U18"), "TL8-53301": ()}
INSPECTED = ("straight", "clean", "unheated", "complete", "unmoved", "inputs")
GIVER, TAKER, WENT_TO, DEAD_CORE = "TL8-51006", "TL8-54388", "TL8-52877", "TL8-53301"
WHY = "Both sides photographed on the bench."


def stocked(lead: User, by: User) -> None:
    """Fill it; expects the demo's jobs."""
    rules = [{"name": "Ousel chips", "vendor": "Ousel", "pattern": r"OK (?P<year>\d{2})(?P<week>\d{2})"}]
    save_settings({"rules": rules, "chip": 18, "work": 30, "start": 40, "comeback": 160}, lead)
    _parts(by)
    _donors(by)
    _lots(by)
    _swap(by)
    _values(by)


def _ago(row: Any, days: float) -> None:
    """It was some days ago."""
    row.at = timezone.now() - timedelta(days=days)
    row.save(update_fields=["at"])


def _entry(name: str) -> UUID:
    return uuid5(NAMESPACE_URL, f"uvrix-demo/stock/{name}")


def _parts(by: User) -> None:
    kept: tuple[tuple[str, dict[str, Any], str, str, float | None], ...] = (
        ("chip 1", {**CHIP, "origin": "bought of Kelda Parts"}, "tray A1", "new", None),
        ("chip 2", {**CHIP, "origin": "bought of Kelda Parts"}, "tray A1", "new", None),
        ("chip 3", {**SLOW, "origin": "off a card without a label"}, "tray A2", "pulled", None),
        ("balls", {"kind": "balls", "marking": "balls 0.45 leaded", "ball_mm": 0.45, "alloy": "leaded"}, "jar 2", "", 420),
        ("stencil", {"kind": "stencil", "marking": "FB180 stencil", "pitch_mm": 0.65, "ball_mm": 0.45}, "drawer 1", "", None),
        ("capacitors", {"kind": "small", "marking": "10u 16 V", "part": "capacitor", "value": "10u", "rating": 16,
                        "size_mm": [2.0, 1.2]}, "drawer 3", "new", 44),
        ("plug", {"kind": "connector", "marking": "fan plug, 4 pins", "pitch_mm": 2.0, "pins": 4, "anchors": 2,
                  "seen_on": "case fans"}, "drawer 4", "new", None),
        ("plug long", {"kind": "connector", "marking": "header, 5 pins", "pitch_mm": 2.0, "pins": 5, "anchors": 0,
                       "seen_on": "a printer"}, "drawer 4", "pulled", None),
        ("plug fine", {"kind": "connector", "marking": "ribbon socket", "pitch_mm": 0.5, "pins": 30, "anchors": 2}, "drawer 4",
         "new", None),
    )  # fmt: skip
    labels = [
        take_in(NewPart(_entry(name), facts, to, "", condition, amount), by)[0]
        for name, facts, to, condition, amount in kept
    ]
    due = (timezone.now() - timedelta(days=2)).date()
    enter_move(NewMove(_entry("loan"), labels[4], "lent", "Wick & Daughter", due=due, note="Back by the weekend."), by)


def _donors(by: User) -> None:
    donor, _ = take_donor(NewDonor(_entry("donor"), GIVER, "teal-8", "bought as scrap, plug torn out"), by)
    answers = dict.fromkeys(INSPECTED, True)
    halves = {"core": "good", "board": "dead", "memory": "good"}
    inspect(
        donor.card, _entry("inspected"), {"answers": answers, "missing": ["C118"], "repaired": ["C118"], **halves}, by
    )
    second, _ = take_donor(NewDonor(_entry("donor 2"), DEAD_CORE, "teal-8", "left here by its owner: core dead"), by)
    inspect(
        second.card,
        _entry("inspected 2"),
        {"answers": {**answers, "inputs": True}, "core": "dead", "board": "good"},
        by,
    )
    third, _ = take_donor(NewDonor(_entry("donor 3"), "SC24-0007", "scaup-24", "found in a drawer"), by)
    inspect(third.card, _entry("inspected 3"), {"answers": {"straight": True}, "missing": ["C31"]}, by)


def _lots(by: User) -> None:
    for serial, lot in LOTS.items():
        job = Job.objects.filter(card__serial=serial).order_by("-opened_at").first()
        if job is None:
            continue
        for site in SITES:
            note_lot(job, _entry(f"lot {serial} {site}"), f"{serial}/{site}", lot, by)
    for serial, sites in DEAD.items():
        job = Job.objects.filter(card__serial=serial).order_by("-opened_at").first()
        for site in sites if job else ():
            assert job is not None
            off = NewRework(_entry(f"off {serial} {site}"), "remove", site, pin1=noted_pin1(job, site), no_photo=WHY)
            _ago(enter_rework(while_here(job), off, by)[0], 160)
            dead = NewMove(_entry(f"dead {serial} {site}"), f"{serial}/{site}", "condition", condition="dead")
            _ago(enter_move(dead, by)[0], 159)


def _swap(by: User) -> None:
    """A good chip off the donor, baked, in a tray: it waits for the card whose own is dead."""
    giver = Card.objects.get(serial=GIVER).jobs.get()
    for site, days in (("U13", 21.0), ("U16", 3.0)):
        off = NewRework(_entry(f"giver off {site}"), "remove", site, pin1=noted_pin1(giver, site), no_photo=WHY)
        _ago(enter_rework(giver, off, by)[0], days)
        label = f"{GIVER}/{site}"
        note_facts(label, {**CHIP, "origin": f"off {GIVER}"}, 0, by)
        _ago(
            enter_move(NewMove(_entry(f"tray {site}"), label, "put", "tray B1", condition="pulled"), by)[0], days - 0.1
        )
    # one went over already: both cards show it
    other = while_here(Job.objects.get(card__serial=WENT_TO))
    swap = NewRework(_entry("over"), "swap", "U13", chip_in=f"{GIVER}/U13", pin1=noted_pin1(other, "U13"), no_photo=WHY,
                     alloy_off="lead-free", alloy_on="leaded", minutes=26.0)  # fmt: skip
    _ago(enter_rework(other, swap, by)[0], 20)
    dead = NewMove(_entry("taker dead"), f"{TAKER}/U16", "condition", condition="dead", note="Fails wherever it sits.")
    enter_move(dead, by)


def _values(by: User) -> None:
    model = BoardModel.objects.get(slug="teal-8")
    note_value(model, NewValue(_entry("value 1"), "C118", "10u", "donor", GIVER), None, by)
    note_value(model, NewValue(_entry("value 2"), "R116", "4k7", "donor", GIVER), None, by)
    note_value(model, NewValue(_entry("value 3"), "R116", "10k", "measured", "J-0024"), None, by)
    note_value(model, NewValue(_entry("value 4"), "C117", "not fitted on revision A", "known", "J-0004"), None, by)
