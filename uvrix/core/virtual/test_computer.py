"""The test computer that a virtual card runs in: the log of a load, and what it says of the card."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from uvrix.core.virtual.dice import dice

# Our names for the columns of its logs, and what their headers say.
COLUMNS: Mapping[str, str] = {
    "seconds": "elapsed s",
    "celsius": "core °C",
    "mhz": "core MHz",
    "watts": "board W",
    "fan": "fan rpm",
}
REST_C, EVERY_S, BEGINS_S = 38.0, 5, 120


def run_log(name: str, end_c: float, minutes: float, noise: float = 0.4) -> str:
    """A run as the test computer logs it: two minutes at rest, then the load, with its noise; `name` throws the dice.

    `end_c` is where the core settles, degrees Celsius.
    """
    thrown = dice(name)
    rows = [",".join(COLUMNS.values())]
    for second in range(0, round(60 * (minutes + 2)), EVERY_S):
        busy = second >= BEGINS_S
        warm = end_c - (end_c - REST_C) * math.exp(-(second - BEGINS_S) / 260) if busy else REST_C
        celsius = warm + thrown.normal(0, noise)
        mhz, watts, rpm = (1890, 214, 900 + 14 * (warm - REST_C)) if busy else (300, 23, 0)
        rows.append(
            f"{second},{celsius:.1f},{mhz + thrown.normal(0, 9):.0f},{watts + thrown.normal(0, 3):.1f},{rpm:.0f}"
        )
    return "\n".join(rows) + "\n"


def identity(device: str, memory_mib: int | None, lanes: int) -> dict[str, Any]:
    """What a test computer says of a good card (docs/formats/identity.schema.json)."""
    link = {"width": lanes, "gt_per_s": 16}
    memory = {"memory_mib": memory_mib} if memory_mib else {}
    seen = {"format": "uvrix-identity", "version": 1, "device": device, **memory}
    return {**seen, "link": link, "link_most": link, "errors": {"replays": 0}}
