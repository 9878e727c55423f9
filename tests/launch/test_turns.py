"""What ./test takes in turn: each of it comes, none of it twice, and all of it where what it tests has changed."""

from __future__ import annotations

from pathlib import Path
from types import SimpleNamespace

import pytest

from tests.turns import whose_turn

NAMES = [f"levels[{number}]" for number in range(5)]


def item(name, file, every=0):
    mark = SimpleNamespace(args=(every,)) if every else None
    return SimpleNamespace(name=name, path=Path(file), get_closest_marker=lambda _: mark)


ITEMS = [
    item("plain", "test_one.py"),
    *(item(name, "test_one.py", 3) for name in NAMES),
    item("seldom", "test_one.py", 2),
    item("other", "test_other.py", 3),
]


def of(turn, *, changed=()):
    taken, left = whose_turn(ITEMS, turn, lambda each: each.name in changed)
    assert sorted(each.name for each in [*taken, *left]) == sorted(each.name for each in ITEMS)
    return [each.name for each in taken]


@pytest.mark.parametrize("first", [0, 1, 2, 3011])
def test_so_many_turns_as_are_named_take_each_once(first):
    turns = [of(first + later) for later in range(3)]
    assert all("plain" in turn for turn in turns)
    for name in (*NAMES, "other"):
        assert sum(name in turn for turn in turns) == 1
    assert ["seldom" in of(turn) for turn in range(4)] == [True, False, True, False]


def test_a_turn_takes_as_good_as_an_equal_share():
    assert [len([name for name in of(turn) if name in NAMES]) for turn in range(3)] == [2, 2, 1]


def test_what_changed_is_taken_whatever_the_turn():
    for turn in range(3):
        assert NAMES[4] in of(turn, changed={NAMES[4]})
        assert of(turn, changed={each.name for each in ITEMS}) == [each.name for each in ITEMS]
