"""A start-up map drawn from nothing: nodes, links, a circle refused by its name, a map taken from a relative."""

from __future__ import annotations

import json
import random
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.boards.document import check_startup, read_board
from uvrix.core.boards.edit import BLANK, edited
from uvrix.core.errors import Refusal

SCAUP = json.loads((Path(__file__).parents[3] / "data/boards/scaup-24.board.json").read_text())


def node(name, *needs, before="", **more):
    entry = {"id": name, "name": name.upper(), "kind": "rail", "volts": [1.0, 2.0], "needs": list(needs), **more}
    return {"do": "node", "id": before, "entry": entry}


def made(*edits, document=None):
    found = dict(document or BLANK)
    for edit in edits:
        found = edited(found, edit)
    return found


def needs(document):
    return {one["id"]: one["needs"] for one in document["startup"]["nodes"]}


def test_a_map_is_drawn_from_nothing():
    document = made(node("in12"), node("5v0", "in12"), node("1v8", "5v0"), {"do": "link", "id": "1v8", "needs": "in12"})
    assert needs(document) == {"in12": [], "5v0": ["in12"], "1v8": ["5v0", "in12"]}
    off = made({"do": "link", "id": "1v8", "needs": "in12", "on": False}, document=document)
    assert needs(off)["1v8"] == ["5v0"]
    renamed = made(node("5v", "in12", before="5v0"), document=off)
    assert needs(renamed) == {"in12": [], "5v": ["in12"], "1v8": ["5v"]}
    gone = made({"do": "drop-node", "id": "5v"}, document=renamed)
    assert needs(gone) == {"in12": [], "1v8": ["in12"]}
    assert "startup" not in BLANK


@pytest.mark.parametrize(
    ("edit", "found"),
    [
        ({"do": "link", "id": "a", "needs": "c"}, "a circle: a needs c needs b needs a"),
        (node("a", "c", before="a"), "a circle: a needs c needs b needs a"),
        (node("a", "a", before="a"), "a circle: a needs a"),
        (node("d", "z"), '"z"'),
        (node("b"), '"b" again'),
        (node(""), "without an id"),
        (node("d", kind="river"), '"river"'),
        (node("d", volts=[2, 1]), "a band from 2 to 1"),
        ({"do": "drop-node", "id": "z"}, '"z"'),
        ({"do": "link", "id": "z", "needs": "a"}, '"z"'),
    ],
)
def test_what_does_not_fit_is_refused_by_name(edit, found):
    document = made(node("a"), node("b", "a"), node("c", "b"))
    with pytest.raises(Refusal) as refused:
        edited(document, edit)
    assert found in str(refused.value)


def test_a_relatives_map_is_taken_with_its_name():
    lent = SCAUP["startup"]["nodes"]
    document = made({"do": "take-map", "nodes": lent, "lender": "Scaup 24"})
    assert needs(document) == {one["id"]: one["needs"] for one in lent}
    assert {one["from"] for one in document["startup"]["nodes"]} == {"Scaup 24"}
    assert all("parts" not in one for one in document["startup"]["nodes"])
    read_board(json.dumps({**SCAUP, "startup": document["startup"]}).encode())


@given(st.integers(0, 10_000))
def test_whatever_is_linked_no_circle_comes_in(seed):
    dice = random.Random(seed)
    document = made(*(node(f"n{at}") for at in range(6)))
    for _ in range(20):
        edit = {
            "do": "link",
            "id": f"n{dice.randrange(6)}",
            "needs": f"n{dice.randrange(6)}",
            "on": dice.random() < 0.8,
        }
        before = document
        try:
            document = edited(document, edit)
        except Refusal as refusal:
            assert "circle" in refusal.found
            assert document is before
        check_startup(document["startup"]["nodes"])
