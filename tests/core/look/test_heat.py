"""The warm spot of a thermal picture is found where the part is, on either side; an even picture has none."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.document import read_board
from uvrix.core.look.heat import warmest
from uvrix.core.virtual.card import Spot
from uvrix.standins.thermal import MARGIN_MM, PX_PER_MM, thermal

TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())


def cut_to_the_board(png):
    margin = int(MARGIN_MM * PX_PER_MM)
    pixels = np.asarray(Image.open(io.BytesIO(png)).convert("L"))
    return pixels[margin:-margin, margin:-margin]


@pytest.mark.parametrize("side", ["front", "back"])
def test_the_spot_is_found_within_two_millimetres(side):
    dice = np.random.default_rng(11)
    for seed in range(20):
        x, y, watts = dice.uniform(5, 230), dice.uniform(10, 100), dice.uniform(0.1, 2)
        picture = cut_to_the_board(thermal(TEAL, side, [Spot(side, x, y, watts)], seed))
        found = warmest(picture, TEAL, side)
        assert found is not None
        assert np.hypot(found.x_mm - x, found.y_mm - y) < 2.0


def test_a_spot_of_the_other_side_is_fainter_and_still_found():
    spot = Spot("back", 120.0, 50.0, 1.0)
    near, far = (warmest(cut_to_the_board(thermal(TEAL, side, [spot], 3)), TEAL, side) for side in ("back", "front"))
    assert near is not None
    assert far is not None
    assert near.stands_out > far.stands_out
    assert abs(far.x_mm - 120) < 4


def test_an_even_picture_has_no_warm_spot():
    for seed in range(10):
        assert warmest(cut_to_the_board(thermal(TEAL, "front", [], seed)), TEAL, "front") is None
