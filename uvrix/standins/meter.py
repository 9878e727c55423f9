"""A stand-in bench meter: a small TCP server that speaks SCPI and reads the virtual card.

It has what real ones have: noise, a probe on its way, capacitors that charge, readings that jump, answers that come too
late, a line that drops; all by seed. It has no hands: `SIM:HOLD` says where the probes are, on which card.

    *IDN?                       who it is
    CONF:RES  CONF:DIOD         what it measures from now on
    CONF:VOLT  CONF:FREQ        the same of a powered card
    READ?                       one sample; 9.9E37 where it shows over-limit
    SIM:HOLD {JSON}             serial, board, point, to, off, lifted, on: where the probes are held, is it powered
    SIM:LIFT                    the probes are in the air
    SYST:ERR?                   the oldest error, 0 where there is none

`python -m uvrix.standins.meter --port N` serves the cards of data/virtual/cards.json; with `--line PATH` a second meter
prints lines over a serial port, which is a pseudo-terminal that PATH leads to.
"""

from __future__ import annotations

import argparse
import csv
import json
import math
import os
import pty
import select
import termios
import threading
import time
import tty
import zlib
from collections import defaultdict
from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np

from uvrix.core.boards.document import read_board
from uvrix.core.boards.model import Board
from uvrix.core.boards.packages import Package, read_package
from uvrix.core.errors import Refusal
from uvrix.core.readings.notation import Quantity, parse_value
from uvrix.core.virtual.card import Fault, Truth, VirtualCard, healthy_ohms, parse_fault, without
from uvrix.core.virtual.pins import PinFault, parse_pin_fault
from uvrix.core.virtual.powered import PoweredCard, dead_nodes
from uvrix.standins.lines import InstrumentServer

DATA = Path(__file__).parents[2] / "data"
IDENTITY = "Uvrix,stand-in meter"
OVERLOAD = 9.9e37
LEAD_OHMS = 0.12
# The probe is this long on its way, a capacitor charges with this time constant, a bad joint jumps by this share.
TOUCH_S, CHARGING_S, JUMP_SHARE = 0.15, 0.25, 0.45
# A meter that prints does so this often, in these ranges of ohms.
PRINT_S = 0.05
RANGES = ((1.0, "Ohm"), (1e3, "kOhm"), (1e6, "MOhm"))
# What it measures of a powered card, by its mode, and what a powered card has to ground for an ohm meter.
LIVE: Mapping[str, Quantity] = {"VOLT": "voltage", "FREQ": "frequency"}
NOTHING = Truth(None, None, "steady")
# It taps for this long, and is in the air for as long.
TAP_S = 0.6
# A bench supply feeds the inputs above this.
LEAST_FED_V = 5.0
# A lifted probe in volts floats about nothing by this much.
FLOATING_V = 0.0005


@dataclass(frozen=True, slots=True)
class Temper:
    """How it misbehaves: noise as a share, the chances that an answer is late and that the line drops, the seed."""

    noise: float = 0.002
    late: float = 0.0
    drop: float = 0.0
    seed: int = 0


@dataclass(frozen=True, slots=True)
class Hold:
    """Where the probes are: the truth there, since when (seconds of the meter's clock), what a powered card reads."""

    ohms: Truth
    since_s: float
    powered: Mapping[Quantity, float] = field(default_factory=dict)


@dataclass
class Cards:
    """Board models, what their good cards read, and the cards with faults by serial; an unknown serial is healthy."""

    boards: Mapping[str, Board]
    healthy: Mapping[str, Mapping[str, float]]
    cards: dict[str, VirtualCard] = field(default_factory=dict)
    packages: Mapping[str, Package] = field(default_factory=dict)
    dead: dict[str, frozenset[str]] = field(default_factory=dict)

    def card(self, serial: str, board: str) -> VirtualCard:
        """A card by its serial. Raises KeyError where the board model is not known."""
        if serial in self.cards:
            return self.cards[serial]
        seed = zlib.crc32(serial.encode())
        return VirtualCard(self.boards[board], self.healthy[board], seed=seed, packages=self.packages)

    def powered(self, serial: str, board: str) -> PoweredCard:
        """The same card under power, fed at its lowest input. Raises KeyError where the board model is not known."""
        card = self.card(serial, board)
        inputs = [rail.id for rail in card.board.rails.values() if rail.input]
        ohms = [card.between(rail, "ground").ohms for rail in inputs if card.rails[rail] > LEAST_FED_V]
        lowest = min((number for number in ohms if number), default=math.inf)
        return PoweredCard(card.board, self.dead.get(serial, frozenset()), card.seed, lowest)


def shipped_cards() -> Cards:
    """The board models and known-good readings that ship, and the cards of data/virtual/cards.json."""
    known: dict[str, dict[str, list[float]]] = defaultdict(lambda: defaultdict(list))
    for path in sorted((DATA / "known").glob("*.known.csv")):
        for row in csv.DictReader(path.read_text(encoding="utf-8").splitlines()):
            if row["quantity"] == "resistance":
                middle = parse_value(row["value"], "resistance").middle
                known[row["board"]][row["point"]] += [] if middle is None else [middle]
    boards = {path.name.split(".")[0]: read_board(path.read_bytes()) for path in (DATA / "boards").glob("*.board.json")}
    healthy = {name: healthy_ohms(board, known[name]) for name, board in boards.items()}
    packages = {path.stem: read_package(path.read_bytes(), path.stem) for path in (DATA / "packages").glob("*.csv")}
    cards = Cards(boards, healthy, packages=packages)
    for card in json.loads((DATA / "virtual" / "cards.json").read_text(encoding="utf-8"))["cards"]:
        cards.dead[card["serial"]] = dead_nodes(card["faults"])
        cold = [text for text in card["faults"] if not text.startswith("dead:")]
        faults = [parse_pin_fault(text) or parse_fault(text) for text in cold]
        cards.cards[card["serial"]] = VirtualCard(
            boards[card["board"]],
            healthy[card["board"]],
            tuple(fault for fault in faults if isinstance(fault, Fault)),
            card["seed"],
            pins=tuple(fault for fault in faults if isinstance(fault, PinFault)),
            packages=packages,
        )
    return cards


class Meter:
    """The meter's state; commands are answered one at a time. `clock` gives seconds."""

    def __init__(self, cards: Cards, temper: Temper | None = None, clock: Callable[[], float] = time.monotonic) -> None:
        self._cards, self._temper, self._clock = cards, temper or Temper(), clock
        self._dice = np.random.default_rng(self._temper.seed)
        self._hold: Hold | None = None
        self._held: Any = None
        self._mode = "RES"
        self._errors: list[str] = []

    def answer(self, command: str) -> str | None:
        """What it answers to a line, None to one that asks nothing."""
        word, _, rest = command.strip().partition(" ")
        asked: dict[str, Callable[[], str]] = {
            "*IDN?": lambda: f"{IDENTITY},{self._temper.seed},1",
            "READ?": lambda: f"{self._sample():.6E}",
            "SYST:ERR?": lambda: self._errors.pop(0) if self._errors else '0,"No error"',
        }
        if word.upper() in asked:
            return asked[word.upper()]()
        if word.upper() in {"CONF:RES", "CONF:DIOD", "CONF:VOLT", "CONF:FREQ"}:
            self._mode = word.upper().removeprefix("CONF:")
        elif word.upper() == "SIM:HOLD":
            self._take_hold(rest)
        elif word.upper() == "SIM:LIFT":
            self._hold, self._held = None, None
        else:
            self._errors.append('-113,"Undefined header"')
        return None

    @property
    def shows_volts(self) -> bool:
        """Whether its dial stands at diode mode."""
        return self._mode == "DIOD"

    def misbehaves(self) -> tuple[bool, bool]:
        """Whether the next answer comes late, and whether the line drops instead."""
        late, drop = self._dice.random(2)
        return bool(late < self._temper.late), bool(drop < self._temper.drop)

    def _take_hold(self, text: str) -> None:
        """Hold the probes somewhere; the same place again lets them be."""
        if text == self._held:
            return
        try:
            said = json.loads(text)
            card = without(self._cards.card(said["serial"], said["board"]), said.get("off", ()), said.get("lifted", ()))
            since = self._clock() + TOUCH_S
            if said.get("on"):
                self._hold = Hold(NOTHING, since, _powered(self._cards, said))
            else:
                self._hold = Hold(card.between(said["point"], said.get("to", "ground")), since)
            self._held = text
        except (ValueError, KeyError, TypeError, Refusal) as error:
            self._hold, self._held = None, None
            self._errors.append(f'-220,"{error}"')

    def _live(self, held: Hold | None) -> float:
        """Volts or hertz; a probe that touches nothing floats about zero."""
        truth = held.powered.get(LIVE[self._mode], 0.0) if held else 0.0
        noise = float(self._dice.normal(0, 1))
        return truth * (1 + noise * self._temper.noise) + (FLOATING_V * noise if self._mode == "VOLT" else 0.0)

    def _sample(self) -> float:
        held = self._hold
        since = self._clock() - held.since_s if held else -1.0
        if self._mode in LIVE:
            return self._live(held if since >= 0 else None)
        if held is None or since < 0:
            return OVERLOAD
        truth = held.ohms.diode_v if self._mode == "DIOD" else held.ohms.ohms
        if truth is None:
            return OVERLOAD
        shown = truth * (1 + self._dice.normal(0, self._temper.noise))
        if self._mode == "DIOD":
            return float(shown)
        if held.ohms.behaviour == "charging":
            shown *= 1 - math.exp(-since / CHARGING_S)
        if held.ohms.behaviour == "jumping":
            shown *= 1 + JUMP_SHARE * self._dice.uniform(-1, 1)
        return float(shown + LEAD_OHMS)


def _powered(cards: Cards, said: Mapping[str, Any]) -> dict[Quantity, float]:
    """What a powered card reads at a place, as far as there is something to read."""
    card, found = cards.powered(said["serial"], said["board"]), {}
    for quantity in LIVE.values():
        with suppress(Refusal):
            found[quantity] = card.reads(said["point"], quantity)
    return found


class PrintingMeter(threading.Thread):
    """A meter that prints what it shows, line after line, over a pseudo-terminal; `line` is the way to it.

    It takes its dial and where it is held as lines too, since nobody can turn or hold it.
    """

    def __init__(self, line: Path, meter: Meter, tapped: Mapping[str, Any] | None = None) -> None:
        """`tapped` is where its probes tap until somebody holds it, so that there is something to teach it by."""
        super().__init__(daemon=True)
        self._meter, self._going, self._tapped = meter, True, tapped
        self._mine, self._theirs = pty.openpty()
        tty.setraw(self._theirs)
        os.set_blocking(self._mine, False)
        line.unlink(missing_ok=True)
        line.symlink_to(os.ttyname(self._theirs))
        self.line = line

    @property
    def address(self) -> str:
        """What the shop opens."""
        return f"serial:{self.line}@9600"

    def run(self) -> None:
        """Print until stopped."""
        heard = b""
        while self._going:
            ready, _, _ = select.select([self._mine], [], [], PRINT_S)
            if self._tapped:
                down = time.monotonic() % (2 * TAP_S) < TAP_S
                self._meter.answer(f"SIM:HOLD {json.dumps(dict(self._tapped))}" if down else "SIM:LIFT")
            if ready:
                self._tapped = None
                heard += os.read(self._mine, 4096)
                *lines, heard = heard.split(b"\n")
                for line in lines:
                    self._meter.answer(line.decode("ascii", "replace"))
                continue
            try:
                os.write(self._mine, self.printed().encode())
            except BlockingIOError:  # nobody listens: what was printed is lost, as on a real port
                termios.tcflush(self._theirs, termios.TCIFLUSH)

    def hold(self, where: Mapping[str, Any] | None) -> None:
        """Hold the probes somewhere, or in the air."""
        self._tapped = None
        self._meter.answer("SIM:LIFT" if where is None else f"SIM:HOLD {json.dumps(dict(where))}")

    def printed(self) -> str:
        """A line: the value in the range's unit, as such meters do."""
        value = float(self._meter.answer("READ?") or OVERLOAD)
        volts = self._meter.shows_volts
        if value >= OVERLOAD:
            return f"P1   O.L   {'V' if volts else 'MOhm'} AUTO\r\n"
        scale, unit = (1.0, "V") if volts else next(row for row in RANGES if abs(value) < row[0] * 1000)
        return f"P1 {value / scale:+09.4f} {unit} AUTO\r\n"

    def stop(self) -> None:
        """End it and its line."""
        self._going = False
        self.join()
        self.line.unlink(missing_ok=True)
        os.close(self._mine)
        os.close(self._theirs)


def main() -> None:
    """Serve until ended."""
    parser = argparse.ArgumentParser(prog="python -m uvrix.standins.meter", description="A stand-in bench meter.")
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--line", type=Path, help="print over a pseudo-terminal that this leads to, too")
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--late", type=float, default=0.002, help="chance that an answer comes too late")
    parser.add_argument("--drop", type=float, default=0.001, help="chance that the line drops")
    chosen = parser.parse_args()
    temper = Temper(late=chosen.late, drop=chosen.drop, seed=chosen.seed)
    cards = shipped_cards()
    if chosen.line:
        tapped = {"serial": "TG-3", "board": "teal-8", "point": "L9", "to": "ground"}
        PrintingMeter(chosen.line, Meter(cards, Temper(seed=chosen.seed)), tapped).start()
    with InstrumentServer(chosen.port, Meter(cards, temper)) as server:
        server.serve_forever()


if __name__ == "__main__":
    main()
