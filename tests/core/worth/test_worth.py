"""Worth: the way to a cure walked as the plan has it, money added up as anybody would."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.worth.worth import Ahead, Money, ahead_of, weigh

ACTIONS = st.lists(st.tuples(st.floats(0, 1), st.floats(0, 200), st.booleans()), max_size=6)


@given(ACTIONS)
def test_the_way_is_what_walking_it_many_times_gives(actions):
    dice = random.Random(4)
    cured = minutes = 0.0
    rounds = 300
    for _ in range(rounds):
        for chance, takes, repair in actions:
            minutes += takes
            if repair and dice.random() < chance:
                cured += 1
                break
    found = ahead_of(actions)
    assert found.chance == pytest.approx(cured / rounds, abs=0.15)
    assert found.minutes == pytest.approx(minutes / rounds, abs=0.15 * sum(action[1] for action in actions) + 1e-6)


@given(st.floats(0, 1e5), st.floats(0, 1e4), st.floats(0, 1), st.floats(0, 1e3), st.floats(0, 1e3))
def test_money_adds_up(value, spent, chance, minutes, parts):
    money = Money("crowns", 45.0, 0.4)
    found = weigh(value, spent, Ahead(chance, minutes, parts), money)
    assert found.going_on == pytest.approx(chance * value - minutes / 60 * 45 - parts)
    assert found.budget_minutes == pytest.approx(0.4 * value / 45 * 60)
    assert found.left_minutes == pytest.approx(found.budget_minutes - spent)
    assert found.going_on is not None
    assert (found.verdict == "stop") == (found.going_on <= 0)
    assert found.why.endswith(".")


def test_what_is_spent_does_not_count_against_going_on():
    ahead, money = Ahead(0.9, 10), Money()
    assert weigh(300, 0, ahead, money).going_on == weigh(300, 600, ahead, money).going_on
    assert weigh(300, 600, ahead, money).verdict == "over"
    assert weigh(300, 9999, None, money).verdict == "over"
