"""Past cards move the belief, with their counts, and never further than what was measured of the card itself allows."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.case.cards import BOARD, facts, run
from uvrix.core.case.belief.believe import believe
from uvrix.core.case.belief.past import MOST_TIMES, WATCHED_TIMES, times
from uvrix.core.case.shop import PastCause, Shop, Watched

ENTRIES = [{"symptom": ["artefacts"]}, run("fail", "cold", channel="B1")]


def chances(*past, watched=()):
    case = facts(*ENTRIES)
    case.shop = Shop(past=past, watched=watched)
    found = believe(case)
    assert sum(cause.chance for cause in found) == pytest.approx(1)
    return {(cause.cause, cause.designators): cause for cause in found}


def known(cause, had, of, **more):
    named = {"model": BOARD.id, "designators": (), "symptoms": frozenset({"artefacts"}), **more}
    return PastCause(named["model"], cause, named["designators"], named["symptoms"], had, of)


def test_a_cause_that_past_cards_had_is_likelier_and_says_how_many():
    before, after = chances(), chances(known("chip", 6, 7))
    name = next(key for key in before if key[0] == "chip")
    assert after[name].chance > before[name].chance
    assert after[name].why[-1] == "6 of 7 cards of this model with this symptom had it."
    rarer = chances(known("chip", 0, 9))
    assert rarer[name].chance < before[name].chance


@pytest.mark.parametrize(
    "past",
    [
        known("chip", 6, 7, model="another-4"),
        known("chip", 6, 7, symptoms=frozenset({"dead"})),
        known("chip", 6, 7, designators=("U999",)),
        known("firmware", 6, 7),
        known("chip", 0, 0),
    ],
)
def test_cards_of_another_model_symptom_or_place_say_nothing(past):
    assert {name: entry.chance for name, entry in chances(past).items()} == pytest.approx(
        {name: entry.chance for name, entry in chances().items()}
    )


@given(st.integers(0, 500), st.integers(0, 500))
def test_a_share_moves_a_cause_within_bounds_and_the_more_cards_had_it_the_more(had, more):
    of = had + more
    found = times(PastCause("", "chip", (), frozenset(), had, of))
    assert 1 / MOST_TIMES <= found <= MOST_TIMES
    if had < of:
        assert found <= times(PastCause("", "chip", (), frozenset(), had + 1, of))


def test_a_part_on_the_watchlist_is_likelier_and_says_so_once():
    before = chances()
    name = next(key for key in before if key[0] == "chip")
    (part,) = name[1]
    twice = (Watched(part, "Joint of a memory chip"), Watched(part, "Bent there"))
    after = chances(watched=twice)
    assert after[name].why[-1] == f"{part} is on the model's watchlist: joint of a memory chip."
    assert sum("watchlist" in line for line in after[name].why) == 1
    assert after[name].chance == pytest.approx(before[name].chance) or after[name].chance > before[name].chance
    others = [key for key in before if part not in key[1] and key[0] not in {"unknown", "none"} and before[key].chance]
    for other in others:
        odds = before[name].chance / before[other].chance
        assert after[name].chance / after[other].chance == pytest.approx(WATCHED_TIMES * odds)
    unknown = chances(watched=(Watched("U999", "Nothing here"),))
    assert {key: entry.chance for key, entry in unknown.items()} == pytest.approx(
        {key: entry.chance for key, entry in before.items()}
    )
