"""The likelihoods behind the findings are likelihoods: over all masks they add up to one."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.memory.evidence import natural
from uvrix.core.memory.finding.events import Events
from uvrix.core.memory.finding.hypotheses import Hypothesis
from uvrix.core.memory.finding.shapes import NOISE_BY_COUNT, marginal, one_line, one_of, scattered, two_lines, wide
from uvrix.core.memory.finding.traces import Trace, log_alias, log_bridge, log_mean, log_placing
from uvrix.core.memory.finding.weigh import explained, weigh

LINES = 0b1011_0010_0100
EVERY = np.arange(1, 1 << 12)


@pytest.mark.parametrize(
    "shape",
    [
        *(one_line(5), two_lines(2, 9), wide(LINES), scattered(LINES)),
        one_of([wide(0b11), wide(0b1100)], wide(0b1111)),
    ],
)
def test_a_shape_adds_up_to_one_over_all_masks(shape):
    for row in shape(EVERY):
        assert math.isclose(row.sum(), 1, rel_tol=1e-9)


def test_a_marginal_adds_up_to_one_over_the_lines():
    assert math.isclose(marginal(LINES)(np.array([1 << line for line in range(12)])).sum(), 1)


def test_noise_adds_up_to_one_over_all_words():
    assert math.isclose(sum(NOISE_BY_COUNT[k] * math.comb(32, k) for k in range(1, 33)), 1, rel_tol=1e-9)


def test_lines_that_are_not_known_say_nothing():
    for shape in (one_line(3), wide(0xFF), scattered(0xFF), two_lines(0, 1)):
        assert (shape(np.array([0])) == 1).all()


@given(st.lists(st.floats(-700, 700), min_size=1, max_size=6))
def test_log_mean_is_the_logarithm_of_a_mean(logs):
    exact = sum(math.exp(log - max(logs)) for log in logs) / len(logs)
    assert math.isclose(log_mean(logs), max(logs) + math.log(exact), abs_tol=1e-9)


def events(pairs):
    """Events on channels A0 and A1 from (channel, mask, weight)."""
    channel, mask, weight = (np.array(row) for row in zip(*pairs, strict=True))
    return Events(("A0", "A1"), channel.astype(np.int64), mask.astype(np.int64), weight * 1.0, weight * 1.0)


def hypotheses():
    return [
        Hypothesis("dq-line", ("U1",), (3,), {"A0": one_line(3)}, 0.1),
        Hypothesis("site", ("U1",), (), {"A0": wide(0xFFFFFFFF)}, 0.1),
        Hypothesis("controller", ("U1", "U2"), (), {"A0": wide(0xFFFFFFFF), "A1": wide(0xFFFFFFFF)}, 0.1),
    ]


@given(st.lists(st.tuples(st.integers(0, 1), st.integers(0, 2**32 - 1), st.integers(1, 50)), min_size=1, max_size=8))
def test_chances_add_up_to_one_and_leave_room_for_what_nobody_thought_of(pairs):
    weighed = weigh(events(pairs), hypotheses())
    assert math.isclose(sum(hypothesis.chance for hypothesis in weighed), 1, rel_tol=1e-9)
    assert all(0 <= hypothesis.chance <= 0.985 + 1e-9 for hypothesis in weighed if hypothesis.hypothesis is not None)
    assert [hypothesis.chance for hypothesis in weighed] == sorted(
        (hypothesis.chance for hypothesis in weighed), reverse=True
    )


def test_what_a_fault_explains_is_taken_off_and_the_rest_stays():
    seen = events([(0, 1 << 3, 40), (1, 0b1110001, 10)])
    share = explained(seen, hypotheses()[0])
    assert share[0] > 0.99
    assert share[1] == pytest.approx(0, abs=1e-9)
    assert seen.left(share).weight[1] == pytest.approx(10)


def trace(addresses, *, lines=(), expected=(), rows=None):
    counts = np.zeros(32, dtype=np.int64)
    return Trace(
        np.unique(np.array(addresses, dtype=np.int64)),
        rows or len(addresses),
        np.array(lines, dtype=np.int64),
        np.array(expected, dtype=np.int64),
        counts,
    )


def test_a_constant_address_bit_speaks_for_an_address_line_and_a_free_one_against():
    rng = np.random.default_rng(3)
    free = rng.integers(1 << 24, size=60) * 64
    stuck = free | (1 << 20)
    assert log_alias(trace(stuck), None) > 20
    assert log_alias(trace(free), None) < 0


def test_errors_from_the_first_address_on_speak_for_a_whole_chip():
    dense = trace([64 * n for n in range(50)])
    spread = trace([(1 << 26) * n for n in range(50)])
    assert log_placing(dense, "site") > log_placing(dense, "cells")
    assert log_placing(spread, "cells") > log_placing(spread, "site")
    assert log_placing(trace([]), "site") == 0


def test_addresses_that_fail_again_and_again_speak_for_cells():
    again = trace([4096, 81920, 1 << 25, 1 << 27], rows=80)
    assert log_placing(again, "cells") > 5


def test_words_that_differ_in_both_lines_speak_for_a_bridge():
    differ = trace([1, 2], lines=[3] * 12 + [7] * 12, expected=[1 << 3] * 24)
    alike = trace([1, 2], lines=[3] * 24, expected=[0] * 24)
    assert log_bridge(differ, 3, 7) > 5
    assert log_bridge(alike, 3, 7) < -5


def test_channels_are_listed_as_people_count():
    names = [f"{letter}{n}" for letter, n in itertools.product("BA", (10, 2, 1))]
    assert sorted(names, key=natural) == ["A1", "A2", "A10", "B1", "B2", "B10"]
