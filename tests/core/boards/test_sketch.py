"""What was named on photographs, taken into the drawing: to scale, once, with the supplies that it was named for."""

from __future__ import annotations

import pytest

from uvrix.core.boards.draft import draft
from uvrix.core.boards.edit import BLANK, edited
from uvrix.core.case.generic import nodes_of, usual
from uvrix.core.errors import Refusal
from uvrix.core.readings.points import board_places
from uvrix.core.startup.chain import chain_of

FRONT, BACK = "a" * 64, "b" * 64
NODES = nodes_of(usual())


def named(name, kind, node="", at=(1200, 550), picture=FRONT, side="front"):
    place = {"side": side, "picture": picture, "x_px": at[0], "y_px": at[1]}
    return {"name": name, "kind": kind, "node": node, **place}


ENTRIES = [
    named("slot 12 V", "pad", "slot 12 V", (900, 1050)),
    named("1.8 V", "pad", "1.8 V", (1500, 300)),
    named("U501", "part", "1.8 V", (1520, 310)),
    named("Y1", "part", "crystal", (1300, 500)),
    named("F1", "fuse"),
    named("plug 1", "plug", "plug 1", (2200, 100)),
    named("L5", "coil", "5 V", (1700, 200), BACK, "back"),
]


@pytest.fixture
def document():
    found = {**BLANK, "id": "knot-6", "name": "Knot 6"}
    for side, sha256 in (("front", FRONT), ("back", BACK)):
        picture = {"side": side, "sha256": sha256, "width_px": 2400, "height_px": 1100}
        found = edited(found, {"do": "photograph", **picture})
    site = {"designator": "U11", "x_mm": 60, "y_mm": 55}
    return edited(found, {"do": "add", "section": "sites", "entry": site})


def taken(document, entries=ENTRIES):
    return edited(document, {"do": "named", "entries": entries, "nodes": NODES})


def test_each_lies_where_it_was_clicked_once_the_photograph_has_its_scale(document):
    found = taken(document)
    at = {point["id"]: (point["x_mm"], point["y_mm"], point["side"]) for point in found["points"]}
    # the trial width is 240 mm for 2400 px; y runs up, and the back lies mirrored
    assert at["slot 12 V"][:2] == pytest.approx((90, at["F1"][1] - 50), abs=0.1)
    assert at["F1"][0] == pytest.approx(120, abs=0.1)
    assert at["L5"][2] == "back"
    scaled = edited(document, {"do": "scale", "side": "front", "left": [0, 0], "right": [120, 0], "mm": 60})
    half = {point["id"]: point["x_mm"] for point in taken(scaled)["points"]}
    assert half["F1"] - half["slot 12 V"] == pytest.approx(15, abs=0.1)


def test_the_drawing_that_comes_of_it_is_whole_and_starts_as_the_plan_says(document):
    board = draft(taken(document))
    assert board.misfits == ()
    chain = chain_of(board.board)
    assert [node.id for node in chain.nodes] == ["slot 12 V", "plug 1", "5 V", "1.8 V", "crystal"]
    by_id = {node.id: node for node in chain.nodes}
    assert (by_id["1.8 V"].point, by_id["1.8 V"].parts) == ("1.8 V", ("U501",))
    assert by_id["1.8 V"].needs == ("slot 12 V", "5 V"), "needs that nobody named anything for are left out"
    assert by_id["5 V"].parts == ("L5",)
    places = board_places(board.board)
    assert places.known("1.8 V")
    assert places.known("slot 12 V"), "readings of the cards before go on counting"
    assert [rail["id"] for rail in board.board.document["rails"] if rail.get("input")] == ["slot 12 V", "plug 1"]


def test_taken_twice_it_is_there_once_and_what_was_drawn_before_stays(document):
    once = taken(document)
    assert taken(once) == once
    mine = edited(
        document,
        {"do": "add", "section": "parts", "entry": {"designator": "U501", "kind": "gate", "x_mm": 5, "y_mm": 5}},
    )
    kinds = {part["designator"]: part["kind"] for part in taken(mine)["parts"]}
    assert kinds == {"U501": "gate", "Y1": "crystal"}


def test_without_its_photograph_nothing_is_placed(document):
    found = taken(document, [named("U9", "part", picture="c" * 64)])
    assert found.get("parts", []) == []
    with pytest.raises(Refusal, match="no photograph"):
        taken(dict(BLANK))
