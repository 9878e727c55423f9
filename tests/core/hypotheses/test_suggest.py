"""Counts of past cards: agree with plain counting, drawn to the wider group while few, honest by simulation."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.hypotheses.suggest import PastCard, Watch, key_of, suggest
from uvrix.core.hypotheses.watchlist import read_watchlist

CAUSES = ("Joint of a chip", "core joints", "stage short")
CARD = st.builds(
    PastCard,
    st.integers(1, 10_000),
    st.frozensets(st.sampled_from(["artefacts", "hangs", "dead"]), max_size=2),
    st.sampled_from(["teal-8", "teal-12", "scaup-24"]),
    st.sampled_from(["plover", "dunlin", ""]),
    st.frozensets(st.sampled_from(CAUSES), min_size=1, max_size=2),
)


@given(st.lists(CARD, max_size=25, unique_by=lambda card: card.job))
def test_counts_are_those_of_plain_counting(past):
    for suggestion in suggest(["artefacts"], "teal-8", "plover", past, ()):
        alike = [card for card in past if "artefacts" in card.symptoms]
        own = [card for card in alike if card.model == "teal-8"]
        assert suggestion.everywhere.seen == len(alike)
        assert set(suggestion.everywhere.had) == {card.job for card in alike if suggestion.cause in card.causes}
        assert suggestion.model.seen == len(own)
        assert set(suggestion.model.had) == {card.job for card in own if suggestion.cause in card.causes}
        assert 0 <= suggestion.low <= suggestion.share <= suggestion.high <= 1 or suggestion.low <= suggestion.high
        assert suggestion.everywhere.had  # no cause without a card that had it


@given(st.lists(CARD, max_size=25, unique_by=lambda card: card.job))
def test_every_entry_of_the_watchlist_is_there_once_and_unseen_ones_come_last(past):
    watch = (Watch("Fan plug"), Watch("joint OF a  chip!"))
    found = suggest(["artefacts"], "teal-8", "plover", past, watch)
    keys = [key_of(suggestion.cause) for suggestion in found]
    assert len(keys) == len(set(keys))
    assert {key_of(candidate.cause) for candidate in watch} <= set(keys)
    seen = [bool(suggestion.everywhere.had) for suggestion in found]
    assert seen == sorted(seen, reverse=True)


def test_without_a_symptom_only_the_watchlist_speaks():
    past = [PastCard(1, frozenset({"dead"}), "teal-8", "", frozenset({"stage short"}))]
    assert suggest([], "teal-8", "", past, ()) == ()
    assert [suggestion.cause for suggestion in suggest([], "teal-8", "", past, [Watch("fan plug")])] == ["fan plug"]


def cards(had, seen, model="teal-8", family="plover", start=0):
    return [
        PastCard(start + at, frozenset({"dead"}), model, family, frozenset({"this" if at < had else "other"}))
        for at in range(seen)
    ]


def test_few_cards_are_drawn_to_their_family_and_many_speak_for_themselves():
    family = cards(18, 20, "teal-12", start=1000)
    few = {
        suggestion.cause: suggestion
        for suggestion in suggest(["dead"], "teal-8", "plover", [*cards(0, 1), *family], ())
    }["this"]
    many = {
        suggestion.cause: suggestion
        for suggestion in suggest(["dead"], "teal-8", "plover", [*cards(2, 40), *family], ())
    }["this"]
    assert 0.4 < few.share < 0.9
    assert many.share < 0.15
    assert few.high - few.low > 2 * (many.high - many.low)


def test_the_interval_holds_the_truth_about_as_often_as_it_says():
    """Shares drawn at random, twelve cards each: the central 90 % must hold the true share in 80 % or more."""
    dice = random.Random(20_261)
    held = 0
    for _ in range(400):
        truth = dice.betavariate(1.5, 4)
        had = sum(dice.random() < truth for _ in range(12))
        found = {
            suggestion.cause: suggestion
            for suggestion in suggest(["dead"], "teal-8", "plover", cards(had, 12), [Watch("this")])
        }
        held += found["this"].low <= truth <= found["this"].high
    assert held / 400 >= 0.8


def test_a_watchlist_is_read_and_refused_by_place():
    assert read_watchlist({"watch": [{"cause": "Fan plug", "always": True}]}) == (Watch("Fan plug", always=True),)
    for watch, place in (
        ([{"cause": "a"}, {"cause": "A!"}], "$.watch[1].cause"),
        ([{"cause": "…"}], "$.watch[0].cause"),
        ([{"look": "there"}], "$.watch[0]"),
    ):
        with pytest.raises(Refusal) as refused:
            read_watchlist({"watch": watch})
        assert refused.value.place == place
