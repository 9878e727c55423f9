"""Shares and minutes learned from outcomes: simulated truth is found again, few outcomes change nothing."""

from __future__ import annotations

import math
import random
from collections import Counter

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.finding_kinds import CAUSES, USUAL_SHARES
from uvrix.core.planning.causes import EFFECTS
from uvrix.core.planning.habits import USUAL, Habits, habits_from_json, habits_to_json
from uvrix.core.planning.learning import Case, Times, cases_of, learned, learned_minutes, learned_shares
from uvrix.core.planning.plan import actions_for

REPAIRS = ("reball", "replace", "lift-core")
CASES = st.lists(
    st.builds(
        Case,
        st.just("line"),
        st.lists(st.sampled_from(REPAIRS), unique=True, max_size=3).map(tuple),
        st.sampled_from([None, *REPAIRS]),
        st.integers(1, 9),
    ),
    max_size=6,
)


def cases_from(truth, number, rng):
    """What a shop records: repairs in an order of its own until one cures."""
    history = Counter()
    for cause in rng.choices(list(CAUSES), [truth[name] for name in CAUSES], k=number):
        failed, cured = [], None
        for do in rng.sample(REPAIRS, 3):
            if rng.random() < EFFECTS[do].chance(cause, "yes"):
                cured = do
                break
            failed.append(do)
        history["line", tuple(sorted(failed)), cured] += 1
    return cases_of(history)


@given(CASES)
def test_learned_shares_add_to_one(cases):
    shares = learned_shares(USUAL_SHARES["line"], cases)
    assert sum(shares.values()) == pytest.approx(1)
    assert min(shares.values()) >= 0


def test_nothing_learned_from_nothing():
    assert learned_shares(USUAL_SHARES["line"], []) == pytest.approx(USUAL_SHARES["line"])


@pytest.mark.parametrize("seed", range(5))
def test_the_true_shares_are_found_again(seed):
    rng = random.Random(seed)
    truth = dict.fromkeys(CAUSES, 0.0) | {"chip-joint": 0.2, "chip": 0.6, "core-joint": 0.2}
    shares = learned_shares(USUAL_SHARES["line"], cases_from(truth, 600, rng))
    for cause in ("chip-joint", "chip", "core-joint"):
        assert shares[cause] == pytest.approx(truth[cause], abs=0.09)


def test_few_outcomes_are_counted_and_not_used():
    few = learned(USUAL, [Case("line", (), "reball", 4)], [])
    assert few.shares["line"] == USUAL.shares["line"]
    assert few.outcomes["line"] == 4
    assert "4 of 5 own outcomes so far" in actions_for("dq-line", ("U1",), 0.9, habits=few)[0].basis
    enough = learned(USUAL, [Case("line", (), "reball", 5)], [])
    assert enough.shares["line"]["chip-joint"] > USUAL.shares["line"]["chip-joint"]
    assert "5 outcomes of this shop" in actions_for("dq-line", ("U1",), 0.9, habits=enough)[0].basis


def test_outcomes_change_what_is_next():
    """Where reballing never cures here, replacing comes first by the numbers."""
    habits = learned(Habits(school="by-numbers"), [Case("line", ("reball",), "replace", 30)], [])
    repairs = [action.do for action in actions_for("dq-line", ("U1",), 0.95, habits=habits) if action.do in REPAIRS]
    assert repairs[0] == "replace"


@given(st.floats(1, 500), st.lists(st.floats(1, 500), min_size=1, max_size=30))
def test_learned_minutes_lie_between_the_set_and_the_done(usual, done):
    times = Times("reball", len(done), sum(math.log(entry) for entry in done))
    found = learned_minutes(usual, times)
    own = math.exp(times.log_minutes / times.times)
    assert min(usual, own) - 0.1 <= found <= max(usual, own) + 0.1


def test_habits_come_back_as_they_were_kept():
    kept = habits_to_json(Habits(school="replace-at-once", harm_minutes=120))
    assert habits_to_json(habits_from_json(kept)) == kept


@pytest.mark.parametrize(
    ("stored", "place"),
    [
        ({"school": "oven"}, "school"),
        ({"costs": {"reball": {"minutes": 0, "risk": 0.1}}}, "costs.reball.minutes"),
        ({"costs": {"reball": {"minutes": 5, "risk": 1.5}}}, "costs.reball.risk"),
        ({"costs": {"bake": {"minutes": 5, "risk": 0.5}}}, "costs.bake"),
        ({"shares": {"line": {"chip": 0}}}, "shares.line"),
        ({"shares": {"line": {"chip": -1}}}, "shares.line.chip"),
        ({"shares": {"line": {"ghost": 1}}}, "shares.line.ghost"),
        ({"shares": {"lines": {"chip": 1}}}, "shares.lines"),
        ({"harm_minutes": "long"}, "harm_minutes"),
    ],
)
def test_habits_that_do_not_fit_are_refused_by_place(stored, place):
    with pytest.raises(Refusal) as refused:
        habits_from_json(stored)
    assert refused.value.place == place


def test_shares_are_made_to_add_to_one():
    assert habits_from_json({"shares": {"line": {"chip": 3, "board": 1}}}).shares["line"]["chip"] == pytest.approx(0.75)
