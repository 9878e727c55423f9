"""The walk against a second way of computing it, and its exact edge cases."""

from __future__ import annotations

import copy
from decimal import Decimal, getcontext

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import CORNERS, DIRECTIONS, STARTS, data_of, documents
from uvrix.core.boards.document import read_board
from uvrix.core.boards.walk import places
from uvrix.core.errors import Refusal

getcontext().prec = 60
# Signs of (x, y) of each corner, and the corner that comes next counterclockwise as seen on the front.
SIGNS = {"top-left": (-1, 1), "bottom-left": (-1, -1), "bottom-right": (1, -1), "top-right": (1, 1)}
NEXT = {"top-left": "bottom-left", "bottom-left": "bottom-right", "bottom-right": "top-right", "top-right": "top-left"}


def start_corner(mark: str, start: str) -> str:
    steps = {"mark": 0, "mark+1": 1, "opposite-mark": 2, "mark-1": 3}[start]
    for _ in range(steps):
        mark = NEXT[mark]
    return mark


def pseudo_angle(x: Decimal, y: Decimal) -> Decimal:
    """Grows with the angle from the x axis, 0 to 4, without any trigonometry: the diamond's perimeter."""
    share = y / (abs(x) + abs(y))
    return share if x >= 0 and y >= 0 else 2 - share if x < 0 else 4 + share


def by_diamond(document) -> list[str]:
    """The walking order by pseudo-angles in 60 decimal digits: nothing in common with the product's comparison."""
    core = document["core"]
    across, up = SIGNS[start_corner(core["mark_corner"], document["walk"]["start"])]
    width, height = (Decimal(str(number)) for number in core["size_mm"])
    start = pseudo_angle(across * width / 2, up * height / 2)

    def key(site):
        x = Decimal(str(site["x_mm"])) - Decimal(str(core["x_mm"]))
        y = Decimal(str(site["y_mm"])) - Decimal(str(core["y_mm"]))
        turn = pseudo_angle(x, y) - start
        turn = turn if document["walk"]["direction"] == "counterclockwise" else -turn
        turn = turn.quantize(Decimal("1e-40")) % 4
        return (turn + 4 if turn < 0 else turn), x * x + y * y

    return [site["designator"] for site in sorted((s for s in document["sites"] if s["side"] == "front"), key=key)]


def walked(document) -> list[tuple[str, str | None, int | None]]:
    board = read_board(data_of(document))
    return [
        (place.site.designator, place.channel, place.position) for place in places(board.core, board.walk, board.sites)
    ]


@given(documents(clamshell=False))
def test_order_agrees_with_a_second_computation(document):
    assert [name for name, _, _ in walked(document)] == by_diamond(document)


@given(documents(clamshell=False), st.sampled_from(CORNERS), st.sampled_from(STARTS), st.sampled_from(DIRECTIONS))
def test_every_start_and_direction(document, corner, start, direction):
    document["core"]["mark_corner"] = corner
    document["walk"].update(start=start, direction=direction)
    found = walked(document)
    assert [name for name, _, _ in found] == by_diamond(document)
    assert [channel for _, channel, _ in found] == document["walk"]["order"]
    assert [position for _, _, position in found] == list(range(1, len(found) + 1))


@given(documents(clamshell=False))
def test_the_mirrored_board_is_walked_the_other_way(document):
    mirrored = copy.deepcopy(document)
    for site in mirrored["sites"]:
        site["x_mm"] = round(200 - site["x_mm"], 1)
    corner = document["core"]["mark_corner"]
    swapped = corner.replace("left", "?").replace("right", "left").replace("?", "right")
    mirrored["core"]["mark_corner"] = swapped
    other = {"clockwise": "counterclockwise", "counterclockwise": "clockwise"}
    beside = {"mark+1": "mark-1", "mark-1": "mark+1"}
    start, direction = document["walk"]["start"], document["walk"]["direction"]
    mirrored["walk"].update(start=beside.get(start, start), direction=other[direction])
    assert walked(mirrored) == walked(document)


@given(documents(clamshell=True))
def test_twins_follow_their_front_chip(document):
    found = walked(document)
    fronts = by_diamond(document)
    by_place = {(s["x_mm"], s["y_mm"], s["side"]): s["designator"] for s in document["sites"]}
    twin = {s["designator"]: by_place[s["x_mm"], s["y_mm"], "back"] for s in document["sites"] if s["side"] == "front"}
    assert [name for name, _, _ in found] == [name for front in fronts for name in (front, twin[front])]
    channels = {name: (channel, position) for name, channel, position in found}
    for front, back in twin.items():
        assert channels[front] == channels[back]


def four(**walk):
    sites = [("U1", 0, 30), ("U2", 30, 0), ("U3", 0, -30), ("U4", -30, 0)]
    return {
        "format": "uvrix-board",
        "version": 1,
        "id": "four",
        "name": "Four",
        "outline_mm": [[-50, -50], [50, -50], [50, 50], [-50, 50]],
        "core": {"designator": "C1", "x_mm": 0, "y_mm": 0, "size_mm": [20, 20], "mark_corner": "top-left"},
        "sites": [{"designator": name, "side": "front", "x_mm": x, "y_mm": y} for name, x, y in sites],
        "walk": {"start": "mark", "direction": "clockwise", "order": ["A0", "A1", "B0", "B1"], **walk},
    }


@pytest.mark.parametrize(
    ("x", "first"), [("-30", True), ("-30.000000000000000000001", False), ("-29.999999999999999999999", True)]
)
def test_a_hair_beside_the_start_is_met_last_and_on_it_first(x, first):
    document = four()
    document["sites"][0].update(x_mm=123456, y_mm=30)
    board = read_board(data_of(document).replace(b"123456", x.encode()))
    names = [place.site.designator for place in places(board.core, board.walk, board.sites)]
    assert names[0 if first else -1] == "U1"


def test_of_two_in_one_direction_the_nearer_is_first():
    document = four()
    document["sites"][0].update(x_mm=0.3, y_mm=0.9)
    document["sites"][1].update(x_mm=0.1, y_mm=0.3)
    assert [name for name, _, _ in walked(document)][:2] == ["U2", "U1"]


def test_without_a_walk_sites_keep_their_own_channel_and_lend_it_to_their_twin():
    document = four()
    del document["walk"]
    document["sites"][0]["channel"] = "A0"
    document["sites"].append({"designator": "U9", "side": "back", "x_mm": 1, "y_mm": 29})
    found = {name: (channel, position) for name, channel, position in walked(document)}
    assert found["U1"] == found["U9"] == ("A0", None)
    assert found["U2"] == (None, None)


def test_a_place_whose_channel_is_not_known_yet():
    document = four(order=["A0", None, "B0", "B1"])
    assert [channel for _, channel, _ in walked(document)] == ["A0", None, "B0", "B1"]


@pytest.mark.parametrize(("site", "says"), [(1, "B1"), (4, "B1")])
def test_a_site_that_contradicts_the_walk_is_named_with_both_channels(site, says):
    document = four()
    document["sites"].append({"designator": "U9", "side": "back", "x_mm": 29, "y_mm": 1})
    document["sites"][site]["channel"] = says
    with pytest.raises(Refusal) as refused:
        read_board(data_of(document))
    text = str(refused.value)
    assert document["sites"][site]["designator"] in text
    assert "B1" in text
    assert "A1" in text
    assert f"$.sites[{site}].channel" in text
