"""Each threshold of Rework: what is said just inside it, on it and just outside, in figures on purpose."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest

from uvrix.core.boards.document import board_from_document
from uvrix.core.boards.packages import Package
from uvrix.core.rework.acts import HEATS
from uvrix.core.rework.curve import BUILT_IN, judge_curve
from uvrix.core.rework.events import Event, replay, unbaked
from uvrix.core.rework.images import Run, compare, explain
from uvrix.core.rework.near import Limits, hot_places, neighbours
from uvrix.core.rework.pads import PadRule, survey

START = datetime(2026, 1, 5, 9, 0, tzinfo=UTC)


def a_board(x_mm, kind="connector", landmark=None):
    """A chip of 10 by 10 mm at x 50, a part without a size at x_mm."""
    return board_from_document(
        {
            "format": "uvrix-board",
            "version": 1,
            "id": "plain",
            "name": "Plain",
            "outline_mm": [[0, 0], [200, 0], [200, 100], [0, 100]],
            "core": {"designator": "U1", "x_mm": 170, "y_mm": 50, "size_mm": [30, 30], "mark_corner": "top-left"},
            "sites": [{"designator": "U11", "side": "front", "x_mm": 50, "y_mm": 50, "size_mm": [10, 10]}],
            "parts": [{"designator": "J1", "kind": kind, "side": "front", "x_mm": x_mm, "y_mm": 50}],
            "landmarks": [landmark] if landmark else [],
        }
    )


def beside(x_mm, kind="connector", cycles=0, warmed=0):
    near = neighbours(a_board(x_mm, kind), "U11", Limits(), {"J1": cycles}, {"J1": warmed})
    return next((neighbour for neighbour in near if neighbour.designator == "J1"), None)


@pytest.mark.parametrize(("edge_mm", "near"), [(11.99, True), (12.0, True), (12.01, False)])
def test_what_hot_air_reaches(edge_mm, near):
    assert (beside(55 + edge_mm) is not None) == near


@pytest.mark.parametrize(("edge_mm", "shield"), [(5.99, True), (6.0, True), (6.01, False)])
def test_what_is_shielded(edge_mm, shield):
    assert beside(55 + edge_mm).shield == shield
    assert not beside(55 + edge_mm, kind="resistor").shield, "heat does a resistor no harm"


@pytest.mark.parametrize(("cycles", "warmed", "shield"), [(3, 0, False), (4, 0, True), (0, 3, False), (2, 2, True)])
def test_a_neighbour_near_its_last_cycle_is_shielded_farther_off(cycles, warmed, shield):
    assert beside(65, cycles=cycles, warmed=warmed).shield == shield


@pytest.mark.parametrize(("edge_mm", "hot"), [(14.99, True), (15.0, True), (15.01, False)])
def test_what_runs_hot_by_a_power_plug(edge_mm, hot):
    plug = {"kind": "power-plug", "x_mm": 55 + edge_mm + 4, "y_mm": 50, "size_mm": [8, 8]}
    assert ("U11" in hot_places(a_board(190, landmark=plug))) == hot


def test_cycles_that_the_shop_s_limits_allow():
    assert (Limits().site_cycles, Limits().chip_cycles) == (5, 4)


@pytest.mark.parametrize(
    ("do", "site", "chip", "comes"),
    [
        *(("remove", 1, 1, 0), ("clean-pads", 1, 0, 0), ("reball", 0, 1, 0), ("place", 1, 0, 1)),
        *(("renew-joint", 1, 1, 0), ("swap", 2, 1, 1), ("bridge-cleared", 1, 1, 0), ("flushed", 1, 0, 0)),
        *(("wire", 0, 0, 0), ("pad-repaired", 0, 0, 0), ("contact-repaired", 0, 0, 0), ("drilled", 0, 0, 0)),
        ("baked", 0, 0, 0),
    ],
)
def test_the_heat_of_each_act(do, site, chip, comes):
    heat = HEATS[do]
    assert (heat.site, heat.chip, heat.chip_in) == (site, chip, comes)


@pytest.mark.parametrize(("hours", "bake"), [(23.9, False), (24.0, False), (24.1, True)])
def test_a_chip_in_the_open_is_baked_after_a_day(hours, bake):
    ledger = replay([Event(START, "remove", "A", "U11")])
    assert (unbaked(ledger, "A/U11", START + timedelta(hours=hours)) is not None) == bake


def package(signals=20, supplies=40, grounds=40):
    classes = {f"S{n}": "signal" for n in range(signals)}
    classes |= {f"V{n}": "supply" for n in range(supplies)} | {f"G{n}": "ground" for n in range(grounds)}
    return Package("plain", {}, classes, {})


@pytest.mark.parametrize(
    ("torn", "verdict"),
    [
        *((["S"] * 2, "fixable"), (["S"] * 3, "marginal"), (["S"] * 5, "marginal"), (["S"] * 6, "donor")),
        *((["V"] * 4, "fixable"), (["V"] * 5, "marginal"), (["V"] * 10, "marginal"), (["V"] * 11, "donor")),
        *((["G"] * 4, "fixable"), (["G"] * 5, "marginal"), (["G"] * 10, "marginal"), (["G"] * 11, "donor")),
    ],
)
def test_pads_that_may_be_torn(torn, verdict):
    """Two and five signals; a tenth and a quarter of forty supply or ground pads."""
    states = {f"{letter}{number}": "torn" for number, letter in enumerate(torn)}
    assert survey(package(), states, PadRule()).verdict == verdict


@pytest.mark.parametrize(
    ("alloy", "peak", "above_s", "ramp", "verdict"),
    [
        *(("sn63pb37", 205.0, 60, 2, "good"), ("sn63pb37", 204.9, 60, 2, "too-cold")),
        *(("sn63pb37", 230.0, 60, 2, "good"), ("sn63pb37", 230.1, 60, 2, "too-hot")),
        *(("sac305", 230.0, 60, 2, "good"), ("sac305", 229.9, 60, 2, "too-cold")),
        *(("sac305", 250.0, 60, 2, "good"), ("sac305", 250.1, 60, 2, "too-hot")),
        *(("sac305", 240.0, 30.1, 2, "good"), ("sac305", 240.0, 29.9, 2, "too-short")),
        *(("sac305", 240.0, 89.9, 2, "good"), ("sac305", 240.0, 90.1, 2, "too-long")),
        *(("sac305", 240.0, 60, 2.99, "good"), ("sac305", 240.0, 60, 3.01, "too-fast")),
    ],
)
def test_a_curve_in_its_alloy_s_window(alloy, peak, above_s, ramp, verdict):
    """Up at `ramp`, held, and straight down again, so that it is above the reference for so many seconds."""
    reference = BUILT_IN[alloy].reference_c
    up, down = (peak - reference) / ramp, (peak - reference) / 2
    hold = above_s - up - down
    at = (reference - 25) / ramp
    samples = [(0.0, 25.0), (at, reference), (at + up, peak), (at + up + hold, peak), (at + above_s, reference)]
    assert hold > 0
    assert judge_curve(samples, BUILT_IN[alloy]).verdict == verdict


@pytest.mark.parametrize(("changed", "kind"), [(100, "other-edition"), (101, "unlike")])
def test_an_image_of_which_more_than_a_tenth_differs_is_another(changed, kind):
    assert compare(bytes(1000), b"\xff" * changed + bytes(1000 - changed)).kind == kind


@pytest.mark.parametrize(("bits", "kind"), [(50, "bit-decay"), (51, "other-edition")])
def test_single_bits_are_few_up_to_a_twentieth(bits, kind):
    new = bytearray(1000)
    for number in range(bits):
        new[2 * number] = 1
    assert compare(bytes(1000), bytes(new)).kind == kind


@pytest.mark.parametrize(
    ("length", "text", "words"),
    [
        *((4, "ABCD", "a text"), (3, "ABC", "a setting"), (9, "ABC......", "a block"), (8, "........", "a setting")),
        *((9, ".........", "a block"), (9, "ABCDEF...", "a text"), (12, "ABCDEFG.....", "a block")),
    ],
)
def test_what_a_run_of_changed_bytes_looks_like(length, text, words):
    assert explain(Run(0, length, 4 * length, text, "")).startswith(words)
