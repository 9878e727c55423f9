"""A board for reports, and short ways to read one."""

from __future__ import annotations

import io
import json

from uvrix.core.boards.document import read_board
from uvrix.core.memory.locate import as_json, locate
from uvrix.core.memory.reading import read_report
from uvrix.core.memory.sites import board_channels

CHANNELS = ["A0", "A1", "B0", "B1", "C0", "C1"]


def six(**more):
    """Six places, the last one empty, clockwise from the mark."""
    places = [(-10, 30), (10, 30), (32, 0), (10, -30), (-10, -30), (-32, 0)]
    groups = ["north", "north", "east", "south", "south", "west"]
    return read_board(
        json.dumps(
            {
                "format": "uvrix-board",
                "version": 1,
                "id": "six",
                "name": "Six",
                "outline_mm": [[-60, -50], [60, -50], [60, 50], [-60, 50]],
                "core": {"designator": "U1", "x_mm": 0, "y_mm": 0, "size_mm": [30, 30], "mark_corner": "top-left"},
                "sites": [
                    {"designator": f"M{n}", "x_mm": x, "y_mm": y, "fitted": n != 5, "group": groups[n]}
                    for n, (x, y) in enumerate(places)
                ],
                "walk": {"start": "mark", "direction": "clockwise", "order": CHANNELS},
                **more,
            }
        ).encode()
    )


def clamshell():
    """Two channels, each with a front chip (lines 0-15) and a back chip (16-31); the back of B0 is not fitted."""
    places = [(0, 30), (0, -30)]
    sites = [
        {"designator": f"F{n}", "side": "front", "x_mm": x, "y_mm": y, "dq": [0, 15]} for n, (x, y) in enumerate(places)
    ]
    sites += [
        {"designator": f"R{n}", "side": "back", "x_mm": x, "y_mm": y, "dq": [16, 31], "fitted": n == 0}
        for n, (x, y) in enumerate(places)
    ]
    return read_board(
        json.dumps(
            {
                "format": "uvrix-board",
                "version": 1,
                "id": "clam",
                "name": "Clam",
                "outline_mm": [[-60, -50], [60, -50], [60, 50], [-60, 50]],
                "core": {"designator": "U1", "x_mm": 0, "y_mm": 0, "size_mm": [30, 30], "mark_corner": "top-left"},
                "sites": sites,
                "walk": {"start": "mark", "direction": "clockwise", "order": ["A0", "B0"]},
            }
        ).encode()
    )


def read(text, board=None, block_bytes=1 << 23):
    data = text if isinstance(text, bytes) else text.encode()
    return read_report(io.BytesIO(data), board_channels(board or six()), block_bytes)


def located(*texts, board=None):
    board = board or six()
    return as_json(locate(board, [(f"run{n}.csv", read(text, board)) for n, text in enumerate(texts)]))


def sites_of(found):
    return {site["designator"]: site for site in found["sites"]}


def lines_of(site):
    return {line: count for line, count in enumerate(site["dq"]) if count}
