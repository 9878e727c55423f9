"""Findings of memory runs, kept in memory: the same reports on the same board are weighed once."""

from __future__ import annotations

import json
from collections import OrderedDict
from collections.abc import Sequence
from functools import lru_cache

from uvrix.core.boards.model import Board
from uvrix.core.memory.locate import Located, locate
from uvrix.core.memory.report import Report
from uvrix.core.memory.stored import report_from_json

MOST_REPORTS, MOST_FINDINGS = 256, 128
Named = tuple[str, Report]
# By the identity of board and reports, which each entry keeps alive, so that no other object takes their place.
_FOUND: OrderedDict[tuple[object, ...], tuple[Board, tuple[Named, ...], Located]] = OrderedDict()


@lru_cache(MOST_REPORTS)
def read_report(stored: str) -> Report:
    """The report of a memory run as the shop stores it, as JSON text; the same text gives the same object."""
    return report_from_json(json.loads(stored))


def find(board: Board, reports: Sequence[Named]) -> Located:
    """The finding of reports, each with its run's name, on a board."""
    key = (id(board), *((name, id(report)) for name, report in reports))
    kept = _FOUND.get(key)
    if kept is None:
        kept = _FOUND[key] = (board, tuple(reports), locate(board, reports))
        while len(_FOUND) > MOST_FINDINGS:
            _FOUND.popitem(last=False)
    return kept[2]
