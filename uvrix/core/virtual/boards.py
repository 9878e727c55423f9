"""Board models made at random: other numbers of chips, cores, marks, walks, groups and clamshells than any demo's."""

from __future__ import annotations

import math
from typing import Any

import numpy as np


def random_board(rng: np.random.Generator) -> dict[str, Any]:
    """The document of a board that is valid by docs/formats §1."""
    channels = [f"{chr(65 + n // 2)}{n % 2}" for n in range(2 * int(rng.integers(2, 7)))]
    rng.shuffle(channels)
    clamshell = bool(rng.random() < 0.3)
    by_bytes = bool(rng.random() < 0.5)
    front_lines: Any = ([[0, 7], [16, 23]] if by_bytes else [0, 15]) if clamshell else [0, 31]
    back_lines: Any = [[8, 15], [24, 31]] if by_bytes else [16, 31]
    start = float(rng.uniform(0, 2 * math.pi))
    sites = []
    for number in range(len(channels)):
        angle = start + 2 * math.pi * (number + float(rng.uniform(-0.2, 0.2))) / len(channels)
        x, y = 120 + 42 * math.cos(angle), 60 + 38 * math.sin(angle)
        group = "east" if math.cos(angle) > 0 else "west"
        site = {
            "designator": f"M{101 + number}",
            "side": "front",
            "x_mm": round(x, 1),
            "y_mm": round(y, 1),
            "rotation_deg": int(rng.choice([0, 90, 180, 270])),
            "fitted": bool(rng.random() < 0.93),
            "dq": front_lines,
            "group": group,
        }
        sites.append(site)
        if clamshell:
            sites.append({**site, "designator": f"M{201 + number}", "side": "back", "dq": back_lines})
    document = {
        "format": "uvrix-board",
        "version": 1,
        "id": f"made-{int(rng.integers(1 << 30))}",
        "name": "Made at random",
        "outline_mm": [[0, 0], [240, 0], [240, 120], [0, 120]],
        "core": {
            "designator": "U1",
            "x_mm": 120,
            "y_mm": 60,
            "size_mm": [int(rng.integers(20, 40)), int(rng.integers(20, 40))],
            "mark_corner": str(rng.choice(["top-left", "top-right", "bottom-left", "bottom-right"])),
        },
        "sites": sites,
        "walk": {
            "start": str(rng.choice(["mark", "opposite-mark", "mark+1", "mark-1"])),
            "direction": str(rng.choice(["clockwise", "counterclockwise"])),
            "order": channels,
        },
    }
    if rng.random() < 0.5:
        document["address_map"] = _address_map(channels, rng)
    return document


def _address_map(channels: list[str], rng: np.random.Generator) -> dict[str, Any]:
    order = sorted(channels)
    bits = math.log2(len(order))
    if not bits.is_integer() or rng.random() < 0.3:
        return {"stripe_bytes": int(rng.choice([256, 512, 1024, 4096])), "order": order}
    select = [
        [8 + n, *sorted(int(bit) for bit in rng.choice(range(13, 24), size=2, replace=False))] for n in range(int(bits))
    ]
    return {"select": select, "order": order}
