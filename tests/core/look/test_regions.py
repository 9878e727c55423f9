"""Regions cover the board without gap; neighbours are those that stand near."""

from __future__ import annotations

import itertools
import math

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import BOARDS, documents
from tests.core.look.pairs import populated
from uvrix.core.boards.document import board_from_document, read_board
from uvrix.core.look.findings import AT_MM, KINDS, KNOCKED, REACH_MM, neighbours, part_at
from uvrix.core.look.regions import LARGEST_MM, SIDES, region_at, regions


@given(documents(), st.integers(30, 400), st.integers(30, 300), st.data())
def test_every_place_is_in_one_region_of_its_side(document, width, height, data):
    board = board_from_document({**document, "outline_mm": [[0, 0], [width, 0], [width, height], [0, height]]})
    found = regions(board)
    assert len({region.id for region in found}) == len(found)
    x = data.draw(st.floats(0, width, exclude_max=True))
    y = data.draw(st.floats(0, height, exclude_max=True))
    for side in SIDES:
        own = [region for region in found if region.side == side]
        assert math.isclose(sum(region.width_mm * region.height_mm for region in own), width * height)
        assert max(max(region.width_mm, region.height_mm) for region in own) <= LARGEST_MM + 1e-9
        region = region_at(board, side, x, y)
        assert region in own
        assert region.x_mm - 1e-6 <= x <= region.x_mm + region.width_mm + 1e-6
        # each step of the route goes to a region that touches the one before
        for before, after in itertools.pairwise(own):
            gap_x = max(before.x_mm - after.x_mm - after.width_mm, after.x_mm - before.x_mm - before.width_mm)
            gap_y = max(before.y_mm - after.y_mm - after.height_mm, after.y_mm - before.y_mm - before.height_mm)
            assert max(gap_x, gap_y) < 1e-6


def test_regions_of_a_demo_board_are_named_by_what_lies_in_them():
    board = populated(np.random.default_rng(3))
    found = regions(board)
    assert found[0].name == "front, bracket end, upper"
    assert {"core", "slot contacts"} <= {thing for region in found if region.side == "front" for thing in region.holds}
    assert sum("core" in region.holds for region in found) == 1
    named = " ".join(thing for region in found for thing in region.holds)
    assert all(site.designator in named for site in board.sites)
    assert region_at(board, "front", -5, -5) in found


@given(st.integers(0, 40))
def test_neighbours_are_all_that_stand_within_reach_and_nothing_else(seed):
    board = populated(np.random.default_rng(seed), parts=60)
    part = board.parts[seed % 60]
    x, y = float(part.centre[0]), float(part.centre[1])
    found = neighbours(board, "front", x, y)
    assert part.designator not in {neighbour.designator for neighbour in found}
    assert [neighbour.mm for neighbour in found] == sorted(neighbour.mm for neighbour in found)
    assert all(AT_MM < neighbour.mm <= REACH_MM for neighbour in found)
    assert neighbours(board, "back", x, y) == ()
    assert part_at(board, "front", x + 0.4, y) == part.designator
    assert part_at(board, "back", x, y) is None


def test_what_is_seen_at_a_chip_or_at_a_corner_of_the_core_is_theirs():
    board = read_board((BOARDS / "teal-8.board.json").read_bytes())
    taken = [part.centre for part in board.parts if part.centre and part.side == "front"]

    def free(x, y):
        return all(math.dist((x, y), [float(coordinate) for coordinate in centre]) > 2.5 for centre in taken)

    told = 0
    core = (board.core.designator, board.core.centre, board.core.size, 0.0)
    sites = [(site.designator, site.centre, site.size, float(site.rotation_deg)) for site in board.sites]
    for name, centre, size, turn in (*sites, core):
        x, y = (float(value) for value in centre)
        wide, high = (float(value) / 2 for value in size)
        if turn % 180 == 90:
            wide, high = high, wide
        for right, up in itertools.product((-1, 0, 1), repeat=2):
            inside = x + 0.98 * right * wide, y + 0.98 * up * high
            if free(*inside):
                told += 1
                assert part_at(board, "front", *inside) == name
            far = x + right * (wide + 1.2), y + up * (high + 1.2)
            if (right or up) and free(*far):
                assert part_at(board, "front", *far) != name
    assert told > 40
    assert part_at(board, "front", 196, 98) == "plug 1"


def test_knocked_kinds_are_kinds():
    assert set(KINDS) >= KNOCKED
