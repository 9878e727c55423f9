"""A step of the plan, and what steps usually take: minutes, risk, screen."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

# Minutes of each step where nothing better is known, and the chance that it does harm (usual practice's orders).
MINUTES = {
    "symptom": 2.0,
    "trial": 12.0,
    "look": 1.0,
    "tick": 0.5,
    "inject": 5.0,
    "glow": 2.0,
    "lift-coil": 8.0,
    "fit-coil": 8.0,
    "unsolder-lead": 2.0,
    "remove": 8.0,
    "place": 10.0,
    "swap": 15.0,
    "reball": 50.0,
    "renew-joint": 10.0,
    "contact-repaired": 40.0,
    "cut-layers": 40.0,
    "power": 1.0,
    "cooler-off": 10.0,
    "cooler-on": 15.0,
    "draw": 0.5,
    "rung": 3.0,
    "run": 10.0,
    "mark": 2.0,
    "pads": 5.0,
    "write": 15.0,
    "ask": 5.0,
    "draw-model": 8.0,
    "return": 10.0,
    "read": 1.0,
}
RISK = {
    "remove": 0.02,
    "place": 0.01,
    "swap": 0.02,
    "reball": 0.03,
    "cut-layers": 0.1,
    "inject": 0.005,
    "write": 0.02,
    "lift-coil": 0.02,
    "fit-coil": 0.02,
    "contact-repaired": 0.02,
}
CORE_MINUTES, CORE_RISK, CHIP_SWAP_MINUTES = 180.0, 0.15, 55.0
LOOK_SIDE_MINUTES = 4.0
# What a harm costs, in minutes of work.
HARM_MINUTES = 300.0
PROOF_MINUTES = {
    "readings": 5.0,
    "current": 2.0,
    "ladder": 5.0,
    "identity": 1.0,
    "link": 1.0,
    "sensors": 1.0,
    "memory-cold": 10.0,
    "stress": 35.0,
    "clocks": 2.0,
    "memory-warm": 10.0,
    "loads": 60.0,
    "score": 5.0,
    "outputs": 5.0,
    "plugs": 3.0,
    "fans": 3.0,
    "cold-start": 5.0,
}
SCREEN = {
    "symptom": "arrive",
    "trial": "arrive",
    "ask": "arrive",
    "look": "look",
    "tick": "look",
    **dict.fromkeys(("inject", "glow", "lift-coil", "fit-coil", "unsolder-lead"), "ohms"),
    **dict.fromkeys(("power", "draw", "rung"), "volts"),
    **dict.fromkeys(("run", "mark"), "memory"),
    **dict.fromkeys(("remove", "place", "swap", "reball", "renew-joint", "contact-repaired", "cut-layers"), "rework"),
    **dict.fromkeys(("cooler-off", "cooler-on", "pads", "write"), "rework"),
    "proof": "prove",
    "return": "return",
    "draw-model": "memory",
}
# Symptoms of a card that comes as far as a picture: its memory is tested before its rails are hunted.
COMES_UP = frozenset({"artefacts", "hangs", "driver", "slow", "output", "hot"})
# From this chance on a part is lifted; below it a look, a reading or a glow tells first.
SURE, SURE_NODE = 0.75, 0.85
LISTED = 12
# What may wait until nothing else is left.
LATER = 60
# Before anything else at all.
FIRST = -1
# This many looks for one warm spot: each sees it a little elsewhere.
MOST_GLOWS = 3
# A chip is not lifted for less than this chance of a cure.
LEAST_CURE = 0.05
CONDITIONS = ("cold", "warm", "flexed")
# A check of the proof that failed is tried again this many times.
MOST_TIMES = 3


@dataclass(frozen=True, slots=True)
class Step:
    """A step: what carries it out, its screen, minutes, risk, what it cures or settles, why; `more` are its details.

    `tier` is the trade's order: a lower one goes first whatever it is worth. `needs` is what the card must hang on;
    `ahead` are the minutes of what a switch is thrown for, which are part of its cost; `across`: read across itself.
    """

    do: str
    target: str
    step: str
    minutes: float
    risk: float
    gain: float
    why: str
    tier: int = 50
    needs: str = ""
    ahead: float = 0.0
    across: bool = False
    more: dict[str, Any] = field(default_factory=dict)

    @property
    def worth(self) -> float:
        """Gain for a minute, harm counted as minutes."""
        return self.gain / (self.minutes + self.ahead + self.risk * HARM_MINUTES)

    @property
    def powered(self) -> bool:
        """Whether it puts the card under power, or needs it to be."""
        return self.needs in {"supply", "computer"} or (self.do == "power" and self.target != "off")


def step(do: str, target: str, gain: float, why: str, tier: int, **rest: Any) -> Step:
    """A step with usual minutes, risk and screen where `rest` says no others."""
    minutes = rest.pop("minutes", MINUTES.get(do, 1.0))
    risk = rest.pop("risk", RISK.get(do, 0.0))
    screen = rest.pop("screen", SCREEN.get(do, "ohms"))
    needs = rest.pop("needs", "")
    ahead = rest.pop("ahead", 0.0)
    return Step(do, target, screen, minutes, risk, min(1.0, max(0.0, gain)), why, tier, needs, ahead, more=rest)
