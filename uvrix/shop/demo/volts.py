"""The demo's card that does not start: 1.8 V is missing, held down by an enable far away; half of the way is probed."""

from __future__ import annotations

from uuid import NAMESPACE_URL, UUID, uuid5

from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job
from uvrix.shop.ohms.services import NewReading, enter_reading, say_power, tick
from uvrix.shop.volts.services import NewDraw, enter_draw

DEAD = "SC24-0121"
COLD = {"C2": "8k1", "C8": "640", "PA": "9k", "PB": "9k2", "F11": "0R01", "F12": "0R01", "F13": "0R01", "L22": "96"}
READ = {"PA": "12.1", "L21": "5.02", "L22": "0.04", "R212": "0.1"}


def powered(job: Job, by: User) -> None:
    """Cold readings, the gate, the current, and the first probes."""
    if job.card.serial != DEAD:
        return
    say_power(job, _entry("off"), "off", by)
    for point, value in COLD.items():
        cold = NewReading(_entry(f"cold {point}"), point, "resistance", value, "ohms", sure=True)
        enter_reading(job, cold, by)
    for fuse in ("F11", "F12", "F13"):
        tick(job, _entry(f"tick {fuse}"), fuse, "", by)
    say_power(job, _entry("supply"), "supply", by)
    enter_draw(job, NewDraw(_entry("draw"), 12.0, 0.12, 0.5, "Fans still."), by)
    for point, value in READ.items():
        enter_reading(job, NewReading(_entry(f"volts {point}"), point, "voltage", value, sure=True), by)


def _entry(name: str) -> UUID:
    return uuid5(NAMESPACE_URL, f"uvrix-demo/{DEAD}/volts/{name}")
