"""Lots: decoded by the shop's rules, never guessed; judged with the doubt of small numbers; priced both ways."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.stock.lots import (
    Chip,
    LotOutcomes,
    Prices,
    Risk,
    decode,
    heat_kills,
    judge_lots,
    one_or_all,
    read_rules,
    usual_share,
)

RULES = read_rules(
    {
        "rules": [
            {"name": "ousel", "vendor": "Ousel", "pattern": r"O(?P<type>[A-Z]\d) (?P<year>\d{2})(?P<week>\d{2})"},
            {"name": "marram", "pattern": r"(?P<vendor>MARRAM) (?P<code>[A-Z]{3})", "type": "M8"},
        ]
    }
)


@given(st.integers(0, 99), st.integers(1, 53))
def test_a_date_code_is_read_and_any_gaps_are_no_difference(year, week):
    found = decode(f"  OK2   {year:02d}{week:02d} ", RULES)
    assert found is not None
    assert (found.vendor, found.type, found.year, found.week) == ("Ousel", "K2", 2000 + year, week)
    assert found.key == f"Ousel K2 {2000 + year}-{week:02d}"


@given(st.text(max_size=30))
def test_what_no_rule_reads_whole_is_no_lot(text):
    found = decode(text, RULES)
    assert found is None or found.rule in {"ousel", "marram"}
    assert decode(f"{text} and more OK2 2614 besides", RULES) is None


def test_a_week_that_is_none_is_not_guessed_and_a_code_serves_where_no_date_is():
    assert decode("OK2 2654", RULES) is None
    found = decode("MARRAM QRS", RULES)
    assert found is not None
    assert (found.key, found.year) == ("MARRAM M8 QRS", None)


@pytest.mark.parametrize(
    ("pattern", "found"),
    [
        ("(?P<year>", "linear-time"),
        (r"(?P<wafer>\d)", "wafer"),
        (r"\d\d", "no named group"),
        (r"(?P<year>\d)\1", "line"),
    ],
)
def test_a_rule_that_does_not_do_is_refused_by_its_path(pattern, found):
    with pytest.raises(Refusal) as refused:
        read_rules({"rules": [{"pattern": pattern}]})
    assert refused.value.place == "$.rules[0].pattern"
    assert found in f"{refused.value.found} {refused.value.expected}"


@given(st.integers(0, 60), st.integers(0, 60), st.integers(0, 40), st.integers(0, 40))
def test_a_share_lies_in_its_span_and_more_failures_never_make_a_lot_look_better(seen, more, failed, others):
    failed = min(failed, seen)
    rows = [LotOutcomes("a", seen, failed), LotOutcomes("b", 40 + more, min(others, 40))]
    judged = {lot.lot: lot for lot in judge_lots(rows)}
    assert all(0 <= judgement.low <= judgement.high <= 1 and 0 <= judgement.share <= 1 for judgement in judged.values())
    if failed < seen:
        worse = {lot.lot: lot for lot in judge_lots([LotOutcomes("a", seen, failed + 1), rows[1]])}
        assert worse["a"].worse >= judged["a"].worse - 1e-9


def test_small_numbers_make_no_bad_lot_and_many_do():
    rest = LotOutcomes("rest", 400, 12)
    once = next(lot for lot in judge_lots([LotOutcomes("x", 1, 1), rest]) if lot.lot == "x")
    assert not once.suspect
    assert once.high - once.low > 0.2
    many = next(lot for lot in judge_lots([LotOutcomes("x", 12, 7), rest]) if lot.lot == "x")
    assert many.suspect
    assert "7 of 12 failed; other lots 12 of 400" in many.why
    fine = next(lot for lot in judge_lots([LotOutcomes("x", 40, 1), rest]) if lot.lot == "x")
    assert not fine.suspect
    with pytest.raises(ValueError, match="3 failed of 2"):
        judge_lots([LotOutcomes("x", 2, 3)])


@settings(deadline=None, max_examples=5)
@given(st.integers(0, 10_000))
def test_spans_hold_what_they_say_on_simulated_lots(seed):
    """Of lots whose true share is drawn at random, nine in ten lie within their 90 % span."""
    rng = np.random.default_rng(seed)
    inside, many = 0, 120
    for _ in range(many):
        true = float(rng.beta(0.5, 9.5))
        seen = int(rng.integers(1, 30))
        rows = [LotOutcomes("x", seen, int(rng.binomial(seen, true))), LotOutcomes("rest", 400, 20)]
        judged = next(lot for lot in judge_lots(rows) if lot.lot == "x")
        inside += judged.low - 0.002 <= true <= judged.high + 0.002
    assert inside / many >= 0.82


@given(st.lists(st.tuples(st.floats(0, 60), st.integers(0, 5), st.floats(0, 0.6)), max_size=11), st.floats(0, 0.2))
def test_one_chip_is_cheaper_and_riskier_the_worse_the_lot(rest, kills):
    chips = [Chip(f"U{at}", away, cycles, share) for at, (away, cycles, share) in enumerate(rest)]
    risk, prices = Risk(kills=kills), Prices(chip=9, work=30, start=25, comeback=120)
    only, every = one_or_all(["U99"], chips, risk, prices)
    assert only.price <= every.price
    assert 0 <= only.fails <= 1
    assert only.expected == pytest.approx(only.price + only.fails * prices.comeback)
    assert len(every.sites) == len(chips) + 1
    worse = [Chip(chip.site, chip.away_mm, chip.cycles, min(1.0, share + 0.2))
             for chip, (_, _, share) in zip(chips, rest, strict=True)]  # fmt: skip
    assert one_or_all(["U99"], worse, risk, prices)[0].fails >= only.fails


def test_chips_whose_lot_nobody_read_are_never_said_to_hold():
    chips = [Chip("U1", 50.0, 0, None), Chip("U2", 50.0, 0, None)]
    prices = Prices(chip=9, work=30, start=25, comeback=120)
    known = one_or_all(["U9"], chips, Risk(kills=0.0), prices, 0.1)[0]
    assert known.fails == pytest.approx(0.19)
    assert "Nobody read the lot of U1, U2: taken as all chips seen here, 10" in known.why
    nothing = one_or_all(["U9"], chips, Risk(kills=0.0), prices)[0]
    assert "not counted" in nothing.why
    assert usual_share([]) is None
    assert usual_share([LotOutcomes("x", 20, 2)]) == pytest.approx(2.5 / 24)


@given(st.floats(0, 50), st.floats(0, 50), st.integers(0, 6))
def test_heat_kills_less_the_farther_and_more_the_more_worn(near, far, cycles):
    near, far = sorted((near, far))
    risk = Risk()
    assert heat_kills(Chip("U1", far, cycles, 0), risk) <= heat_kills(Chip("U1", near, cycles, 0), risk)
    assert heat_kills(Chip("U1", near, cycles, 0), risk) <= heat_kills(Chip("U1", near, cycles + 1, 0), risk)
