"""What is off a card now, and what went in again: out and in counted against each other."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Generic, Literal, TypeVar

from uvrix.core.teardown.recipe import Step
from uvrix.language import gettext

Way = Literal["off", "on"]
Source = TypeVar("Source")


@dataclass(frozen=True, slots=True)
class Done(Generic[Source]):
    """A step done: how many things came off, or went on; `source` is whatever tells who and when."""

    step: str
    way: Way
    count: int
    source: Source


@dataclass(frozen=True, slots=True)
class StepState(Generic[Source]):
    """How a step stands: `on` (never off, or off and back), `off`, or `differs` (not as many went in as came out).

    `says` is a sentence where something is owed or the recipe does not agree; empty otherwise.
    """

    step: Step
    state: Literal["on", "off", "differs"]
    off: Done[Source] | None
    back: Done[Source] | None
    says: str

    @property
    def owed(self) -> bool:
        """Whether the card may not leave as it is."""
        return self.state != "on"


def states(steps: Sequence[Step], done: Iterable[Done[Source]]) -> tuple[StepState[Source], ...]:
    """Every step in order, by what was done last; an `on` counts only after an `off`. Oldest first goes in."""
    off: dict[str, Done[Source]] = {}
    back: dict[str, Done[Source]] = {}
    for done_step in done:
        if done_step.way == "off":
            off[done_step.step] = done_step
            back.pop(done_step.step, None)
        elif done_step.step in off:
            back[done_step.step] = done_step
    return tuple(_state(step, off.get(step.id), back.get(step.id)) for step in steps)


def _state(step: Step, off: Done[Source] | None, back: Done[Source] | None) -> StepState[Source]:
    if off is None:
        return StepState(step, "on", None, None, "")
    if back is None:
        return StepState(step, "off", off, None, _still_off(step, off))
    if back.count != off.count:
        return StepState(
            step,
            "differs",
            off,
            back,
            gettext(
                "{what}: {number} came out, {number_2} went in.", what=step.what, number=off.count, number_2=back.count
            ),
        )
    if step.kind == "screws" and off.count != step.count:
        return StepState(
            step,
            "on",
            off,
            back,
            gettext(
                "{what}: the recipe has {number}, this card {number_2}.",
                what=step.what,
                number=step.count,
                number_2=off.count,
            ),
        )
    return StepState(step, "on", off, back, "")


def _still_off(step: Step, off: Done[Source]) -> str:
    if step.kind != "screws":
        return gettext("{what}: off the card.", what=step.what)
    words = gettext("{what}: {number} out, none back.", what=step.what, number=off.count)
    return (
        words
        if off.count == step.count
        else gettext("{words} The recipe has {number}.", words=words, number=step.count)
    )
