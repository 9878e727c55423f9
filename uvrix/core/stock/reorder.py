"""What to order: parts used up in the past against what lies there, with the chance to run out before more comes."""

from __future__ import annotations

import math
from dataclasses import dataclass

from uvrix.core.values.words import percent
from uvrix.language import gettext

# Half a take more than was seen: a part used once in a month is not sure to be used once a month.
HALF = 0.5


@dataclass(frozen=True, slots=True)
class Supplied:
    """How a kind of part stands: pieces at hand, used in so many takes within so many days, days an order takes."""

    name: str
    have: float
    used: float
    takes: int
    days: float
    lead_days: float

    @property
    def batch(self) -> float:
        """Pieces that are taken at once, on average: balls by the hundred, chips one by one."""
        return self.used / self.takes if self.takes and self.used else 1.0


@dataclass(frozen=True, slots=True)
class Hint:
    """What to order: the chance to run out before more comes, and how many would bring it below the shop's limit."""

    name: str
    have: float
    chance: float
    order: int
    why: str


def short_of(supplied: Supplied) -> float:
    """The chance that more is asked for than lies there, until an order comes.

    Takes are independent (Poisson) with an unknown rate; the rate's gamma posterior (prior half a take and no time)
    makes the number of takes negative binomial, so few of them give a wide answer.
    """
    return 1 - _at_most(
        math.floor(supplied.have / supplied.batch), supplied.takes + HALF, supplied.lead_days / supplied.days
    )


def hint(supplied: Supplied, limit: float) -> Hint | None:
    """A hint where running out is likelier than `limit`; None else, and where none was ever used."""
    if supplied.takes <= 0:
        return None
    chance = short_of(supplied)
    if chance <= limit:
        return None
    takes, shape, share = (
        math.floor(supplied.have / supplied.batch),
        supplied.takes + HALF,
        supplied.lead_days / supplied.days,
    )
    while 1 - _at_most(takes, shape, share) > limit:
        takes += 1
    many = math.ceil(takes * supplied.batch - supplied.have)
    why = gettext(
        "{have} at hand, {used} used in {days} days; an order takes {lead_days} days: {chance} to "
        "run out before it comes.",
        have=f"{supplied.have:g}",
        used=f"{supplied.used:g}",
        days=f"{supplied.days:g}",
        lead_days=f"{supplied.lead_days:g}",
        chance=percent(chance),
    )
    return Hint(supplied.name, supplied.have, chance, many, why)


def _at_most(many: int, shape: float, share: float) -> float:
    """The chance of at most this many uses: negative binomial with that shape, `share` time asked per time seen."""
    if many < 0:
        return 0.0
    from scipy.stats import nbinom

    return float(nbinom.cdf(many, shape, 1 / (1 + share)))
