"""A shop's habits: minutes, risks, how often each cause lies behind a finding, and which school it follows."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from uvrix.core.errors import Refusal, quoted
from uvrix.core.finding_kinds import CAUSES, USUAL_SHARES
from uvrix.core.planning.causes import EFFECTS, Shares
from uvrix.language import gettext

School = Literal["reball-first", "replace-at-once", "by-numbers"]
SCHOOLS: tuple[School, ...] = ("reball-first", "replace-at-once", "by-numbers")
MOST_MINUTES = 6000.0


@dataclass(frozen=True, slots=True)
class Cost:
    """What an action costs: minutes of work, and the chance that it does harm."""

    minutes: float
    risk: float


# What each action is called.
ACTIONS: Mapping[str, str] = {
    "rerun": gettext("Run it under another condition"),
    "measure-lines": gettext("Measure the lines"),
    "reball": gettext("Reball"),
    "replace": gettext("Replace"),
    "check-supply": gettext("Measure the supply"),
    "ohms": gettext("Ohms: the rails unpowered"),
    "volts": gettext("Volts: the rails while it runs"),
    "lift-core": gettext("Lift the core"),
    "recipe": gettext("The tester's recipe"),
}
USUAL_COSTS: dict[str, Cost] = {
    "measure-lines": Cost(10, 0.005),
    "reball": Cost(50, 0.03),
    "replace": Cost(55, 0.04),
    "rerun": Cost(10, 0.002),
    "check-supply": Cost(10, 0.005),
    "ohms": Cost(15, 0.0),
    "volts": Cost(15, 0.01),
    "lift-core": Cost(180, 0.15),
    "recipe": Cost(5, 0.0),
}


@dataclass(frozen=True, slots=True)
class Habits:
    """`harm_minutes`: what one harm costs in work; `part_minutes`: what a memory chip costs, in minutes of work.

    `outcomes` says from how many of the shop's own outcomes each group's shares are learned, `timed` likewise for
    each action's minutes; both are for the reason that is shown.
    """

    school: School = "reball-first"
    costs: Mapping[str, Cost] = field(default_factory=lambda: USUAL_COSTS)
    shares: Mapping[str, Shares] = field(default_factory=lambda: USUAL_SHARES)
    harm_minutes: float = 300.0
    part_minutes: float = 20.0
    outcomes: Mapping[str, int] = field(default_factory=dict)
    timed: Mapping[str, int] = field(default_factory=dict)


USUAL = Habits()


def habits_to_json(habits: Habits) -> dict[str, Any]:
    """What a shop sets, as plain JSON."""
    return {
        "school": habits.school,
        "harm_minutes": habits.harm_minutes,
        "part_minutes": habits.part_minutes,
        "costs": {do: {"minutes": cost.minutes, "risk": cost.risk} for do, cost in habits.costs.items()},
        "shares": {group: dict(shares) for group, shares in habits.shares.items()},
    }


def habits_from_json(stored: Mapping[str, Any]) -> Habits:
    """The habits that a shop set; what it leaves out is usual practice.

    Raises Refusal where a time is not above 0, a risk not in 0 to 1, or shares that are negative or all 0. Shares
    are made to add to 1.
    """
    school = stored.get("school", USUAL.school)
    if school not in SCHOOLS:
        raise Refusal("school", quoted(school), gettext("one of {schools}", schools=", ".join(SCHOOLS)))
    costs = dict(USUAL_COSTS)
    for do, cost in stored.get("costs", {}).items():
        _known(do, EFFECTS, "costs")
        minutes = _number(cost.get("minutes"), f"costs.{do}.minutes", 0.1, MOST_MINUTES)
        costs[do] = Cost(minutes, _number(cost.get("risk"), f"costs.{do}.risk", 0, 1))
    shares: dict[str, Shares] = dict(USUAL_SHARES)
    for group, given in stored.get("shares", {}).items():
        _known(group, USUAL_SHARES, "shares")
        shares[group] = _normal(given, group)
    return replace(
        USUAL,
        school=school,
        costs=costs,
        shares=shares,
        harm_minutes=_number(stored.get("harm_minutes", USUAL.harm_minutes), "harm_minutes", 0, MOST_MINUTES),
        part_minutes=_number(stored.get("part_minutes", USUAL.part_minutes), "part_minutes", 0, MOST_MINUTES),
    )


def _known(name: str, names: Mapping[str, object], where: str) -> None:
    if name not in names:
        raise Refusal(f"{where}.{name}", quoted(name), gettext("one of {names}", names=", ".join(names)))


def _normal(given: Mapping[str, Any], group: str) -> Shares:
    for cause in given:
        _known(cause, dict.fromkeys(CAUSES), f"shares.{group}")
    parts = {cause: _number(given.get(cause, 0), f"shares.{group}.{cause}", 0, 1000) for cause in CAUSES}
    whole = sum(parts.values())
    if whole <= 0:
        raise Refusal(f"shares.{group}", gettext("shares that are all 0"), gettext("at least one above 0"))
    return parts if math.isclose(whole, 1) else {cause: part / whole for cause, part in parts.items()}


def _number(value: Any, place: str, least: float, most: float) -> float:
    number = isinstance(value, (int, float)) and not isinstance(value, bool)
    if not number or not least <= value <= most:
        raise Refusal(
            place, quoted(value), gettext("a number from {least} to {most}", least=f"{least:g}", most=f"{most:g}")
        )
    return float(value)
