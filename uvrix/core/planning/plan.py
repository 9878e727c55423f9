"""The actions about a finding, ranked by chance per minute and per risk, each with what its result would settle.

Chances of causes come from the finding's chance, the habits' shares and what was tried already, by Bayes' rule. A
repair's chance is that it cures; a test's is the share of the doubt about the cause (its entropy) that its result is
expected to remove. An action is worth its chance divided by what it costs: its minutes, and its risk times what a harm
costs. For independent repairs that order gives the fewest expected minutes to the cure (a known result on sequential
search); the school moves reballing before replacing or the other way round, and says so, unless the one it puts off is
worth many times more.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from uvrix.core.finding_kinds import CAUSES, group_of
from uvrix.core.planning.causes import EFFECTS, REPAIRS
from uvrix.core.planning.habits import USUAL, Habits
from uvrix.core.planning.learning import ENOUGH
from uvrix.language import gettext

ELSEWHERE = "elsewhere"
OUTCOMES = ("yes", "no", "worse")
NAMES = {**CAUSES, ELSEWHERE: gettext("another fault than the one found")}
# Below this chance of curing, a repair is not worth naming; nor is a test that settles less.
LEAST_CURE, LEAST_SETTLED = 0.02, 0.01
LISTED = 3
# A school is a preference between repairs that are worth about as much: it gives way to one worth this many times more.
SCHOOL_YIELDS = 5.0


@dataclass(frozen=True, slots=True)
class Tried:
    """An action that was done about this finding, and what came of it; `known` where the belief counts it already."""

    do: str
    outcome: str
    known: bool = False


@dataclass(frozen=True, slots=True)
class Action:
    """One thing to do: `chance` that it cures (a repair), or the share of the doubt that it settles (a test).

    `risk` is the chance that it does harm, `per_hour` the chance for an hour of its minutes and risk, `settles` what
    each result would mean, `basis` where the numbers come from.
    """

    do: str
    designators: tuple[str, ...]
    chance: float
    minutes: float
    why: str
    risk: float = 0.0
    per_hour: float = 0.0
    settles: tuple[str, ...] = ()
    basis: str = ""


def actions_for(
    kind: str,
    designators: tuple[str, ...],
    chance: float,
    *,
    habits: Habits = USUAL,
    tried: Sequence[Tried] = (),
    conditions: int = 1,
    believed: Mapping[str, float] | None = None,
) -> list[Action]:
    """What to do about a finding of this kind, best first; `conditions` counts those it was run under.

    `believed` are the chances of the causes by everything that is known of the card, where that is weighed; what was
    `tried` and is not `known` has no part in them yet.
    """
    if kind == "no-errors":
        why = gettext("One clean run proves little: run it warm and cold again before trusting it.")
        return [_plain("rerun", designators, 0.5, habits, why)]
    if tried and tried[-1].do in REPAIRS and tried[-1].outcome == "yes":
        why = gettext("Said to be cured: a run after the rework, cold and then warm, shows it.")
        return [_plain("rerun", designators, 0.9, habits, why)]
    found = group_of(kind)
    assert found, kind
    group = found.name
    sure = 1.0 if kind in ("refused", "unclear") else chance
    causes = (
        causes_of(group, sure, habits, tried)
        if believed is None
        else _tried(believed, [attempt for attempt in tried if not attempt.known])
    )
    done = {attempt.do for attempt in tried} | ({"rerun"} if conditions > 1 and kind != "unclear" else set())
    named = [do for do in found.tried if do not in done]
    actions = [_action(do, designators, causes, habits, group) for do in named]
    worth = [action for action in actions if action.chance >= (LEAST_CURE if action.do in REPAIRS else LEAST_SETTLED)]
    ranked = _by_school(sorted(worth, key=lambda action: -action.per_hour), habits)
    return ranked or [
        _plain("rerun", designators, 0.3, habits, gettext("All that was worth trying is done; run it again."))
    ]


def causes_of(group: str, chance: float, habits: Habits, tried: Sequence[Tried]) -> dict[str, float]:
    """The chance of each cause, and of a fault elsewhere, after what was tried."""
    return _tried({cause: chance * habits.shares[group][cause] for cause in CAUSES} | {ELSEWHERE: 1 - chance}, tried)


def _tried(causes: Mapping[str, float], tried: Sequence[Tried]) -> dict[str, float]:
    found = dict(causes)
    for attempt in tried:
        found = after(found, attempt.do, attempt.outcome)
    return found


def after(causes: Mapping[str, float], do: str, outcome: str) -> dict[str, float]:
    """The causes' chances once an action had this outcome."""
    effect = EFFECTS[do]
    weighed = {cause: part * effect.chance(cause, outcome) for cause, part in causes.items()}
    whole = sum(weighed.values())
    return {cause: part / whole for cause, part in weighed.items()} if whole else dict(causes)


def says_yes(causes: Mapping[str, float], do: str) -> float:
    """Chance that an action cures, or that a test reads odd."""
    return sum(part * EFFECTS[do].chance(cause, "yes") for cause, part in causes.items())


def settled(causes: Mapping[str, float], do: str) -> float:
    """The share of the doubt about the cause that an action's result is expected to remove, 0 to 1."""
    doubt = _entropy(causes)
    if doubt <= 0:
        return 0.0
    yes = says_yes(causes, do)
    left = yes * _entropy(after(causes, do, "yes")) + (1 - yes) * _entropy(after(causes, do, "no"))
    return min(1.0, max(0.0, 1 - left / doubt))


def _entropy(causes: Mapping[str, float]) -> float:
    return -sum(part * math.log2(part) for part in causes.values() if part > 0)


def _action(do: str, designators: tuple[str, ...], causes: Mapping[str, float], habits: Habits, group: str) -> Action:
    effect, cost = EFFECTS[do], habits.costs[do]
    repair = do in REPAIRS
    chance = says_yes(causes, do) if repair else settled(causes, do)
    spent = cost.minutes + cost.risk * habits.harm_minutes + (habits.part_minutes if do == "replace" else 0)
    promise = gettext("Cures with chance") if repair else gettext("Settles of the doubt")
    likely = ", ".join(f"{NAMES[cause]} {part:.2f}" for cause, part in _likeliest(causes))
    return Action(
        do=do,
        designators=designators,
        chance=round(chance, 3),
        minutes=cost.minutes,
        why=gettext(
            "{why} {promise} {chance}; likeliest: {likely}.",
            why=effect.why,
            promise=promise,
            chance=f"{chance:.2f}",
            likely=likely,
        ),
        risk=cost.risk,
        per_hour=round(60 * chance / spent, 3),
        settles=tuple(_settles(causes, do)),
        basis=_basis(habits, group, do),
    )


def _settles(causes: Mapping[str, float], do: str) -> list[str]:
    """What each result would leave."""
    effect = EFFECTS[do]
    said = []
    for outcome, words in (("yes", effect.yes), ("no", effect.no)):
        if do in REPAIRS and outcome == "yes":
            continue
        left = _likeliest(after(causes, do, outcome))
        said.append(f"{words}: " + ", ".join(f"{NAMES[cause]} {part:.2f}" for cause, part in left) + ".")
    return said


def _likeliest(causes: Mapping[str, float]) -> list[tuple[str, float]]:
    ranked = sorted(causes.items(), key=lambda cause: -cause[1])
    return [row for row in ranked[:LISTED] if row[1] >= 0.05] or ranked[:1]


def _basis(habits: Habits, group: str, do: str) -> str:
    own, timed = habits.outcomes.get(group, 0), habits.timed.get(do, 0)
    if own >= ENOUGH:
        chances = gettext("Chances from {own} outcomes of this shop and its set shares", own=own)
    else:
        chances = gettext("Chances from the set shares") + (
            gettext(" ({own} of {enough} own outcomes so far)", own=own, enough=ENOUGH) if own else ""
        )
    return gettext("{chances}; minutes ", chances=chances) + (
        gettext("from {timed} done here.", timed=timed) if timed >= 3 else gettext("as set.")
    )


def _by_school(ranked: list[Action], habits: Habits) -> list[Action]:
    """Reballing before replacing or the other way round, where the school wants it and the numbers do not."""
    if habits.school == "by-numbers":
        return ranked
    first, second = ("reball", "replace") if habits.school == "reball-first" else ("replace", "reball")
    order = [action.do for action in ranked]
    if first not in order or second not in order or order.index(first) < order.index(second):
        return ranked
    moved = ranked[order.index(first)]
    rest = [action for action in ranked if action.do != first]
    at = [action.do for action in rest].index(second)
    ahead = rest[at]
    school = gettext("reballs first") if first == "reball" else gettext("replaces at once")
    numbers = gettext(
        "({per_hour} against {per_hour_2} an hour)",
        per_hour=f"{moved.per_hour:.2f}",
        per_hour_2=f"{ahead.per_hour:.2f}",
    )
    if ahead.per_hour > SCHOOL_YIELDS * moved.per_hour:
        far = gettext(
            " This shop {school}; here that is worth far less {numbers}, so the numbers go first.",
            school=school,
            numbers=numbers,
        )
        return [replace(action, why=f"{action.why}{far}") if action is ahead else action for action in ranked]
    moved = replace(
        moved,
        why=gettext(
            "{why} By the numbers it would come after {numbers}; this shop {school}.",
            why=moved.why,
            numbers=numbers,
            school=school,
        ),
    )
    return [*rest[:at], moved, *rest[at:]]


def _plain(do: str, designators: tuple[str, ...], chance: float, habits: Habits, why: str) -> Action:
    cost = habits.costs[do]
    return Action(do, designators, chance, cost.minutes, why, cost.risk, round(60 * chance / cost.minutes, 3))
