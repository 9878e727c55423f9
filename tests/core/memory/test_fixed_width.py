"""Lines of one length read as a matrix of bytes say exactly what the pattern's engine says."""

from __future__ import annotations

import io
import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.memory.cases import CHANNELS, six
from uvrix.core.errors import Refusal
from uvrix.core.memory import taught as taught_module
from uvrix.core.memory.fixed_width import parts_of, read_fixed_width
from uvrix.core.memory.reader_file import read_reader
from uvrix.core.memory.reading import read_report
from uvrix.core.memory.sites import board_channels
from uvrix.core.memory.stored import report_to_json

PATTERN = (
    r"^pass\s+[0-9]+\s+bank\s+(?P<channel>[A-Za-z0-9_]+)\s+at\s+(?P<address>[0-9A-Fa-fxX]+)"
    r"\s+want\s+(?P<expected>[0-9A-Fa-fxX]+)\s+saw\s+(?P<actual>[0-9A-Fa-fxX]+)\s*$"
)


def reader(pattern=PATTERN, **more):
    lines = [{"use": "error", "pattern": pattern}]
    return read_reader(
        json.dumps({"format": "uvrix-reader", "version": 1, "name": "x", "lines": lines, **more}).encode()
    )


def board():
    return six(address_map={"stripe_bytes": 256, "order": CHANNELS})


def by_engine(text, taught, monkeypatch):
    monkeypatch.setattr(taught_module, "read_fixed_width", lambda *_: None)
    try:
        return outcome(text, taught)
    finally:
        monkeypatch.undo()


def outcome(text, taught):
    try:
        report = read_report(io.BytesIO(text.encode()), board_channels(board()), 1024, reader=taught)
    except Refusal as refusal:
        return str(refusal)
    return report_to_json(report)


word = st.integers(0, 2**32 - 1).map(lambda number: f"{number:08X}")
row = st.tuples(
    st.integers(1, 12),
    st.sampled_from([*CHANNELS[:5], "D9", "quill"]),
    st.integers(0, 2**34).map(lambda n: f"0x{n:010X}") | st.just("0xzz"),
    word,
    word | st.sampled_from(["0000000G", "100000000", "x0000000"]),
).map(lambda cells: "pass {} bank {} at {} want {} saw {}".format(*cells))


@given(rows=st.lists(row | st.sampled_from(["", "lost", "pass  1 bank A0"]), min_size=1, max_size=40))
def test_any_lines_read_alike_either_way(rows):
    text = "\n".join(rows) + "\n"
    with pytest.MonkeyPatch.context() as patch:
        slow = by_engine(text, reader(), patch)
    assert outcome(text, reader()) == slow


@given(
    rows=st.lists(
        st.tuples(st.sampled_from(CHANNELS[:5]), st.integers(0, 2**32 - 1), word, word), min_size=1, max_size=60
    )
)
def test_lines_of_one_length_are_taken_whole_and_read_alike(rows):
    text = "".join(f"pass 1 bank {c} at 0x{a:010X} want {e} saw {s}\n" for c, a, e, s in rows)
    data = text.encode()
    found = read_fixed_width(data, len(rows), board_channels(board()), reader())
    assert found is not None
    assert found.address is not None
    assert [found.names[code] for code in found.channel] == [c for c, *_ in rows]
    assert found.mask.tolist() == [int(e, 16) ^ int(s, 16) for _, _, e, s in rows]
    assert [found.address(n) for n in range(len(rows))] == [a for _, a, *_ in rows]
    with pytest.MonkeyPatch.context() as patch:
        slow = by_engine(text, reader(), patch)
    assert outcome(text, reader()) == slow


@pytest.mark.parametrize(
    ("pattern", "taken"),
    [
        (PATTERN, True),
        (r"^(?P<channel>[A-Z][0-9]) x$", False),
        (r"^(?P<channel>[A-Z0-9]+): (?P<bits>[0-9A-F]{8})$", True),
        (r"^(?P<channel>[A-Z0-9]+)0 (?P<bits>[0-9A-F]{8})$", False),
        (r"^(?P<channel>[A-Z0-9]+)\s*(?P<bits>[0-9A-F]+)$", False),
        (r"(?P<channel>[A-Z0-9]+) x$", False),
        (r"^(?P<channel>[A-Z0-9]+) x", False),
        (r"^(?P<channel>A0|B0) x$", False),
        (r"^(?P<channel>[^ ]+) x$", False),
        (r"^(?i)(?P<channel>[A-Z0-9]+) x$", False),
        (r"^(?P<channel>[A-Z0-9]+).(?P<bits>[0-9A-F]{8})$", False),
    ],
)
def test_only_patterns_with_one_way_to_fit_are_taken_apart(pattern, taken):
    assert (parts_of(pattern) is not None) == taken


def test_renamed_channels_and_other_readers():
    text = b"quill want 00 saw 01\nmarsh want 00 saw 02\n"
    pattern = r"^(?P<channel>[a-z]+) want (?P<expected>[0-9A-F]+) saw (?P<actual>[0-9A-F]+)$"
    named = reader(pattern, channels={"quill": "A0", "marsh": "B0"})
    found = read_fixed_width(text, 2, board_channels(board()), named)
    assert found is not None
    assert [found.names[code] for code in found.channel] == ["A0", "B0"]
    for more in ({"number_base": 10}, {"word_order": "dq0-left"}, {"channels": {"quill": "A0"}}):
        assert read_fixed_width(text, 2, board_channels(board()), reader(pattern, **more)) is None
