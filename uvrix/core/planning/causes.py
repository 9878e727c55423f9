"""What each action shows or cures of what can be broken behind a finding (the causes of finding_kinds.py).

The numbers are usual practice's orders of magnitude (docs/trade §5.5: the chip is far easier to lift than the
core; an open ball shifts a reading in circuit by little; a supply shared by the failing chips is quick to read). How
often each cause lies behind a kind of finding is the shop's own (habits.py) and is learned (learning.py); how an
action answers to a cause is not.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from uvrix.language import gettext

Shares = Mapping[str, float]
REPAIRS = frozenset({"reball", "replace", "lift-core", "recipe"})


@dataclass(frozen=True, slots=True)
class Effect:
    """What an action does: `says_yes` is the chance, by cause, that it cures (a repair) or reads odd (a test)."""

    says_yes: Mapping[str, float]
    otherwise: float
    why: str
    yes: str
    no: str

    def chance(self, cause: str, outcome: str) -> float:
        """Chance of an outcome (`yes`, `no` or `worse`, which tells no more than `no`) when a cause is true."""
        yes = self.says_yes.get(cause, self.otherwise)
        return yes if outcome == "yes" else 1 - yes


EFFECTS: dict[str, Effect] = {
    "measure-lines": Effect(
        {"chip-joint": 0.55, "chip": 0.45, "board": 0.8, "core-joint": 0.45},
        0.05,
        gettext("Reading its lines against those of its equals tells a broken line from broken cells."),
        gettext("A line reads odd"),
        gettext("All read alike"),
    ),
    "reball": Effect(
        {"chip-joint": 0.9, "board": 0.15},
        0.0,
        gettext("The chip comes off and goes back on: that cures its joint, and its pads can be measured meanwhile."),
        gettext("It is cured"),
        gettext("It fails as before"),
    ),
    "replace": Effect(
        {"chip-joint": 0.9, "chip": 0.95, "board": 0.15},
        0.0,
        gettext("A new chip cures joint and die at once, but costs a part."),
        gettext("It is cured"),
        gettext("It fails as before"),
    ),
    "rerun": Effect(
        {"chip-joint": 0.75, "core-joint": 0.7, "supply": 0.3, "board": 0.2, "chip": 0.12},
        0.3,
        gettext("What fails every time is one thing; what comes and goes with flexing or warmth is a joint."),
        gettext("It comes and goes"),
        gettext("It fails every time"),
    ),
    "check-supply": Effect(
        {"supply": 0.9},
        0.03,
        gettext("The supply that these chips share is quicker to read than any chip to lift."),
        gettext("The supply is wrong"),
        gettext("The supply is right"),
    ),
    "ohms": Effect(
        {"supply": 0.5, "core-joint": 0.15, "chip": 0.15},
        0.02,
        gettext("Memory and core rails are read unpowered before anything is lifted."),
        gettext("A rail reads odd"),
        gettext("The rails read right"),
    ),
    "volts": Effect(
        {"supply": 0.9, "core-joint": 0.1},
        0.03,
        gettext("The rails that these chips share, read while they run."),
        gettext("A rail is wrong"),
        gettext("The rails are right"),
    ),
    "lift-core": Effect(
        {"core-joint": 0.65},
        0.0,
        gettext("Renewing the core's joints is the long way: for what no chip and no supply explains."),
        gettext("It is cured"),
        gettext("It fails as before"),
    ),
    "recipe": Effect(
        {"other": 0.8},
        0.0,
        gettext("The tester did not get as far as the memory: build, index or command first."),
        gettext("The tester runs"),
        gettext("It refuses as before"),
    ),
}
