"""What cost most in a card that was worked through, by habit: minutes that another way would have saved."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from uvrix.core.case.plan.steps import HARM_MINUTES
from uvrix.core.practice.limits import MOST_HABITS, TOLD_NOTHING_BITS
from uvrix.core.practice.steps import HEATS, MEASURES
from uvrix.language import gettext

if TYPE_CHECKING:
    from uvrix.core.practice.debrief import Moment

HabitKind = Literal[
    "did-harm",
    "worked-on-the-ruled-out",
    "returned-too-early",
    "gave-up",
    "asked-again",
    "told-nothing",
    "dearer-first",
]
HABIT_WORDS: Mapping[HabitKind, str] = {
    "did-harm": gettext("Read the inputs before power, shield before heat, and lift no part that may still be good"),
    "worked-on-the-ruled-out": gettext("Before lifting a part, check what speaks for it and what against it"),
    "returned-too-early": gettext("Prove the card before it leaves: a fault was still on it"),
    "gave-up": gettext("Keep going while a step can still tell: this card was repairable"),
    "asked-again": gettext("A reading counts until something is done to the card: no need to take it twice"),
    "told-nothing": gettext("Ask of each measurement what either result would mean: these could not tell anything"),
    "dearer-first": gettext("Take the quick look and the quick reading before the long way"),
}


@dataclass(frozen=True, slots=True)
class Habit:
    """A habit: what would have saved the minutes, how many they were, at which entries it shows."""

    habit: HabitKind
    words: str
    minutes: float
    numbers: tuple[int, ...]


def habits(moments: Sequence[Moment], *, right: bool, could_be_repaired: bool) -> tuple[Habit, ...]:
    """The habits that cost most, the dearest first; each moment counts for one of them alone."""
    found: dict[HabitKind, list[tuple[float, int]]] = {}
    for at, moment in enumerate(moments):
        for kind, lost in _TESTS.items():
            if (minutes := lost(moments, at)) > 0:
                found.setdefault(kind, []).append((minutes, moment.number))
                break
    last = moments[-1]
    if not right:
        gave_up = last.target != "repaired" and could_be_repaired
        found["gave-up" if gave_up else "returned-too-early"] = [(HARM_MINUTES, last.number)]
    made = [
        Habit(kind, HABIT_WORDS[kind], sum(minutes for minutes, _ in them), tuple(number for _, number in them))
        for kind, them in found.items()
    ]
    return tuple(sorted(made, key=lambda habit: -habit.minutes)[:MOST_HABITS])


def _did_harm(moments: Sequence[Moment], at: int) -> float:
    return HARM_MINUTES if moments[at].harm else 0.0


def _on_the_ruled_out(moments: Sequence[Moment], at: int) -> float:
    return moments[at].minutes if moments[at].ruled_out else 0.0


def _asked_again(moments: Sequence[Moment], at: int) -> float:
    """A measurement taken again with nothing done in between, and nothing learned."""
    now = moments[at]
    if now.do not in MEASURES or now.as_advised or now.bits >= TOLD_NOTHING_BITS:
        return 0.0
    for before in reversed(moments[:at]):
        if before.do not in MEASURES:
            return 0.0
        if (before.do, before.target) == (now.do, now.target):
            return now.minutes
    return 0.0


def _told_nothing(moments: Sequence[Moment], at: int) -> float:
    now = moments[at]
    return now.minutes if now.do in MEASURES and not now.as_advised and now.bits < TOLD_NOTHING_BITS else 0.0


def _dearer_first(moments: Sequence[Moment], at: int) -> float:
    """A step that takes longer than the one that was advised."""
    now = moments[at]
    longer = now.minutes - now.advice_minutes
    concerns = now.do in MEASURES | HEATS and not now.as_advised
    return longer if concerns and longer > 0 else 0.0


_TESTS: Mapping[HabitKind, Callable[[Sequence[Moment], int], float]] = {
    "did-harm": _did_harm,
    "worked-on-the-ruled-out": _on_the_ruled_out,
    "asked-again": _asked_again,
    "told-nothing": _told_nothing,
    "dearer-first": _dearer_first,
}
