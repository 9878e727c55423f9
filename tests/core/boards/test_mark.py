"""The landmark question is true of its chip and false of chips that could be taken for it."""

from __future__ import annotations

import math

import pytest
from hypothesis import given

from tests.core.boards.strategies import data_of, documents
from uvrix.core.boards.document import read_board
from uvrix.core.boards.mark import CLEAR_MM, UnknownDesignator, question_for, site_named


def distance(site, landmark, board):
    """Second computation: from the centre to the nearest of a fine grid of points of the landmark."""
    mark = next(m for m in board.landmarks if {"bracket": "bracket", "edge-contacts": "contacts"}[m.kind] in landmark)
    x, y = (float(number) for number in site.centre)
    left, bottom = float(mark.centre[0] - mark.size[0] / 2), float(mark.centre[1] - mark.size[1] / 2)
    steps = [n / 200 for n in range(201)]
    xs = [left + float(mark.size[0]) * step for step in steps]
    ys = [bottom + float(mark.size[1]) * step for step in steps]
    return math.hypot(min(abs(x - number) for number in xs), min(abs(y - number) for number in ys))


@given(documents())
def test_the_answer_is_what_a_ruler_says(document):
    board = read_board(data_of(document))
    for site in board.sites:
        question = question_for(board, site.designator)
        if question is None:
            continue
        own = distance(site, question.landmark, board)
        name = question.reference.removeprefix("the core ")
        reference = board.core if name == board.core.designator else board.by_designator[name]
        other = distance(reference, question.landmark, board)
        assert math.isclose(own, question.distance_mm, abs_tol=0.5)
        assert abs(own - other) >= CLEAR_MM - 1
        assert question.answer == ("yes" if own < other else "no")


@given(documents())
def test_the_question_catches_as_many_wrong_chips_as_it_says(document):
    board = read_board(data_of(document))
    for site in board.sites:
        question = question_for(board, site.designator)
        if question is None:
            continue
        wrong = [s for s in board.sites if s.side == site.side and s is not site and s.fitted]
        limit = question.reference_mm
        caught = [
            s for s in wrong if (distance(s, question.landmark, board) < limit - 0.5) != (question.answer == "yes")
        ]
        assert len(caught) >= question.catches - sum(
            abs(distance(s, question.landmark, board) - limit) < 1 for s in wrong
        )


@given(documents())
def test_designators_are_found_in_any_case(document):
    board = read_board(data_of(document))
    name = board.sites[0].designator
    assert site_named(board, f" {name.lower()} ").designator == name
    with pytest.raises(UnknownDesignator) as unknown:
        site_named(board, name[:1])
    assert name in str(unknown.value)
