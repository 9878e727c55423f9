"""The elimination matrix: Bayes by hand, simulated truth, and the next test better than any other."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.arrive.elimination import (
    BY_ID,
    CELLS,
    ELSE,
    SHOWS,
    STRAY,
    THINGS,
    TRIES,
    Trial,
    before_any_test,
    chances,
    minutes_of,
    next_tests,
    rules_out,
)

OFTEN = st.sampled_from(sorted(SHOWS))
TRIALS = st.lists(st.builds(Trial, st.sampled_from(CELLS), st.booleans(), st.integers(1, 30)), max_size=8)


@given(TRIALS, OFTEN)
def test_chances_add_to_one_whatever_was_tried_and_in_whatever_order(trials, often):
    found = chances(trials, often)
    assert math.isclose(sum(found.values()), 1)
    assert set(found) == {*THINGS, ELSE}
    assert chances(trials[::-1], often) == pytest.approx(found)


def test_a_cell_as_one_would_reckon_by_hand():
    # fails in another computer with another lead: neither can be it
    found = chances([Trial(BY_ID["computer+lead"], shows=True)])
    share = (1 - 0.06) / 4
    weights = {"card": share * 0.97, "plug": share * 0.97, "computer": share * STRAY, "lead": share * STRAY, ELSE: 0.03}
    whole = sum(weights.values())
    assert found == pytest.approx({thing: weight / whole for thing, weight in weights.items()})
    assert rules_out(Trial(BY_ID["computer+lead"], shows=True), "always") == ("computer", "lead")
    # another card is well in the same place: the rest of it is not at fault
    assert set(rules_out(Trial(BY_ID["card"], shows=False), "always")) == {"computer", "plug", "lead"}


def test_the_card_as_it_came_rules_nothing_out():
    assert rules_out(Trial(BY_ID["own"], shows=True), "always") == ()


def test_a_rare_fault_that_stays_away_once_says_little_and_thirty_times_much():
    once = chances([Trial(BY_ID["card"], shows=False)], "rarely")["card"]
    often = chances([Trial(BY_ID["card"], shows=False, tries=30)], "rarely")["card"]
    before = before_any_test()["card"]
    assert before < once < before + 0.05
    assert often > 0.8
    assert rules_out(Trial(BY_ID["card"], shows=False), "rarely") == ()


@pytest.mark.parametrize("often", sorted(SHOWS))
def test_following_the_next_test_finds_the_culprit_and_needs_no_more_time_than_a_fixed_order(often):
    rng = np.random.default_rng(20261)
    orders = {"outside": ["computer", "lead", "plug", "card"], "inside": ["card", "plug", "lead", "computer"]}
    spent = {way: [] for way in ("next", *orders)}
    right = []
    for _ in range(60):
        truth = THINGS[int(rng.integers(len(THINGS)))]
        for way, minutes_spent in spent.items():
            trials, minutes = [], 0.0
            for step in range(60):
                now = chances(trials, often)
                best = max(now, key=lambda thing: now[thing])
                tests = next_tests(trials, often)
                if now[best] > 0.9 or not tests:
                    break
                cell = tests[0].cell if way == "next" else BY_ID[orders[way][step % 4]]
                there = truth not in cell.other
                shows = bool((rng.random(TRIES[often]) < (SHOWS[often] if there else STRAY)).any())
                trials.append(Trial(cell, shows, TRIES[often]))
                minutes += minutes_of(cell, often)
            minutes_spent.append(minutes)
            if way == "next":
                right.append(best == truth)
    assert np.mean(right) >= 0.85
    assert np.mean(spent["next"]) <= 1.05 * min(np.mean(spent[way]) for way in orders)


@given(TRIALS, OFTEN)
def test_next_tests_are_ranked_and_explain_themselves(trials, often):
    found = next_tests(trials, often)
    worth = [next_step.bits / next_step.minutes for next_step in found]
    assert worth == sorted(worth, reverse=True)
    now = chances(trials, often)
    doubt = -sum(chance * math.log2(chance) for chance in now.values() if chance > 0)
    for next_step in found:
        assert 0 < next_step.bits <= doubt + 1e-9
        assert next_step.why.startswith("Shows it: likeliest")
        assert math.isclose(sum(next_step.if_shows.values()), 1)
