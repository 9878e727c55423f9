"""The demo's rework: a chip reballed, proven and a curve logged; one lifted twice whose place waits; an old image kept."""

from __future__ import annotations

import math
from uuid import NAMESPACE_URL, UUID, uuid5

import numpy as np

from uvrix.core.rework.image_file import made_image
from uvrix.core.virtual.dice import dice
from uvrix.shop.accounts.models import User
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.queries import model_board
from uvrix.shop.rework.images import Origin, keep_image, read_image
from uvrix.shop.rework.queries import pin1_corner
from uvrix.shop.rework.services import NewRework, enter_rework, keep_curve, mark_pads, save_settings

REBALLED, WAITING, FLASHED = "TL8-54100", "TL8-54388", "TL8-56390"
WHY = "On the bench photograph of both sides already."
AIR = [{"phase": "soak", "celsius": 150.0, "seconds": 90.0}, {"phase": "lift", "celsius": 360.0, "seconds": 28.0}]


def limits(by: User) -> None:
    """What the demo shop set of its own."""
    save_settings({"soak_c": [120, 180], "near_mm": 12, "shield_mm": 6}, by)


def reworked(job: Job, by: User) -> None:
    """What was done to a job's card."""
    if job.card.serial == REBALLED:
        _reballed(job, "U13", by)
        keep_curve(job, _entry(job, "curve"), ("u13-place.csv", curve().encode()), "sac305", by)
    elif job.card.serial == WAITING:
        _reballed(job, "U16", by)
        again = NewRework(_entry(job, "again"), "remove", "U16", pin1=noted_pin1(job, "U16"), no_photo=WHY, alloy_off="leaded",
                          preheat_c=140.0, air=AIR, minutes=9.0, shields=["U15"],
                          result="The fault stays with the chip: its lower half is dead")  # fmt: skip
        enter_rework(job, again, by)
        torn = {"A2": "torn", "B2": "torn", "C3": "grey", "D3": "grey", "E2": "repaired"}
        mark_pads(job, _entry(job, "pads"), "U16", torn, by)
    elif job.card.serial == FLASHED:
        old, other = _images()
        keep_image(other, None, Origin("teal-8-b.img", "read from a good card", job.card.model), by)
        for number in (1, 2):
            read_image(job, _entry(job, f"read {number}"), (f"read-{number}.img", old), 1.8, by)


def _reballed(job: Job, site: str, by: User) -> None:
    """Lifted, cleaned, reballed, placed, with what stood near it shielded."""
    lift = NewRework(_entry(job, "lift"), "remove", site, pin1=noted_pin1(job, site), no_photo=WHY, alloy_off="lead-free",
                     preheat_c=150.0, air=AIR, minutes=12.0, shields=["U15", "U14"])  # fmt: skip
    clean = NewRework(_entry(job, "clean"), "clean-pads", site, alloy_on="leaded", minutes=8.0)
    balls = NewRework(_entry(job, "balls"), "reball", "", chip=f"{job.card.serial}/{site}", alloy_on="leaded",
                      balls="stencil", ball_mm=0.45, ball_count=190, minutes=20.0)  # fmt: skip
    place = NewRework(_entry(job, "place"), "place", site, chip_in=f"{job.card.serial}/{site}", preheat_c=150.0,
                      air=[AIR[0], {"phase": "place", "celsius": 350.0, "seconds": 32.0}], minutes=11.0,
                      shields=["U15", "U14"], result="slid back when nudged")  # fmt: skip
    for step in (lift, clean, balls, place):
        enter_rework(job, step, by)


def noted_pin1(job: Job, site: str) -> str:
    """Where pin 1 of a place is, as somebody who looked would note it."""
    return pin1_corner(model_board(job.card.model), site, job.orientation)


def curve() -> str:
    """A logger's CSV of a board heated in five minutes, with its noise."""
    thrown = dice("uvrix-demo curve")
    rows = ["seconds,celsius"]
    for seconds in range(0, 330, 3):
        soak = 25 + 125 * (1 - math.exp(-seconds / 60))
        peak = 92 * math.exp(-(((seconds - 235) / 42) ** 2))
        rows.append(f"{seconds},{soak + peak + thrown.normal(0, 0.4):.1f}")
    return "\n".join(rows) + "\n"


def _images() -> tuple[bytes, bytes]:
    """Two editions of the demo's own image format: one memory maker more, clocks changed."""
    body = bytearray(np.random.default_rng(54).integers(0, 256, 24_000, dtype=np.uint8).tobytes())
    body[4096:4144] = b"TEAL 8 REV B  EDITION 1.02  FOR A MADE-UP BENCH "
    facts = {"bus": "256", "memory": "type G", "vendors": ["Ousel"], "core_mhz": 1500, "memory_mhz": 1750,
             "text": "TEAL 8 1.02", "volts": 1.8}  # fmt: skip
    newer = bytearray(body)
    newer[4096:4144] = b"TEAL 8 REV B  EDITION 1.07  FOR A MADE-UP BENCH "
    newer[9000:9064] = bytes(range(64))
    other = {**facts, "vendors": ["Ousel", "Marram"], "text": "TEAL 8 1.07"}
    return made_image(facts, bytes(body)), made_image(other, bytes(newer))


def _entry(job: Job, name: str) -> UUID:
    return uuid5(NAMESPACE_URL, f"uvrix-demo/{job.card.serial}/rework/{name}")
