"""Figures against a slow, obvious recount on random shops; spans cover as often as they say."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from uvrix.core.figures.counting import BYS, Case, figures, wanted
from uvrix.core.figures.shares import middle_of, share_of

MODELS, CAUSES, KINDS = ("Teal", "Scaup"), ("joint", "core", "plug"), ("reball", "replace")


@pytest.mark.parametrize("truth", [0.02, 0.1, 0.35, 0.5, 0.8, 0.97])
@pytest.mark.parametrize("of", [3, 8, 25, 120])
def test_spans_hold_the_truth_at_least_as_often_as_they_say(truth, of):
    """Whatever the truth and however few were seen: nine in ten spans hold it, less the chance of the simulation."""
    dice = np.random.default_rng(int(1000 * truth) + of)
    hits = dice.binomial(of, truth, 6000)
    held = [share_of(int(hit), of).low <= truth <= share_of(int(hit), of).high for hit in hits]
    assert np.mean(held) > 0.9 - 3 * (0.9 * 0.1 / 6000) ** 0.5


def test_spans_are_no_wider_than_they_need_to_be():
    dice = np.random.default_rng(5521)
    held = []
    for _ in range(6000):
        truth, of = float(dice.uniform(0.05, 0.95)), int(dice.integers(40, 200))
        found = share_of(int(dice.binomial(of, truth)), of)
        held.append(found.low <= truth <= found.high)
    assert 0.9 < np.mean(held) < 0.94


@given(st.integers(0, 200), st.integers(0, 200))
def test_a_share_lies_in_its_span_and_more_seen_make_it_narrower(hits, more):
    of = hits + more
    found = share_of(hits, of)
    assert 0 <= found.low <= found.high <= 1
    if of:
        assert found.low <= found.share <= found.high
        twice = share_of(2 * hits, 2 * of)
        assert twice.high - twice.low <= found.high - found.low + 1e-9
        assert found.few == (of < 8)
    else:
        assert (found.low, found.high, found.words) == (0.0, 1.0, "none seen")


def test_more_hits_than_seen_is_no_share():
    with pytest.raises(ValueError, match="3 of 2"):
        share_of(3, 2)


days = st.integers(0, 900).map(lambda number: date(2024, 1, 1) + timedelta(days=number))
cases = st.lists(
    st.builds(
        Case,
        number=st.integers(1, 10**6),
        model=st.sampled_from(MODELS),
        opened=days,
        causes=st.lists(st.sampled_from(CAUSES), max_size=3).map(tuple),
        parts=st.lists(st.sampled_from(("U1", "U2")), max_size=2).map(tuple),
        connectors=st.just(()),
        lots=st.lists(st.sampled_from(("L1", "L2")), max_size=2).map(tuple),
        kinds=st.lists(st.sampled_from(KINDS), max_size=3).map(tuple),
        repaired=st.sampled_from((None, True, False)),
        came_back=st.sampled_from((None, True, False)),
        minutes=st.dictionaries(st.sampled_from(("ohms", "rework")), st.floats(0, 500), max_size=2),
        price=st.none() | st.floats(0, 900),
        cost=st.floats(0, 90),
    ),
    max_size=25,
    unique_by=lambda case: case.number,
)


def recount(every, by, name):
    """The same, as one would count with a pencil."""
    found: dict[str, Any] = {"jobs": set(), "ended": 0, "repaired": 0, "known": 0}
    found |= {"back": set(), "minutes": [], "money": []}
    for case in every:
        names = {
            "model": [case.model],
            "cause": list(case.causes),
            "part": list(case.parts),
            "connector": list(case.connectors),
            "lot": list(case.lots),
            "period": [f"{case.opened.year} Q{[1, 1, 1, 2, 2, 2, 3, 3, 3, 4, 4, 4][case.opened.month - 1]}"],
            "kind": list(case.kinds),
            "school": [case.kinds[0]] if case.kinds else [],
        }[by]
        if name not in names:
            continue
        found["jobs"].add(case.number)
        if case.repaired is True or case.repaired is False:
            found["ended"] += 1
        if case.repaired is True:
            found["repaired"] += 1
            if case.came_back is not None:
                found["known"] += 1
                if case.came_back:
                    found["back"].add(case.number)
        if case.minutes:
            found["minutes"].append(sum(case.minutes.values()))
        if case.price is not None:
            found["money"].append(case.price - case.cost)
    return found


@settings(max_examples=150, deadline=None)
@given(cases, st.sampled_from(sorted(BYS)))
def test_figures_agree_with_a_slow_recount(every, by):
    rows = figures(every, by)
    assert len({row.name for row in rows}) == len(rows)
    for row in rows:
        slow = recount(every, by, row.name)
        assert set(row.jobs) == slow["jobs"]
        assert len(row.jobs) == len(slow["jobs"])
        assert (row.seen.hits, row.seen.of) == (len(slow["jobs"]), len(every))
        assert (row.repaired.hits, row.repaired.of) == (slow["repaired"], slow["ended"])
        assert (row.came_back.hits, row.came_back.of) == (len(slow["back"]), slow["known"])
        assert set(row.back) == slow["back"]
        assert len(row.not_repaired) == slow["ended"] - slow["repaired"]
        assert row.minutes.count == len(slow["minutes"])
        if slow["minutes"]:
            assert row.minutes.middle == pytest.approx(float(np.median(slow["minutes"])))
            assert row.minutes.low == pytest.approx(float(np.quantile(slow["minutes"], 0.25)))
        assert row.money.total == pytest.approx(sum(slow["money"]))


@given(cases, st.sampled_from(MODELS), st.sampled_from(CAUSES), days)
def test_what_is_wanted_is_all_of_it_and_nothing_else(every, model, cause, since):
    found = wanted(every, model, cause, since)
    slow = [entry for entry in every if entry.model == model and cause in entry.causes and entry.opened >= since]
    assert found == slow
    assert wanted(every) == every


def test_the_middle_of_nothing_is_none():
    assert middle_of([]).middle is None
    assert middle_of([3.0]).middle == 3
    assert figures([], "model") == ()
