"""The current on the supply, the rungs of the ladder, and the inputs that a supervisor watches."""

from __future__ import annotations

import pytest

from tests.core.startup.test_chain import board
from uvrix.core.readings.notation import parse_value
from uvrix.core.startup.ladder import RUNGS, climbed, judge_draw, limit_to_set
from uvrix.core.startup.supervisors import refuses, supervised

IDLE = (0.9, 2.2)
DOCUMENT = {
    "rails": [{"id": "in12", "name": "12 V in"}],
    "supervisors": [
        {
            "designator": "U60",
            "inputs": [{"rail": "in12", "high_point": "C1", "low_point": "U60.1", "threshold_v": 10.0}],
        }
    ],
}


@pytest.mark.parametrize(
    ("amps", "limit", "word"),
    [(0.5, 0.5, "limited"), (0.49, 0.5, "limited"), (0.4, 0.5, "below"), (1.2, 1.2, "idle"), (0.5, None, "below")],
)
def test_a_current_at_its_limit_says_nothing_of_the_card(amps, limit, word):
    assert judge_draw(amps, IDLE, limit_amps=limit).word == word
    assert judge_draw(0.5, None, limit_amps=0.5).word == "limited"


@pytest.mark.parametrize(
    ("amps", "word"), [(0.05, "nothing"), (0.5, "below"), (0.9, "idle"), (3.2, "idle"), (3.4, "more")]
)
def test_the_current_says_how_far_it_started(amps, word):
    said = judge_draw(amps, IDLE)
    assert said.word == word
    assert "idles at 0.9 to 2.2 A" in said.says
    assert judge_draw(amps, None).word == "unknown"


def test_the_limit_to_begin_with():
    assert limit_to_set(IDLE, inputs_low=True)[0] == 0
    assert limit_to_set(IDLE, inputs_low=False)[0] == pytest.approx(0.45, abs=0.06)
    assert limit_to_set(None, inputs_low=False)[0] == 0.5


def test_every_rung_leaves_something_open_and_anothers_picture_counts_for_nothing():
    said = [climbed(rung, "card").says for rung in RUNGS]
    assert len(set(said)) == len(RUNGS)
    assert climbed("picture", "other").rung == "absent"


@pytest.mark.parametrize(
    ("read", "word", "reason"),
    [
        ({}, "not read", ""),
        ({"C1": "12.1"}, "not read", ""),
        ({"in12": "12.1", "U60.1": "12"}, "above", ""),
        ({"C1": "9"}, "below", "itself is at 9 V, under 10 V"),
        ({"C1": "12", "U60.1": "3.3"}, "path", "the sense path between them has gone high"),
        ({"C1": "OL"}, "below", "itself"),
        ({"C1": "12.1", "U60.1": "11.2"}, "path", "11.2 V at the pin"),
    ],
)
def test_both_ends_of_a_sense_path(read, word, reason):
    found = supervised(board(**DOCUMENT), {point: parse_value(value, "voltage") for point, value in read.items()})
    assert [sensed_input.word for sensed_input in found] == [word]
    assert reason in refuses(found)
    assert bool(refuses(found)) == (word in {"below", "path"})
