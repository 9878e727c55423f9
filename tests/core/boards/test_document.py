"""What a board file must hold, and how it is refused."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import data_of, documents
from tests.core.boards.test_walk import four
from uvrix.core.boards.document import board_from_document, board_unchecked, read_board
from uvrix.core.errors import Refusal

NODES = [{"id": "a"}, {"id": "b", "needs": ["a"]}]


def set_at(document, path, value):
    *way, last = path
    for key in way:
        document = document[key]
    if value is KeyError:
        del document[last]
    else:
        document[last] = value


REFUSED = [
    (("format",), "other", "$.format", "uvrix-board"),
    (("version",), 2, "$.version", "1"),
    (("id",), KeyError, "$", "id"),
    (("outline_mm",), [[0, 0], [1, 1]], "$.outline_mm", "at least 3"),
    (("outline_mm",), [[0, 0], [1, 0], [2, 0]], "$.outline_mm", "area"),
    (("core", "mark_corner"), "middle", "$.core.mark_corner", "top-left"),
    (("core", "size_mm"), [0, 10], "$.core.size_mm[0]", "more than 0"),
    (("core", "x_mm"), "10", "$.core.x_mm", "a number"),
    (("sites", 0, "side"), "left", "$.sites[0].side", "front"),
    (("sites", 0, "dq"), [0, 32], "$.sites[0].dq", "31"),
    (("sites", 0, "dq"), [[0, 7], [7, 9]], "$.sites[0].dq", "overlap"),
    (("sites", 0, "dq"), [True, 3], "$.sites[0].dq", "31"),
    (("sites", 0, "x_mm"), 0, "$.sites[0]", "beside the core"),
    (("sites", 1, "designator"), "U1", "$.sites[1].designator", "not taken"),
    (("sites", 1, "designator"), "C1", "$.sites[1].designator", "not taken"),
    (("walk", "start"), "corner", "$.walk.start", "opposite-mark"),
    (("walk", "order"), ["A0"], "$.walk.order", "4"),
    (("landmarks",), [{"kind": "sticker", "x_mm": 0, "y_mm": 0}], "$.landmarks[0].kind", "bracket"),
    (("address_map",), {"order": ["A0"]}, "$.address_map", "either"),
    (("address_map",), {"order": ["A0", "A1", "B0"], "select": [[8], [9]]}, "$.address_map.order", "4 names"),
    (("address_map",), {"order": ["A0"], "stripe_bytes": 0}, "$.address_map.stripe_bytes", "at least 1"),
    (("startup",), {"nodes": [{"id": "a", "needs": ["z"]}]}, "$.startup.nodes[0].needs", "id of a start-up node"),
    (("startup",), {"nodes": [{"id": "a", "needs": ["b"]}, {"id": "b", "needs": ["a"]}]}, "$.startup.nodes", "circle"),
    (("points",), [{"id": "L1"}, {"id": "L1"}], "$.points[1].id", "not taken"),
]


@pytest.mark.parametrize(("path", "value", "place", "expected"), REFUSED)
def test_refused_with_path_found_and_expected(path, value, place, expected):
    document = four()
    document["sites"][0].update(x_mm=30, y_mm=0) if value == 0 and path[-1] == "x_mm" else None
    if path == ("sites", 0, "x_mm"):
        document["sites"][0].update(y_mm=0)
    set_at(document, path, value)
    with pytest.raises(Refusal) as refused:
        read_board(data_of(document))
    assert refused.value.place == place
    assert expected in refused.value.expected
    assert "\n" not in str(refused.value)


@pytest.mark.parametrize(
    ("data", "place", "found"),
    [
        (b"", "1", "empty"),
        (b"{\n  ,", "2", "no JSON"),
        ("{}".encode("utf-16"), "1", "UTF-16"),
        (b"{\n\n\0", "3", "NUL"),
        (b'{\n"\xff"', "2", "0xFF"),
        (b'{"x": NaN}', "$", "NaN"),
        (b'{"x": 1e999999999}', "$", "1e999999999"),
        (b'{"x": ' + b"9" * 5000 + b"}", "$", "the number"),
        (b'{"x": "\\u0000"}', "$", "escape"),
        (b'{"x": "\\ud800"}', "$", "escape"),
        (b"[" * 100_000, "$", "nested"),
        (b"[]", "$", "[]"),
    ],
)
def test_what_is_no_json_of_ours(data, place, found):
    with pytest.raises(Refusal) as refused:
        read_board(data)
    assert refused.value.place == place
    assert found in refused.value.found


@given(documents())
def test_byte_order_mark_and_line_ends_do_not_matter_and_unknown_keys_are_kept(document):
    document["of_the_shop"] = {"a": [1, None]}
    plain = read_board(data_of(document))
    dressed = b"\xef\xbb\xbf" + json.dumps(document, indent=1).replace("\n", "\r\n").encode()
    assert read_board(dressed) == plain
    assert read_board(dressed).document["of_the_shop"] == {"a": [1, None]}


def test_lines_of_a_chip():
    document = four()
    document["sites"][0]["dq"] = [[0, 7], [16, 23]]
    document["sites"][1]["dq"] = [31, 31]
    board = read_board(data_of(document))
    assert [site.lines for site in board.sites] == [0x00FF00FF, 0x80000000, 0xFFFFFFFF, 0xFFFFFFFF]


def test_a_start_up_without_circles_is_taken():
    document = four()
    document["startup"] = {"nodes": NODES}
    assert read_board(data_of(document)).document["startup"]["nodes"] == NODES


json_values = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=5),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=6,
)


@given(documents(), st.data())
def test_any_value_anywhere_is_read_or_refused(document, data):
    path = []
    here = document
    while isinstance(here, dict | list) and here and (not path or data.draw(st.booleans())):
        key = data.draw(st.sampled_from(list(here) if isinstance(here, dict) else range(len(here))))
        path.append(key)
        here = here[key]
    set_at(document, path, data.draw(json_values))
    try:
        read_board(json.dumps(document).encode("utf-8", "replace"))
    except Refusal as refusal:
        assert str(refusal).count("\n") == 0


@given(st.binary(max_size=300))
def test_any_bytes_are_refused(data):
    with pytest.raises(Refusal):
        read_board(data)


@pytest.mark.parametrize(("volts", "fits"), [([1.7, 1.9], True), ([1.8, 1.8], True), ([1.9, 1.7], False)])
def test_limits_the_wrong_way_round_are_refused_and_a_kept_board_is_read_all_the_same(volts, fits):
    found = {**four(), "startup": {"nodes": [{"id": "1v8"}, {"id": "core", "volts": volts}]}}
    assert board_unchecked(found).document is found
    if fits:
        board_from_document(found)
        return
    with pytest.raises(Refusal) as refused:
        board_from_document(found)
    assert refused.value.place == "$.startup.nodes[1].volts"
    assert refused.value.found == "[1.9, 1.7]"
