"""Edits, drafts and changes: what an edit leaves alone, what it undoes, what is wrong with a draft."""

from __future__ import annotations

import copy
import json
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import BOARDS, documents
from uvrix.core.boards.changes import changes
from uvrix.core.boards.document import board_from_document, read_board
from uvrix.core.boards.draft import draft
from uvrix.core.boards.edit import BLANK, EDITS, edited
from uvrix.core.boards.walk import places
from uvrix.core.errors import Refusal

LENGTHS = st.integers(-40, 40)


def loaded(name):
    return json.loads((BOARDS / f"{name}.board.json").read_text())


def channels(document):
    board = board_from_document(document)
    return {place.site.designator: place.channel for place in places(board.core, board.walk, board.sites)}


def many(document, *edits):
    for edit in edits:
        document = edited(document, edit)
    return document


@given(documents(), LENGTHS, LENGTHS)
def test_moving_there_and_back_changes_nothing(document, dx, dy):
    targets = [["sites", n] for n in range(len(document["sites"]))]
    there = edited(document, {"do": "move", "targets": targets, "dx": dx, "dy": dy})
    assert changes(document, edited(there, {"do": "move", "targets": targets, "dx": -dx, "dy": -dy})) == []


@given(documents())
def test_four_quarter_turns_are_none(document):
    turn = {"do": "turn", "targets": [["sites", 0]], "deg": 90}
    angle = float(document["sites"][0].get("rotation_deg", 0)) % 360
    assert float(many(document, turn, turn, turn, turn)["sites"][0]["rotation_deg"]) == pytest.approx(angle)


@given(documents())
def test_an_edit_never_changes_the_document_it_was_given(document):
    before = copy.deepcopy(document)
    edited(document, {"do": "add", "section": "sites", "entry": {"x_mm": 3, "y_mm": 4}})
    edited(document, {"do": "remove", "targets": [["sites", 0]]})
    edited(document, {"do": "outline", "points": [[5, 5], [50, 40]]})
    assert document == before


@pytest.mark.parametrize("name", ["teal-8", "garganey-8", "wigeon-4"])
def test_every_place_keeps_its_channel_when_others_come_and_go(name):
    document = loaded(name)
    before = channels(document)
    added = edited(document, {"do": "add", "section": "sites", "entry": {"x_mm": 190, "y_mm": 20}})
    new = added["sites"][-1]["designator"]
    assert channels(added) == {**before, new: None}
    assert channels(edited(added, {"do": "remove", "targets": [["sites", len(added["sites"]) - 1]]})) == before


def test_a_new_site_has_the_next_free_designator():
    document = edited(loaded("teal-8"), {"do": "add", "section": "sites", "entry": {"x_mm": 1, "y_mm": 2}})
    assert document["sites"][-1]["designator"] == "U19"
    first = edited(BLANK, {"do": "add", "section": "sites", "entry": {"x_mm": 1, "y_mm": 2}})
    assert first["sites"][0]["designator"] == "U11"


def test_aligning_and_spreading():
    document = loaded("teal-8")
    targets = [["sites", n] for n in (0, 1, 2)]
    lined = edited(document, {"do": "align", "targets": targets, "along": "x"})
    assert {site["x_mm"] for site in lined["sites"][:3]} == {document["sites"][0]["x_mm"]}
    uneven = edited(document, {"do": "move", "targets": [["sites", 1]], "dx": 0, "dy": 5})
    even = edited(uneven, {"do": "spread", "targets": targets, "along": "y"})
    assert [site["y_mm"] for site in even["sites"][:3]] == [34, 52, 70]


def test_a_walk_set_before_the_first_chip_has_a_place_for_each_that_is_clicked():
    walk = edited(BLANK, {"do": "walk", "start": "mark", "direction": "clockwise"})
    assert walk["walk"]["order"] == []
    for number in (1, 2):
        walk = edited(walk, {"do": "add", "section": "sites", "entry": {"x_mm": 30 * number, "y_mm": 90}})
        assert walk["walk"]["order"] == [None] * number


def test_numbers_go_round_the_walk():
    document = edited(loaded("teal-8"), {"do": "number", "prefix": "M", "first": 1})
    board = board_from_document(document)
    met = places(board.core, board.walk, board.sites)
    assert [place.site.designator for place in met] == [f"M{n}" for n in range(1, 9)]


def test_numbers_as_clicked():
    document = edited(
        loaded("teal-8"), {"do": "number", "prefix": "U", "first": 30, "targets": [["sites", 4], ["sites", 0]]}
    )
    assert (document["sites"][4]["designator"], document["sites"][0]["designator"]) == ("U30", "U31")


def test_twins_share_their_channel_by_halves():
    document = edited(loaded("teal-8"), {"do": "twins"})
    board = board_from_document(document)
    assert len(board.sites) == 16
    for place in places(board.core, board.walk, board.sites):
        assert place.site.lines.bit_count() == 16
    assert edited(document, {"do": "twins"}) == document


@given(st.lists(st.tuples(LENGTHS, LENGTHS), min_size=3, max_size=6, unique=True))
def test_an_outline_moves_everything_so_that_its_lower_left_is_the_origin(corners):
    xs, ys = [x for x, _ in corners], [y for _, y in corners]
    if len(set(xs)) < 2 or len(set(ys)) < 2:
        return
    document = loaded("teal-8")
    after = edited(document, {"do": "outline", "points": corners})
    assert min(x for x, _ in after["outline_mm"]) == 0
    assert min(y for _, y in after["outline_mm"]) == 0
    gap = [document["sites"][0][key] - document["core"][key] for key in ("x_mm", "y_mm")]
    assert [after["sites"][0][key] - after["core"][key] for key in ("x_mm", "y_mm")] == pytest.approx(gap)


def test_core_and_mark_from_clicks():
    document = many(BLANK, {"do": "core", "corners": [[120, 30], [90, 58]]}, {"do": "mark", "point": [119, 32]})
    assert document["core"]["size_mm"] == [30, 28]
    assert (document["core"]["x_mm"], document["core"]["y_mm"]) == (105, 44)
    assert document["core"]["mark_corner"] == "bottom-right"


@given(st.floats(0.01, 0.5), st.floats(-25, 25), st.integers(10, 120))
def test_the_scale_of_a_photograph_from_its_contact_row(mm_per_px, turn_deg, contacts):
    """A picture of known scale and turn: after two clicks on the contact row, lengths on it are true millimetres."""
    picture = {"do": "photograph", "side": "front", "sha256": "0" * 64, "width_px": 4000, "height_px": 2000}
    document = edited({**BLANK, "id": "new", "name": "New"}, picture)
    far, angle = (contacts - 1) / mm_per_px, math.radians(turn_deg)
    if not 20 <= far <= 3500:
        return
    left = (200.0, 1000.0)
    right = (left[0] + far * math.cos(angle), left[1] + far * math.sin(angle))
    trial = draft(document).board.document["photographs"][0]
    clicked = [_on_board(trial, pixel) for pixel in (left, right)]
    scale = {"do": "scale", "side": "front", "left": clicked[0], "right": clicked[1], "contacts": contacts}
    entry = edited(document, scale)["photographs"][0]
    one, other = (_on_board(entry, pixel) for pixel in (left, right))
    assert other[0] - one[0] == pytest.approx(contacts - 1, rel=1e-3)
    assert other[1] - one[1] == pytest.approx(0, abs=0.02 * contacts)
    corners = [_on_board(entry, pixel) for pixel in ((0, 0), (4000, 0), (4000, 2000), (0, 2000))]
    assert min(x for x, _ in corners) == pytest.approx(0, abs=0.01)


def _on_board(entry, pixel):
    from uvrix.core.boards.photograph import photograph_from

    return photograph_from(entry).place(pixel)


def test_a_picture_of_the_back_lies_mirrored():
    from uvrix.core.boards.photograph import Scale, scaled_photograph

    front = scaled_photograph("front", (1000, 500), Scale((0, 0), (1000, 0), 250))
    back = scaled_photograph("back", (1000, 500), Scale((0, 0), (1000, 0), 250))
    assert front.place((0, 0)) == pytest.approx((0, 125))
    assert back.place((0, 0)) == pytest.approx((250, 125))
    assert back.place((1000, 500)) == pytest.approx((0, 0))


@pytest.mark.parametrize(
    "edit",
    [
        {"do": "paint"},
        {},
        {"do": "move", "targets": [["sites", 99]], "dx": 1, "dy": 1},
        {"do": "move", "targets": [["sites", 0]], "dx": "far", "dy": 1},
        {"do": "move", "targets": [["sites", 0]], "dx": float("nan"), "dy": 1},
        {"do": "outline", "points": [[0, 0], [0, 5]]},
        {"do": "core", "corners": [[0, 0], [0.1, 5]]},
        {"do": "spread", "targets": [["sites", 0], ["sites", 1]], "along": "x"},
        {"do": "align", "targets": [["sites", 0]], "along": "z"},
        {"do": "scale", "side": "front", "left": [0, 0], "right": [1, 1], "mm": 5},
        {"do": "channel", "position": 99, "channel": "A0"},
    ],
)
def test_an_edit_that_does_not_fit_is_refused(edit):
    with pytest.raises(Refusal):
        edited(loaded("teal-8"), edit)


JUNK = st.recursive(
    st.none() | st.booleans() | st.integers(-5, 200) | st.floats(-1e3, 1e3) | st.text(max_size=6),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=8), inner, max_size=4),
    max_leaves=8,
)
KEYS = ("targets", "dx", "dy", "deg", "along", "section", "entry", "points", "corners", "point", "side", "mm", "order")


@given(st.sampled_from(sorted(EDITS)), st.dictionaries(st.sampled_from(KEYS), JUNK, max_size=6))
def test_junk_for_an_edit_is_refused_or_gives_a_draft(name, junk):
    try:
        after = edited(loaded("teal-8"), {"do": name, **junk})
    except Refusal:
        return
    draft(after)


@given(documents(), st.sampled_from(["sites", "walk", "core", "outline_mm", "points", "name"]), JUNK)
def test_a_draft_always_draws_and_names_what_is_wrong(document, key, junk):
    found = draft({**document, key: junk})
    try:
        board_from_document({**document, key: junk})
    except Refusal:
        assert not found.whole
    else:
        assert found.whole


def test_a_draft_keeps_what_is_right_and_says_where_it_is_wrong():
    document = loaded("teal-8")
    document["sites"][2]["side"] = "inside"
    document["sites"][5]["designator"] = "U11"
    document["walk"]["order"] = document["walk"]["order"][:-1]
    found = draft(document)
    assert next(misfit.place for misfit in found.misfits) == "$.sites[2].side"
    assert "$.sites[5].designator" in [misfit.place for misfit in found.misfits]
    assert len(found.board.sites) == 6
    assert found.board.walk is None


def test_a_whole_model_has_no_misfit():
    for path in sorted(BOARDS.glob("*.board.json")):
        found = draft(json.loads(path.read_text()))
        assert found.whole
        assert found.board.sites == read_board(path.read_bytes()).sites


def test_changes_in_words():
    before = loaded("teal-8")
    after = many(
        before,
        {"do": "move", "targets": [["sites", 0]], "dx": 1.5, "dy": -2},
        {"do": "remove", "targets": [["sites", 7]]},
        {"do": "set", "target": ["board", 0], "key": "revision", "value": "C"},
        {"do": "set", "target": ["sites", 1], "key": "fitted", "value": False},
        {"do": "walk", "start": "mark+1"},
    )
    said = changes(before, after)
    gone = before["sites"][7]["designator"]
    assert f"site {gone} taken out" in said
    assert "site U11 moved by +1.50, -2.00 mm" in said
    assert "site U12: fitted false (was true)" in said
    assert "walk: start mark+1 (was opposite-mark)" in said or any(
        name.startswith("walk: start mark+1") for name in said
    )
    assert "revision: C (was B)" in said
    assert changes(before, before) == []
