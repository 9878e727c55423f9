"""The demo's card that does not start: 1.8 V is missing, held down by an enable far away; half of the way is probed."""

from __future__ import annotations

from uuid import NAMESPACE_URL, UUID, uuid5

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.pinouts import save_pinout
from uvrix.shop.ohms.services import NewPower, NewReading, enter_reading, set_power_state, tick
from uvrix.shop.volts.services import NewDraw, enter_draw

DEAD = "SC24-0121"
COLD = {"C2": "8k1", "C8": "640", "PA": "9k", "PB": "9k2", "F11": "0R01", "F12": "0R01", "F13": "0R01", "L22": "96"}
READ = {"PA": "12.1", "L21": "5.02", "L22": "0.04", "R212": "0.1"}


PINOUTS = (
    {
        "marking": "GW7K",
        "kind": "converter",
        "sides": [4, 0, 4, 0],
        "pins": [
            {"pin": 1, "name": "EN", "use": "enable", "note": "starts above 1.2 V"},
            {"pin": 2, "name": "FB", "use": "feedback"},
            {"pin": 3, "name": "GND", "use": "ground"},
            {"pin": 4, "name": "PG", "use": "power-good"},
            {"pin": 5, "name": "SW", "use": "switch", "note": "to the coil"},
            {"pin": 6, "name": "SW", "use": "switch"},
            {"pin": 7, "name": "IN", "use": "supply", "note": "5 V"},
            {"pin": 8, "name": "IN", "use": "supply"},
        ],
        "note": "Small step-down. Joined between 5 and 7 when it dies.",
    },
    {
        "marking": "T2C",
        "kind": "gate",
        "sides": [3, 0, 2, 0],
        "pins": [
            {"pin": 1, "name": "A", "use": "input"},
            {"pin": 2, "name": "B", "use": "input"},
            {"pin": 3, "name": "GND", "use": "ground"},
            {"pin": 4, "name": "Y", "use": "output", "note": "high when both are"},
            {"pin": 5, "name": "VCC", "use": "supply", "note": "3.3 V"},
        ],
        "note": "",
    },
)


def pinouts(by: User) -> None:
    """What the shop noted of small chips."""
    for document in PINOUTS:
        save_pinout({"format": "uvrix-pinout", "version": 1, **document}, 0, "J-0031", by)


def powered(job: Job, by: User) -> None:
    """Cold readings, the gate, the current, and the first probes."""
    if job.card.serial != DEAD:
        return
    set_power_state(job, NewPower(_entry("off"), "off"), by)
    for point, value in COLD.items():
        cold = NewReading(_entry(f"cold {point}"), point, "resistance", value, "ohms", sure=True)
        enter_reading(job, cold, by)
    for fuse in ("F11", "F12", "F13"):
        tick(job, _entry(f"tick {fuse}"), fuse, "", by)
    set_power_state(job, NewPower(_entry("supply"), "supply", plugs_in=True), by)
    enter_draw(job, NewDraw(_entry("draw"), 12.0, 0.12, 0.5, "Fans still."), by)
    for point, value in READ.items():
        enter_reading(job, NewReading(_entry(f"volts {point}"), point, "voltage", value, sure=True), by)


def _entry(name: str) -> UUID:
    return uuid5(NAMESPACE_URL, f"uvrix-demo/{DEAD}/volts/{name}")
