"""Board models suggested from what is on the board: the right one of the library, also after a miscount."""

from __future__ import annotations

import random
from pathlib import Path

from uvrix.core.boards.document import read_board
from uvrix.core.boards.identify import Clues, identify

DATA = Path(__file__).parents[3] / "data/boards"
BOARDS = [read_board(path.read_bytes()) for path in sorted(DATA.glob("*.board.json"))]


def clues_of(board, **more):
    count = {kind: sum(mark.kind == kind for mark in board.landmarks) for kind in ("power-plug", "display-socket")}
    left, _, right, _ = board.extents
    true = {
        "front_sites": sum(site.side == "front" for site in board.sites),
        "back_sites": sum(site.side == "back" for site in board.sites),
        "plugs": count["power-plug"],
        "sockets": count["display-socket"],
        "length_mm": float(right - left),
    }
    return Clues(**{**true, **more})


def test_each_model_is_found_by_what_is_on_it_even_with_one_miscount():
    dice = random.Random(7)
    for board in BOARDS:
        assert identify(BOARDS, clues_of(board))[0].board is board
        wrong = dice.choice(["front_sites", "plugs", "sockets"])
        slipped = identify(BOARDS, clues_of(board, **{wrong: 17}))
        assert slipped[0].board is board
        assert len(slipped[0].differs) == 1


def test_what_is_printed_weighs_most():
    found = identify(BOARDS, Clues(printed="TEAL-8"))
    assert found[0].board.id == "teal-8"
    assert found[0].chance > 0.9
    assert found[0].agrees == ("printed “TEAL-8”",)


def test_nothing_noted_suggests_nothing_and_chances_leave_room_for_an_unknown_board():
    assert identify(BOARDS, Clues()) == ()
    found = identify(BOARDS, Clues(front_sites=99, back_sites=99, plugs=99, sockets=99))
    assert sum(match.chance for match in found) < 0.01
