"""The route: outside before the cooler, each side at once, each point once, never longer than going to the nearest."""

from __future__ import annotations

import itertools
import math

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from tests.core.readings.test_verdicts import PLACES, known, reading
from uvrix.core.readings.known import Library
from uvrix.core.readings.route import Stop, length, route
from uvrix.core.readings.slips import slip

# What has an unknown reach lies among what is under the cooler.
RANK = {"outside": 0, "cooler-off": 1, "elsewhere": 1, "microscope": 2}

STOPS = st.lists(
    st.builds(
        Stop,
        st.text("abcdef", min_size=1, max_size=4),
        st.sampled_from(sorted(RANK)),
        st.sampled_from(["front", "back"]),
        st.floats(0, 250),
        st.floats(0, 120),
    ),
    max_size=12,
    unique_by=lambda stop: stop.name,
)


@given(STOPS)
def test_each_point_once_in_the_order_of_reach_and_side(stops):
    names = route(tuple(stops))
    assert sorted(names) == sorted(stop.name for stop in stops)
    by_name = {stop.name: stop for stop in stops}
    order = [(RANK[by_name[name].reach], by_name[name].side == "back") for name in names]
    assert order == sorted(order)


@given(STOPS)
def test_the_way_is_never_longer_than_always_to_the_nearest(stops):
    outside = [stop for stop in stops if stop.reach == "outside" and stop.side == "front"]
    by_name = {stop.name: stop for stop in stops}
    way = [by_name[name] for name in route(tuple(stops)) if by_name[name] in outside]
    left, at, nearest = list(outside), (0.0, 0.0), []
    while left:
        stop = min(left, key=lambda entry: (math.dist(at, (entry.x_mm, entry.y_mm)), entry.name))
        left.remove(stop)
        nearest.append(stop)
        at = (stop.x_mm, stop.y_mm)
    assert length(way, (0.0, 0.0)) <= length(nearest, (0.0, 0.0)) + 1e-6


@given(st.floats(0.5, 5e4), st.floats(0.5, 2), st.sampled_from([1e-6, 1e-3, 1, 1e3, 1e6]))
@example(centre=1.0, share=1.1, off=1e-3)  # right on the limit
def test_a_slip_is_a_thousandfold_and_nothing_else(centre, share, off):
    library = Library(known("r1", *[f"{centre:.15f}"] * 3), PLACES)
    read = reading("r1", f"{centre * share * off:.18f}")
    found = slip(read, library.reference(read, ["teal-8"]))
    plausible_short = centre * share * off < 10 and not 1 / 1.1 <= share <= 1.1
    assert found == (None if off == 1 or plausible_short else off)


@given(STOPS)
@example(
    [
        Stop("a", "cooler-off", "front", 0, 46),
        Stop("b", "outside", "front", 0, 44),
        Stop("c", "elsewhere", "front", 0, 0),
        Stop("d", "cooler-off", "front", 0, 43),
    ]
)
def test_turning_no_part_of_the_way_round_makes_it_shorter(stops):
    by_name = {stop.name: stop for stop in stops}
    names, at = route(tuple(stops)), (0.0, 0.0)
    for _, group in itertools.groupby(names, key=lambda name: (RANK[by_name[name].reach], by_name[name].side)):
        way = [by_name[name] for name in group]
        for first, last in itertools.combinations(range(len(way) + 1), 2):
            turned = [*way[:first], *way[first:last][::-1], *way[last:]]
            assert length(turned, at) >= length(way, at) - 1e-6
        at = (way[-1].x_mm, way[-1].y_mm)


@pytest.mark.parametrize(
    ("stops", "names"), [(((0, 0.4), (0.9, 0)), ["P0", "P1"]), (((0, 0.9), (0.4, 0)), ["P1", "P0"])]
)
def test_the_way_begins_in_the_corner_of_the_board(stops, names):
    assert list(route(tuple(Stop(f"P{n}", "outside", "front", x, y) for n, (x, y) in enumerate(stops)))) == names


@pytest.mark.parametrize(("hertz", "factor"), [(0.9, 1e-3), (0.5, None)])
def test_a_clock_is_no_short_however_slow(hertz, factor):
    library = Library(known("r1", *["1800"] * 3, quantity="frequency", mode=""), PLACES)
    read = reading("r1", f"{hertz}", quantity="frequency", mode="")
    assert slip(read, library.reference(read, ["teal-8"])) == (None if factor is None else pytest.approx(factor))
    assert slip(reading("r1", "0", quantity="frequency", mode=""), library.reference(read, ["teal-8"])) is None
