"""Phases among their equals, and the load on those that are left."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.startup.test_chain import board
from uvrix.core.startup.phases import PhaseRead, compared, shares

FOUR = {"phases": [{"designator": f"U7{n}", "rail": "core", "point": f"L{n}", "amps": 50} for n in range(1, 5)]}
GOOD = {f"U7{n}": PhaseRead(500.0, 61.0 + n / 2) for n in range(1, 5)}


@pytest.mark.parametrize(
    ("read", "empty", "word"),
    [
        (PhaseRead(501.0, 62.0), (), "alike"),
        (PhaseRead(0.0, 40.0), (), "silent"),
        (PhaseRead(380.0, 62.0), (), "frequency"),
        (PhaseRead(500.0, 75.0), (), "hot"),
        (PhaseRead(500.0, 48.0), (), "cool"),
        (PhaseRead(), (), "not read"),
        (PhaseRead(500.0, 62.0), ("U73",), "empty"),
    ],
)
def test_the_phase_that_is_not_like_the_others(read, empty, word):
    found = {phase.designator: phase for phase in compared(board(**FOUR), {**GOOD, "U73": read}, empty)}
    assert found["U73"].word == word
    assert {phase.word for name, phase in found.items() if name != "U73"} == {"alike"}
    assert "U73" in found["U73"].says


def test_all_silent_at_idle_is_nothing_to_compare():
    found = compared(board(**FOUR), {name: PhaseRead(0.0, 30.0) for name in GOOD}, ())
    assert {phase.word for phase in found} == {"alike"}


@given(st.integers(0, 3), st.floats(1, 400))
def test_the_others_share_the_load_of_one_that_is_gone(gone, load):
    names = [f"U7{n}" for n in range(1, 5)]
    read = {**GOOD, **{name: PhaseRead(0.0, 30.0) for name in names[:gone]}}
    [share] = shares(compared(board(**FOUR), read, ()), {"core": load})
    assert share.each == pytest.approx(load / (4 - gone))
    assert share.within == (share.each <= 50)
    assert ("gone" in share.says) == (gone > 0)
    assert shares(compared(board(**FOUR), GOOD, names), {"core": load}) == ()
