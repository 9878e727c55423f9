"""Core families: read or refused; the walk proposed for a new board; what a board inherits."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import BOARDS, documents
from uvrix.core.boards.document import board_from_document, read_board
from uvrix.core.boards.families import family_from, inherited, propose, read_family
from uvrix.core.boards.model import Walk
from uvrix.core.boards.walk import walking_order
from uvrix.core.errors import Refusal

ORDER = ["C0", "B1", "D1", "D0", "A1", "A0", "C1", "B0"]
FAMILY = {
    "format": "uvrix-family",
    "version": 1,
    "id": "plover",
    "name": "Plover",
    "channels": ["A0", "A1", "B0", "B1", "C0", "C1", "D0", "D1"],
    "walk": {
        "start": "mark",
        "direction": "clockwise",
        "order": ORDER,
    },
    "rails": [{"id": "mem", "volts": 1.35}],
}


def family(**changed):
    return read_family(json.dumps({**FAMILY, **changed}).encode())


UNORDERED = read_family(json.dumps({key: value for key, value in FAMILY.items() if key != "walk"}).encode())


def board(name):
    return read_board((BOARDS / f"{name}.board.json").read_bytes())


def front(one):
    return [site for site in one.sites if site.side == "front"]


@given(documents())
def test_a_relative_with_as_many_places_lends_its_order(document):
    relative = board_from_document(document)
    walk = relative.walk
    assert walk
    found = propose(relative.core, front(relative), family(), [relative])
    assert (found.start, found.direction, found.order) == (walk.start, walk.direction, walk.order)


@given(documents(clamshell=False), st.data())
def test_a_smaller_board_takes_channels_by_direction_and_never_a_wrong_one(document, data):
    """The relative's board with some places gone: what is proposed is what the places had."""
    relative = board_from_document(document)
    assert relative.walk
    met = walking_order(relative.core, relative.walk, front(relative))
    truth = dict(zip((site.designator for site in met), relative.walk.order, strict=True))
    gone = data.draw(st.sets(st.sampled_from(sorted(truth)), max_size=len(truth) - 1))
    left = [site for site in front(relative) if site.designator not in gone]
    if not gone:
        return
    found = propose(relative.core, left, family(), [relative])
    if "direction" not in found.why:
        return
    walk = Walk(found.start, found.direction, found.order)
    for site, channel in zip(walking_order(relative.core, walk, left), found.order, strict=True):
        same = [candidate for candidate in met if _same_direction(relative, candidate, site)]
        assert channel is None or channel in {truth[candidate.designator] for candidate in [site, *same]}


def _same_direction(relative, one, other):
    ax, ay = (one.centre[n] - relative.core.centre[n] for n in (0, 1))
    bx, by = (other.centre[n] - relative.core.centre[n] for n in (0, 1))
    return ax * by == ay * bx and ax * bx + ay * by > 0


def test_the_family_serves_where_no_relative_does():
    teal = board("teal-8")
    found = propose(teal.core, front(teal), family(), [])
    assert found.order == tuple(ORDER)
    assert "Plover" in found.why
    open_all = propose(teal.core, front(teal)[:5], family(), [])
    assert open_all.order == (None,) * 5
    assert "says nothing of that many" in open_all.why


def turned_round(board):
    return replace(board, name="Turned", walk=replace(board.walk, direction="counterclockwise"))


def test_relatives_that_disagree_are_named_whichever_goes_first():
    teal = board("teal-8")
    turned = turned_round(teal)
    alike = propose(teal.core, front(teal), family(), [teal])
    assert "otherwise" not in alike.why
    for relatives, first, names in (
        ([turned, teal], "counterclockwise", ". Teal 8, Plover would place channels otherwise"),
        ([teal, turned], "clockwise", ". Turned would place channels otherwise"),
        ([turned], "counterclockwise", ". Plover would place channels otherwise"),
    ):
        found = propose(teal.core, front(teal), family(), relatives)
        assert found.direction == first
        assert names in found.why
    fewer = front(teal)[:-2]
    assert "Turned would place channels otherwise" in propose(teal.core, fewer, family(), [teal, turned]).why


@given(documents(clamshell=False), st.data())
def test_an_order_is_called_contradicted_just_where_a_channel_would_lie_elsewhere(document, data):
    relative = board_from_document(document)
    assert relative.walk
    order = list(relative.walk.order)
    channels = st.sampled_from([*(channel for channel in order if channel), None])
    at = data.draw(st.integers(0, len(order) - 1))
    order[at] = data.draw(channels)
    other = replace(relative, name="Other", walk=replace(relative.walk, order=tuple(order)))
    found = propose(relative.core, front(relative), UNORDERED, [relative, other])
    was = relative.walk.order
    moved = any(
        mine is not None and theirs is not None and (here == there) != (mine == theirs)
        for here, mine in enumerate(was)
        for there, theirs in enumerate(order)
    )
    assert ("Other would place channels otherwise" in found.why) == (moved and any(order))


@given(documents())
def test_a_family_made_from_a_board_proposes_that_boards_order(document):
    board = board_from_document(document)
    if not any(document["walk"]["order"]):
        return
    family = read_family(json.dumps(family_from(document, "made", "Made")).encode())
    front = [site for site in board.sites if site.side == "front"]
    found = propose(board.core, front, family, [])
    assert list(found.order) == document["walk"]["order"]
    assert list(family.channels) == sorted(family.channels, key=lambda channel: (channel[0], int(channel[1:])))


def test_a_board_inherits_what_it_lacks_and_keeps_what_it_has():
    document, keys = inherited({"id": "x"}, family())
    assert keys == ("rails",)
    assert [rail["id"] for rail in document["rails"]] == ["mem"]
    own = {"id": "x", "rails": [{"id": "core"}]}
    assert inherited(own, family()) == (own, ())
    assert inherited(own, None) == (own, ())


@pytest.mark.parametrize(
    ("changed", "place"),
    [
        ({"channels": []}, "$.channels"),
        ({"channels": ["A0", "A0"], "walk": {"start": "mark", "direction": "clockwise", "order": []}}, "$.channels[1]"),
        ({"walk": {"start": "mark", "direction": "clockwise", "order": ["Z9"]}}, "$.walk.order[0]"),
        ({"startup": {"nodes": [{"id": "a", "needs": ["a"]}]}}, "$.startup.nodes"),
        ({"format": "other"}, "$.format"),
    ],
)
def test_a_family_that_does_not_fit_is_refused(changed, place):
    with pytest.raises(Refusal) as refused:
        family(**changed)
    assert refused.value.place == place


@given(st.binary(max_size=200))
def test_any_bytes_are_a_family_or_refused(data):
    with pytest.raises(Refusal):
        read_family(data)
