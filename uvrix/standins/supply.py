"""A stand-in bench supply: speaks SCPI over a socket and feeds the virtual card through its plugs.

    *IDN?                       who it is
    VOLT 12   CURR 0.5          what it is set to, volts and the limit in amperes (VOLT?, CURR? say it)
    OUTP ON   OUTP OFF          its output (OUTP? says 1 or 0)
    MEAS:VOLT?  MEAS:CURR?      what is at its terminals now
    SIM:CONNECT {JSON}          serial and board of the card that its leads are on
    SYST:ERR?                   the oldest error, 0 where there is none

`python -m uvrix.standins.supply --port N` serves it for the cards of data/virtual/cards.json.
"""

from __future__ import annotations

import argparse
import json
import math
import time
from collections.abc import Callable

import numpy as np

from uvrix.core.errors import Refusal
from uvrix.core.virtual.powered import PoweredCard
from uvrix.standins.lines import InstrumentServer
from uvrix.standins.meter import Cards, Temper, shipped_cards

IDENTITY = "Uvrix,stand-in supply"
MOST_V, MOST_A = 20.0, 30.0


class Supply:
    """The supply's state; commands are answered one at a time. `clock` gives seconds."""

    def __init__(self, cards: Cards, temper: Temper | None = None, clock: Callable[[], float] = time.monotonic) -> None:
        self._cards, self._temper, self._clock = cards, temper or Temper(), clock
        self._dice = np.random.default_rng(self._temper.seed)
        self._card: PoweredCard | None = None
        self._volts, self._limit = 0.0, 0.1
        self._since: float | None = None
        self._errors: list[str] = []

    def answer(self, command: str) -> str | None:
        """What it answers to a line, None to one that asks nothing."""
        word, _, rest = command.strip().partition(" ")
        word = word.upper()
        asked: dict[str, Callable[[], str]] = {
            "*IDN?": lambda: f"{IDENTITY},{self._temper.seed},1",
            "VOLT?": lambda: f"{self._volts:.4f}",
            "CURR?": lambda: f"{self._limit:.4f}",
            "OUTP?": lambda: "0" if self._since is None else "1",
            "MEAS:VOLT?": lambda: f"{self._shown(0):.5E}",
            "MEAS:CURR?": lambda: f"{self._shown(1):.5E}",
            "SYST:ERR?": lambda: self._errors.pop(0) if self._errors else '0,"No error"',
        }
        if word in asked:
            return asked[word]()
        try:
            self._do(word, rest)
        except (ValueError, KeyError, TypeError, Refusal) as error:
            self._errors.append(f'-220,"{error}"')
        return None

    def misbehaves(self) -> tuple[bool, bool]:
        """Whether the next answer comes late, and whether the line drops instead."""
        late, drop = self._dice.random(2)
        return bool(late < self._temper.late), bool(drop < self._temper.drop)

    def _do(self, word: str, rest: str) -> None:
        if word == "VOLT":
            self._volts = _within(float(rest), MOST_V)
        elif word == "CURR":
            self._limit = _within(float(rest), MOST_A)
        elif word == "OUTP" and rest.upper() in {"ON", "OFF", "1", "0"}:
            on = rest.upper() in {"ON", "1"}
            self._since = (self._since or self._clock()) if on else None
        elif word == "SIM:CONNECT":
            said = json.loads(rest)
            self._card = self._cards.powered(said["serial"], said["board"])
        else:
            self._errors.append('-113,"Undefined header"')

    def _shown(self, which: int) -> float:
        if self._since is None:
            return 0.0
        if self._card is None:
            return (self._volts, 0.0)[which]
        exact = self._card.fed(self._volts, self._limit, self._clock() - self._since)[which]
        return exact * (1 + float(self._dice.normal(0, self._temper.noise)))


def _within(value: float, most: float) -> float:
    if not math.isfinite(value) or not 0 <= value <= most:
        raise ValueError(f"found {value:g}, expected 0 to {most:g}")
    return value


def main() -> None:
    """Serve until ended."""
    parser = argparse.ArgumentParser(prog="python -m uvrix.standins.supply", description="A stand-in bench supply.")
    parser.add_argument("--port", type=int, required=True)
    parser.add_argument("--seed", type=int, default=0)
    chosen = parser.parse_args()
    with InstrumentServer(chosen.port, Supply(shipped_cards(), Temper(seed=chosen.seed))) as server:
        server.serve_forever()


if __name__ == "__main__":
    main()
