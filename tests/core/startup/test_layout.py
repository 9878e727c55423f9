"""The map from left to right: what is needed stands left, nothing on top of anything; a map lent by a relative."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.boards.document import read_board
from uvrix.core.startup.chain import chain_of
from uvrix.core.startup.layout import layout
from uvrix.core.virtual.startups import random_map

BOARDS = Path(__file__).parents[3] / "data/boards"


@given(st.integers(0, 10_000), st.integers(1, 120))
def test_each_node_stands_right_of_what_it_needs_and_alone(seed, many):
    chain = random_map(np.random.default_rng(seed), many)
    found = layout(chain)
    assert set(found.places) == {node.id for node in chain.nodes}
    assert len(set(found.places.values())) == many
    for node in chain.nodes:
        column, row = found.places[node.id]
        assert 0 <= column < found.columns
        assert 0 <= row <= found.rows - 1
        for need in node.needs:
            assert found.places[need][0] < column
        if not node.needs:
            assert column == 0


def test_a_lent_map_keeps_this_boards_points():
    teal = read_board((BOARDS / "teal-8.board.json").read_bytes())
    scaup = read_board((BOARDS / "scaup-24.board.json").read_bytes())
    lent = scaup.document["startup"]["nodes"]
    chain = chain_of(teal, lent)
    assert [node.id for node in chain.nodes] == [node["id"] for node in lent]
    points = {node.id: node.point for node in chain.nodes}
    assert (points["1v8"], points["core"], points["en_1v8"]) == ("L7", "L1", None)
    assert all(not node.parts for node in chain.nodes)
    assert not chain.borrowed
    # a map of its own goes before
    assert chain_of(scaup, [{"id": "x"}]).nodes[0].id == "in12s"
