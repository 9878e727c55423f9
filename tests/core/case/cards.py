"""A small board drawn by hand, its good cards, and cases of it in a line each."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from uvrix.core.boards.document import board_from_document
from uvrix.core.boards.model import Board
from uvrix.core.case.answer import answer
from uvrix.core.case.case_file import case_document, case_from
from uvrix.core.case.facts import Facts
from uvrix.core.case.shop import Shop, shop_from
from uvrix.core.readings.notation import Value
from uvrix.core.readings.reading_file import Observation, Reading

Entry = dict[str, Any]
# What good cards read to ground, ohms.
OHMS = {"in12": 4200.0, "in3v3": 700.0, "1v8": 160.0, "mem": 40.0, "core": 0.6}


def document(**more: Any) -> dict[str, Any]:
    """The grebe-4: two inputs behind a fuse each, a converter, three stages, four chips, a map of six nodes."""
    spots = iter([(x, y) for y in (8, 20, 32, 44, 68, 80, 92) for x in (112, 124, 136, 148)])

    def point(name: str, kind: str, net: str, **other: Any) -> dict[str, Any]:
        x, y = next(spots)
        return {"id": name, "side": "front", "x_mm": x, "y_mm": y, "kind": kind, "net": net, "minutes": 0.5, **other}

    def part(name: str, kind: str, *rails: str, weight: float = 1) -> dict[str, Any]:
        x, y = next(spots)
        at = {"side": "front", "x_mm": x, "y_mm": y}
        return {"designator": name, "kind": kind, **at, "rails": list(rails), "weight": weight}

    def rail(name: str, volts: float, *points: str, fed: bool = False) -> dict[str, Any]:
        return {"id": name, "name": name, "volts": volts, "points": list(points), "input": fed}

    def node(name: str, kind: str, volts: float, needs: list[str], at: str, *parts: str) -> dict[str, Any]:
        band = [0.94 * volts, 1.06 * volts]
        return {"id": name, "kind": kind, "volts": band, "needs": needs, "point": at, "parts": list(parts)}

    def site(name: str, x: float, y: float) -> dict[str, Any]:
        return {"designator": name, "x_mm": x, "y_mm": y, "rail": "mem", "size_mm": [14, 12]}

    return {
        "format": "uvrix-board", "version": 1, "id": "grebe-4", "name": "Grebe 4",
        "outline_mm": [[0, 0], [156, 0], [156, 100], [0, 100]],
        "core": {"designator": "U1", "x_mm": 60, "y_mm": 50, "size_mm": [30, 30], "mark_corner": "top-left"},
        "landmarks": [{"kind": "edge-contacts", "x_mm": 70, "y_mm": 2, "size_mm": [85, 4]},
                      {"kind": "power-plug", "x_mm": 150, "y_mm": 98, "text": "Output 4"}],
        "sites": [site("U11", 60, 80), site("U12", 92, 50), site("U13", 60, 20), site("U14", 28, 50)],
        "walk": {"start": "mark", "direction": "clockwise", "order": ["A0", "A1", "B0", "B1"]},
        "rails": [rail("in12", 12, "L1", fed=True), rail("in3v3", 3.3, "C41", fed=True), rail("1v8", 1.8, "L2"),
                  rail("mem", 1.35, "L3"), rail("core", 0.9, "L4", "L5")],
        "points": [point("L1", "coil", "in12"), point("F1", "fuse", "in12"), point("RS1", "shunt", "in12"),
                   point("C41", "capacitor", "in3v3"), point("F2", "fuse", "in3v3"), point("L2", "coil", "1v8"),
                   point("T1", "pad", "en_1v8"), point("L3", "coil", "mem"), point("L4", "coil", "core"),
                   point("L5", "coil", "core")],
        "parts": [part("U71", "power-stage", "in12", "core", weight=2),
                  part("U72", "power-stage", "in12", "core", weight=2),
                  part("U73", "power-stage", "in12", "mem", weight=2),
                  part("U50", "converter", "in12", "1v8", weight=2),
                  part("U62", "gate"), part("C1", "capacitor", "in12"), part("C2", "capacitor", "in12"),
                  part("C8", "capacitor", "1v8")],
        "phases": [{"designator": "U71", "rail": "core", "point": "L4", "amps": 50},
                   {"designator": "U72", "rail": "core", "point": "L5", "amps": 50}],
        "startup": {"nodes": [node("in12", "input", 12, [], "L1"), node("in3v3", "input", 3.3, [], "C41"),
                              node("en_1v8", "signal", 3.3, ["in12"], "T1", "U62"),
                              node("1v8", "rail", 1.8, ["in12", "en_1v8"], "L2", "U50"),
                              node("mem", "rail", 1.35, ["1v8", "in12"], "L3", "U73"),
                              node("core", "rail", 0.9, ["mem"], "L4")]},
        **more,
    }  # fmt: skip


BOARD = board_from_document(document())
KNOWN = tuple(
    Observation("grebe-4", f"G{card}", Reading(rail, "resistance", Value(ohms * by, ohms * by), "ohms", "ground"))
    for rail, ohms in OHMS.items()
    for card, by in enumerate((0.98, 1.0, 1.02, 0.99, 1.01))
)


def read(point: str, value: str, quantity: str = "resistance", **more: Any) -> Entry:
    """A reading."""
    unit = {"resistance": "ohm", "diode": "V", "voltage": "V", "frequency": "MHz", "current": "A"}[quantity]
    mode = {"resistance": "ohms", "diode": "diode"}.get(quantity, "")
    return {"reading": {"point": point, "quantity": quantity, "value": value, "unit": unit, "mode": mode, **more}}


def did(act: str, site: str = "", **more: Any) -> Entry:
    """An act."""
    return {"did": act, **({"site": site} if site else {}), **more}


def run(result: str, *condition: str, channel: str = "", line: int | None = None) -> Entry:
    """A memory run; with errors of one channel, on one line, where they are named."""
    found: Entry = {"result": result, "condition": list(condition)}
    if channel:
        counts = [0] * 32
        if line is not None:
            counts[line] = 180
        found |= {"errors": {channel: 180}, "dq": {channel: counts}}
    return {"run": found}


# Every input and fuse read, and good.
READ = [read("L1", "4k2"), read("F1", "0R1"), read("C41", "700"), read("F2", "0R1")]
RAILS = [read("L2", "160"), read("L3", "40"), read("L4", "0R6")]


def facts(
    *entries: Entry, board: Board | None = BOARD, shop: dict[str, Any] | Callable[[], Shop] | None = None
) -> Facts:
    """What follows from entries; what the `shop` knows beside the card is a file's content, or is called for."""
    case = case_from(case_document(board.id if board else None, entries), board)
    made = shop_from({"format": "uvrix-shop", "version": 1, **shop}) if isinstance(shop, dict) else shop
    return Facts(case, board, KNOWN if board else (), made)


def told(*entries: Entry, **more: Any) -> dict[str, Any]:
    """The whole answer."""
    return answer(facts(*entries, **more))


def steps(found: dict[str, Any]) -> list[tuple[str, str]]:
    """What is proposed, as (do, target)."""
    return [(entry["do"], entry["target"]) for entry in found["next"]]
