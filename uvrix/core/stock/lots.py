"""Lots of memory chips: decoded by the shop's own rules, judged by the shop's own outcomes, priced both ways.

A lot is vendor, type and date code (docs/trade §5.6). Rules are the shop's: regular expressions with named groups over
what is printed, run by the linear-time engine like every pattern that a person may enter. Whether a lot is suspect is
said with the uncertainty of small numbers: the share of chips that failed has a beta posterior over a prior drawn from
all other lots, so three failures of three are not "all of them".
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from uvrix.core.boards.schema import NAME, TEXT, Schema, list_of, object_of
from uvrix.core.errors import Refusal, quoted
from uvrix.core.values.shape import check_shape
from uvrix.core.values.words import percent
from uvrix.language import gettext

GROUPS = ("vendor", "type", "year", "week", "code")
LONGEST_PATTERN, LONGEST_MARKING = 400, 200
LOT_RULES_SCHEMA: Schema = object_of(
    ["rules"],
    rules=list_of(
        object_of(
            ["pattern"],
            name=NAME,
            pattern={"type": "string", "minLength": 1, "maxLength": LONGEST_PATTERN},
            vendor=TEXT,
            type=TEXT,
            century={"type": "integer", "minimum": 1900, "maximum": 2100},
        )
    ),
)
# The prior is worth half a failure at the others' share, and no more than this many chips.
PRIOR_FAILURES, MOST_PRIOR_CHIPS = 0.5, 4.0
# The grid of log odds on which a posterior is added up, and how far out it reaches.
GRID_POINTS, REACH = 4001, 20.0
# A lot is suspect where it is this sure that it fails more often than the shop's others.
SURE = 0.95
WEEKS = 53


@dataclass(frozen=True, slots=True)
class LotRule:
    """How a marking is read: the pattern, and what it says of itself where the marking does not."""

    name: str
    pattern: str
    vendor: str
    type: str
    century: int


@dataclass(frozen=True, slots=True)
class Lot:
    """A decoded lot: `key` names it, year and week where the rule reads them."""

    key: str
    vendor: str
    type: str
    year: int | None
    week: int | None
    rule: str


def read_rules(document: Mapping[str, Any]) -> tuple[LotRule, ...]:
    """A shop's rules. Raises Refusal naming the path: no pattern, an unknown group, one that does not compile."""
    check_shape(document, LOT_RULES_SCHEMA)
    found = []
    for at, rule in enumerate(document["rules"]):
        path = f"$.rules[{at}].pattern"
        groups = _groups(rule["pattern"], path)
        unknown = sorted(groups - set(GROUPS))
        if unknown:
            raise Refusal(
                path,
                gettext("the group {unknown}", unknown=repr(unknown[0])),
                gettext("groups named {groups}", groups=", ".join(GROUPS)),
            )
        if not groups:
            raise Refusal(path, gettext("no named group"), gettext("groups named {groups}", groups=", ".join(GROUPS)))
        name = rule.get("name", gettext("rule {at}", at=at + 1))
        found.append(
            LotRule(name, rule["pattern"], rule.get("vendor", ""), rule.get("type", ""), rule.get("century", 2000))
        )
    return tuple(found)


def decode(marking: str, rules: Sequence[LotRule]) -> Lot | None:
    """The lot of a marking by the first rule that reads it whole; None where none does. Never guesses a date."""
    import polars as pl

    text = pl.Series([" ".join(marking.split())[:LONGEST_MARKING]], dtype=pl.String)
    for rule in rules:
        whole = f"^(?:{rule.pattern})$"
        if not text.str.contains(whole)[0]:
            continue
        said = {name: value or "" for name, value in text.str.extract_groups(whole)[0].items()}
        vendor, kind = said.get("vendor") or rule.vendor, said.get("type") or rule.type
        year, week = _number(said.get("year", "")), _number(said.get("week", ""))
        if year is not None and year < 100:
            year += rule.century
        if week is not None and not 1 <= week <= WEEKS:
            continue
        date = "" if year is None else f"{year}" + (f"-{week:02d}" if week is not None else "")
        key = " ".join(filter(None, (vendor, kind, date or said.get("code", ""))))
        return Lot(key, vendor, kind, year, week, rule.name)
    return None


def _groups(pattern: str, path: str) -> set[str]:
    """The named groups of a pattern. Raises Refusal where the engine does not take it."""
    import polars as pl

    try:
        found = pl.Series([""], dtype=pl.String).str.extract_groups(f"^(?:{pattern})$")[0]
    except pl.exceptions.ComputeError as error:
        said = str(error).splitlines()[-1] if str(error) else gettext("not taken")
        raise Refusal(
            path, f"{quoted(pattern)} ({said})", gettext("a regular expression of the linear-time engine")
        ) from None
    return {name for name in (found or {}) if not name.isdigit()}


def _number(text: str) -> int | None:
    return int(text) if text.isascii() and text.isdigit() else None


@dataclass(frozen=True, slots=True)
class LotOutcomes:
    """What became of a lot's chips in this shop: how many were seen, and how many of those failed."""

    lot: str
    seen: int
    failed: int


@dataclass(frozen=True, slots=True)
class LotJudged:
    """A lot against the shop's other lots: the share that fails with its 90 % span, how sure that it is worse."""

    lot: str
    seen: int
    failed: int
    share: float
    low: float
    high: float
    worse: float
    suspect: bool
    why: str


def judge_lots(outcomes: Iterable[LotOutcomes]) -> tuple[LotJudged, ...]:
    """Every lot against all the others, the surest to be bad first. Raises ValueError where more failed than seen."""
    rows = list(outcomes)
    for row in rows:
        if not 0 <= row.failed <= row.seen:
            raise ValueError(gettext("{failed} failed of {seen} seen", failed=row.failed, seen=row.seen))
    seen, failed = sum(row.seen for row in rows), sum(row.failed for row in rows)
    found = [_judged(row, seen - row.seen, failed - row.failed) for row in rows]
    return tuple(sorted(found, key=lambda judgement: (-judgement.worse, judgement.lot)))


def _judged(lot_outcomes: LotOutcomes, others_seen: int, others_failed: int) -> LotJudged:
    base = (others_failed + 1) / (others_seen + 2)
    weight = min(MOST_PRIOR_CHIPS, PRIOR_FAILURES / base)
    own = _Beta(lot_outcomes.failed + base * weight, lot_outcomes.seen - lot_outcomes.failed + (1 - base) * weight)
    rest = _Beta(others_failed + 1.0, others_seen - others_failed + 1.0)
    # the chance that a draw of this lot's share lies above one of the others'
    worse = float(np.sum(own.weights * rest.below(own.at)))
    low, high = own.quantile(0.05), own.quantile(0.95)
    suspect = worse >= SURE and lot_outcomes.failed >= 2
    why = gettext(
        "{failed} of {seen} failed; other lots {others_failed} of {others_seen}. Between {low} "
        "and {high} of such chips fail; {percent} sure that it is more than of the others.",
        failed=lot_outcomes.failed,
        seen=lot_outcomes.seen,
        others_failed=others_failed,
        others_seen=others_seen,
        low=percent(low),
        high=percent(high),
        percent=percent(math.floor(100 * worse) / 100),
    )
    if lot_outcomes.failed == 1 and worse >= SURE:
        why += gettext(" One failure makes no bad lot.")
    return LotJudged(
        lot_outcomes.lot,
        lot_outcomes.seen,
        lot_outcomes.failed,
        own.a / (own.a + own.b),
        low,
        high,
        worse,
        suspect,
        why,
    )


class _Beta:
    """A beta distribution added up on a grid of log odds, where its density has no pole however small a or b is."""

    def __init__(self, a: float, b: float) -> None:
        self.a, self.b = a, b
        middle, spread = np.log(a / b), np.sqrt(1 / a + 1 / b)
        left, right = (12 * spread + REACH / min(number, 1.0) for number in (a, b))
        odds = np.linspace(middle - left, middle + right, GRID_POINTS)
        log = -a * np.logaddexp(0.0, -odds) - b * np.logaddexp(0.0, odds)
        density = np.exp(log - log.max())
        self.at = 1 / (1 + np.exp(-odds))
        self.weights = density / density.sum()
        self._cumulated = np.cumsum(self.weights) - self.weights / 2

    def below(self, shares: np.ndarray) -> np.ndarray:
        """The chance to lie below each of some shares."""
        found: np.ndarray = np.interp(shares, self.at, self._cumulated, left=0.0, right=1.0)
        return found

    def quantile(self, chance: float) -> float:
        """The share below which it lies with that chance."""
        return float(np.interp(chance, self._cumulated, self.at))


@dataclass(frozen=True, slots=True)
class Chip:
    """A chip that stays on the board: its distance to the one replaced, cycles and warmings so far, its lot's share.

    `lot_share` is None where nobody read its lot.
    """

    site: str
    away_mm: float
    cycles: int
    lot_share: float | None


@dataclass(frozen=True, slots=True)
class Risk:
    """What the shop holds of heat: the chance that one cycle next to it kills a sound chip, and how far that reaches.

    `kills` is at the edge of the heated chip, halved every `halves_mm`; each earlier cycle adds `wear` of it. They are
    the shop's own figures, learned from its comebacks; nothing here is a constant of nature.
    """

    kills: float = 0.01
    halves_mm: float = 4.0
    wear: float = 0.5


@dataclass(frozen=True, slots=True)
class Option:
    """A way to repair: chips replaced, its price, the chance that it fails in the warranty, what it then comes to."""

    name: str
    sites: tuple[str, ...]
    price: float
    fails: float
    expected: float
    why: str


@dataclass(frozen=True, slots=True)
class Prices:
    """What a repair is made of, in the shop's currency: a chip, the work on one, the work of starting, a comeback."""

    chip: float
    work: float
    start: float
    comeback: float


def heat_kills(chip: Chip, risk: Risk) -> float:
    """The chance that heating its neighbour once kills a chip."""
    near: float = risk.kills * 0.5 ** (chip.away_mm / risk.halves_mm)
    return min(1.0, near * (1 + risk.wear * chip.cycles))


def usual_share(outcomes: Iterable[LotOutcomes]) -> float | None:
    """The share of this shop's chips that failed, whatever their lot; None where it has seen none."""
    rows = list(outcomes)
    seen, failed = sum(row.seen for row in rows), sum(row.failed for row in rows)
    return (failed + PRIOR_FAILURES) / (seen + MOST_PRIOR_CHIPS) if seen else None


def one_or_all(
    failed: Sequence[str], rest: Sequence[Chip], risk: Risk, prices: Prices, usual: float | None = None
) -> tuple[Option, Option]:
    """The failed chips alone, and all chips of the board: price, chance to fail in the warranty, what each comes to.

    A chip that stays fails by its lot or by the heat beside it; one whose lot nobody read fails as the shop's chips
    do (`usual`). One that is new fails as a good lot does, which is taken as nought here, so the second option's chance
    is only that of its work (`risk.kills` a chip).
    """
    stay = 1.0
    worst = max((candidate.lot_share for candidate in rest if candidate.lot_share is not None), default=None)
    unread = [candidate.site for candidate in rest if candidate.lot_share is None]
    for chip in rest:
        share = (usual or 0.0) if chip.lot_share is None else chip.lot_share
        stay *= (1 - share) * (1 - heat_kills(chip, risk))
    one_price = prices.start + len(failed) * (prices.chip + prices.work)
    many = len(failed) + len(rest)
    all_price = prices.start + many * (prices.chip + prices.work)
    fails_one, fails_all = 1 - stay, 1 - (1 - risk.kills) ** many
    lot = gettext("{worst} of such chips fail, ", worst=percent(worst)) if worst is not None else ""
    why = gettext(
        "{lot}{number} stay: {fails_one} that one of them fails in the warranty.",
        lot=lot,
        number=len(rest),
        fails_one=percent(fails_one),
    )
    if unread and usual is None:
        why += gettext(
            " Nobody read the lot of {unread}, and this shop has seen no chips fail or hold: not counted.",
            unread=", ".join(unread),
        )
    elif unread and usual is not None:
        taken = gettext("taken as all chips seen here, {usual}", usual=percent(usual))
        why += gettext(" Nobody read the lot of {unread}: {taken}.", unread=", ".join(unread), taken=taken)
    only = Option(
        gettext("the failed ones"),
        tuple(failed),
        one_price,
        fails_one,
        one_price + fails_one * prices.comeback,
        why,
    )
    every = Option(
        gettext("all of them"),
        (*failed, *(candidate.site for candidate in rest)),
        all_price,
        fails_all,
        all_price + fails_all * prices.comeback,
        gettext("{many} replaced: {fails_all} that the work itself fails.", many=many, fails_all=percent(fails_all)),
    )
    return only, every
