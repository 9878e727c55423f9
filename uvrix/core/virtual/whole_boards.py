"""Boards made at random with everything a bench needs: rails, fuses, points, stages, a start-up map, chips."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

OUTLINE = (220, 110)
Document = dict[str, Any]


def whole_board(rng: np.random.Generator, parts: int = 24) -> Document:
    """The document of a board that is valid by docs/formats §1, with `parts` small parts beside its converters."""
    maker = _Maker(rng)
    maker.chips(int(rng.integers(2, 7)) * 2)
    maker.inputs(int(rng.integers(1, 4)))
    maker.converters()
    maker.phases(int(rng.integers(2, 5)))
    maker.small_parts(parts)
    return maker.document()


class _Maker:
    def __init__(self, rng: np.random.Generator) -> None:
        self.rng = rng
        self.sites: list[Document] = []
        self.order: list[str] = []
        self.rails: list[Document] = []
        self.points: list[Document] = []
        self.parts: list[Document] = []
        self.nodes: list[Document] = []
        self.phase_list: list[Document] = []
        self.taken: list[tuple[float, float]] = []
        self.numbers = {"C": 1, "L": 1, "U": 40, "F": 1, "T": 1, "R": 1, "PL": 1}

    def name(self, letter: str) -> str:
        number = self.numbers[letter]
        self.numbers[letter] += 1
        return f"{letter}{number}"

    def spot(self) -> tuple[float, float]:
        """A place that is free, off the core and the chips."""
        for _ in range(400):
            x, y = float(self.rng.uniform(8, OUTLINE[0] - 8)), float(self.rng.uniform(10, OUTLINE[1] - 8))
            if abs(x - 85) < 52 and abs(y - 55) < 46:
                continue
            if all(math.dist((x, y), other) > 5.5 for other in self.taken):
                break
        self.taken.append((x, y))
        return round(x, 1), round(y, 1)

    def side(self) -> str:
        return "back" if self.rng.random() < 0.25 else "front"

    def chips(self, many: int) -> None:
        self.order = [f"{chr(65 + number // 2)}{number % 2}" for number in range(many)]
        self.rng.shuffle(self.order)
        turn = float(self.rng.uniform(0, 2 * math.pi))
        for number in range(many):
            angle = turn + 2 * math.pi * number / many
            x, y = 85 + 40 * math.cos(angle), 55 + 36 * math.sin(angle)
            self.sites.append(
                {
                    "designator": f"U{11 + number}",
                    "side": "front",
                    "x_mm": round(x, 1),
                    "y_mm": round(y, 1),
                    "rotation_deg": 0,
                    "size_mm": [12, 10],
                    "package": "fb180",
                    "fitted": True,
                    "dq": [0, 31],
                    "rail": "mem",
                    "group": "east" if math.cos(angle) > 0 else "west",
                }
            )

    def point(self, name: str, kind: str, net: str, **more: Any) -> str:
        x, y = self.spot()
        reach = str(self.rng.choice(["outside", "cooler-off", "cooler-off"]))
        minutes = float(self.rng.choice([0.5, 0.5, 1.0]))
        self.points.append(
            {
                "id": name,
                "side": self.side(),
                "x_mm": x,
                "y_mm": y,
                "kind": kind,
                "net": net,
                "reach": reach,
                "minutes": minutes,
                **more,
            }
        )
        return name

    def part(self, name: str, kind: str, rails: list[str], weight: float = 1.0) -> str:
        x, y = self.spot()
        self.parts.append(
            {
                "designator": name,
                "kind": kind,
                "side": self.side(),
                "x_mm": x,
                "y_mm": y,
                "rails": rails,
                "value": "",
                "weight": weight,
            }
        )
        return name

    def rail(self, name: str, volts: float, points: list[str], *, fed: bool = False) -> None:
        self.rails.append({"id": name, "name": name, "volts": volts, "points": points, "input": fed})

    def node(self, name: str, kind: str, volts: float, needs: list[str], point: str, *parts: str) -> None:
        band = [round(0.94 * volts, 3), round(1.06 * volts, 3)]
        self.nodes.append(
            {
                "id": name,
                "name": name,
                "kind": kind,
                "volts": band,
                "needs": needs,
                "point": point,
                "parts": list(parts),
            }
        )

    def inputs(self, many: int) -> None:
        for number in range(many):
            net = f"in12{chr(97 + number)}"
            plug = self.point(self.name("PL"), "plug", net)
            self.point(self.name("F"), "fuse", net)
            self.point(f"C{90 + number}", "capacitor", net)
            self.rail(net, 12, [plug], fed=True)
            self.node(net, "input", 12, [], plug)

    def converters(self) -> None:
        first = self.rails[0]["id"]
        feeds = [rail["id"] for rail in self.rails]
        volts = {"5v0": 5.0, "3v3": 3.3, "1v8": 1.8, "pex": 0.95}
        before = first
        for name, value in volts.items():
            fed = str(self.rng.choice(feeds))
            enable = self.point(self.name("T"), "pad", f"en_{name}")
            gate = self.part(self.name("U"), "gate", [])
            self.node(f"en_{name}", "signal", 3.3, [before], enable, gate)
            coil = self.point(self.name("L"), "coil", name)
            self.rail(name, value, [coil])
            converter = self.part(self.name("U"), "converter", [fed, name], 2.0)
            self.node(name, "rail", value, list(dict.fromkeys([fed, f"en_{name}"])), coil, converter)
            if self.rng.random() < 0.7:
                before = name
        coil = self.point(self.name("L"), "coil", "mem")
        self.rail("mem", 1.35, [coil])
        stage = self.part(self.name("U"), "power-stage", [str(self.rng.choice(feeds)), "mem"], 2.0)
        self.node("mem", "rail", 1.35, ["1v8", first], coil, stage)
        self.phase_list.append({"designator": stage, "rail": "mem", "point": coil, "amps": 40})

    def phases(self, many: int) -> None:
        feeds = [rail["id"] for rail in self.rails if rail["input"]]
        coils, stages = [], []
        for number in range(many):
            coil = self.point(self.name("L"), "coil", "core")
            stage = self.part(f"U{71 + number}", "power-stage", [str(self.rng.choice(feeds)), "core"], 2.0)
            coils.append(coil)
            stages.append(stage)
            self.phase_list.append({"designator": stage, "rail": "core", "point": coil, "amps": 50})
        self.rail("core", 0.9, coils)
        controller = self.part(self.name("U"), "controller", ["5v0"], 1.0)
        self.node("core", "rail", 0.9, ["mem", "5v0"], coils[0], controller)

    def small_parts(self, many: int) -> None:
        for _ in range(many):
            rail = str(self.rng.choice([entry["id"] for entry in self.rails]))
            self.part(self.name("C"), "capacitor", [rail], float(self.rng.choice([1, 1, 1, 2])))

    def document(self) -> Document:
        size = int(self.rng.integers(24, 34))
        return {
            "format": "uvrix-board",
            "version": 1,
            "id": f"whole-{int(self.rng.integers(1 << 30))}",
            "name": "Whole board",
            "outline_mm": [[0, 0], [OUTLINE[0], 0], list(OUTLINE), [0, OUTLINE[1]]],
            "core": {"designator": "U1", "x_mm": 85, "y_mm": 55, "size_mm": [size, size], "mark_corner": "top-left"},
            "landmarks": [{"kind": "edge-contacts", "x_mm": 85, "y_mm": 3, "size_mm": [85, 5], "text": "slot"}],
            "sites": self.sites,
            "walk": {"start": "mark", "direction": "clockwise", "order": self.order},
            "rails": self.rails,
            "points": self.points,
            "parts": self.parts,
            "phases": self.phase_list,
            "startup": {"nodes": self.nodes},
        }
