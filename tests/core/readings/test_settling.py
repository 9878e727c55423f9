"""When a reading has settled: noise settles, a charging capacitor not before its end, what jumps becomes a span."""

from __future__ import annotations

import math

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.readings.settling import CREEP_S, OPEN_S, PATIENCE_S, Sample, settle

EVERY_S = 0.04
VALUES = st.floats(math.log(0.05), math.log(1e6)).map(math.exp)


def samples(values, start=0.0):
    return [Sample(start + number * EVERY_S, value) for number, value in enumerate(values)]


def first_answer(values, quantity="resistance", held=None):
    """What is said first that is no longer waiting, and after how many samples."""
    for many in range(1, len(values) + 1):
        found = settle(samples(values[:many]), quantity, held)
        if found.state not in {"moving", "creeping", "held"}:
            return found, many
    return settle(samples(values), quantity, held), len(values)


@given(VALUES, st.integers(0, 9999))
def test_a_steady_value_settles_at_what_it_is(value, seed):
    noise = np.random.default_rng(seed).normal(1, 0.001, 60)
    found, many = first_answer([None] * 4 + list(value * noise))
    assert found.state == "settled"
    assert math.isclose(found.low, value, rel_tol=0.01)
    assert many * EVERY_S < 2.0


@given(VALUES.filter(lambda value: value > 20), st.floats(0.05, 2.0))
def test_a_charging_capacitor_is_waited_for(value, tau_s):
    rising = [value * (1 - math.exp(-number * EVERY_S / tau_s)) for number in range(1, int(12 / EVERY_S))]
    found, _ = first_answer(rising)
    assert found.state == "settled"
    assert found.low > 0.95 * value


@given(VALUES.filter(lambda value: value > 5), st.floats(0.1, 0.6), st.integers(0, 9999))
def test_what_jumps_about_is_a_span_that_holds_where_it_was(value, share, seed):
    jumps = value * (1 + share * np.random.default_rng(seed).uniform(-1, 1, 120))
    found, many = first_answer(list(jumps))
    assert found.state == "unsteady"
    assert many * EVERY_S >= PATIENCE_S
    assert value * (1 - share) <= found.low < found.high <= value * (1 + share)


def test_what_creeps_for_ever_is_offered_as_a_span_in_the_end():
    creeping = [100 * (1.05**number) for number in range(400)]
    before = settle(samples(creeping[: int(PATIENCE_S / EVERY_S) + 5]), "resistance")
    assert before.state == "creeping"
    found, many = first_answer(creeping)
    assert found.state == "unsteady"
    assert many * EVERY_S >= CREEP_S


def test_over_limit_must_last():
    assert settle([], "resistance").state == "moving"
    assert settle(samples([None] * 6), "resistance").state == "moving"
    found = settle(samples([None] * (int(OPEN_S / EVERY_S) + 2)), "resistance")
    assert (found.state, found.low, found.high) == ("overload", None, None)


def test_what_was_stored_is_not_read_again_until_the_probe_moves():
    same, other = [42.0] * 60, [410.0] * 60
    assert settle(samples(same), "resistance", held=42.0).state == "held"
    assert first_answer([*same[:10], None, None, None, *same], held=42.0)[0].state == "settled", "lifted and put down"
    found, _ = first_answer([*same[:10], *other], held=42.0)
    assert (found.state, found.low) == ("settled", 410.0)


def test_contact_bounce_is_not_part_of_the_reading():
    found, _ = first_answer([None, 900.0, None, 3.0, None, *[50.0] * 40])
    assert (found.state, found.low) == ("settled", 50.0)
