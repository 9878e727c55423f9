"""Whether a card is worth its repair (docs/trade §1.5): chance times value, less what it still costs, with the numbers.

Money that is spent is spent: it says how the budget stands, and does not count against going on.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from uvrix.core.values.writing import DateStyle, DecimalSign, written_amount, written_day
from uvrix.language import gettext


@dataclass(frozen=True, slots=True)
class Money:
    """What an hour costs, the share of a card's value that may go into it; how the shop writes amounts and dates."""

    currency: str = "crowns"
    hour: float = 40.0
    share: float = 0.5
    dates: DateStyle = "day-month"
    decimal: DecimalSign = "point"

    def amount(self, value: float) -> str:
        """An amount with the currency."""
        return f"{written_amount(value, self.decimal)} {self.currency}"

    def rounded(self, value: float) -> str:
        """An amount without its hundredths, nor the currency."""
        return written_amount(round(value), self.decimal)

    def day(self, day: date) -> str:
        """A day."""
        return written_day(day, self.dates)


@dataclass(frozen=True, slots=True)
class Ahead:
    """The way to a cure as the plan has it: chance that it ends in one, expected minutes and parts on the way."""

    chance: float
    minutes: float
    parts: float = 0.0


@dataclass(frozen=True, slots=True)
class Worth:
    """All the numbers: `budget_minutes` by the value, `left_minutes` of it, `spent` so far, `going_on` as expected."""

    budget_minutes: float
    left_minutes: float
    spent: float
    ahead: Ahead | None
    cost_ahead: float
    going_on: float | None
    verdict: str
    why: str


def ahead_of(actions: Iterable[tuple[float, float, bool]]) -> Ahead:
    """The plan walked in its order until something cures: each action is (chance, minutes, whether it is a repair).

    A test takes its minutes and cures nothing; a later repair is reached only where the earlier ones did not cure.
    """
    left, minutes = 1.0, 0.0
    for chance, takes, repair in actions:
        minutes += left * takes
        if repair:
            left *= 1 - chance
    return Ahead(1 - left, minutes)


def weigh(value: float, spent_minutes: float, ahead: Ahead | None, money: Money) -> Worth:
    """How a job stands. `ahead` None: nothing is known yet of the way to a cure, so only the budget is said."""
    budget = 60 * money.share * value / money.hour
    left = budget - spent_minutes
    spent = spent_minutes / 60 * money.hour
    if ahead is None:
        if left < 0:
            return Worth(budget, left, spent, None, 0.0, None, "over", _over(left))
        return Worth(
            budget, left, spent, None, 0.0, None, "open", gettext("No finding yet, so only the budget is known.")
        )
    cost = ahead.minutes / 60 * money.hour + ahead.parts
    going_on = ahead.chance * value - cost
    sums = f"{money.rounded(value)} − {money.rounded(cost)} = {money.rounded(going_on)} {money.currency}"
    numbers = gettext(
        "{chance} × {sums} ({minutes} min ahead, at {rounded} an hour)",
        chance=f"{ahead.chance:.2f}",
        sums=sums,
        minutes=f"{ahead.minutes:.0f}",
        rounded=money.rounded(money.hour),
    )
    if going_on <= 0:
        return Worth(
            budget,
            left,
            spent,
            ahead,
            cost,
            going_on,
            "stop",
            gettext("Costs more than it should bring: {numbers}.", numbers=numbers),
        )
    if left < ahead.minutes:
        beyond = gettext(
            "its {minutes} min are more than the {left} left",
            minutes=f"{ahead.minutes:.0f}",
            left=f"{max(left, 0):.0f}",
        )
        why = gettext("Still brings something, {numbers}; but {beyond}.", numbers=numbers, beyond=beyond)
        return Worth(budget, left, spent, ahead, cost, going_on, "over", why)
    return Worth(
        budget, left, spent, ahead, cost, going_on, "go-on", gettext("Worth going on: {numbers}.", numbers=numbers)
    )


def _over(left: float) -> str:
    return gettext(
        "The time budget is over by {left} min, and nothing is known yet of the way to a cure.", left=f"{-left:.0f}"
    )
