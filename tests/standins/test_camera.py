"""The stand-in camera: what lies on its pictures is where it says, so tests may click by it."""

from __future__ import annotations

import io
import json
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.core.boards.edit import BLANK, edited
from uvrix.core.boards.photograph import photograph_from
from uvrix.standins.camera import CHIP, TABLE, contact_ends, photograph

TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())


@pytest.mark.parametrize("turn_deg", [0.0, 1.6, -3.0])
def test_chips_are_dark_where_the_camera_says_and_the_table_is_outside(turn_deg):
    shot = photograph(TEAL, px_per_mm=5, turn_deg=turn_deg)
    picture = Image.open(io.BytesIO(shot.jpeg)).convert("L")
    chip, table = (Image.new("RGB", (1, 1), colour).convert("L").getpixel((0, 0)) for colour in (CHIP, TABLE))
    assert picture.size == (shot.width_px, shot.height_px)
    for site in TEAL.sites:
        x, y = shot.pixel((float(site.centre[0]), float(site.centre[1])))
        assert picture.getpixel((round(x), round(y))) == pytest.approx(chip, abs=20)
    assert picture.getpixel((4, 4)) == pytest.approx(table, abs=20)


@given(st.floats(-6, 6), st.floats(4, 12))
def test_the_contact_row_gives_scale_and_turn_back(turn_deg, px_per_mm):
    shot = photograph_shot(turn_deg, px_per_mm)
    first, last, many = contact_ends(TEAL)
    document = json.loads(json.dumps(BLANK))
    size = {"width_px": shot.width_px, "height_px": shot.height_px}
    document = edited(document, {"do": "photograph", "side": "front", "sha256": "0" * 64, **size})
    trial = photograph_from(document["photographs"][0])
    clicks = {"left": trial.place(shot.pixel(first)), "right": trial.place(shot.pixel(last))}
    document = edited(document, {"do": "scale", "side": "front", "contacts": many, **clicks})
    placed = photograph_from(document["photographs"][0])
    assert placed.mm_per_px == pytest.approx(1 / px_per_mm, rel=1e-3)
    one, other = TEAL.sites[0].centre, TEAL.sites[-1].centre
    here = [placed.place(shot.pixel((float(at[0]), float(at[1])))) for at in (one, other)]
    apart = (here[1][0] - here[0][0], here[1][1] - here[0][1])
    assert apart == pytest.approx((float(other[0] - one[0]), float(other[1] - one[1])), abs=0.1)
    row = next(mark for mark in document["landmarks"] if mark["kind"] == "edge-contacts")
    assert row["size_mm"][0] == pytest.approx(math.dist(first, last) + 1, abs=0.1)


@given(st.floats(-6, 6), st.floats(4, 12), st.tuples(st.floats(0, 236), st.floats(0, 110)))
def test_as_a_reference_the_picture_lies_where_it_was_taken(turn_deg, px_per_mm, at):
    shot = photograph_shot(turn_deg, px_per_mm)
    assert shot.place(shot.pixel(at)) == pytest.approx(at, abs=1e-6)
    placed = photograph_from(shot.entry("0" * 64))
    assert placed.place(shot.pixel(at)) == pytest.approx(at, abs=0.02)
    assert placed.pixel(at) == pytest.approx(shot.pixel(at), abs=0.2)


def photograph_shot(turn_deg, px_per_mm):
    """The shot's geometry without its picture, which would take long to draw."""
    from dataclasses import replace

    return replace(STILL, turn_deg=turn_deg, px_per_mm=px_per_mm)


STILL = photograph(TEAL, px_per_mm=2)
