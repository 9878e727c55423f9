"""A part's life: in one place at a time, replayed from its events, agreed on by both sides of every move."""

from __future__ import annotations

import itertools
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.rework.acts import HEATS
from uvrix.core.rework.events import Event, Ledger, check, original, replay
from uvrix.core.stock.life import (
    Happening,
    Place,
    begun,
    check_move,
    check_placing,
    genealogy,
    lives,
    traffic,
)

START = datetime(2026, 1, 1, 8, tzinfo=UTC)
CARDS, SITES, STOCK = ("K1", "K2", "K3"), ("U1", "U2"), ("P-1", "P-2", "P-3")
LABELS = (*(original(card, site) for card in CARDS for site in SITES), *STOCK)


def at(number):
    return START + timedelta(minutes=number)


def rework(number, do, card="K1", site="U1", chip="", chip_in=""):
    return Happening(at(number), do, chip, chip_in, card, site, id=str(number))


def move(number, do, label, to="", condition="", amount=None):
    return Happening(at(number), do, label, to=to, condition=condition, id=str(number), amount=amount)


def event(one):
    return Event(one.at, one.do, one.card, one.site, one.chip, one.chip_in, id=one.id)


@st.composite
def histories(draw):
    """What a shop could enter: every step is checked as the services do, and left out where it is refused."""
    found = []
    steps = draw(
        st.lists(
            st.tuples(
                st.sampled_from(
                    ("remove", "place", "swap", "reball", "put", "lent", "back", "lost", "found", "received")
                ),
                st.sampled_from(CARDS),
                st.sampled_from(SITES),
                st.sampled_from(LABELS),
                st.sampled_from(("tray 1", "tray 2", "Lowen")),
            ),
            max_size=40,
        )
    )
    for number, (do, card, site, label, to) in enumerate(steps):
        every = lives(found)
        life = every.get(label) or begun(label, on_card="/" in label)
        try:
            if do in {"remove", "place", "swap", "reball"}:
                coming = label if do in {"place", "swap"} else ""
                ledger = replay([event(happening) for happening in found if happening.card or happening.do == "reball"])
                one = rework(number, do, "" if do == "reball" else card, "" if do == "reball" else site, "", coming)
                if do == "reball":
                    one = rework(number, do, "", "", label)
                check(ledger, event(one))
                if coming:
                    check_placing(life)
                if coming and life.place.kind == "nowhere" and "/" not in coming:
                    continue
                chip = one.chip or (ledger.chip_at(card, site) if one.site else "") or ""
                found.append(Happening(one.at, do, chip, coming, one.card, one.site, id=one.id))
            else:
                check_move(life, do, to)
                found.append(move(number, do, label, to))
        except Refusal:
            continue
    return found


@settings(max_examples=300, deadline=None)
@given(histories())
def test_a_part_is_in_exactly_one_place_and_a_place_on_a_card_holds_one(history):
    every = lives(history)
    on_card = [life.place.name for life in every.values() if life.place.kind == "card"]
    assert len(on_card) == len(set(on_card))
    ledger = replay([event(entry) for entry in history if entry.do in {"remove", "place", "swap", "reball"}])
    for life in every.values():
        # cycles and places are those that Rework has of it
        assert life.cycles == ledger.chip_cycles.get(life.label, 0)
        expected = ledger.where(life.label)
        assert (life.place.kind == "card") == (expected is not None), life
        if expected:
            assert life.place.name == "/".join(expected)


@settings(max_examples=300, deadline=None)
@given(histories())
def test_a_life_is_replayed_from_its_events_however_they_are_cut(history):
    whole = lives(history)
    for life in whole.values():
        own = [entry for entry in history if life.label in {entry.chip, entry.chip_in}]
        moved = [step.id for step in life.steps if step.id]
        assert moved == [entry.id for entry in own]
        times = [step.at for step in life.steps if step.at]
        assert times == sorted(times)
    # what was known at any time is what the events up to then say
    for cut in range(0, len(history), 7):
        early = lives(history[:cut])
        for label, life in early.items():
            assert [step.place for step in life.steps] == [step.place for step in whole[label].steps[: len(life.steps)]]


@settings(max_examples=300, deadline=None)
@given(histories())
def test_moves_between_cards_agree_seen_from_both_sides(history):
    every = lives(history)
    both = {card: traffic(card, every) for card in CARDS}
    for card in CARDS:
        for crossing in both[card].went:
            if crossing.other in CARDS:
                assert any(came.label == crossing.label and came.other == card for came in both[crossing.other].came)
        for crossing in both[card].came:
            if crossing.other in CARDS and every[crossing.label].place.card != crossing.other:
                assert any(went.label == crossing.label and went.other == card for went in both[crossing.other].went)


@settings(max_examples=200, deadline=None)
@given(histories())
def test_the_drawing_has_each_part_in_one_lane_at_a_time(history):
    every = lives(history)
    drawn = genealogy(every.values())
    assert [lane.y for lane in drawn.lanes] == list(range(len(drawn.lanes)))
    for label in every:
        mine = sorted(
            (stretch for stretch in drawn.stretches if stretch.label == label), key=lambda segment: segment.x1
        )
        for before, after in itertools.pairwise(mine):
            assert before.x2 == after.x1
        assert not mine or mine[-1].x2 == drawn.columns
        kind = every[label].place.kind
        if mine:
            assert (drawn.lanes[mine[-1].lane].kind == "card") == (kind == "card")


def test_a_swap_between_two_cards_is_told_in_words():
    every = lives(
        [
            rework(1, "remove", "K1", "U1", "K1/U1"),
            move(2, "put", "K1/U1", "tray 4"),
            rework(3, "remove", "K2", "U2", "K2/U2"),
            rework(4, "place", "K2", "U2", "", "K1/U1"),
        ]
    )
    life = every["K1/U1"]
    assert [step.words for step in life.steps] == [
        "came with K1",
        "removed from U1 of K1",
        "put away, in tray 4",
        "placed on U2 of K2",
    ]
    assert life.place == Place("card", "K2/U2")
    assert (life.cycles, every["K2/U2"].place.kind) == (2, "hand")
    assert [crossing.other for crossing in traffic("K1", every).went] == ["K2"]
    assert [crossing.other for crossing in traffic("K2", every).came] == ["K1"]


@pytest.mark.parametrize(
    ("before", "do", "to", "found"),
    [
        ([], "put", "tray 1", "on U1 of K1"),
        ([rework(1, "remove", chip="K1/U1")], "put", "", "nothing"),
        ([rework(1, "remove", chip="K1/U1"), move(2, "lent", "K1/U1", "Lowen")], "put", "tray 1", "lent to Lowen"),
        ([rework(1, "remove", chip="K1/U1"), move(2, "lost", "K1/U1")], "put", "tray 1", "lost"),
        ([rework(1, "remove", chip="K1/U1")], "back", "tray 1", "at the bench"),
        ([rework(1, "remove", chip="K1/U1")], "received", "tray 1", "at the bench"),
    ],
)
def test_a_move_that_does_not_fit_says_where_the_part_is(before, do, to, found):
    life = lives(before).get("K1/U1") or begun("K1/U1", on_card=True)
    with pytest.raises(Refusal) as refused:
        check_move(life, do, to)
    assert found in refused.value.found


def test_what_is_lent_lost_or_dead_is_not_placed():
    off = rework(1, "remove", chip="K1/U1")
    for then, found in (
        (move(2, "lent", "K1/U1", "Lowen"), "lent to Lowen"),
        (move(2, "scrapped", "K1/U1"), "scrapped"),
        (move(2, "condition", "K1/U1", condition="dead"), "dead"),
    ):
        with pytest.raises(Refusal) as refused:
            check_placing(lives([off, then])["K1/U1"])
        assert found in refused.value.found
    check_placing(lives([off, move(2, "put", "K1/U1", "tray 1")])["K1/U1"])


def test_pieces_are_counted():
    life = lives(
        [
            move(1, "received", "B", "jar", amount=500),
            move(2, "used", "B", amount=120),
            move(3, "received", "C", "jar"),
            move(4, "counted", "B", amount=350),
            move(5, "used", "B", amount=50),
        ]
    )
    assert (life["B"].amount, life["C"].amount) == (300, None)


def test_a_drawer_gives_one_piece_at_a_time_and_its_label_stays():
    took = [Happening(at(n), "place", card="K1", site=f"U{n}", id=str(n), drawer="BAG") for n in (2, 3)]
    found = lives([move(1, "received", "BAG", "tray 1", amount=10), *took])["BAG"]
    assert found.amount == 8
    assert found.place.kind != "card"
    assert [step.words for step in found.steps[1:]] == [f"one of it placed on {site} of K1" for site in ("U2", "U3")]


def test_an_oven_is_a_cycle_for_every_part_that_was_on_the_card():
    there, loose = original("K1", "U1"), original("K2", "U1")
    before = [rework(1, "renew-joint", "K1"), rework(2, "remove", "K2")]
    found = lives([*before, Happening(at(3), "bake", card="K1", id="3")])
    assert found[there].cycles == HEATS["renew-joint"].chip + 1
    assert found[loose].cycles == HEATS["remove"].chip


def test_an_empty_ledger_and_no_events_agree():
    assert lives([]) == {}
    assert Ledger().where("K1/U1") == ("K1", "U1")
    assert genealogy([]).columns == 0
