"""./test: of what goes over many of a kind a share is taken with each commit, another one with the next."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence

import pytest

# Whose turn it is: a number that grows with each commit. Without it, all are.
TURN = os.environ.get("UVRIX_TURN")
MARK = "in_turn"


def whose_turn(
    items: Sequence[pytest.Item], turn: int, changed: Callable[[pytest.Item], bool]
) -> tuple[list[pytest.Item], list[pytest.Item]]:
    """The tests to run at a turn, and those left to another one.

    Of the tests of one file that are marked `in_turn(N)` every Nth is taken, beginning with another one each turn, so
    that N turns take all of them. All of them are taken where `changed` says that what they test has changed.
    """
    seen: dict[tuple[str, int], int] = {}
    taken: list[pytest.Item] = []
    left: list[pytest.Item] = []
    for item in items:
        mark = item.get_closest_marker(MARK)
        if mark is None:
            taken.append(item)
            continue
        (every,) = mark.args
        place = seen.setdefault((str(item.path), every), 0)
        seen[str(item.path), every] += 1
        (taken if place % every == turn % every or changed(item) else left).append(item)
    return taken, left
