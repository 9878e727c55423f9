"""Whether parts fit: every reason against is named, what is unknown stays open, connectors by pitch and pins."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.stock.fits import (
    Connector,
    MemoryChip,
    SmallPart,
    Wanted,
    chip_fits,
    connector_fits,
    small_fits,
    substitutes,
)

CHIP = MemoryChip("Ousel", 8, 32, 1.35, 14)
WANTED = Wanted(CHIP, ("Ousel", "Marram"))


def test_the_chip_that_belongs_there_fits_and_a_faster_one_does_too():
    assert chip_fits(CHIP, WANTED).verdict == "yes"
    assert chip_fits(replace(CHIP, speed=16), WANTED).verdict == "yes"


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"gbit": 16}, "capacity 16 Gbit, wanted 8 Gbit"),
        ({"width": 16}, "width 16 lines, wanted 32 lines"),
        ({"volts": 1.5}, "voltage 1.5 V, wanted 1.35 V"),
        ({"speed": 12}, "speed 12, at least 14 wanted"),
        ({"vendor": "Sedge"}, "the firmware carries no settings for Sedge"),
    ],
)
def test_each_misfit_is_refused_with_its_reason(change, said):
    found = chip_fits(replace(CHIP, **change), WANTED)
    assert found.verdict == "no"
    assert said in found.refused


@given(st.sets(st.sampled_from(["gbit", "width", "volts", "speed"])))
def test_what_nobody_knows_stays_open_and_is_never_a_yes(unknown):
    nothing: dict[str, Any] = dict.fromkeys(unknown)
    found = chip_fits(replace(CHIP, **nothing), WANTED)
    assert len(found.open) == len(unknown)
    assert found.verdict == ("open" if unknown else "yes")


def test_makers_are_alike_across_the_card():
    mixed = Wanted(CHIP, WANTED.carried, (replace(CHIP, vendor="Marram"), CHIP))
    assert chip_fits(CHIP, mixed).refused == ("Ousel beside Marram: alike across the card",)
    alike = Wanted(CHIP, WANTED.carried, (CHIP, MemoryChip()))
    assert chip_fits(CHIP, alike).verdict == "yes"


@given(st.floats(1, 1e6), st.floats(0.9, 1.1), st.floats(1, 50), st.floats(0.2, 5))
def test_a_small_part_fits_by_value_rating_and_a_package_that_reaches(value, off, rating, size):
    wanted = SmallPart("capacitor", value, (size, size / 2), rating)
    found = small_fits(replace(wanted, value=value * off), wanted)
    assert (found.verdict == "yes") == (abs(off - 1) <= 0.05 + 1e-12) or abs(abs(off - 1) - 0.05) < 1e-9
    assert small_fits(replace(wanted, rating=rating * 2), wanted).verdict == "yes"
    assert small_fits(replace(wanted, rating=rating / 2), wanted).verdict == "no"
    larger = small_fits(replace(wanted, size_mm=(size * 1.5, size)), wanted)
    assert larger.verdict == "yes"
    assert any("larger package" in fit for fit in larger.fits)
    assert small_fits(replace(wanted, size_mm=(size / 2, size / 4)), wanted).verdict == "no"
    assert small_fits(replace(wanted, kind="resistor"), wanted).verdict == "no"
    assert small_fits(replace(wanted, value=None), wanted).verdict == "open"


CONNECTORS = st.builds(
    Connector,
    st.text("abc", min_size=1, max_size=4),
    st.sampled_from([1.0, 1.25, 1.5, 2.0]),
    st.integers(2, 12),
    st.integers(1, 2),
    st.integers(0, 2),
)


@given(CONNECTORS, st.lists(CONNECTORS, max_size=20))
def test_substitutes_share_pitch_and_rows_have_pins_enough_and_the_same_one_comes_first(wanted, known):
    found = substitutes(wanted, [*known, replace(wanted, name="itself")])
    assert all(
        substitute.connector.pitch_mm == wanted.pitch_mm and substitute.connector.rows == wanted.rows
        for substitute in found
    )
    assert all(substitute.connector.pins >= wanted.pins for substitute in found)
    assert [substitute.score for substitute in found] == sorted(
        (substitute.score for substitute in found), reverse=True
    )
    best = next(substitute for substitute in found if substitute.connector.name == "itself")
    assert best.score == found[0].score
    assert best.fits.verdict == "yes"


@pytest.mark.parametrize(
    ("part", "verdict", "said"),
    [
        (Connector("a", 2.54, 8, 2, 2), "yes", "8 pins"),
        (Connector("b", 2.54, 10, 2, 2), "open", "2 to cut off"),
        (Connector("c", 2.54, 6, 2, 2), "no", "6 pins, wanted 8"),
        (Connector("d", 2.0, 8, 2, 2), "no", "pitch 2 mm"),
        (Connector("e", 2.54, 8, 1, 2), "no", "1 row, wanted 2"),
        (Connector("f", 2.54, 8, 2, 0), "open", "0 anchors, wanted 2"),
        (Connector("g", 2.559, 8, 2, 2), "yes", "pitch"),
        (Connector("h", 2.561, 8, 2, 2), "no", "pitch"),
    ],
)
def test_a_connector_fits_by_pitch_rows_pins_and_anchors(part, verdict, said):
    found = connector_fits(part, Connector("was", 2.54, 8, 2, 2))
    assert found.verdict == verdict
    assert said in " ".join((*found.fits, *found.open, *found.refused))
