"""A ball map turned as its chip lies, against the drawing's own corners and pin-1 dots."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.boards.ballmap import ball_map_views
from uvrix.core.boards.document import read_board
from uvrix.core.boards.drawing import corners_of
from uvrix.core.boards.views import Orientation, view_of
from uvrix.core.virtual.boards import random_board

BOARDS = [read_board(path.read_bytes()) for path in (Path(__file__).parents[3] / "data/boards").glob("*.board.json")]


def one_of(board, designator, orientation, *, balls_up=False):
    site = board.by_designator[designator]
    return next(
        view for view in ball_map_views(board, site) if (view.orientation, view.balls_up) == (orientation, balls_up)
    )


def pane(board, orientation, points):
    view = view_of(board, orientation)
    a, b, c, d, e, f = (float(number) for number in view.matrix)
    return [(a * x + c * y + e, b * x + d * y + f) for x, y in points]


def same_way(one, other):
    across = one[0] * other[1] - one[1] * other[0]
    along = one[0] * other[0] + one[1] * other[1]
    return along > 0 and abs(across) < 1e-9 * along


@given(st.integers(0, 10_000), st.sampled_from(["front", "back"]), st.integers(0, 3))
def test_columns_and_rows_run_along_the_chips_own_edges(seed, side, turns):
    board = read_board(json.dumps(random_board(np.random.default_rng(seed))).encode())
    orientation = Orientation(side, turns)
    for site in board.sites:
        found = one_of(board, site.designator, orientation)
        # the first corner is that of pin 1, the next along row A, the last along column 1
        first, along, _, down = pane(board, orientation, corners_of(site))
        a, b, c, d = found.matrix
        assert same_way((a, b), (along[0] - first[0], along[1] - first[1]))
        assert same_way((c, d), (down[0] - first[0], down[1] - first[1]))
        assert a * a + b * b == pytest.approx(1)


@pytest.mark.parametrize(
    ("rotation", "side", "orientation", "balls_up", "corner", "rows", "columns"),
    [
        (0, "front", Orientation("front"), False, "upper left", "down", "right"),
        (90, "front", Orientation("front"), False, "lower left", "right", "up"),
        (0, "front", Orientation("front", 1), False, "lower left", "right", "up"),
        (0, "front", Orientation("front"), True, "upper right", "down", "left"),
        (0, "back", Orientation("back"), False, "upper left", "down", "right"),
        (0, "back", Orientation("front"), False, "upper right", "down", "left"),
        (180, "back", Orientation("back"), False, "lower right", "up", "left"),
    ],
)
def test_the_corner_to_count_from(rotation, side, orientation, balls_up, corner, rows, columns):
    board = BOARDS[0]
    site = board.sites[0]
    object.__setattr__(site, "rotation_deg", rotation)
    object.__setattr__(site, "side", side)
    found = one_of(board, site.designator, orientation, balls_up=balls_up)
    assert (found.corner, found.rows, found.columns) == (corner, rows, columns)


def test_a_lifted_chip_is_turned_over_like_a_page():
    for board in BOARDS[1:]:
        for site in board.sites:
            for view in ball_map_views(board, site):
                if view.balls_up:
                    a, b, c, d = one_of(board, site.designator, view.orientation).matrix
                    assert view.matrix == pytest.approx((-a, b, -c, d))
