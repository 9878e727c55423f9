"""Long sequences of edits of a start-up map: whatever is refused, what stands is a chain that begins at inputs."""

from __future__ import annotations

from copy import deepcopy
from graphlib import TopologicalSorter
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.boards.startup_edits import drop_node, link_nodes, put_node, take_nodes
from uvrix.core.errors import Refusal

NAMES = [f"n{number}" for number in range(6)]
ONE = st.sampled_from(NAMES)
PUT = st.tuples(st.just("put"), ONE | st.just(""), ONE, st.lists(ONE, max_size=3, unique=True))
EDITS = st.lists(
    PUT | st.tuples(st.just("drop"), ONE) | st.tuples(st.just("link"), ONE, ONE, st.booleans()), max_size=40
)


def apply(document, edit):
    if edit[0] == "put":
        _, before, name, needs = edit
        put_node(document, {"id": before, "entry": {"id": name, "kind": "rail", "needs": needs}})
    elif edit[0] == "drop":
        drop_node(document, {"id": edit[1]})
    else:
        link_nodes(document, {"id": edit[1], "needs": edit[2], "on": edit[3]})


def needs_of(document):
    return {node["id"]: list(node["needs"]) for node in document.get("startup", {}).get("nodes", [])}


@given(EDITS)
def test_no_edit_closes_a_circle_or_leaves_a_need_without_its_node(edits):
    document = {}
    for edit in edits:
        tried = deepcopy(document)
        try:
            apply(tried, edit)
        except Refusal as refusal:
            assert refusal.found
            assert refusal.expected
            continue
        document = tried
        nodes = document.get("startup", {}).get("nodes", [])
        needs = needs_of(document)
        assert len(needs) == len(nodes)
        assert all(need in needs for several in needs.values() for need in several)
        assert all(len(set(several)) == len(several) for several in needs.values())
        list(TopologicalSorter(needs).static_order())  # raises where they go round


@given(st.integers(2, 6), st.data())
def test_who_is_taken_away_leaves_the_chain_whole(length, data):
    """In a line of nodes, each is still reached from the input after one between was taken out."""
    document = {}
    for number in range(length):
        apply(document, ("put", "", f"n{number}", [f"n{number - 1}"] if number else []))
    gone = data.draw(st.integers(0, length - 1))
    drop_node(document, {"id": f"n{gone}"})
    left = [f"n{number}" for number in range(length) if number != gone]
    assert list(TopologicalSorter(needs_of(document)).static_order()) == left
    assert needs_of(document) == {name: left[max(0, at - 1) : at] for at, name in enumerate(left)}


def test_a_new_name_is_followed_by_those_that_need_it():
    document = {}
    apply(document, ("put", "", "n0", []))
    apply(document, ("put", "", "n1", ["n0"]))
    apply(document, ("put", "n0", "n5", []))
    assert needs_of(document) == {"n5": [], "n1": ["n5"]}


@pytest.mark.parametrize(
    ("entry", "found"),
    [
        ({"id": " "}, "a node without an id"),
        ({"id": "a", "kind": "teapot"}, '"teapot"'),
        ({"id": "a", "volts": [2, 1]}, "a band from 2 to 1"),
        ({"id": "a", "needs": ["b"]}, '"b"'),
    ],
)
def test_a_node_that_does_not_fit_is_refused_with_what_was_found(entry, found):
    with pytest.raises(Refusal) as refused:
        put_node({}, {"id": "", "entry": entry})
    assert refused.value.found == found


def test_a_circle_is_named():
    document = {}
    for number in range(3):
        apply(document, ("put", "", f"n{number}", [f"n{number - 1}"] if number else []))
    with pytest.raises(Refusal) as refused:
        link_nodes(document, {"id": "n0", "needs": "n2"})
    assert refused.value.found == "a circle: n0 needs n2 needs n1 needs n0"


def test_a_map_that_a_relative_lends_keeps_its_links_and_names_the_lender():
    lent = [{"id": "a", "needs": ["b"], "parts": ["L1"]}, {"id": "b", "volts": [1, 2]}]
    document: dict[str, Any] = {"startup": {"nodes": [{"id": "old", "needs": []}], "minutes": 3}}
    take_nodes(document, {"nodes": lent, "lender": "scaup-24"})
    assert needs_of(document) == {"a": ["b"], "b": []}
    assert {node["from"] for node in document["startup"]["nodes"]} == {"scaup-24"}
    assert "parts" not in document["startup"]["nodes"][0]
    assert document["startup"]["minutes"] == 3
