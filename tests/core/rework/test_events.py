"""Rework replayed: cycles add up over any sequence of events and moves, a chip is in one place, debts follow events."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.rework.acts import DOES, HEATS, OF_THE_CARD
from uvrix.core.rework.events import Event, Ledger, check, misfits, original, replay, unbaked, worked_on
from uvrix.core.rework.limits import OPEN_HOURS

CARDS, SITES = ("A-1", "B-2"), ("U11", "U12", "U13")
CHIPS = [original(card, site) for card in CARDS for site in SITES] + ["S-1", "S-2"]
START = datetime(2026, 1, 5, 9, 0, tzinfo=UTC)


@st.composite
def histories(draw):
    """A history that fits: events at random, without those that do not fit what stands, as the shop refuses them."""
    events: list[Event] = []
    ledger = Ledger()
    for number in range(draw(st.integers(0, 40))):
        do = draw(st.sampled_from(list(DOES)))
        card, site = draw(st.sampled_from(CARDS)), draw(st.sampled_from(SITES)) if do not in OF_THE_CARD else ""
        chip_in = draw(st.sampled_from(CHIPS)) if do in {"place", "swap"} else ""
        solder = draw(st.sampled_from(["leaded", "lead-free", "low-melt", ""]))
        at = START + timedelta(minutes=10 * number)
        event = Event(at, do, card, site, "", chip_in, solder, id=f"e{number}")
        try:
            check(ledger, event)
        except Refusal:
            continue
        # what the shop keeps: the chip that was worked on, by its label
        event = Event(at, do, card, site, worked_on(ledger, event), chip_in, solder, id=f"e{number}")
        events.append(event)
        ledger = replay(events)
    return events


@given(histories())
def test_cycles_add_up_over_any_sequence_of_events_and_moves(events):
    ledger = replay(events)
    for card in CARDS:
        for site in SITES:
            expected = sum(HEATS[event.do].site for event in events if (event.card, event.site) == (card, site))
            assert ledger.site_cycles.get((card, site), 0) == expected
    for chip in CHIPS:
        expected = sum(HEATS[event.do].chip for event in events if event.chip == chip)
        expected += sum(HEATS[event.do].chip_in for event in events if event.chip_in == chip)
        # the ovens of the cards that it was on when they were heated
        baked = [(at, event.card) for at, event in enumerate(events) if event.do == "bake"]
        there = [(replay(events[:at]).where(chip), card) for at, card in baked]
        expected += sum(place is not None and place[0] == card for place, card in there)
        assert ledger.chip_heats(chip) == expected


@given(histories(), st.integers(0, 40))
def test_history_is_append_only_and_a_longer_one_never_takes_a_cycle_back(events, many):
    early, late = replay(events[:many]), replay(events)
    assert all(late.site_cycles[place] >= cycles for place, cycles in early.site_cycles.items())
    assert all(late.chip_cycles[chip] >= cycles for chip, cycles in early.chip_cycles.items())


@given(histories())
def test_a_chip_is_in_one_place_and_no_place_holds_two(events):
    ledger = replay(events)
    there = [ledger.chip_at(card, site) for card in CARDS for site in SITES]
    held = [chip for chip in there if chip]
    assert len(held) == len(set(held))
    for chip in CHIPS:
        where = ledger.where(chip)
        assert (where is not None) == (chip in held)
        if where:
            assert ledger.chip_at(*where) == chip


@given(histories())
def test_a_place_owes_a_chip_exactly_while_it_is_empty_and_a_flush_while_low_melt_lies_below_leaded(events):
    ledger = replay(events)
    for card in CARDS:
        for site in SITES:
            place = (card, site)
            empty = ledger.chip_at(*place) is None
            assert (place in ledger.emptied_by) == (empty and place not in ledger.cut), "what was cut stays empty"
            rows = [event for event in events if (event.card, event.site) == place]
            last = max((at for at, row in enumerate(rows) if row.do == "flushed"), default=-1)
            rest = rows[last + 1 :]
            low = next((at for at, entry in enumerate(rest) if entry.alloy_on == "low-melt"), None)
            owed = low is not None and any(entry.alloy_on == "leaded" for entry in rest[low:])
            assert (place in ledger.owes_flush) == owed


@given(histories(), st.data())
def test_without_its_event_a_promise_is_gone_and_what_it_had_ended_is_owed_again(events, data):
    """Any step that others do not rest on may be taken back: what is owed then is what the rest alone owes."""
    if not events:
        return
    gone = data.draw(st.sampled_from(events))
    rest = [event for event in events if event is not gone]
    try:
        left = replay(rest)
    except Refusal:
        return
    assert gone.id not in {*left.emptied_by.values(), *left.owes_flush.values()}
    place = (gone.card, gone.site)
    if gone.do == "place":
        assert place in left.emptied_by
    if gone.do == "remove":
        assert place not in left.emptied_by or left.emptied_by[place] != gone.id
        empties = {"remove", "cut-layers"}
        assert left.chip_at(*place) is not None or any(entry.do in empties for entry in rest)


@pytest.mark.parametrize(
    ("events", "found"),
    [
        ([("remove", "U11", ""), ("remove", "U11", "")], "U11 empty"),
        ([("place", "U11", "S-1")], "A-1/U11 on U11"),
        ([("remove", "U11", ""), ("place", "U11", "A-1/U12")], "on U12 of A-1"),
        ([("cut-layers", "U11", ""), ("place", "U11", "S-1")], "layers cut out"),
        ([("unsolder-lead", "U11", "")], "no injection lead at U11"),
        ([("fit-coil", "U11", "")], "U11 not lifted"),
        ([("lift-coil", "U11", ""), ("lift-coil", "U11", "")], "U11 lifted already"),
        ([("remove", "U11", ""), ("lift-coil", "U11", "")], "U11 empty"),
        ([("swap", "U11", "A-1/U11")], "already"),
    ],
)
def test_what_does_not_fit_is_refused_by_name(events, found):
    rows = [
        Event(START + timedelta(minutes=at), do, "A-1", site, "", chip) for at, (do, site, chip) in enumerate(events)
    ]
    with pytest.raises(Refusal) as refused:
        replay(rows)
    assert found in f"{refused.value.found} {refused.value.expected}"


@given(histories())
def test_leads_and_lifted_coils_are_open_from_their_act_to_the_one_that_ends_them(events):
    ledger = replay(events)
    for begin, ends, found in (
        ("solder-lead", {"unsolder-lead"}, ledger.leads),
        ("lift-coil", {"fit-coil", "remove", "swap", "cut-layers"}, ledger.lifted),
    ):
        for card in CARDS:
            for site in SITES:
                last = [
                    event.do
                    for event in events
                    if (event.card, event.site) == (card, site) and event.do in {begin, *ends}
                ]
                assert ((card, site) in found) == (last[-1:] == [begin])


def test_a_part_without_a_label_fills_its_place_and_is_no_other_places_part():
    at = [START + timedelta(minutes=number) for number in range(4)]
    off, on, off_again = (
        Event(at[0], "remove", "A-1", "U11"), Event(at[1], "place", "A-1", "U11"), Event(at[2], "remove", "A-1", "U11"),
    )  # fmt: skip
    ledger = replay([off, on])
    assert ledger.chip_at("A-1", "U11") == ""
    assert ledger.emptied_by == {}
    assert list(replay([off, on, off_again]).emptied_by) == [("A-1", "U11")]
    with pytest.raises(Refusal):
        check(ledger, Event(at[3], "place", "A-1", "U11"))


@given(histories())
def test_what_fits_no_more_without_an_act_is_named(events):
    assert misfits(events, CARDS) == {}
    for gone in events:
        rest = [event for event in events if event is not gone]
        resting = misfits(rest, CARDS)
        try:
            replay(rest)
        except Refusal:
            assert resting
        else:
            assert resting == {}


def test_a_chip_that_lay_in_the_open_is_baked_first():
    lifted = Event(START, "remove", "A-1", "U11", "A-1/U11")
    later = START + timedelta(hours=OPEN_HOURS + 6)
    ledger = replay([lifted])
    assert unbaked(ledger, "A-1/U11", START + timedelta(hours=OPEN_HOURS - 1)) is None
    assert unbaked(ledger, "A-1/U11", later) == pytest.approx(OPEN_HOURS + 6)
    baked = replay([lifted, Event(later, "baked", "", "", "A-1/U11")])
    assert unbaked(baked, "A-1/U11", later + timedelta(hours=1)) is None
