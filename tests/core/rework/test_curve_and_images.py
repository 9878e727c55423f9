"""Curves against a finely sampled recomputation; images against a byte-by-byte one; every refusal by its line."""

from __future__ import annotations

import itertools
import json
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.rework.curve import BUILT_IN, Alloy, judge_curve, read_alloys, read_curve, soak_seconds
from uvrix.core.rework.images import compare, explain

LEADED = BUILT_IN["sn63pb37"]
SAMPLES = st.lists(st.tuples(st.integers(1, 60), st.integers(20, 280)), min_size=2, max_size=20).map(
    lambda steps: [(float(sum(step for step, _ in steps[: at + 1])), float(c)) for at, (_, c) in enumerate(steps)]
)


@given(SAMPLES, st.floats(30, 150), st.floats(1, 100))
def test_the_soak_is_the_time_between_two_temperatures_before_the_peak(samples, low, wide):
    high = low + wide
    top = max(range(len(samples)), key=lambda at: samples[at][1])
    expected, parts = 0.0, 400
    for (s, a), (t, b) in itertools.pairwise(samples[: top + 1]):
        inside = sum(low < a + (b - a) * (part + 0.5) / parts <= high for part in range(parts))
        expected += inside * (t - s) / parts
    assert soak_seconds(samples, low, high) == pytest.approx(expected, abs=60 / parts * 2 * len(samples))


@given(SAMPLES)
def test_figures_agree_with_a_finely_walked_curve(samples):
    found = judge_curve(samples, LEADED)
    above, ramp, parts = 0.0, 0.0, 400
    for (s, a), (t, b) in itertools.pairwise(samples):
        ramp = max(ramp, (b - a) / (t - s))
        above += sum(a + (b - a) * (part + 0.5) / parts > 183 for part in range(parts)) * (t - s) / parts
    assert found.peak_c == max(c for _, c in samples)
    assert found.max_ramp_c_per_s == pytest.approx(ramp)
    assert found.above_liquidus_s == pytest.approx(above, abs=0.3 * len(samples))


@pytest.mark.parametrize(
    ("samples", "verdict"),
    [
        ([(0, 25), (100, 150), (160, 210), (170, 212), (230, 100)], "good"),
        ([(0, 25), (100, 150), (160, 190), (300, 100)], "too-cold"),
        ([(0, 25), (100, 170), (115, 206), (130, 100)], "too-short"),
        ([(0, 25), (100, 150), (160, 240), (180, 240), (240, 100)], "too-hot"),
        ([(0, 25), (100, 150), (160, 210), (290, 210), (400, 100)], "too-long"),
        ([(0, 25), (20, 150), (80, 210), (90, 212), (150, 100)], "too-fast"),
    ],
)
def test_each_verdict_by_its_limit(samples, verdict):
    found = judge_curve([(float(s), float(c)) for s, c in samples], LEADED)
    assert found.verdict == verdict
    assert len(found.why) == 5
    assert verdict == "good" or any(name.startswith(f"{verdict}: ") for name in found.why)


def test_on_the_limit_is_inside():
    alloy = Alloy(100.0, 200.0, 200.0, 150.0, 150.0, 1.0)
    assert judge_curve([(0.0, 0.0), (200.0, 200.0), (300.0, 0.0)], alloy).verdict == "good"


@pytest.mark.parametrize(
    ("text", "line"),
    [
        ("seconds,celsius\n0,25\n5,warm\n", "3"),
        ("seconds,celsius\n0,25\n0,26\n", "3"),
        ("seconds,celsius\n0,25\n", "1"),
        ("time,celsius\n0,25\n1,2\n", "1"),
        ("seconds,celsius\n0,nan\n1,2\n", "2"),
    ],
)
def test_a_curve_that_does_not_fit_is_refused_by_its_line(text, line):
    with pytest.raises(Refusal) as refused:
        read_curve(text.encode())
    assert refused.value.place == line


def test_own_alloys_are_read_and_a_window_upside_down_refused():
    limits = {"reference_c": 138, "min_peak_c": 160, "max_peak_c": 180}
    limits |= {"min_above_s": 30, "max_above_s": 90, "max_ramp_c_per_s": 2}
    assert read_alloys(json.dumps({"bismuth": limits}).encode())["bismuth"].reference_c == 138
    for change, place in (
        ({"min_peak_c": 190}, "$.bismuth.min_peak_c"),
        ({"min_above_s": 91}, "$.bismuth.min_above_s"),
    ):
        with pytest.raises(Refusal) as refused:
            read_alloys(json.dumps({"bismuth": {**limits, **change}}).encode())
        assert refused.value.place == place
    with pytest.raises(Refusal):
        read_alloys(b'{"bismuth": {"reference_c": 138}}')


@given(st.binary(max_size=300), st.binary(max_size=300))
def test_images_agree_with_a_byte_by_byte_comparison(old, new):
    found = compare(old, new)
    size = max(len(old), len(new))
    differ = [at for at in range(size) if old[at : at + 1] != new[at : at + 1]]
    assert (found.size, found.differing_bytes) == (size, len(differ))
    assert [at for run in found.runs for at in range(run.offset, run.offset + run.length)] == differ
    assert all(one.offset + one.length < other.offset for one, other in itertools.pairwise(found.runs))
    both = [(old[at] ^ new[at]).bit_count() if at < min(len(old), len(new)) else 8 for at in differ]
    assert sum(run.bits for run in found.runs) == sum(both)
    assert (found.kind == "identical") == (old == new)


def test_decay_is_told_from_another_edition_and_from_another_image():
    dice = random.Random(3)
    image = bytes(dice.randrange(256) for _ in range(65_536))
    decayed = bytearray(image)
    for at in dice.sample(range(0, len(image), 2), 40):
        decayed[at] ^= 1 << dice.randrange(8)
    edition = image[:2000] + b"release 4.1, fjord" + image[2018:]
    assert compare(image, bytes(decayed)).kind == "bit-decay"
    assert compare(image, edition).kind == "other-edition"
    assert compare(image, bytes(dice.randrange(256) for _ in range(65_536))).kind == "unlike"
    assert compare(image, image[:-1]).kind == "unlike"


@pytest.mark.parametrize(
    ("old", "new", "says"),
    [
        (b"\x00" * 40, b"\x00" * 20 + b"\x04" + b"\x00" * 19, "a single bit"),
        (
            b"\x00" * 9 + b"EDITION 1.02 HERE" + b"\x00" * 99,
            b"\x00" * 9 + b"FOR SOMEBODY ELSE" + b"\x00" * 99,
            "a text",
        ),
        (b"\x00" * 40, b"\x00" * 10 + b"\xf1\xf2\xf3" + b"\x00" * 27, "a setting"),
        (b"\x00" * 90, b"\x00" * 10 + bytes(range(128, 178)) + b"\x00" * 30, "a block"),
    ],
)
def test_a_run_is_explained(old, new, says):
    assert explain(max(compare(old, new).runs, key=lambda run: run.length)).startswith(says)
