"""What to try next: chances that add up, both schools, reasons, and time to the cure on simulated cards."""

from __future__ import annotations

import random
from statistics import mean

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.finding_kinds import CAUSES, FINDING_KINDS, USUAL_SHARES, group_of
from uvrix.core.planning.causes import EFFECTS, REPAIRS
from uvrix.core.planning.habits import USUAL, Cost, Habits
from uvrix.core.planning.plan import OUTCOMES, Tried, actions_for, after, causes_of, says_yes, settled

DOINGS = st.lists(st.builds(Tried, st.sampled_from(sorted(EFFECTS)), st.sampled_from(OUTCOMES)), max_size=5)
KINDS = st.sampled_from(sorted(kind for kind in FINDING_KINDS if group_of(kind)))
CHANCES = st.floats(0, 1)


@given(st.sampled_from(sorted(USUAL_SHARES)), CHANCES, DOINGS)
def test_chances_of_causes_add_to_one(group, chance, tried):
    assert sum(causes_of(group, chance, USUAL, tried).values()) == pytest.approx(1)


@given(st.sampled_from(sorted(USUAL_SHARES)), CHANCES, st.sampled_from(sorted(EFFECTS)))
def test_a_result_is_expected_to_leave_the_chances_where_they_were(group, chance, do):
    """Bayes' rule: the mean over the results of what is believed then is what is believed now."""
    causes = causes_of(group, chance, USUAL, ())
    yes = says_yes(causes, do)
    for cause, part in causes.items():
        then = yes * after(causes, do, "yes")[cause] + (1 - yes) * after(causes, do, "no")[cause]
        assert then == pytest.approx(part, abs=1e-9)
    assert 0 <= settled(causes, do) <= 1


@given(KINDS, CHANCES, DOINGS, st.integers(1, 3))
def test_something_is_always_next_and_nothing_twice(kind, chance, tried, conditions):
    actions = actions_for(kind, ("U1",), chance, tried=tried, conditions=conditions)
    names = [action.do for action in actions]
    assert names
    assert len(set(names)) == len(names)
    for action in actions:
        assert 0 <= action.chance <= 1
        assert action.minutes > 0
        assert action.why


@given(KINDS, CHANCES)
def test_ranked_by_chance_for_an_hour_of_minutes_and_risk(kind, chance):
    actions = actions_for(kind, ("U1",), chance, habits=Habits(school="by-numbers"))
    assert [action.per_hour for action in actions] == sorted((action.per_hour for action in actions), reverse=True)


def test_both_schools_and_the_reason_where_the_numbers_say_otherwise():
    cheap = {**USUAL.costs, "replace": Cost(20, 0.0)}
    first = {
        school: _chip_repairs(Habits(school=school, costs=cheap)) for school in ("reball-first", "replace-at-once")
    }
    assert [entry.do for entry in first["reball-first"]] == ["reball", "replace"]
    assert [entry.do for entry in first["replace-at-once"]] == ["replace", "reball"]
    assert "By the numbers it would come after" in first["reball-first"][0].why
    assert "By the numbers" not in first["replace-at-once"][0].why
    dear = {**USUAL.costs, "replace": Cost(200, 0.0)}
    assert "this shop replaces at once" in _chip_repairs(Habits(school="replace-at-once", costs=dear))[0].why


@pytest.mark.parametrize(
    ("school", "kind", "replace_minutes", "first"),
    [("reball-first", "cells", 60, "replace"), ("replace-at-once", "dq-line", 900, "reball")],
)
def test_a_school_gives_way_to_what_is_worth_many_times_more(school, kind, replace_minutes, first):
    """Failing cells lie in the die: new balls below it cure next to nothing."""
    costs = {**USUAL.costs, "replace": Cost(replace_minutes, 0.0)}
    found = actions_for(kind, ("U1",), 0.95, habits=Habits(school=school, costs=costs))
    ahead, behind = (action for action in found if action.do in ("reball", "replace"))
    assert ahead.do == first
    assert ahead.per_hour > 5 * behind.per_hour
    assert "so the numbers go first" in ahead.why


@given(st.sampled_from(["reball-first", "replace-at-once"]), st.floats(1, 2000))
def test_a_school_never_puts_first_what_is_worth_less_than_a_fifth(school, minutes):
    costs = {**USUAL.costs, "replace": Cost(minutes, 0.0)}
    for kind in ("dq-line", "cells", "half", "site"):
        found = actions_for(kind, ("U1",), 0.95, habits=Habits(school=school, costs=costs))
        worth = [action.per_hour for action in found if action.do in ("reball", "replace")]
        assert len(worth) < 2 or worth[0] * 5 >= worth[1] * 0.999


def _chip_repairs(habits):
    return [
        action for action in actions_for("dq-line", ("U1",), 0.95, habits=habits) if action.do in ("reball", "replace")
    ]


def test_what_failed_moves_the_chance_on():
    """A reball that did not cure leaves the chip itself; a new chip that did not cure leaves the core."""
    before = causes_of("line", 0.95, USUAL, ())
    reballed = causes_of("line", 0.95, USUAL, [Tried("reball", "no")])
    assert reballed["chip"] > before["chip"]
    assert reballed["chip-joint"] < before["chip-joint"]
    replaced = actions_for("dq-line", ("U1",), 0.95, tried=[Tried("reball", "no"), Tried("replace", "no")])
    repairs = [action for action in replaced if action.do in REPAIRS]
    assert repairs[0].do == "lift-core"
    assert repairs[0].settles[0].startswith("It fails as before")


def test_both_channels_of_a_controller_are_no_chip():
    names = [action.do for action in actions_for("controller", ("U1", "U2"), 0.95)]
    assert "reball" not in names
    assert names[0] == "check-supply"
    assert "lift-core" in names


def test_a_cure_asks_for_a_run_after_the_rework():
    actions = actions_for("cells", ("U1",), 0.9, tried=[Tried("replace", "yes")])
    assert [action.do for action in actions] == ["rerun"]


def test_a_rerun_is_not_asked_for_where_conditions_differ_already():
    assert "rerun" in [action.do for action in actions_for("dq-line", ("U1",), 0.9)]
    assert "rerun" not in [action.do for action in actions_for("dq-line", ("U1",), 0.9, conditions=2)]


@pytest.mark.parametrize("kind", ["dq-line", "half", "cells", "joint", "site", "controller", "rail-group"])
def test_following_the_plan_is_not_slower_than_any_fixed_order(kind):
    """Simulated cards with a true cause: minutes until cured, harm counted, by the plan and by every fixed order."""
    rng = random.Random(f"cards {kind}")
    found = group_of(kind)
    assert found
    group = found.name
    repairs = [do for do in found.tried if do in REPAIRS]
    cards = rng.choices(list(CAUSES), [USUAL_SHARES[group][cause] for cause in CAUSES], k=1500)
    draws = [{do: rng.random() for do in EFFECTS} for _ in cards]
    habits = Habits(school="by-numbers")
    planned = mean(_by_plan(kind, habits, cause, draw) for cause, draw in zip(cards, draws, strict=True))
    orders = [repairs[number:] + repairs[:number] for number in range(len(repairs))]
    orders += [list(reversed(order)) for order in orders]
    fixed = min(
        mean(_by_order(order, habits, cause, draw) for cause, draw in zip(cards, draws, strict=True))
        for order in orders
    )
    assert planned <= fixed * 1.05 + 25  # its tests cost some minutes even where they change nothing


def _spent(do, habits):
    part = habits.part_minutes if do == "replace" else 0
    return habits.costs[do].minutes + habits.costs[do].risk * habits.harm_minutes + part


def _by_plan(kind, habits, cause, draw):
    minutes, tried = 0.0, []
    for _ in range(12):
        action = actions_for(kind, ("U1",), 1.0, habits=habits, tried=tried, conditions=1)[0]
        if action.do in {attempt.do for attempt in tried}:
            break
        minutes += _spent(action.do, habits)
        yes = draw[action.do] < EFFECTS[action.do].chance(cause, "yes")
        if yes and (action.do in REPAIRS or cause == "supply"):
            break
        tried.append(Tried(action.do, "yes" if yes else "no"))
    return minutes


def _by_order(order, habits, cause, draw):
    minutes = 0.0
    for do in order:
        minutes += _spent(do, habits)
        if draw[do] < EFFECTS[do].chance(cause, "yes"):
            break
    return minutes
