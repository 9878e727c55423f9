"""Bytes to text to JSON to shapes: what is taken is exact, what is refused says where and what was expected."""

from __future__ import annotations

import codecs
import json
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.errors import Refusal
from uvrix.core.values.shape import check_shape, json_path, misfits
from uvrix.core.values.text import check_encoding, decode, parse_json

JSON = st.recursive(
    st.none()
    | st.booleans()
    | st.integers(-(10**20), 10**20)
    | st.text(st.characters(exclude_characters="\0", codec="utf-8")),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text("abc", min_size=1), inner, max_size=4),
    max_leaves=20,
)


@given(JSON, st.booleans(), st.booleans())
def test_what_was_written_is_read(value, marked, escaped):
    text = json.dumps(value, ensure_ascii=escaped)
    data = (codecs.BOM_UTF8 if marked else b"") + text.encode()
    assert decode(data) == text
    assert parse_json(data) == value


@given(st.decimals(-(10**12), 10**12, places=9))
def test_fractions_are_exact(number):
    assert parse_json(f"[{number}]".encode()) == [number]
    assert isinstance(parse_json(b"[0.1]")[0], Decimal)


@pytest.mark.parametrize(
    ("data", "found"),
    [
        (b"", "an empty file"),
        (b" \n", "an empty file"),
        ("{}".encode("utf-16"), "a file in UTF-16 or UTF-32"),
        (b"[1,\0]", "a NUL byte"),
        (b"[\xff]", "the byte 0xFF"),
        (b"[1e999]", "the number 1e999"),
        (b"[" + b"9" * 500 + b"]", "the number 999"),
        (b"[NaN]", "NaN"),
        (b'["\\u0000"]', "an escape that stands for no character"),
        (b'["\\ud800"]', "an escape that stands for no character"),
        (b"[" * 100_000, "brackets nested hundreds deep"),
        (b"[1 2]", "no JSON"),
    ],
)
def test_what_is_no_json_is_said(data, found):
    with pytest.raises(Refusal) as refused:
        parse_json(data)
    assert refused.value.found.startswith(found)
    assert refused.value.expected


@given(st.lists(st.text("ab", max_size=5), max_size=20), st.integers(1, 1000))
def test_the_line_of_a_bad_byte_is_counted(lines, first):
    good = "".join(f"{line}\n" for line in lines).encode()
    for bad, word in ((b"\0", "NUL"), (b"\xfe", "0xFE")):
        with pytest.raises(Refusal) as refused:
            check_encoding(good + bad + b"\nrest\n", first)
        assert refused.value.place == str(first + len(lines))
        assert word in refused.value.found


SCHEMA = {
    "type": "object",
    "required": ["name", "kind"],
    "properties": {
        "name": {"type": "string", "minLength": 1, "maxLength": 3},
        "kind": {"enum": ["a", "b"]},
        "sites": {"type": "array", "maxItems": 2, "items": {"type": "integer", "minimum": 0, "maximum": 9}},
        "share": {"exclusiveMinimum": 0, "type": ["number", "null"]},
    },
}
FITS = {"name": "x", "kind": "a", "sites": [1], "share": None}


@pytest.mark.parametrize(
    ("change", "place", "found", "expected"),
    [
        ({"name": ""}, "$.name", '""', "text that is not empty"),
        ({"name": "long"}, "$.name", '"long"', "at most 3 characters"),
        ({"name": 3}, "$.name", "3", "text"),
        ({"kind": "c"}, "$.kind", '"c"', "one of a, b"),
        ({"sites": [1, 2, 3]}, "$.sites", "[1, 2, 3]", "at most 2 entries"),
        ({"sites": [1, 11]}, "$.sites[1]", "11", "at most 9"),
        ({"sites": [-1]}, "$.sites[0]", "-1", "at least 0"),
        ({"sites": [True]}, "$.sites[0]", "true", "a whole number"),
        ({"share": 0}, "$.share", "0", "more than 0"),
        ({"share": "much"}, "$.share", '"much"', "a number or null"),
    ],
)
def test_a_misfit_is_said_as_path_found_and_expected(change, place, found, expected):
    check_shape(FITS, SCHEMA)
    with pytest.raises(Refusal) as refused:
        check_shape({**FITS, **change}, SCHEMA)
    assert (refused.value.place, refused.value.found, refused.value.expected) == (place, found, expected)


def test_every_misfit_is_named_in_the_order_of_the_path():
    found = misfits({"name": "", "sites": [1, 11]}, SCHEMA)
    assert [refusal.place for refusal in found] == ["$", "$.name", "$.sites[1]"]
    assert found[0].found == "no 'kind'"
    assert json_path(["sites", 3, "channel"]) == "$.sites[3].channel"
