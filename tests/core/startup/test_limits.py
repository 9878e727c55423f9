"""Each threshold of the powered card: what is said just inside it, on it and just outside, in figures on purpose."""

from __future__ import annotations

import pytest

from tests.core.startup.test_chain import board
from uvrix.core.readings.notation import Value
from uvrix.core.readings.points import Places
from uvrix.core.readings.reading_file import Reading
from uvrix.core.startup.chain import Chain, Node, chain_of, states
from uvrix.core.startup.curve import read_curve
from uvrix.core.startup.isolate import isolate
from uvrix.core.startup.ladder import at_limit, judge_draw, limit_to_set
from uvrix.core.startup.phases import PhaseRead, compared
from uvrix.core.startup.refuted import without_refuted
from uvrix.core.startup.supervisors import supervised

IDLE = (1.0, 2.0)


def node(name, *needs, weight=1.0, parts=(), low=0.9, high=1.1):
    return Node(name, name, "rail", needs, low, high, None, 1.0, parts, weight)


def places(*names):
    return Places({}, {}, frozenset(), dict.fromkeys(names, ""))


def volts(name, low, high=None):
    return Reading(name, "voltage", Value(low, low if high is None else high), "", "ground")


@pytest.mark.parametrize(
    ("amps", "word"),
    [
        *((0.249, "nothing"), (0.25, "below"), (0.251, "below")),
        *((0.999, "below"), (1.0, "idle"), (2.999, "idle"), (3.0, "idle"), (3.001, "more")),
    ],
)
def test_the_current_against_what_the_model_idles_at(amps, word):
    assert judge_draw(amps, IDLE).word == word


@pytest.mark.parametrize(("amps", "stands"), [(0.969, False), (0.97, True), (0.971, True)])
def test_a_supply_at_its_limit(amps, stands):
    assert at_limit(amps, 1.0) == stands
    assert at_limit(amps * 3, 3.0) == stands
    assert not at_limit(amps, 0.0)
    assert not at_limit(amps, None)


@pytest.mark.parametrize(("low", "limit"), [(0.5, 0.3), (0.6, 0.3), (0.8, 0.4), (2.0, 1.0)])
def test_the_limit_to_begin_with_is_half_of_idle_and_not_too_little_to_see(low, limit):
    assert limit_to_set((low, 3.0), inputs_low=False)[0] == pytest.approx(limit)
    assert limit_to_set(None, inputs_low=False)[0] == 0.5


@pytest.mark.parametrize(
    ("low", "high", "state", "above"),
    [
        *((0.9, 1.1, "present", False), (0.8999, 1.0, "missing", False), (1.0, 1.1001, "missing", False)),
        *((1.1001, 1.2, "missing", True), (1.2 - 0.1, 1.1, "present", False)),
        (None, None, "missing", False),
    ],
)
def test_a_node_is_present_with_its_whole_span_in_its_band(low, high, state, above):
    chain = Chain((node("a"),), borrowed=False)
    found, _ = states(chain, [Reading("a", "voltage", Value(low, high), "", "ground")], places("a"))
    assert (found["a"].state, found["a"].over) == (state, above)


@pytest.mark.parametrize(
    ("read", "state"), [(1.619, "missing"), (1.62, "present"), (1.98, "present"), (1.981, "missing")]
)
def test_without_a_map_a_rail_is_present_within_a_tenth(read, state):
    from uvrix.core.boards.document import board_from_document

    board = board_from_document(
        {
            "format": "uvrix-board",
            "version": 1,
            "id": "plain",
            "name": "Plain",
            "outline_mm": [[0, 0], [200, 0], [200, 100], [0, 100]],
            "core": {"designator": "U1", "x_mm": 100, "y_mm": 50, "size_mm": [30, 30], "mark_corner": "top-left"},
            "sites": [{"designator": "U11", "side": "front", "x_mm": 60, "y_mm": 50}],
            "rails": [{"id": "1v8", "name": "1.8 V", "volts": 1.8}],
        }
    )
    found, _ = states(chain_of(board), [volts("1v8", read)], places("1v8"))
    assert found["1v8"].state == state


def test_a_reading_is_wrong_once_in_two_hundred():
    """Two nodes of equal weight, one read missing: the other is left the odds of a wrong reading, and no more."""
    chain = Chain((node("a"), node("b")), borrowed=False)
    for doubt, given in ((0.005, {}), (0.02, {"doubt": 0.02})):
        said = isolate(chain, [volts("a", 0.0)], places("a", "b"), **given)
        chances = {suspect.node.id: suspect.chance for suspect in said.suspects}
        assert chances["b"] / chances["a"] == pytest.approx(doubt / (1 - doubt))


@pytest.mark.parametrize(
    ("khz", "celsius", "word"),
    [
        *((525.0, 60.0, "alike"), (525.1, 60.0, "frequency"), (475.0, 60.0, "alike"), (474.9, 60.0, "frequency")),
        *((500.0, 65.0, "alike"), (500.0, 65.1, "hot"), (500.0, 55.0, "alike"), (500.0, 54.9, "cool")),
    ],
)
def test_phases_among_their_equals(khz, celsius, word):
    phases = {"phases": [{"designator": f"U{n}", "rail": "core"} for n in range(5)]}
    read = {f"U{n}": PhaseRead(500.0, 60.0) for n in range(1, 5)} | {"U0": PhaseRead(khz, celsius)}
    assert compared(board(**phases), read, ())[0].word == word


@pytest.mark.parametrize(("read", "word"), [(2, "alike"), (3, "hot")])
def test_so_many_phases_tell_which_is_warm(read, word):
    phases = {"phases": [{"designator": f"U{n}", "rail": "core"} for n in range(3)]}
    warm = {"U0": PhaseRead(500.0, 90.0), "U1": PhaseRead(500.0, 60.0), "U2": PhaseRead(500.0, 60.0)}
    kept = dict(list(warm.items())[:read])
    assert compared(board(**phases), kept, ())[0].word == word


@pytest.mark.parametrize(
    ("before", "pin", "word"),
    [
        *((12.0, 11.4, "above"), (12.0, 11.39, "path"), (12.0, 12.63, "above"), (12.0, 12.64, "path")),
        *((1.0, 0.9, "above"), (1.0, 0.89, "path")),
    ],
)
def test_both_ends_of_a_sense_path(before, pin, word):
    document = {"supervisors": [{"designator": "U60", "inputs": [{"rail": "r", "high_point": "H", "low_point": "L"}]}]}
    found = supervised(board(**document), {"H": Value(before, before), "L": Value(pin, pin)})
    assert found[0].word == word


@pytest.mark.parametrize(("pin", "word"), [(10.0, "above"), (9.99, "path")])
def test_a_supervisor_s_threshold(pin, word):
    entry = {"rail": "r", "high_point": "H", "low_point": "L", "threshold_v": 10.0}
    document = {"supervisors": [{"designator": "U60", "inputs": [entry]}]}
    assert supervised(board(**document), {"H": Value(10.1, 10.1), "L": Value(pin, pin)})[0].word == word
    assert supervised(board(**document), {"H": Value(9.99, 9.99)})[0].word == "below"


def test_a_part_replaced_without_effect_keeps_a_twentieth_of_its_blame():
    chain = Chain((node("a", weight=2.0, parts=("U1", "U2")),), borrowed=False)
    assert without_refuted(chain, {"U1"}).nodes[0].weight == pytest.approx(2.0 * (1 + 0.05) / 2)
    assert without_refuted(chain, {"U1", "U2"}).nodes[0].weight == pytest.approx(2.0 * 0.05)


def log(*levels, every_s=0.02):
    """A start at 12 V: (seconds, amperes) one after another."""
    samples, at = [], 0.0
    for seconds, amps in levels:
        for _ in range(round(seconds / every_s)):
            samples.append((at, 12.0, amps))
            at += every_s
    return samples


@pytest.mark.parametrize(("rise", "steps"), [(0.061, 2), (0.059, 1)])
def test_a_step_of_a_start_is_six_in_a_hundred_of_the_peak(rise, steps):
    assert read_curve(log((0.5, 1.0 - rise), (0.5, 1.0)), 5.0).steps == steps


@pytest.mark.parametrize(("every_s", "steps"), [(0.079, 2), (0.081, 1)])
def test_a_step_is_seen_again_within_eight_hundredths_of_a_second(every_s, steps):
    """Where the log is too thin for that, what is left is its last sample."""
    assert read_curve(log((0.8, 0.2), (0.8, 1.0), every_s=every_s), 5.0).steps == steps


def test_a_rise_in_the_last_sample_alone_is_a_step():
    """Nothing shows that it would not have held."""
    assert read_curve([*log((0.4, 0.2)), (0.42, 12.0, 1.0)], 5.0).steps == 2


def test_the_end_of_a_start_is_what_it_settles_at():
    """The last half second counts, what was before it does not."""
    found = read_curve(log((1.0, 3.0), (0.52, 1.0)), 5.0)
    assert (found.settled_amps, found.peak_amps) == (1.0, 3.0)
    assert read_curve(log((1.0, 3.0), (0.2, 1.0)), 5.0).settled_amps == 3.0
