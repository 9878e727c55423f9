"""The demo's teardown recipe and watchlist, cards taken apart, things on loan, parcels announced."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from uuid import NAMESPACE_URL, UUID, uuid5

from django.utils import timezone

from uvrix.shop.accounts.models import User
from uvrix.shop.demo.past import CORE, JOINT, PLUG_PARTS
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.sheets import save_sheet
from uvrix.shop.parcels.services import NewParcel, announce
from uvrix.shop.promises.services import NewPromise, make_promise
from uvrix.shop.teardown.services import NewDone, do_step

TEAL: dict[str, Any] = {
    "steps": [
        {"id": "backplate-screws", "kind": "screws", "what": "Backplate screws, black, short", "count": 6,
         "side": "back", "places_mm": [[44, 98], [170, 98], [44, 16], [170, 16], [230, 98], [230, 14]]},
        {"id": "backplate", "kind": "backplate", "what": "Backplate", "side": "back",
         "note": "Its pads cling to the chips behind the core: slide, do not pull."},
        {"id": "core-screws", "kind": "screws", "what": "Core cooler screws with springs", "count": 4, "side": "back",
         "places_mm": [[84, 80], [132, 80], [84, 28], [132, 28]], "crosswise": True},
        {"id": "fan-lead", "kind": "lead", "what": "Fan lead", "hidden": True, "side": "front", "places_mm": [[214, 20]],
         "note": "Short: lift the far end of the cooler by a finger’s breadth first."},
        {"id": "light-lead", "kind": "lead", "what": "Lead of the light strip", "hidden": True, "side": "front"},
        {"id": "cooler", "kind": "cooler", "what": "Cooler", "side": "front", "note": "Straight up; warm it if it clings."},
    ]
}  # fmt: skip
WATCH: dict[str, Any] = {
    "watch": [
        {"cause": JOINT, "look": "U14 and U15 stand where the board bends most.", "part": "U15"},
        {"cause": PLUG_PARTS, "look": "Back and front beside both plugs, against the reference photograph.", "part": "C121"},
        {"cause": CORE, "look": "Flex either way; both channels of a controller."},
        {"cause": "Fan plug half seated", "look": "Push it home and turn the fans from every position.", "always": True},
    ]
}  # fmt: skip
# By serial: the steps that came off, each with its count.
OFF = {
    "TL8-55871": (("backplate-screws", 6), ("backplate", 1), ("core-screws", 4), ("fan-lead", 1), ("cooler", 1)),
    "TL8-56002": (("backplate-screws", 5), ("backplate", 1)),
}
LENT = {"TL8-56377": "Test cooler 2"}


def sheets(by: User) -> None:
    """Save the recipe and the watchlist of the shop's commonest model."""
    model = BoardModel.objects.get(slug="teal-8")
    save_sheet(model, "teardown", TEAL, 0, by)
    save_sheet(model, "watchlist", WATCH, 0, by)


def taken_apart(job: Job, by: User) -> None:
    """What is off a demo card, and what is lent to it."""
    serial = job.card.serial
    for step, count in OFF.get(serial, ()):
        do_step(job, NewDone(_entry(f"{serial}/off/{step}"), step, "off", count), by)
    if serial in LENT:
        make_promise(job, NewPromise(_entry(f"{serial}/loan"), "loan", LENT[serial]), by)


def parcels(by: User) -> None:
    """Three parcels to come, one of them late."""
    today = timezone.localdate()
    for name, customer, days, reference, serial, complaint in (
        ("late", "Joss Pell", -3, "KV-118-276", "TL8-56410", "Dead after a thunderstorm."),
        ("today", "Hale Studio", 0, "KV-118-377", "", "Two cards: one hangs, one is for parts."),
        ("next", "Sorrel Beck", 2, "", "", "Fans stop, then the picture freezes."),
    ):
        new = NewParcel(
            _entry(f"parcel/{name}"),
            customer,
            today + timedelta(days=days),
            complaint=complaint,
            serial=serial,
            board_model="teal-8" if serial else "",
            reference=reference,
        )
        parcel, _ = announce(new, by)
        parcel.announced_at = timezone.now() - timedelta(days=5)
        parcel.save(update_fields=["announced_at"])


def _entry(name: str) -> UUID:
    return uuid5(NAMESPACE_URL, f"uvrix-demo/{name}")
