"""Pages at 1:1: every point of the board is on some page, neighbours overlap, the fewest pages are taken."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import documents
from uvrix.core.boards.document import board_from_document
from uvrix.core.boards.sheet import BEYOND_MM, OVERLAP_MM, PAPERS, sheet_of
from uvrix.core.boards.views import ORIENTATIONS, view_of

SOME_ORIENTATIONS = st.sampled_from(ORIENTATIONS)


@given(documents(), SOME_ORIENTATIONS, st.sampled_from(["fit", *PAPERS]), st.integers(50, 700), st.integers(40, 700))
def test_nothing_is_cut(document, orientation, paper, width, height):
    board = board_from_document({**document, "outline_mm": [[0, 0], [width, 0], [width, height], [0, height]]})
    view, sheet = view_of(board, orientation), sheet_of(board, orientation, paper)
    assert len(sheet.pages) == sheet.columns * sheet.rows
    wanted = (float(view.width_mm) + BEYOND_MM, float(view.height_mm) + BEYOND_MM)
    for axis, count in ((0, sheet.columns), (1, sheet.rows)):
        spans = sorted({(page.window[axis], page.window[axis] + page.window[axis + 2]) for page in sheet.pages})
        assert len(spans) == count
        assert spans[0][0] == -BEYOND_MM
        assert spans[-1][1] >= wanted[axis] - 1e-9
        for before, after in itertools.pairwise(spans):
            assert before[1] - after[0] == pytest.approx(OVERLAP_MM)


def test_an_ordinary_card_fits_one_page_of_its_own_and_tiles_on_a4():
    from tests.core.boards.strategies import BOARDS
    from uvrix.core.boards.document import read_board

    board = read_board((BOARDS / "teal-8.board.json").read_bytes())
    assert len(sheet_of(board, ORIENTATIONS[0], "fit").pages) == 1
    assert len(sheet_of(board, ORIENTATIONS[0], "a4").pages) == 1
    long = {**board.document, "outline_mm": [[0, 0], [330, 0], [330, 130], [0, 130]]}
    assert len(sheet_of(board_from_document(long), ORIENTATIONS[0], "a4").pages) == 2
