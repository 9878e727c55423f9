"""The proof right at its edges: exactly so many samples, exactly so long, and what nothing can be held against."""

from __future__ import annotations

import numpy as np
import pytest

from tests.core.proving.test_steady import heated
from uvrix.core.proving.identity import Identity
from uvrix.core.proving.judge import Evidence, judge
from uvrix.core.proving.limits import SAG_SAMPLES
from uvrix.core.proving.log import Log
from uvrix.core.proving.protocol import EMPTY, read_protocol
from uvrix.core.proving.steady import steadiness
from uvrix.core.proving.tailored import Repaired, tailored

CHECKS = {check.id: check for check in read_protocol(EMPTY)}


def log(seconds, **figures):
    return Log(
        tuple(float(second) for second in seconds), {name: tuple(map(float, them)) for name, them in figures.items()}
    )


@pytest.mark.parametrize(
    ("check", "state", "nothing_to_hold"),
    [("readings", "open", True), ("current", "open", True), ("ladder", "open", False), ("readings", "passed", False),
     ("current", "failed", False)],
)  # fmt: skip
def test_what_was_measured_and_has_no_like_is_said_to_have_none(check, state, nothing_to_hold):
    found = judge(CHECKS[check], Evidence(measured={check: (state, "so")}))
    assert (found.state, found.no_reference) == (state, nothing_to_hold)


def test_a_link_and_a_memory_size_that_no_model_expects_have_no_like():
    for check, seen in (("link", Identity(width=16)), ("identity", Identity(memory_mib=8192))):
        found = judge(CHECKS[check], Evidence(identity=seen))
        assert (found.state, found.no_reference) == ("refused", True)
    known = judge(CHECKS["link"], Evidence(identity=Identity(width=16), lanes=16))
    assert (known.state, known.no_reference) == ("passed", False)


def test_a_log_without_a_clock_tells_no_faked_draw():
    seconds = np.arange(100)
    warm = 40 + seconds * 0.1
    told = judge(CHECKS["sensors"], Evidence(logs=(("a", log(seconds, celsius=warm, watts=[200] * 100)),)))
    assert told.state == "passed"
    held = log(seconds, celsius=warm, watts=[200] * 100, mhz=[300] * 100)
    assert judge(CHECKS["sensors"], Evidence(logs=(("a", held),))).state == "failed"


@pytest.mark.parametrize(("busy", "state"), [(SAG_SAMPLES - 1, "passed"), (SAG_SAMPLES, "failed")])
def test_a_clock_sags_from_so_many_samples_under_load_on(busy, state):
    seconds = np.arange(4 * busy)
    load = np.arange(len(seconds)) >= 3 * busy
    falling = np.linspace(1900, 1200, busy)
    clock = np.where(load, np.concatenate([np.zeros(3 * busy), falling]), 300.0)
    warm = np.where(load, np.concatenate([np.zeros(3 * busy), np.linspace(60, 80, busy)]), 40.0)
    seen = log(seconds, celsius=warm, watts=np.where(load, 200.0, 20.0), mhz=clock)
    assert judge(CHECKS["clocks"], Evidence(logs=(("a", seen),))).state == state


def test_of_several_stress_logs_the_one_that_proves_most_counts_not_the_longest():
    steady, rising = heated(3, 45, 240.0), heated(4, 60, 6000.0)
    short = heated(5, 8, 100.0)
    assert steadiness(rising, 35, 1.5).word == "rising"
    assert judge(CHECKS["stress"], Evidence(logs=(("long", rising), ("good", steady)))).state == "passed"
    assert judge(CHECKS["stress"], Evidence(logs=(("good", steady), ("long", rising)))).state == "passed"
    first = judge(CHECKS["stress"], Evidence(logs=(("short", short), ("long", rising))))
    assert "still rising" in first.why[0]


@pytest.mark.parametrize(("seconds", "word"), [(29.0, "idle"), (30.0, "too-short")])
def test_half_a_minute_under_load_is_no_idling(seconds, word):
    at = np.arange(0.0, 120.0 + seconds + 1.0)
    busy = at >= 120.0
    seen = log(at[: int(120 + seconds) + 1], celsius=np.where(busy, 60, 40)[: int(120 + seconds) + 1],
               watts=np.where(busy, 200, 20)[: int(120 + seconds) + 1])  # fmt: skip
    assert steadiness(seen, 35, 1.5).word == word


def test_of_two_stretches_of_load_just_as_long_the_first_counts():
    at = np.arange(0.0, 1500.0)
    first, second = (at >= 100) & (at < 600), (at >= 800) & (at < 1300)
    celsius = np.where(first, 60.0, np.where(second, 75.0, 40.0))
    seen = log(at, celsius=celsius, watts=np.where(first | second, 200.0, 20.0))
    assert steadiness(seen, 1, 1.5).at_c == pytest.approx(60.0)


def test_only_the_outputs_are_asked_for_socket_by_socket():
    found = {
        check.id: check.parts for check in tailored(tuple(CHECKS.values()), Repaired(False, ("OUT 1", "OUT 2"), ()))
    }
    assert found.pop("outputs") == ("OUT 1", "OUT 2")
    assert set(found.values()) == {()}
    plugs = {check.id: check.parts for check in tailored(tuple(CHECKS.values()), Repaired(False, (), ("PL1",)))}
    assert plugs.pop("plugs") == ("PL1",)
    assert set(plugs.values()) == {()}
