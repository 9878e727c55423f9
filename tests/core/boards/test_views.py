"""How the card lies: turning and flipping as algebra, and that all that is drawn agrees."""

from __future__ import annotations

import math
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import data_of, documents
from uvrix.core.boards.document import read_board
from uvrix.core.boards.drawing import corners_of, draw, pin1_of
from uvrix.core.boards.views import ORIENTATIONS, Orientation, edges, view_of

orientations = st.sampled_from(ORIENTATIONS)
coordinates = st.fractions(min_value=-50, max_value=300, max_denominator=100)
vectors = st.tuples(coordinates, coordinates)
OPPOSITE = {"left": "right", "right": "left", "up": "down", "down": "up"}
COUNTERCLOCKWISE = {"left": "down", "down": "right", "right": "up", "up": "left"}


@given(orientations)
def test_four_turns_and_two_flips_are_nothing(orientation):
    assert orientation.turned().turned().turned().turned() == orientation
    assert orientation.flipped().flipped() == orientation
    assert orientation.turned().flipped() == orientation.flipped().turned(-1)


@given(documents(), orientations, vectors, vectors)
def test_a_view_keeps_distances(document, orientation, one, other):
    view = view_of(read_board(data_of(document)), orientation)
    before = sum((a - b) ** 2 for a, b in zip(one, other, strict=True))
    after = sum((a - b) ** 2 for a, b in zip(view.place(one), view.place(other), strict=True))
    assert before == after


@given(documents(), orientations, vectors)
def test_one_more_turn_is_a_quarter_counterclockwise(document, orientation, point):
    board = read_board(data_of(document))
    before, after = view_of(board, orientation), view_of(board, orientation.turned())
    x, y = before.place(point)
    assert after.place(point) == (y, before.width_mm - x)
    assert (after.width_mm, after.height_mm) == (before.height_mm, before.width_mm)


@given(documents(), orientations, vectors)
def test_flipped_is_the_mirror_image_like_a_page(document, orientation, point):
    board = read_board(data_of(document))
    before, after = view_of(board, orientation), view_of(board, orientation.flipped())
    x, y = before.place(point)
    assert after.place(point) == (before.width_mm - x, y)


@given(documents(), st.integers(0, 3), vectors)
def test_front_views_keep_and_back_views_reverse_the_sense_of_turning(document, turns, point):
    board = read_board(data_of(document))
    for orientation, sign in ((Orientation("front", turns), -1), (Orientation("back", turns), 1)):
        a, b, c, d, _, _ = view_of(board, orientation).matrix
        assert a * d - b * c == sign  # the drawing's y points down, so the front has -1


@given(documents(), orientations)
def test_everything_lies_inside_the_drawing(document, orientation):
    board = read_board(data_of(document))
    view = view_of(board, orientation)
    for corner in board.outline:
        x, y = view.place(corner)
        assert 0 <= x <= view.width_mm
        assert 0 <= y <= view.height_mm


@given(documents(), orientations)
def test_bracket_and_contacts_lie_where_the_drawing_puts_them(document, orientation):
    board = read_board(data_of(document))
    view, named = view_of(board, orientation), edges(board, orientation)
    for mark in board.landmarks:
        x, y = view.place(mark.centre)
        gaps = {"left": x, "right": view.width_mm - x, "up": y, "down": view.height_mm - y}
        assert gaps[named[mark.kind]] == min(gaps.values())


@given(orientations)
def test_edges_turn_and_flip_with_the_board(orientation):
    board = read_board(data_of(one_board()))
    here, turned, flipped = (
        edges(board, orientation),
        edges(board, orientation.turned()),
        edges(board, orientation.flipped()),
    )
    for kind, edge in here.items():
        assert turned[kind] == COUNTERCLOCKWISE[edge]
        assert flipped[kind] == (OPPOSITE[edge] if edge in ("left", "right") else edge)


def one_board():
    return {
        "format": "uvrix-board",
        "version": 1,
        "id": "one",
        "name": "One",
        "outline_mm": [[0, 0], [200, 0], [200, 100], [0, 100]],
        "core": {"designator": "U1", "x_mm": 100, "y_mm": 50, "size_mm": [20, 30], "mark_corner": "top-left"},
        "landmarks": [
            {"kind": "bracket", "x_mm": 0, "y_mm": 50, "size_mm": [3, 80]},
            {"kind": "edge-contacts", "x_mm": 80, "y_mm": 3, "size_mm": [85, 6]},
        ],
        "sites": [{"designator": "U2", "side": "front", "x_mm": 60, "y_mm": 70}],
    }


@given(documents(), orientations)
def test_the_mark_is_at_the_marked_corner_in_every_view(document, orientation):
    """Followed from the front: the marked corner is found by its name, then only turned and mirrored."""
    board = read_board(data_of(document))
    drawing, view = draw(board), view_of(board, orientation)
    left, top = "left" in board.core.mark_corner, "top" in board.core.mark_corner
    x = min(drawing.core.corners)[0] if left else max(drawing.core.corners)[0]
    y = max(c[1] for c in drawing.core.corners) if top else min(c[1] for c in drawing.core.corners)
    assert drawing.core.mark[0] == (x, y)
    centre = view.place(board.core.centre)
    seen = view.place((Fraction(x), Fraction(y)))
    right_of, below = seen[0] > centre[0], seen[1] > centre[1]
    front_right, front_below = not left, not top
    if orientation.side == "back":
        front_right = not front_right
    for _ in range(orientation.turns):
        front_right, front_below = front_below, not front_right
    assert (right_of, below) == (front_right, front_below)


@given(documents(), st.sampled_from([0, 90, 180, 270]))
def test_pin_1_is_top_left_as_seen_from_its_own_side_and_turns_counterclockwise(document, rotation):
    for entry in document["sites"]:
        entry["rotation_deg"] = rotation
    board = read_board(data_of(document))
    expected = {0: (-1, -1), 90: (-1, 1), 180: (1, 1), 270: (1, -1)}[rotation]
    for site in board.sites:
        view = view_of(board, Orientation(site.side, 0))
        pin = view.place((Fraction(pin1_of(site)[0]), Fraction(pin1_of(site)[1])))
        centre = view.place(site.centre)
        signs = (pin[0] - centre[0] > 0) * 2 - 1, (pin[1] - centre[1] > 0) * 2 - 1
        assert signs == expected


@given(documents())
def test_sites_keep_their_size_and_centre_whatever_their_rotation(document):
    board = read_board(data_of(document))
    for site in board.sites:
        corners = corners_of(site)
        sides = [math.dist(corners[n], corners[(n + 1) % 4]) for n in range(4)]
        assert math.isclose(sides[0], float(site.size[0]))
        assert math.isclose(sides[1], float(site.size[1]))
        assert math.isclose(sum(x for x, _ in corners) / 4, float(site.centre[0]))
        assert math.isclose(sum(y for _, y in corners) / 4, float(site.centre[1]))
