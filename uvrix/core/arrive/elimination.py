"""The elimination matrix: computer, plug, lead and card, each the customer's own or another that is known to be good.

One of the four is taken to be at fault (or something else, which no cell settles). A cell is a test with some of them
exchanged; its outcome weighs each by Bayes' rule. A fault that shows rarely needs more tries before its staying away
says much: that is why the tries are counted. The next test is the one expected to take away the most doubt an hour.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal

from uvrix.language import gettext

Thing = Literal["card", "computer", "plug", "lead"]
Often = Literal["always", "often", "rarely"]
THINGS: tuple[Thing, ...] = ("computer", "card", "plug", "lead")
ELSE = "else"
# In one try: how often a fault shows while its cause is there, by how often it is said to show; and without its cause.
SHOWS: Mapping[Often, float] = {"always": 0.97, "often": 0.6, "rarely": 0.2}
STRAY = 0.02
# What no cell settles: two causes at once, mains, a setting. It explains any outcome no better than a coin.
ELSE_SHARE = 0.06
# Minutes to exchange a thing, and to wait for the fault in one try.
EXCHANGE: Mapping[Thing, float] = {"computer": 12.0, "card": 8.0, "plug": 2.0, "lead": 2.0}
TRY_MINUTES: Mapping[Often, float] = {"always": 3.0, "often": 5.0, "rarely": 8.0}
# This many tries make its staying away mean something: it would have shown in about five of six such tests.
TRIES: Mapping[Often, int] = {"always": 1, "often": 2, "rarely": 8}
MOST_TRIES = 1000
# A thing counts as ruled out by a cell that makes it this much less likely than before, against the rest.
RULED_OUT = 0.15
NEXT_TESTS, LEAST_BITS = 3, 0.05


@dataclass(frozen=True, slots=True)
class Cell:
    """Which things are exchanged for good ones; none is the card as it came, in the computer that it came from."""

    other: frozenset[Thing]

    @property
    def id(self) -> str:
        """The cell's name in an address: `computer+lead`, or `own`."""
        return "+".join(thing for thing in THINGS if thing in self.other) or "own"


@dataclass(frozen=True, slots=True)
class Trial:
    """A cell that was tried: how many times, and whether the fault showed in any of them."""

    cell: Cell
    shows: bool
    tries: int = 1


@dataclass(frozen=True, slots=True)
class Next:
    """A test to do next: its tries and minutes, the doubt (bits) it should take, what each outcome would say."""

    cell: Cell
    tries: int
    bits: float
    minutes: float
    if_shows: Mapping[str, float]
    if_gone: Mapping[str, float]
    why: str


CELLS: tuple[Cell, ...] = tuple(
    Cell(frozenset(other)) for many in range(len(THINGS) + 1) for other in itertools.combinations(THINGS, many)
)
BY_ID: Mapping[str, Cell] = {cell.id: cell for cell in CELLS}


def before_any_test() -> dict[str, float]:
    """Everything equally likely: what people say is at fault is a hypothesis, not evidence."""
    share = (1 - ELSE_SHARE) / len(THINGS)
    return {**{str(thing): share for thing in THINGS}, ELSE: ELSE_SHARE}


def likelihood(trial: Trial, thing: str, often: Often) -> float:
    """How likely a trial's outcome is, were this thing at fault."""
    if thing == ELSE:
        return 0.5
    shows = STRAY if thing in trial.cell.other else SHOWS[often]
    gone = (1 - shows) ** min(trial.tries, MOST_TRIES)
    return max(1e-9, 1 - gone if trial.shows else gone)


def chances(trials: Iterable[Trial], often: Often = "always") -> dict[str, float]:
    """How likely each thing is at fault after all trials; they add to 1."""
    found = before_any_test()
    for trial in trials:
        found = _after(found, trial, often)
    return found


def _after(before: Mapping[str, float], trial: Trial, often: Often) -> dict[str, float]:
    weighed = {thing: chance * likelihood(trial, thing, often) for thing, chance in before.items()}
    whole = sum(weighed.values())
    return {thing: weight / whole for thing, weight in weighed.items()}


def rules_out(trial: Trial, often: Often) -> tuple[Thing, ...]:
    """The things that this trial alone rules out: their odds against the likeliest fall below RULED_OUT."""
    found = {thing: likelihood(trial, thing, often) for thing in THINGS}
    best = max(found.values())
    return tuple(thing for thing in THINGS if found[thing] < RULED_OUT * best)


def next_tests(trials: Iterable[Trial], often: Often = "always") -> tuple[Next, ...]:
    """The tests that settle most an hour, best first; none where nothing is left that a test could tell."""
    now = chances(trials, often)
    doubt = _bits(now)
    found = []
    for cell in CELLS:
        shows, gone = Trial(cell, shows=True, tries=TRIES[often]), Trial(cell, shows=False, tries=TRIES[often])
        share = sum(chance * likelihood(shows, thing, often) for thing, chance in now.items())
        either = _after(now, shows, often), _after(now, gone, often)
        bits = doubt - share * _bits(either[0]) - (1 - share) * _bits(either[1])
        if bits < LEAST_BITS:
            continue
        found.append(Next(cell, TRIES[often], round(bits, 3), minutes_of(cell, often), *either, _why(either)))
    return tuple(
        sorted(found, key=lambda next_step: (-next_step.bits / next_step.minutes, next_step.cell.id))[:NEXT_TESTS]
    )


def minutes_of(cell: Cell, often: Often) -> float:
    """Minutes of a test: exchanging what is exchanged, and all its tries."""
    return sum(EXCHANGE[thing] for thing in cell.other) + TRIES[often] * TRY_MINUTES[often]


def _bits(found: Mapping[str, float]) -> float:
    return -sum(chance * math.log2(chance) for chance in found.values() if chance > 0)


def _why(either: tuple[Mapping[str, float], Mapping[str, float]]) -> str:
    likeliest = [max(found, key=lambda thing: found[thing]) for found in either]
    words = [f"{NAMES[thing]} ({found[thing]:.2f})" for thing, found in zip(likeliest, either, strict=True)]
    return gettext("Shows it: likeliest {words}. Gone: likeliest {words_3}.", words=words[0], words_3=words[1])


NAMES: Mapping[str, str] = {
    "card": gettext("the card"),
    "computer": gettext("the computer"),
    "plug": gettext("the plug"),
    "lead": gettext("the lead"),
    ELSE: gettext("something else"),
}
