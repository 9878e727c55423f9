"""What is to be heeded before a place is heated: just inside, on and just outside what the shop allows."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest

from uvrix.core.rework.events import Event, replay
from uvrix.core.rework.heed import LotSeen, Planned, Surroundings, heed
from uvrix.core.rework.near import Neighbour
from uvrix.core.rework.settings import Settings
from uvrix.core.values.words import times

START = datetime(2026, 3, 2, 9, tzinfo=UTC)
USUAL = Settings()


def heated(many, chip="A/U11"):
    """A ledger in which a joint of U11 was renewed so many times."""
    return replay([Event(START + timedelta(hours=n), "renew-joint", "A", "U11", chip, id=str(n)) for n in range(many)])


def around(near=(), lots=None, known=None, now=START):
    return Surroundings(near, False, lots or {}, known or {}, now)


def neighbour(name, cycles=0, warmed=0, behind=False):
    return Neighbour(name, "memory", "front", behind, 4.0, cycles, warmed, True, "near")


def said(many, do="renew-joint", **more):
    return heed(heated(many), "A", Planned("U11", do), around(**more), USUAL)


@pytest.mark.parametrize("many", range(8))
def test_a_place_and_its_chip_are_warned_of_once_the_step_would_be_one_too_many(many):
    found = said(many)
    assert any("U11 was heated" in entry and "A/U11" not in entry for entry in found) == (
        many + 1 > USUAL.limits.site_cycles
    )
    assert any(entry.startswith("A/U11 was heated") for entry in found) == (many + 1 > USUAL.limits.chip_cycles)


def test_a_chip_that_comes_is_counted_over_all_cards_and_baked_dry_after_a_day():
    limit = USUAL.limits.chip_cycles
    ledger = heated(limit, chip="S-1")
    planned = Planned("U12", "place", chip_in="S-1")
    assert heed(ledger, "A", planned, around(), USUAL) == (
        f"S-1 was heated {times(limit)}, here and on other cards; the shop allows {limit}.",
    )
    lifted = replay([Event(START, "remove", "B", "U1", "S-2", id="1")])
    dry, wet = START + timedelta(hours=USUAL.open_hours), START + timedelta(hours=USUAL.open_hours + 1)
    planned = Planned("U12", "place", chip_in="S-2")
    assert heed(lifted, "A", planned, around(now=dry), USUAL) == ()
    assert heed(lifted, "A", planned, around(now=wet), USUAL) == (
        "S-2 lay in the open for 25 hours: bake it first, moisture bursts it.",
    )


def test_the_lot_of_the_chip_itself_and_of_its_neighbours():
    near = [neighbour("U12"), neighbour("U13"), neighbour("U14")]
    lots = {"U11": "KX", "U12": "KX", "U13": "QZ"}
    assert said(0, near=near, lots=lots) == ("U12 next to it is of the same lot, KX: heat may take it too.",)
    lots["U14"] = "KX"
    assert said(0, near=near, lots=lots, known={"KX": LotSeen(3, 12), "QZ": LotSeen(9, 9)}) == (
        "U11 is of lot KX: 3 of 12 failed here, 25\u00a0%. One, or all of it?",
        "U12, U14 next to it are of the same lot, KX: heat may take them too.",
    )
    assert said(0, near=near, lots={"U11": "KX"}, known={"KX": LotSeen(0, 12)}) == ()


@pytest.mark.parametrize("cycles", range(8))
def test_a_worn_neighbour_is_named_with_how_often(cycles):
    limit = USUAL.limits.site_cycles
    found = said(0, near=[neighbour("U12", cycles, 1), neighbour("U13", cycles, 1, behind=True)])
    assert bool(found) == (cycles + 1 >= limit)
    if found:
        assert found == (f"U12 next to it was heated or warmed {times(cycles + 1)}.",)


def test_how_often_in_words():
    assert [times(number) for number in (0, 1, 2, 3)] == ["0 times", "once", "twice", "3 times"]
