"""Steadiness from the log: by simulated heatsinks whose end temperature is known; idle is refused."""

from __future__ import annotations

import contextlib
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.proving.log import Log, UnknownColumns, guess_columns, headers_of, read_log
from uvrix.core.proving.steady import steadiness


def heated(seed, minutes, tau_s, end_c=78.0, idle_minutes=2.0, noise=0.4, watts=(24.0, 210.0), step=2.0):
    """A log of a card that rests, then works: temperature towards its end, with noise that hangs together."""
    dice = np.random.default_rng(seed)
    seconds = np.arange(0, 60 * (idle_minutes + minutes) + step, step)
    busy = seconds >= 60 * idle_minutes
    rest = 36.0
    celsius = np.where(busy, end_c - (end_c - rest) * np.exp(-(seconds - 60 * idle_minutes) / tau_s), rest)
    drift = np.zeros(len(seconds))
    for at in range(1, len(seconds)):
        drift[at] = 0.9 * drift[at - 1] + dice.normal(0, noise * math.sqrt(1 - 0.81))
    celsius = np.round(celsius + drift, 1)
    power = np.where(busy, watts[1], watts[0]) + dice.normal(0, 3, len(seconds))
    clock = np.where(busy, 1900, 300) + dice.normal(0, 8, len(seconds))
    figures = {"celsius": celsius, "watts": power, "mhz": clock}
    return Log(tuple(seconds), {name: tuple(float(entry) for entry in them) for name, them in figures.items()})


def still_to_come(minutes, tau_s, end_c=78.0):
    return (end_c - 36.0) * math.exp(-60 * minutes / tau_s)


def test_what_is_called_steady_is_steady_and_what_is_steady_is_called_so():
    """Over heatsinks drawn at random: of those called steady nearly all have less to come than is allowed."""
    dice = np.random.default_rng(91_234)
    steady = wrong = missed = settled = 0
    for seed in range(400):
        tau = float(np.exp(dice.uniform(np.log(60), np.log(900))))
        minutes = float(dice.uniform(10, 60))
        found = steadiness(heated(seed, minutes, tau), 5, 1.5)
        come = still_to_come(minutes, tau)
        if found.word == "steady":
            steady += 1
            wrong += come > 1.5
        if come < 0.3:
            settled += 1
            missed += found.word != "steady"
    assert steady > 80
    assert wrong <= 0.05 * steady
    assert missed <= 0.1 * settled


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10**6), st.floats(60, 600), st.floats(10, 40))
def test_longer_never_makes_a_steady_card_unsteady_by_much(seed, tau, minutes):
    short, long = (steadiness(heated(seed, m, tau, noise=0.1), 5, 1.5) for m in (minutes, minutes + 45))
    if short.word == "steady" and still_to_come(minutes, tau) < 0.5:
        assert long.word == "steady"


def test_a_rising_card_is_told_how_long_about():
    found = steadiness(heated(5, 15, 600), 10, 1.5)
    assert found.word == "rising"
    needed = 600 * math.log(42 / 1.5) / 60 - 15
    assert found.more_minutes == pytest.approx(needed, rel=0.5)
    assert "still rising" in found.why


def test_the_clock_alone_proves_nothing():
    """An hour at rest, a log that begins under load without a figure, minutes too few."""
    idle = Log(tuple(float(number) for number in range(0, 3600, 5)), {"celsius": (36.0,) * 720, "watts": (24.0,) * 720})
    assert steadiness(idle, 30, 1.5).word == "no-load-known"
    assert "Idle proves nothing" in steadiness(idle, 30, 1.5).why
    assert steadiness(idle, 30, 1.5, load_watts=150).word == "idle"
    flat = Log(idle.seconds, {"celsius": (71.0,) * 720, "watts": (215.0,) * 720})
    assert steadiness(flat, 30, 1.5).word == "no-load-known"
    assert steadiness(flat, 30, 1.5, load_watts=150).word == "steady"
    assert steadiness(Log(idle.seconds, {"celsius": (36.0,) * 720}), 30, 1.5).word == "no-load-known"
    few = steadiness(heated(1, 12, 60), 30, 1.5)
    assert few.word == "too-short"
    assert few.loaded_minutes == pytest.approx(12, abs=0.2)


COLUMNS = {"seconds": "time", "celsius": "core temp", "watts": "board power", "mhz": "clock", "fan": "fan rpm"}
TEXT = "time,core temp,board power,clock,fan rpm\n0,36,24,300,900\n2,37.5,200,1900,1200\n4,,210,1905,1210\n"


def test_a_log_is_read_by_the_shops_columns():
    found = read_log(TEXT.encode(), COLUMNS)
    assert found.seconds == (0, 2, 4)
    assert found.figures["watts"] == (24, 200, 210)
    assert math.isnan(found.figures["celsius"][2])
    assert headers_of(TEXT.encode())[1] == "core temp"
    assert guess_columns(headers_of(TEXT.encode())) == COLUMNS
    assert read_log(TEXT.replace(",", ";").replace("37.5", "37,5").encode(), COLUMNS).figures["celsius"][1] == 37.5


def test_times_of_day_pass_midnight():
    text = "time,core temp\n23:59:58,40\n00:00:01,41\n2026-11-26 00:00:04.5,42\n"
    assert read_log(text.encode(), COLUMNS).seconds == (0, 3, 6.5)


@pytest.mark.parametrize(
    ("text", "place", "found"),
    [
        ("", "1", "an empty file"),
        ("time,core temp\n0,36\n0,37\n", "3", "the time 0 s after 0 s"),
        ("time,core temp\n0,36\n1,warm\n", "3", "warm"),
        ("time,core temp\n0,36\n", "2", "1 samples"),
        ("time,core temp\n0,\n1,\n", "3", "no temperature"),
        ("time,core temp\n,36\n1,37\n", "2", "no time"),
    ],
)
def test_a_bad_log_is_refused_by_line(text, place, found):
    with pytest.raises(Refusal) as refused:
        read_log(text.encode(), COLUMNS)
    assert refused.value.place == place
    assert found in refused.value.found


def test_unknown_columns_are_named_so_that_they_can_be_said_once():
    with pytest.raises(UnknownColumns) as refused:
        read_log(b"t,x\n0,1\n1,2\n", COLUMNS)
    assert refused.value.headers == ("t", "x")


@settings(deadline=None)
@given(st.binary(max_size=200))
def test_no_bytes_break_the_reader(data):
    with contextlib.suppress(Refusal):
        read_log(data, COLUMNS)
