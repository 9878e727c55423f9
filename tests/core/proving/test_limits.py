"""Each threshold of the proof: what is said just inside it, on it and just outside, in figures on purpose."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from uvrix.core.proving.identity import Identity
from uvrix.core.proving.judge import Evidence, Said, judge, log_figures, under_load, usual_least, usual_most
from uvrix.core.proving.log import Log
from uvrix.core.proving.protocol import CHECK_KINDS, EMPTY, read_protocol
from uvrix.core.proving.steady import loaded, steadiness

CHECKS = {check.id: check for check in read_protocol(EMPTY)}
NOW = datetime(2026, 5, 1, 9, tzinfo=UTC)


def state(check, **seen):
    return judge(CHECKS[check], Evidence(**seen)).state


def log(**figures):
    many = len(next(iter(figures.values())))
    return Log(tuple(float(second) for second in range(many)), {name: tuple(them) for name, them in figures.items()})


@pytest.mark.parametrize(
    ("low", "high", "expected"),
    [
        *((5.0, 60.0, "passed"), (4.9, 60.0, "failed"), (30.0, 125.0, "passed"), (30.0, 125.1, "failed")),
    ],
)
def test_temperatures_that_can_be(low, high, expected):
    assert state("sensors", logs=[("log", log(celsius=[low, high]))]) == expected


@pytest.mark.parametrize(
    ("samples", "moves", "expected"),
    [(60, 0.0, "passed"), (61, 0.0, "failed"), (61, 0.49, "failed"), (61, 0.5, "passed"), (61, 0.51, "passed")],
)
def test_a_sensor_that_stands_still(samples, moves, expected):
    celsius = [50.0] * (samples - 1) + [50.0 + moves]
    assert state("sensors", logs=[("log", log(celsius=celsius))]) == expected


@pytest.mark.parametrize(("high", "expected"), [(359.9, "failed"), (360.0, "passed"), (360.1, "passed")])
def test_clocks_that_move(high, expected):
    assert state("clocks", logs=[("log", log(celsius=[40.0] * 3, mhz=[300.0, high, 300.0]))]) == expected


@pytest.mark.parametrize(
    ("falls_to", "warms_to", "expected"),
    [
        *((1709.0, 75.0, "failed"), (1710.0, 75.0, "passed"), (1500.0, 65.0, "failed"), (1500.0, 64.9, "passed")),
    ],
)
def test_a_clock_that_sags_with_heat(falls_to, warms_to, expected):
    rest, busy = 20, 60
    clock = [300.0] * rest + [1900.0] * (busy // 3) + [1800.0] * (busy // 3) + [falls_to] * (busy // 3)
    celsius = [40.0] * rest + [60.0] * (busy // 3) + [62.0] * (busy // 3) + [warms_to] * (busy // 3)
    watts = [20.0] * rest + [200.0] * busy
    assert state("clocks", logs=[("log", log(celsius=celsius, mhz=clock, watts=watts))]) == expected


@pytest.mark.parametrize(
    ("watts", "clock", "expected"),
    [
        *((390.0, [300.0, 310.0], "failed"), (150.0, [300.0, 310.0], "failed"), (149.9, [300.0, 310.0], "passed")),
        (390.0, [300.0, 1900.0], "passed"),
    ],
)
def test_power_that_cannot_be(watts, clock, expected):
    seen = log(celsius=[30.0, 45.0], mhz=clock, watts=[watts, watts])
    found = judge(CHECKS["sensors"], Evidence(logs=[("log", seen)]))
    assert found.state == expected
    assert ("sense path" in found.why[0]) == (expected == "failed")


@pytest.mark.parametrize(
    ("mib", "expected"), [(9800, "passed"), (9799, "failed"), (10200, "passed"), (10201, "failed")]
)
def test_memory_that_the_test_computer_sees(mib, expected):
    assert state("identity", identity=Identity(memory_mib=mib), expected_mib=10000) == expected


@pytest.mark.parametrize(
    ("width", "gt", "expected"),
    [(16, 16.0, "passed"), (15, 16.0, "failed"), (16, 15.9, "failed"), (17, 16.1, "passed")],
)
def test_a_link_narrower_or_slower_than_it_can(width, gt, expected):
    identity = Identity(width=width, gt_per_s=gt, most_gt_per_s=16.0)
    assert state("link", identity=identity, lanes=16) == expected


def test_a_usual_score_is_what_95_of_100_next_cards_reach():
    from scipy.special import stdtrit

    assert usual_least([1000.0, 1010.0]) is None, "two cards say nothing"
    scores = [1000.0, 1100.0, 900.0]
    logs = [math.log(score) for score in scores]
    wide = stdtrit(2, 0.95) * float(np.std(logs, ddof=1)) * math.sqrt(1 + 1 / 3)
    least, middle = usual_least(scores) or (0.0, 0.0)
    assert least == pytest.approx(math.exp(sum(logs) / 3 - wide))
    assert middle == pytest.approx(math.exp(sum(logs) / 3))
    alike, _ = usual_least([1000.0] * 3) or (0.0, 0.0)
    assert alike == pytest.approx(1000.0 * math.exp(-stdtrit(2, 0.95) * 0.005 * math.sqrt(4 / 3))), "never more alike"
    for score, expected in ((least - 0.01, "failed"), (least + 0.01, "passed")):
        assert state("score", score=score, usual_scores=scores) == expected


@pytest.mark.parametrize(("minutes", "expected"), [(59.9, "open"), (60.0, "passed"), (60.1, "passed")])
def test_minutes_of_a_check_by_hand(minutes, expected):
    assert state("loads", said={"loads": Said(True, NOW, minutes)}) == expected


@pytest.mark.parametrize(("hours", "expected"), [(7.99, "refused"), (8.0, "passed"), (8.01, "passed")])
def test_hours_off_before_a_cold_start(hours, expected):
    said = {"cold-start": Said(True, NOW)}
    assert state("cold-start", said=said, off_since=NOW - timedelta(hours=hours)) == expected


@pytest.mark.parametrize(("watts", "busy"), [(59.0, False), (60.0, True), (61.0, True)])
def test_what_is_under_load_by_power(watts, busy):
    """Six tenths of the way from rest at 0 W to 100 W, in a log long enough for its ends to be sure of."""
    power = [0.0] * 50 + [100.0] * 50 + [watts]
    found = loaded(log(celsius=[40.0] * 101, watts=power))
    assert found is not None
    assert bool(found[-1]) == busy


@pytest.mark.parametrize(("high", "known"), [(19.9, False), (20.0, True), (20.1, True)])
@pytest.mark.parametrize("name", ["watts", "mhz"])
def test_a_log_that_shows_a_load(name, high, known):
    found = loaded(log(celsius=[40.0] * 100, **{name: [10.0] * 50 + [high] * 50}))
    assert (found is not None) == known


@pytest.mark.parametrize(("clock", "busy"), [(1399.0, False), (1400.0, True), (1401.0, True)])
def test_a_clock_that_works(clock, busy):
    found = loaded(log(celsius=[40.0] * 101, mhz=[300.0] * 50 + [2000.0] * 50 + [clock]))
    assert found is not None
    assert bool(found[-1]) == busy


def worked(*, minutes, dip_s=0.0, celsius=70.0):
    """A log at rest, then under load, with a dip in the middle."""
    busy = np.zeros(int(60 + 60 * minutes + dip_s) + 1, bool)
    busy[60:] = True
    middle = 60 + int(30 * minutes)
    busy[middle : middle + int(dip_s)] = False
    power = np.where(busy, 200.0, 20.0)
    temperature = np.where(busy, celsius, 35.0)
    return log(celsius=list(temperature), watts=list(power))


@pytest.mark.parametrize(("dip_s", "whole"), [(9.0, True), (10.0, True), (11.0, False)])
def test_a_dip_that_ends_a_stretch_of_load(dip_s, whole):
    found = steadiness(worked(minutes=20, dip_s=dip_s), 5, 1.5, 100.0)
    assert (found.loaded_minutes > 15) == whole


@pytest.mark.parametrize(("minutes", "word"), [(0.4, "idle"), (0.6, "too-short")])
def test_less_than_half_a_minute_is_idle(minutes, word):
    assert steadiness(worked(minutes=minutes), 5, 1.5, 100.0).word == word


@pytest.mark.parametrize(("minutes", "word"), [(19.5, "too-short"), (20.5, "steady")])
def test_minutes_under_load_that_the_protocol_wants(minutes, word):
    assert steadiness(worked(minutes=minutes), 20, 1.5, 100.0).word == word


def test_degrees_that_may_still_come():
    """The same log is steady or rising by what is allowed; a degree and a half where nobody says otherwise."""
    seconds = np.arange(0.0, 1801.0, 2.0)
    rising = Log(
        tuple(seconds), {"celsius": tuple(78 - 42 * np.exp(-seconds / 500.0)), "watts": (200.0,) * len(seconds)}
    )
    come = steadiness(rising, 5, 1.5, 100.0).rest_c
    assert come is not None
    assert steadiness(rising, 5, come + 0.01, 100.0).word == "steady"
    nearly = steadiness(rising, 5, come - 0.01, 100.0)
    assert nearly.word == "rising"
    assert nearly.more_minutes is not None
    assert 0 < nearly.more_minutes < 0.5, "a hundredth of a degree is soon gone"
    assert CHECKS["stress"].rest_c == 1.5


def test_figures_are_those_of_a_log_s_last_tenth():
    figures = log_figures(log(celsius=[40.0] * 90 + [60.0] * 10))
    assert figures["temperature under load"] == ("°C", 60.0)
    assert log_figures(log(celsius=[40.0] * 96 + [60.0] * 4))["temperature under load"] == ("°C", 40.0)


@pytest.mark.parametrize(("high", "moves"), [(1.19, False), (1.2, True), (1.3, True)])
def test_a_clock_that_reads_nothing_at_rest_counts_from_one(high, moves):
    parked = log(celsius=[30.0, 45.0, 45.0], mhz=[0.0, high, 0.0], watts=[200.0] * 3)
    assert state("clocks", logs=[("log", parked)]) == ("passed" if moves else "failed")
    assert state("sensors", logs=[("log", parked)]) == ("passed" if moves else "failed"), "power that cannot be"


@pytest.mark.parametrize(("sagged", "expected"), [(12, "failed"), (9, "passed")])
def test_a_clock_sags_where_the_last_third_under_load_lies_below_the_first(sagged, expected):
    clock = [300.0] * 20 + [1900.0] * 40 + [1500.0] * sagged + [1900.0] * (20 - sagged)
    celsius = [40.0] * 20 + [60.0] * 40 + [75.0] * 20
    seen = log(celsius=celsius, mhz=clock, watts=[20.0] * 20 + [200.0] * 60)
    assert state("clocks", logs=[("log", seen)]) == expected


def test_a_clock_under_load_is_held_against_other_cards_of_the_model():
    """Never more alike than two parts in a hundred: the least is the bound, not the middle."""
    least, middle = usual_least([1900.0] * 4, 0.02) or (0.0, 0.0)
    assert (round(least), round(middle)) == (1803, 1900)
    for clock, expected in ((least + 1, "passed"), (least - 1, "failed")):
        seen = log(celsius=[40.0] * 40, mhz=[300.0] * 20 + [clock] * 20, watts=[20.0] * 20 + [200.0] * 20)
        found = judge(CHECKS["clocks"], Evidence(logs=[("log", seen)], usual_mhz=[1900.0] * 4))
        assert found.state == expected
    assert found.why == ("1802 MHz under load; 4 cards of this model about 1900, at least 1803 usual.",)


def test_a_usual_temperature_is_what_95_of_100_next_cards_stay_under():
    most, middle = usual_most([60.0, 62.0, 64.0]) or (0.0, 0.0)
    assert middle == pytest.approx(62.0)
    assert most > 66.0


@pytest.mark.parametrize(("hottest", "said"), [(90.0, ""), (90.1, "at most 90 allowed")])
def test_a_log_without_a_load_is_as_hot_as_its_hottest(hottest, said):
    check = replace(CHECKS["stress"], most_c=90.0)
    found = judge(check, Evidence(logs=[("log", log(celsius=[40.0, hottest, 40.0]))]))
    assert found.state == ("failed" if said else "refused")
    assert said in " ".join(found.why)


def test_a_log_that_was_idle_says_more_than_one_that_shows_no_load():
    unknown, idle = log(celsius=[40.0] * 40), worked(minutes=0.3)
    for logs in ([("a", unknown), ("b", idle)], [("b", idle), ("a", unknown)]):
        found = judge(replace(CHECKS["stress"], load_watts=None), Evidence(logs=logs))
        assert (found.state, found.why[0][:2]) == ("refused", "b:")


@pytest.mark.parametrize(("minutes", "expected"), [(None, "open"), (0.9, "open"), (1.0, "passed")])
def test_who_says_no_minutes_has_seen_none(minutes, expected):
    check = replace(CHECKS["loads"], minutes=1.0)
    assert judge(check, Evidence(said={"loads": Said(True, NOW, minutes)})).state == expected


def test_figures_under_load_are_those_of_two_samples_at_least():
    short = log(celsius=[40.0, 42.0, 44.0, 50.0, 60.0], watts=[20.0, 200.0, 200.0, 200.0, 200.0])
    assert under_load(short, "celsius", 100.0) == 55.0


@pytest.mark.parametrize(("watts", "busy"), [(1.0, True), (0.9, False), (float("nan"), False)])
def test_a_sample_without_its_power_is_under_no_load(watts, busy):
    found = loaded(log(celsius=[40.0], watts=[watts]), 1.0)
    assert found is not None
    assert bool(found[0]) == busy


@pytest.mark.parametrize(("samples", "known"), [(11, False), (12, True)])
def test_so_many_samples_under_load_are_a_curve(samples, known):
    seconds = tuple(6.0 * number for number in range(samples))
    found = steadiness(Log(seconds, {"celsius": (70.0,) * samples, "watts": (200.0,) * samples}), 1, 1.5, 100.0)
    assert (found.rest_c is not None) == known


def test_only_what_nobody_measures_is_said_by_hand():
    assert {kind for kind, said in CHECK_KINDS.items() if said.by_hand} == {"hand", "cold-start"}


@pytest.mark.parametrize(
    ("power", "known"),
    [
        ([10.0] * 5 + [20.0] * 5, True),  # the middle of every five samples
        ([10.0, 10.0, 20.0, 20.0], False),  # fewer are one stretch
        ([10.0] * 9 + [400.0], False),  # one that jumps is no load
        ([0.0] * 10, False),
        ([0.0] * 5 + [1.0] * 5, True),
    ],
)
@pytest.mark.parametrize("name", ["watts", "mhz"])
def test_a_load_shows_in_the_middle_of_short_stretches(power, known, name):
    assert (loaded(log(celsius=[40.0] * len(power), **{name: power})) is not None) == known


def test_a_log_that_never_reached_its_load_was_under_none():
    found = steadiness(log(celsius=[40.0] * 40, watts=[20.0] * 40), 5, 1.5, 100.0)
    assert (found.word, found.loaded_minutes) == ("idle", 0.0)
