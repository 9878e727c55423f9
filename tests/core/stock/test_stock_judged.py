"""Values and their conflicts, donors and their halves, what to order."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.stock.donors import QUESTIONS, DonorBoard, Inspection, judge_donor, match_halves
from uvrix.core.stock.facts import connector_of, read_facts, small_of
from uvrix.core.stock.reorder import Supplied, hint, short_of
from uvrix.core.stock.settings import StockSettings, as_document, read_settings
from uvrix.core.stock.values import Noted, figure, known

NOW = datetime(2026, 3, 1, tzinfo=UTC)


def noted(text, source="measured", of="", days=0):
    return Noted("R1", text, source, of, "Mirren", NOW + timedelta(days=days))


@pytest.mark.parametrize(
    ("text", "value"),
    [("10k", 1e4), ("4k7", 4700), ("4R7", 4.7), ("0R001", 0.001), ("100n", 1e-7), ("2u2", 2.2e-6), ("22p", 22e-12),
     ("1.5uH", 1.5e-6), ("4,7 k", 4700), ("330", 330), ("2M2", 2.2e6), ("blue one", None), ("4.7k3", None), ("", None)],
)  # fmt: skip
def test_values_are_read_as_written_on_the_bench(text, value):
    assert figure(text) == (None if value is None else pytest.approx(value))


def test_the_surest_source_goes_before_and_what_disagrees_is_named():
    found = known("R1", [noted("9k6", days=1), noted("10k", "donor", "K7"), noted("4k7", "known", "J-0004", days=2)])
    assert found.best is not None
    assert (found.best.text, found.best.of) == ("10k", "K7")
    assert found.conflicts == ("4k7 known from another job J-0004 against 10k read off a donor K7",)
    assert known("R1", []).best is None


def test_notes_that_are_no_figures_disagree_where_they_differ():
    assert known("R1", [noted("not fitted"), noted("Not  fitted")]).conflicts == ()
    assert len(known("R1", [noted("not fitted"), noted("10k")]).conflicts) == 1


WHOLE = dict.fromkeys(QUESTIONS, True)


def test_a_donor_is_accepted_by_inspection_alone():
    assert judge_donor(Inspection()).verdict == "open"
    missing = Inspection(WHOLE, missing=("C12",), moved=("R3",), core="good")
    assert list(judge_donor(missing).why) == [
        "C12 is missing: put it right first",
        "R3 is moved: put it right first",
    ]
    repaired = Inspection(WHOLE, ("C12",), ("R3",), ("C12", "R3"), core="good", board="dead", memory="good")
    assert (judge_donor(repaired).verdict, judge_donor(repaired).serves) == (
        "accepted",
        ("core", "memory", "small parts"),
    )
    bent = judge_donor(Inspection({**WHOLE, "straight": False}, core="good"))
    assert (bent.verdict, bent.serves) == ("refused", ("small parts",))
    assert "straight" in bent.why[0]


def carcass(serial, core, board, model="teal", family="plover", **more):
    return DonorBoard(serial, model, family, core, board, **more)


def test_a_dead_core_and_a_dead_board_make_one_card():
    cards = [
        carcass("A", "dead", "good"),
        carcass("B", "good", "dead", memory="good"),
        carcass("C", "unknown", "dead"),
        carcass("D", "good", "dead", model="sandpiper"),
        carcass("E", "good", "dead", model="other", family="knot"),
        carcass("F", "good", "good"),
        carcass("G", "dead", "dead"),
    ]
    found = match_halves(cards, most_cycles=4)
    assert [(match.core_from, match.board_from) for match in found] == [("B", "A"), ("C", "A"), ("D", "A")]
    assert found[0].sure
    assert not found[1].sure
    assert [match.together for match in found] == ["core and memory", "core", "core and memory"]
    worn = match_halves([carcass("A", "dead", "good"), carcass("B", "good", "dead", core_cycles=3)], most_cycles=4)
    assert any("beyond the shop's 4" in why for why in worn[0].why)


halves = st.sampled_from(("good", "dead", "unknown"))


@given(st.lists(st.tuples(halves, halves, st.sampled_from(("m1", "m2")), st.sampled_from(("f", ""))), max_size=8))
def test_only_halves_are_matched_and_never_a_dead_one(rows):
    cards = [DonorBoard(str(at), model, family, core, board) for at, (core, board, model, family) in enumerate(rows)]
    by = {card.serial: card for card in cards}
    for match in match_halves(cards, 4):
        giver, taker = by[match.core_from], by[match.board_from]
        assert (giver.board, taker.core) == ("dead", "dead")
        assert giver.core != "dead"
        assert taker.board != "dead"
        assert giver.model == taker.model or giver.family == taker.family == "f"
        assert match.sure == (giver.core == "good" and taker.board == "good")


def test_the_chance_to_run_out_is_that_of_simulated_shops():
    """Rates drawn as the prior and the uses seen have them; what is asked for until an order comes is counted."""
    dice = np.random.default_rng(20260)
    rates = dice.gamma(7 + 0.5, 1 / 180, 200_000)
    asked = dice.poisson(rates * 14)
    for have in range(4):
        expected = float(np.mean(asked > have))
        assert short_of(Supplied("x", have, 7, 7, 180, 14)) == pytest.approx(expected, abs=0.005)


def test_an_order_brings_the_chance_below_the_limit_and_no_more_than_that():
    one = Supplied("balls", 200, 2400, 12, 180, 14)
    found = hint(one, 0.1)
    assert found is not None
    enough, less = (Supplied("balls", one.have + found.order - short, 2400, 12, 180, 14) for short in (0, 200))
    assert short_of(enough) <= 0.1 < short_of(less)
    assert hint(Supplied("x", 0, 0, 0, 180, 14), 0.1) is None
    assert hint(Supplied("x", 50, 3, 3, 180, 14), 0.1) is None


def test_facts_and_settings_are_checked_and_kept():
    with pytest.raises(Refusal):
        read_facts({"kind": "spoon"})
    assert small_of({"kind": "small", "part": "capacitor", "value": "10u", "size_mm": [1, 0.5]}).value == pytest.approx(
        1e-5
    )
    assert connector_of({"kind": "connector", "pitch_mm": 0.5}) is None
    with pytest.raises(Refusal):
        read_settings({"kills": 3})
    saved = as_document(read_settings({"chip": 9, "lead_days": 30, "rules": [{"pattern": "(?P<code>X+)"}]}))
    assert as_document(read_settings(saved)) == saved
    assert read_settings({}) == StockSettings()
