"""When a reading has settled: noise settles, a charging capacitor not before its end, what jumps becomes a span."""

from __future__ import annotations

import math

import numpy as np
import pytest
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


# A time between samples that binary fractions hold exactly, so that a limit can be met exactly.
EXACT_S = 0.0625


def every(values, seconds=EXACT_S):
    return [Sample(number * seconds, value) for number, value in enumerate(values)]


def alternating(low, high, many=17):
    return every([low if number % 2 == 0 else high for number in range(many)])


@pytest.mark.parametrize(
    ("quantity", "low", "high", "state"),
    [
        # twelve parts in a thousand of the value
        *(("resistance", 1000.0, 1012.0, "settled"), ("resistance", 1000.0, 1012.1, "moving")),
        # half of what two leads tell apart
        *(("resistance", 0.0, 0.025, "settled"), ("resistance", 0.0, 0.0251, "moving")),
        *(("diode", 0.0, 0.004, "settled"), ("diode", 0.0, 0.0041, "moving")),
    ],
)
def test_samples_that_agree(quantity, low, high, state):
    assert settle(alternating(low, high), quantity).state == state


@pytest.mark.parametrize(
    ("times", "state"),
    [
        ((0.0, 0.1, 0.2, 0.3, 0.4), "settled"),
        ((0.0, 0.1, 0.2, 0.3, 0.39), "moving"),  # not long enough
        ((0.0, 0.05, 0.1, 0.15, 0.2, 0.25, 0.3), "moving"),
        ((0.0, 0.1, 0.2, 0.4), "moving"),  # too few of them
        ((0.0, 0.3, 0.6, 0.9, 1.2), "moving"),
        ((0.0, 1.0, 1.0, 1.0, 1.0, 1.0), "settled"),  # a meter that sends in bursts
    ],
)
def test_so_many_samples_over_so_long(times, state):
    assert settle([Sample(at, 10.0) for at in times], "resistance").state == state


@pytest.mark.parametrize(
    ("a_second", "state"),
    [(148.0, "settled"), (-148.0, "settled"), (152.0, "moving"), (-152.0, "moving")],
)
def test_it_is_still_on_its_way(a_second, state):
    """By fifteen parts in a thousand a second, over the last eight tenths of one."""
    ramp = every([1e4 + a_second * (number * EXACT_S - 1.0) for number in range(17)])
    assert settle(ramp, "resistance").state == state


@pytest.mark.parametrize(("a_second", "state"), [(0.5, "settled"), (0.5001, "moving")])
def test_it_is_still_on_its_way_where_a_meter_tells_no_less_apart(a_second, state):
    assert settle(every([a_second * number * EXACT_S for number in range(17)]), "frequency").state == state


@pytest.mark.parametrize(("at_s", "state"), [(2.0 - 0.8, "moving"), (1.19, "settled"), (0.9, "settled")])
def test_the_drift_is_that_of_the_last_eight_tenths_of_a_second(at_s, state):
    samples = [Sample(0.0, 100.0), Sample(at_s, 300.0), *(Sample(1.25 + 0.05 * n, 100.0) for n in range(15))]
    assert settle([*samples, Sample(2.0, 100.0)], "resistance").state == state


@pytest.mark.parametrize(
    ("value", "held", "state"),
    [
        *((105.0, 100.0, "held"), (105.1, 100.0, "settled"), (95.0, 100.0, "held"), (94.9, 100.0, "settled")),
        *((0.05, 0.0, "held"), (0.051, 0.0, "settled")),
    ],
)
def test_the_probe_has_not_moved_on(value, held, state):
    assert settle(every([value] * 17), "resistance", held=held).state == state


@pytest.mark.parametrize(
    ("times", "state"),
    [
        ((0.0, 0.15, 0.3, 0.45, 0.6), "overload"),
        ((0.0, 0.15, 0.3, 0.45, 0.59), "moving"),
        ((0.0, 0.2, 0.4, 0.6), "moving"),
    ],
)
def test_over_limit_is_believed_after_so_many_samples_over_so_long(times, state):
    assert settle([Sample(at, None) for at in times], "resistance").state == state


@pytest.mark.parametrize(("many", "state"), [(40, "moving"), (41, "unsteady")])
def test_what_jumps_is_offered_after_two_and_a_half_seconds(many, state):
    assert settle(alternating(100.0, 200.0, many), "resistance").state == state


@pytest.mark.parametrize(
    ("values", "state"),
    [
        # eight of ten steps up are not enough, nine are
        ((1, 2, 3, 2.5, 4, 5, 6, 5.5, 7, 8, 9), "unsteady"),
        ((1, 2, 3, 4, 5, 6, 5.5, 7, 8, 9, 10), "creeping"),
        # each third beyond the one before
        ((1, 2, 3, 1.5, 2, 2.5, 3, 4, 5), "unsteady"),
        ((1, 2, 3, 4, 5, 6, 4.5, 5, 5.5), "unsteady"),
        ((5, 6, 7, 8, 9, 10, 11, 12, 1, 2, 3, 4), "unsteady"),
        # a display that changes more seldom than it is asked: no step back is a step back
        ((1, 1, 2, 2, 3, 3, 4, 4, 5, 5, 6, 6), "creeping"),
        ((1, 1, 2, 2, 3, 3, 4, 4, 3, 3, 2, 2), "unsteady"),
        # too few to tell
        ((1, 2), "unsteady"),
    ],
)
@pytest.mark.parametrize("falling", [False, True])
def test_what_creeps_goes_one_way(values, state, falling):
    values = [100.0 - 7 * value if falling else 7.0 * value for value in values]
    assert settle(every(values, 3.0 / (len(values) - 1)), "resistance").state == state
