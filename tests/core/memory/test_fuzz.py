"""Whatever a file holds, it is read or refused in one line: no traceback, nothing that is no number."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.memory.cases import clamshell, located, read
from uvrix.core.errors import Refusal

pieces = st.sampled_from(
    [
        *["channel", "address", "expected", "actual", "bits", "count", "errors", "dq0", "op", ",", ",", ",", "\n"],
        *["\n", "\r\n", '"', "# result: pass\n", "# condition: cold\n", "A0", "B1", "0x", "FFFFFFFF", "0", "1", "-1"],
        *["{", "}", '{"format":"uvrix-report","version":1}\n', '{"channel":"A0"}\n', "\t", " ", "é", "\u2028", "A"],
        *["9" * 30, "#", "\x0b", "\x85"],
    ]
)


def check(data: bytes, block_bytes: int) -> None:
    try:
        report = read(data, clamshell(), block_bytes)
    except Refusal as refusal:
        assert "\n" not in str(refusal)
        return
    assert report.rows >= 0
    assert report.errors >= 0
    assert len(report.unread.quotes) == min(20, report.unread.count)


@given(st.lists(pieces, max_size=60).map("".join), st.integers(16, 400))
def test_texts_made_of_our_own_words(text, block_bytes):
    check(text.encode(), block_bytes)


@given(st.binary(max_size=400), st.integers(16, 400))
def test_any_bytes(data, block_bytes):
    check(data, block_bytes)


@given(st.lists(pieces, max_size=40).map("".join))
def test_what_is_found_is_json_with_chances_between_0_and_1(text):
    try:
        found = located("channel,expected,actual,count\nA0,0,1,1\n" + text)
    except Refusal:
        return
    json.dumps(found, allow_nan=False)
    for entry in [found["finding"], *found["others"], *found["actions"]]:
        assert 0 <= entry["chance"] <= 1


@given(st.binary(max_size=200))
def test_the_middle_of_a_file_of_bytes(data):
    check(b"channel,bits\nA0,1\n" + data + b"\nA0,2\n", 64)


@pytest.mark.parametrize("data", [b"channel\rbits\nA0,1\n", b'channel,"bits\nA0,1\n', b"a\rb", b"0\r0\n"])
def test_a_bare_carriage_return_or_an_open_quote_in_the_header(data):
    check(data, 64)
