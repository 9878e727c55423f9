"""The bench in a box: a virtual card with hidden faults that answers the steps of a plan (docs/formats §18).

Rails are a network of resistors (card.py), the start is a graph (powered.py), memory errors are those of faults.py.
What a step does to the card is done: a part lifted is off, a chip reballed has its joints renewed. Harm is said where
a step would have done some: power on a short, a good part lifted, a rail fed above its own volts.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from uvrix.core.boards.model import Board
from uvrix.core.boards.walk import places
from uvrix.core.case.entries import DONE, WITHOUT_SITE
from uvrix.core.case.names import contact, fuses
from uvrix.core.errors import Refusal, quoted
from uvrix.core.look.regions import regions
from uvrix.core.readings.notation import QUANTITIES, UNIT, Quantity
from uvrix.core.virtual import faults as memory
from uvrix.core.virtual.card import KINDS as COLD_KINDS
from uvrix.core.virtual.card import VirtualCard, healthy_ohms, parse_fault
from uvrix.core.virtual.dice import dice
from uvrix.core.virtual.powered import PoweredCard

Answer = dict[str, Any]
MEMORY_KINDS = ("dq-line", "cells", "joint", "core-joint")
KINDS = (*COLD_KINDS, "missing", "dead", "torn", *MEMORY_KINDS, "host")
# Minutes where a step says none.
MINUTES: Mapping[str, float] = {
    "symptom": 2,
    "trial": 12,
    "look": 1,
    "read": 1,
    "tick": 0.5,
    "inject": 5,
    "glow": 2,
    "remove": 8,
    "place": 10,
    "swap": 15,
    "reball": 50,
    "contact-repaired": 40,
    "cut-layers": 40,
    "power": 1,
    "draw": 0.5,
    "rung": 3,
    "run": 10,
    "mark": 2,
    "pads": 5,
    "write": 15,
    "proof": 5,
    "ask": 5,
    "return": 10,
    "lift-coil": 8,
    "fit-coil": 8,
}
# A short under this is felt by whoever powers it; a meter repeats to within this share.
SHORT_HARM_OHMS, NOISE = 30.0, 0.01
# How sharply a camera sees a warm spot, millimetres; the heat that it sees at all, watts.
GLOW_NOISE_MM, SEEN_W = 1.2, 0.05
# How often a burnt part is seen, and a torn contact.
BURN_SEEN, TORN_SEEN = 0.35, 0.95
# A joint shows with warmth or flexing, and now and then cold.
JOINT_SHOWS: Mapping[str, float] = {"cold": 0.45, "warm": 0.9, "flexed": 0.9}
ERRORS = 240
# What each act mends at its place; which acts lift a part.
MENDS: Mapping[str, Sequence[str]] = {
    "swap": ("short", "partial", "joined", "blown", "sick", "missing", "dead", "dq-line", "cells", "joint"),
    "place": ("missing",),
    "reball": ("joint", "dq-line"),
    "contact-repaired": ("torn",),
    "cut-layers": ("layers", "short", "partial", "joined", "dead"),
}
LIFTS = frozenset({"remove", "swap"})
PLAIN = frozenset({"symptom", "pads", "return", "mark", "ask", "draw-model"})


@dataclass(frozen=True, slots=True)
class Hidden:
    """A fault as it was asked for: its kind, what it is of, what more was said."""

    kind: str
    of: str
    more: tuple[str, ...] = ()

    @property
    def text(self) -> str:
        """As it was asked for."""
        return ":".join(word for word in (self.kind, self.of, *self.more) if word)


def hidden_faults(board: Board, text: str) -> tuple[Hidden, ...]:
    """Faults joined by commas. Raises Refusal where one does not fit the board."""
    return tuple(_hidden(board, word.strip()) for word in text.split(",") if word.strip())


def _hidden(board: Board, text: str) -> Hidden:
    kind, _, rest = text.partition(":")
    of, *more = rest.split(":") if rest else [""]
    rails = board.rails.keys()
    on_rails = {part.designator: len(rails & set(part.rails)) for part in board.parts}
    named = set(on_rails) | {part for node in board.startup_nodes.values() for part in node.parts}
    fits = {
        "host": not of,
        "torn": contact(of) is not None,
        "core-joint": kind == "core-joint" and _controls(board, of),
        **dict.fromkeys(("dq-line", "cells", "joint"), of in board.by_designator),
        **dict.fromkeys(("short", "partial", "layers"), on_rails.get(of, 0) > 0),
        "joined": on_rails.get(of, 0) > 1,
        **dict.fromkeys(("blown", "sick"), of in fuses(board)),
        **dict.fromkeys(("missing", "dead"), of in named),
    }
    fits[kind] = fits.get(kind, False) and (kind not in COLD_KINDS or not more or more[0] in rails)
    if kind not in KINDS or not fits[kind]:
        raise Refusal("--fault", quoted(text), f"KIND:DESIGNATOR of the board, with a kind of {', '.join(KINDS)}")
    return Hidden(kind, of, tuple(more))


def _controls(board: Board, controller: str) -> bool:
    """Whether a controller of the core drives channels of the board."""
    return any((place.channel or "")[:1] == controller for place in places(board.core, board.walk, board.sites))


def _number(step: Mapping[str, Any], key: str, usual: float) -> float:
    """A figure of a step, or the usual one where it says none. Raises Refusal."""
    value = step.get(key)
    if value is None:
        return usual
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0 <= value < 1e6:
        raise Refusal(f"$.{key}", quoted(value), "a number from 0 on")
    return float(value)


class Bench:
    """A card with hidden faults; `answer` does a step to it and says what was observed.

    `known` is what good cards of the model read to ground, ohms by rail; drawn by the model's id where it is left out.
    """

    def __init__(
        self, board: Board, faults: Sequence[Hidden], seed: int, known: Mapping[str, Sequence[float]] | None = None
    ) -> None:
        self.board = board
        self.hidden = tuple(faults)
        self.faults = list(faults)
        self.seed = seed
        self.rng = dice("bench", board.id, seed, *(fault.text for fault in faults))
        self.symptoms = self._symptoms()
        self.healthy = healthy_ohms(board, known or {})
        self.off: set[str] = set()
        self.lifted: set[str] = set()
        self.power = "off"
        self.fed: tuple[str, float, float] | None = None
        self.harm = ""
        self.parts = {part.designator: part for part in board.parts}
        self.does: Mapping[str, Callable[[str, Mapping[str, Any]], list[Answer]]] = {
            "trial": self._trial,
            "look": self._look,
            "read": self._read,
            "tick": self._tick,
            "inject": self._inject,
            "glow": self._glow,
            "power": self._power,
            "draw": self._draw,
            "rung": self._rung,
            "run": self._run,
            "proof": self._proof,
        }

    def truth(self) -> Answer:
        """What was hidden, what of it is still there, whether the card is well."""
        return {
            "faults": [fault.text for fault in self.hidden],
            "left": [fault.text for fault in self.faults],
            "off": sorted(self.off),
            "well": self.well(),
        }

    # -- what is true ------------------------------------------------------------------------------------------------

    def active(self, *kinds: str) -> list[Hidden]:
        """Faults that are not mended; of some kinds, where those are named."""
        return [fault for fault in self.faults if not kinds or fault.kind in kinds]

    @property
    def card(self) -> VirtualCard:
        """The cold card."""
        cold = [parse_fault(fault.text) for fault in self.active(*COLD_KINDS)]
        return VirtualCard(
            self.board, self.healthy, tuple(cold), self.seed, frozenset(self.off), frozenset(self.lifted)
        )

    def dead_nodes(self) -> frozenset[str]:
        """Start-up nodes that do not come up by themselves."""
        nodes = self.board.startup_nodes.values()
        gone = {fault.of for fault in self.active("missing", "dead")} | self.off
        found = {node.id for node in nodes if gone & set(node.parts)}
        blown = {fault.of for fault in self.active("blown")} | self.off
        nets = {point.net for point in self.board.points if point.kind == "fuse" and point.id in blown}
        cold = self.card
        found |= {
            cold.rail_of(fault)
            for fault in cold.acting
            if fault.kind in {"short", "layers"} and fault.designator in self.parts
        }
        return frozenset(found | {node.id for node in nodes if node.kind == "input" and node.id in nets})

    @property
    def powered(self) -> PoweredCard:
        """The card under power."""
        return PoweredCard(self.board, self.dead_nodes(), self.seed)

    def shorted_inputs(self) -> list[str]:
        """Inputs that are short enough to be felt."""
        rails = [rail.id for rail in self.board.rails.values() if rail.input]
        return [rail for rail in rails if (self.card.between(rail, "ground").ohms or 1e9) < SHORT_HARM_OHMS]

    def starts(self) -> bool:
        """Whether every rail comes up."""
        return not self.dead_nodes() and not self.shorted_inputs() and not self.active("short", "joined", "layers")

    def comes_to(self) -> str:
        """The rung that it comes to in the shop's own computer."""
        if not self.starts() or self.active("torn") or self.board.core.designator in self.off:
            return "absent"
        return "picture" if self.active(*MEMORY_KINDS) else "3d"

    def well(self) -> bool:
        """Whether nothing is wrong with the card itself any more."""
        return not self.active(*(kind for kind in KINDS if kind != "host")) and not self.off

    def _symptoms(self) -> list[str]:
        if any(fault.kind in MEMORY_KINDS for fault in self.faults):
            return ["artefacts"]
        if not self.faults or self.active("host"):
            return [str(self.rng.choice(["artefacts", "hangs", "no-picture"]))]
        return ["trips" if self.shorted_at_start() else "dead"]

    def shorted_at_start(self) -> bool:
        """Whether it comes in with a short."""
        return any(fault.kind in {"short", "joined", "layers"} for fault in self.faults)

    # -- steps -------------------------------------------------------------------------------------------------------

    def answer(self, step: Mapping[str, Any]) -> Answer:
        """Do a step: the entries that it brings, its minutes, the harm that it did. Raises Refusal."""
        do, target = str(step.get("do", "")), str(step.get("target", ""))
        self.harm = ""
        if do in self.does:
            entries = self.does[do](target, step)
        elif do in PLAIN:
            entries = self._plain(do, target)
        elif do in DONE:
            entries = self._act(do, target)
        else:
            raise Refusal("$.do", quoted(do), f"one of {', '.join(sorted({*self.does, *PLAIN, *DONE}))}")
        minutes = _number(step, "minutes", float(MINUTES.get(do, 5)))
        return {"entries": entries, "minutes": minutes, "harm": self.harm}

    def _plain(self, do: str, target: str) -> list[Answer]:
        """Steps that change nothing on the card and measure nothing."""
        answers: Mapping[str, list[Answer]] = {
            "symptom": [{"symptom": self.symptoms}],
            "pads": [{"pads": {"site": target, "verdict": "good"}}],
            "return": [],
        }
        said = {"mark": target, "ask": "go on", "draw-model": "drawn"}
        return answers.get(do) or ([{"answered": {"do": do, "answer": said[do]}}] if do in said else [])

    def _trial(self, target: str, step: Mapping[str, Any]) -> list[Answer]:
        host = bool(self.active("host"))
        shows = bool(self.faults) if not host else target in {"plug", "lead"}
        if target == "card":
            shows = host
        return [{"trial": {"changed": target, "shows": shows}}]

    def _look(self, target: str, step: Mapping[str, Any]) -> list[Answer]:
        seen = [entry for fault in self.faults if (entry := self._sight(fault, target))]
        return seen or [{"looked": target}]

    def _sight(self, hidden: Hidden, target: str) -> Answer | None:
        """What a look at a place shows of a fault."""
        side = (
            "back" if hidden.kind == "torn" and hidden.of.startswith("A") else "front" if hidden.kind == "torn" else ""
        )
        part = self.parts.get(hidden.of)
        side = side or (part.side if part else "front")
        x, y = (float(part.centre[0]), float(part.centre[1])) if part and part.centre else (math.nan, math.nan)
        region = next((found for found in regions(self.board) if found.id == target), None)
        inside = target in {"all", side} or (region is not None and region.side == side and region.contains(x, y))
        if hidden.kind == "torn" and region is not None:
            inside = region.side == side and "edge-contacts" in region.kinds
        if not (target == hidden.of or inside) or hidden.of in self.off:
            return None
        eye = dice("eye", self.seed, hidden.text).random()
        if hidden.kind == "missing":
            # a part that is not there is what the eye passes over, unless it looks at the very place
            return {"seen": {"kind": "missing-part", "part": hidden.of}} if target == hidden.of or eye < 0.5 else None
        if hidden.kind in {"short", "joined", "layers"} and hidden.of in self.parts and eye < BURN_SEEN:
            return {"seen": {"kind": "burn", "part": hidden.of}}
        if hidden.kind == "torn" and (eye < TORN_SEEN or region is not None):
            return {"seen": {"kind": "contact", "part": hidden.of}}
        return None

    def _read(self, target: str, step: Mapping[str, Any]) -> list[Answer]:
        quantity = str(step.get("quantity") or "resistance")
        if quantity not in QUANTITIES:
            raise Refusal("$.quantity", quoted(quantity), f"one of {', '.join(QUANTITIES)}")
        named: Quantity = quantity
        reading: Answer = {"point": target, "quantity": quantity, "unit": UNIT[named]}
        if quantity in {"resistance", "diode"}:
            reading |= {"value": self._cold(target, quantity), "mode": "ohms" if quantity == "resistance" else "diode"}
        elif self.power == "off" or self.shorted_inputs():
            reading["value"] = "0.01"
        else:
            reading["value"] = f"{self.powered.reads(target, named):.6g}"
        return [{"reading": reading}]

    def _cold(self, target: str, quantity: str) -> str:
        """What a meter shows of the unpowered card, in shop notation."""
        fuses = {point.id: point.net for point in self.board.points if point.kind == "fuse"}
        head = target.split(".", maxsplit=1)[0]
        if head in fuses and "/" not in target:
            blown = any(fault.of == head for fault in self.active("blown"))
            if target == head:
                return "OL" if blown else "1.4" if any(fault.of == head for fault in self.active("sick")) else "0.1"
            if blown and target.endswith(".1"):  # cut off from what is behind it
                return f"{self.card.own_ohms(fuses[head]):.4g}"
            target = fuses[head]
        if contact(target):
            torn = any(fault.of == contact(target) for fault in self.active("torn"))
            return "OL" if torn else "0.45" if quantity == "diode" else f"{450 + 20 * self.rng.normal():.4g}"
        return self._between(target, quantity)

    def _between(self, target: str, quantity: str) -> str:
        """What is between a point and ground, or between two."""
        if "/" not in target and not self._on_a_rail(target):
            return f"{dice(self.board.id, target).uniform(2e3, 2e4):.4g}" if quantity == "resistance" else "0.55"
        truth = self.card.between(target, "across" if "/" in target else "ground")
        number = truth.ohms if quantity == "resistance" else truth.diode_v
        if number is None:
            return "OL"
        if truth.behaviour == "jumping" and quantity == "resistance":
            return f"{0.7 * number:.4g}..{1.2 * number:.4g}"
        return f"{number * (1 + NOISE * self.rng.normal()) + (0.02 if number < 10 else 0):.4g}"

    def _on_a_rail(self, name: str) -> bool:
        """Whether a point lies on a rail, and not on a signal's net. Raises Refusal for no such point."""
        nodes = self.board.startup_nodes
        name = (nodes[name].point if name in nodes else "") or name
        net = next((point.net for point in self.board.points if point.id == name), name)
        known = net in self.card.rails or net != name or name in nodes
        if not known:
            raise Refusal("$.target", quoted(name), "a point, rail or node of the board")
        return net in self.card.rails

    def _tick(self, target: str, step: Mapping[str, Any]) -> list[Answer]:
        if any(fault.of == target for fault in self.active("blown")):
            return [{"seen": {"kind": "burn", "part": target}}]
        return [{"ticked": target}]

    def _inject(self, target: str, step: Mapping[str, Any]) -> list[Answer]:
        volts, limit = _number(step, "volts", 0.5), _number(step, "amps_limit", 2.0)
        rail = self.card.node(target)
        own = self.card.rails.get(rail, volts)
        if volts > min([own, *(self.card.rails[other] for other in self._reached(rail))]):
            self.harm = f"{rail} fed above its own volts"
        fed, amps, _ = self.card.fed(target, volts, limit)
        self.fed = (target, volts, limit)
        return [{"injected": {"point": target, "volts": round(fed, 4), "amps": round(amps, 3)}}]

    def _reached(self, rail: str) -> set[str]:
        """The rails that are fed with one, through stages that are joined."""
        reached, before = {rail}, set[str]()
        while reached != before:
            before = set(reached)
            for fault in self.active("joined"):
                on = fault.of not in self.off
                through = {name for name in self.parts[fault.of].rails if on and name in self.card.rails}
                reached |= through if through & reached else set()
        return reached

    def _glow(self, target: str, step: Mapping[str, Any]) -> list[Answer]:
        if self.power != "off" and target in self.card.rails:
            rail = self.card.rails[target]
            _, _, spots = self.card.fed(target, rail, rail / (self.card.between(target, "ground").ohms or 1.0))
        elif self.fed is not None:
            _, _, spots = self.card.fed(*self.fed)
        else:
            return [{"glow": None}]
        if not spots or spots[0].watts < SEEN_W:
            return [{"glow": None}]
        noise = self.rng.normal(0, GLOW_NOISE_MM, 2)
        spot = spots[0]
        return [
            {
                "glow": {
                    "side": spot.side,
                    "x_mm": round(spot.x_mm + noise[0], 1),
                    "y_mm": round(spot.y_mm + noise[1], 1),
                }
            }
        ]

    def _power(self, target: str, step: Mapping[str, Any]) -> list[Answer]:
        if target != "off" and self.shorted_inputs():
            self.harm = "power on a short"
        self.power = target
        return [{"power": target}]

    def _draw(self, target: str, step: Mapping[str, Any]) -> list[Answer]:
        amps = self.powered.fed(12.0, 5.0, 5.0)[1]
        return [{"draw": {"volts": 12.0, "amps": round(amps, 3), "limit": 5.0}}]

    def _rung(self, target: str, step: Mapping[str, Any]) -> list[Answer]:
        if self.shorted_inputs():
            self.harm = "power on a short"
        return [{"rung": self.comes_to()}]

    def _run(self, target: str, step: Mapping[str, Any]) -> list[Answer]:
        condition = step.get("condition") or ["cold"]
        words = [condition] if isinstance(condition, str) else list(condition)
        run: Answer = {"condition": words}
        if self.comes_to() == "absent":
            return [{"run": {**run, "result": "refused", "refusal": "not-found"}}]
        errors: dict[str, int] = {}
        lines: dict[str, list[int]] = {}
        for fault in self.active(*MEMORY_KINDS):
            if fault.kind in {"joint", "core-joint"} and self.rng.random() > max(
                JOINT_SHOWS.get(word, 0.5) for word in words
            ):
                continue
            self._errors(fault, errors, lines)
        if not errors:
            return [{"run": {**run, "result": "pass"}}]
        return [{"run": {**run, "result": "fail", "errors": errors, "dq": lines}}]

    def _errors(self, hidden: Hidden, errors: dict[str, int], lines: dict[str, list[int]]) -> None:
        """The errors of a fault, added by channel and line."""
        kind = {"joint": "byte-lane", "core-joint": "controller"}.get(hidden.kind, hidden.kind)
        text = f"{kind}:{hidden.of}" + (f":{hidden.more[0]}" if hidden.more else "")
        rng = np.random.default_rng(int(self.rng.integers(1 << 31)))
        fault = memory.fault_from(self.board, text, dice("lines", self.seed, hidden.text))
        rows = memory.errors_of(self.board, fault, ERRORS, rng)
        for channel, want, saw in zip(rows.channel, rows.expected.tolist(), rows.actual.tolist(), strict=True):
            errors[channel] = errors.get(channel, 0) + 1
            counts = lines.setdefault(channel, [0] * 32)
            for line in range(32):
                counts[line] += (want ^ saw) >> line & 1

    def _proof(self, target: str, step: Mapping[str, Any]) -> list[Answer]:
        passed = self.well() or (
            bool(self.active("host")) and not [fault for fault in self.faults if fault.kind != "host"]
        )
        return [{"checked": {"check": target, "passed": passed}}]

    def _act(self, do: str, target: str) -> list[Answer]:
        """An act on the card: what it mends, and the harm that it does."""
        if do in LIFTS and target not in self.off and not any(fault.of == target for fault in self.faults):
            self.harm = "a good part lifted"
        if do == "remove":
            self.off.add(target)
        elif do in {"swap", "place", "cut-layers"}:
            self.off.discard(target)
        elif do == "lift-coil":
            self.lifted.add(target)
        elif do == "fit-coil":
            self.lifted.discard(target)
        elif do == "reball" and target == self.board.core.designator:
            self.faults = [fault for fault in self.faults if fault.kind != "core-joint"]
        self._mend(target, MENDS.get(do, ()))
        return [{"did": do} if do in WITHOUT_SITE else {"did": do, "site": target}]

    def _mend(self, target: str, kinds: Sequence[str]) -> None:
        self.faults = [fault for fault in self.faults if not (fault.of == target and fault.kind in kinds)]
