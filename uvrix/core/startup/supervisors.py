"""A supervisor refuses release unless all inputs are above its threshold: both sides of each sense path, read."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from uvrix.core.boards.model import Board, SenseInput
from uvrix.core.readings.notation import Value, shown
from uvrix.core.startup.limits import SENSE_PATH_SHARE, SENSE_PATH_V
from uvrix.core.values.edges import over
from uvrix.language import gettext

Word = Literal["above", "below", "path", "not read"]


@dataclass(frozen=True, slots=True)
class Sensed:
    """An input of a supervisor: where its sense path begins and ends, what is expected and read, and what it means."""

    designator: str
    rail: str
    name: str
    high_point: str
    low_point: str
    threshold_v: float | None
    high: Value | None
    low: Value | None
    word: Word
    says: str


def supervised(board: Board, read: Mapping[str, Value]) -> tuple[Sensed, ...]:
    """Every input of every supervisor of a board; `read` are voltages by point, rail or node."""
    found = []
    for supervisor in board.supervisors:
        for path in supervisor.inputs:
            high, low = read.get(path.high_point) or read.get(path.rail), read.get(path.low_point)
            name = board.rails[path.rail].name if path.rail in board.rails else path.rail
            word, says = _judged(name, path, high, low)
            ends = path.high_point, path.low_point
            found.append(Sensed(supervisor.designator, path.rail, name, *ends, path.threshold_v, high, low, word, says))
    return tuple(found)


def _judged(name: str, path: SenseInput, high: Value | None, low: Value | None) -> tuple[Word, str]:
    threshold = path.threshold_v
    if high is None:
        return "not read", gettext("{name} was not read.", name=name)
    top = high.middle
    said = shown(high, "voltage")
    if top is None or (threshold is not None and top < threshold):
        under = gettext(", under {threshold} V", threshold=f"{threshold:g}") if threshold is not None else ""
        return "below", gettext(
            "{name} itself is at {said}{under}: the supervisor is right to refuse.", name=name, said=said, under=under
        )
    if low is None:
        return "not read", gettext(
            "{name} is at {said}; the supervisor's own pin {value} was not read.",
            name=name,
            said=said,
            value=path.low_point,
        )
    pin, at_pin = low.middle, shown(low, "voltage")
    if pin is None or (threshold is not None and pin < threshold) or _apart(top, pin):
        return "path", gettext(
            "{said} before, {at_pin} at the pin: the sense path between them has gone high.", said=said, at_pin=at_pin
        )
    return (
        "above",
        gettext(
            "{said} before, {at_pin} at the pin: above {threshold} V.",
            said=said,
            at_pin=at_pin,
            threshold=f"{threshold:g}",
        )
        if threshold
        else gettext("{at_pin} at the pin.", at_pin=at_pin),
    )


def _apart(one: float, other: float) -> bool:
    return over(abs(one - other), max(SENSE_PATH_V, SENSE_PATH_SHARE * max(abs(one), abs(other))))


def refuses(found: Sequence[Sensed]) -> str:
    """The first reason why release is refused; empty where none is seen."""
    return next((sensed_input.says for sensed_input in found if sensed_input.word in {"below", "path"}), "")
