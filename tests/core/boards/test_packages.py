"""Ball maps: read or refused, and laid out as on the package."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from tests.core.boards.strategies import BOARDS
from uvrix.core.boards.packages import CLASSES, ball_map, read_package
from uvrix.core.errors import Refusal

LETTERS = "ABCDEFGHJKLMNPRTUVWY"  # packages leave out letters that look like digits


@given(st.sets(st.tuples(st.integers(0, 19), st.integers(1, 20)), min_size=1, max_size=60))
def test_balls_lie_by_letter_and_number(places):
    rows = [f"{LETTERS[row]}{column},S{row},signal" for row, column in places]
    package = read_package("\n".join(["ball,signal,class", *rows]).encode(), "p")
    placed = {ball.ball: (ball.row, ball.column) for ball in ball_map(package)}
    used = sorted({row for row, _ in places})
    first = min(column for _, column in places)
    assert placed == {f"{LETTERS[row]}{column}": (used.index(row), column - first) for row, column in places}


def test_the_demo_package_has_each_data_line_once():
    package = read_package((BOARDS.parent / "packages/fb180.csv").read_bytes(), "fb180")
    assert sorted(package.lines) == list(range(32))
    assert len(set(package.lines.values())) == 32
    assert len(ball_map(package)) == len(package.classes) == 180
    assert set(package.classes.values()) <= set(CLASSES)


@given(st.binary(max_size=200) | st.text("AKDQ0123456789,\n \"'signalupy", max_size=200).map(str.encode))
def test_any_bytes_are_a_package_or_refused(data):
    for content in (data, b"ball,signal,class\n" + data):
        try:
            package = read_package(content, "p")
        except Refusal as refusal:
            assert refusal.expected
        else:
            assert len(ball_map(package)) == len(package.classes)
