"""Boards that nobody has drawn: the finding in channels is the finding in chips of the same board once drawn."""

from __future__ import annotations

import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import BOARDS
from tests.core.memory.cases import CHANNELS
from uvrix.core.boards.document import read_board
from uvrix.core.boards.walk import places
from uvrix.core.memory.locate import locate
from uvrix.core.memory.placeless import any_channel, channel_board, channel_order, channels_in
from uvrix.core.memory.reading import read_report
from uvrix.core.memory.sites import board_channels
from uvrix.core.virtual.reports import simulate

TEAL = read_board((BOARDS / "teal-8.board.json").read_bytes())


CHANNEL_OF = {place.site.designator: place.channel for place in places(TEAL.core, TEAL.walk, TEAL.sites)}


@pytest.mark.parametrize("fault", ["dq-line:U12:6", "cells:U17", "byte-lane:U14:2"])
@pytest.mark.parametrize("seed", [3, 40, 88])
def test_the_channel_is_that_of_the_chip_and_the_kind_the_same(fault, seed):
    text = simulate(TEAL, fault, 120, seed).report
    report = read_report(io.BytesIO(text.encode()), any_channel())
    board = channel_board(channels_in([report]))
    found = locate(board, [("x", report)]).finding
    drawn = locate(TEAL, [("x", read_report(io.BytesIO(text.encode()), board_channels(TEAL)))]).finding
    assert found.kind == drawn.kind
    assert list(found.designators) == [CHANNEL_OF[name] for name in drawn.designators]
    assert drawn.designators == (fault.split(":")[1],)


def test_each_channel_is_one_place():
    assert [site.designator for site in channel_board(CHANNELS).sites] == CHANNELS
    assert [site.channel for site in channel_board(CHANNELS).sites] == CHANNELS


@given(st.lists(st.tuples(st.sampled_from("ABC"), st.integers(0, 30)), min_size=1, max_size=20, unique=True))
def test_channels_are_listed_as_people_count(names):
    listed = [f"{letter}{number}" for letter, number in names]
    assert sorted(listed, key=channel_order) == [f"{letter}{number}" for letter, number in sorted(names)]
