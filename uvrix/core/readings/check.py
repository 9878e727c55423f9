"""All readings of a card against good cards, and what shorts its rails; what `uvrix check` prints."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from uvrix.core.boards.model import Board
from uvrix.core.readings.fuses import FuseFound, judge_fuse
from uvrix.core.readings.known import Library
from uvrix.core.readings.points import board_places
from uvrix.core.readings.reading_file import Observation, Reading
from uvrix.core.readings.shorts import ShortSuspect, rail_verdicts, short_suspects
from uvrix.core.readings.verdict import Judged, judge


def check(
    board: Board, readings: Sequence[Reading], known: Iterable[Observation]
) -> tuple[tuple[Judged, ...], tuple[ShortSuspect, ...]]:
    """Every reading judged, and the parts that may short the rails; the model's relative lends where it has no card."""
    places = board_places(board)
    library = Library(known, places)
    boards = [name for name in (board.id, board.relative_of) if name]
    judged = tuple(judge(reading, library, boards) for reading in readings)
    return judged, short_suspects(board, rail_verdicts(judged, places))


def fuses_of(board: Board, readings: Sequence[Reading]) -> tuple[FuseFound, ...]:
    """Every fuse of the board by all that was read at it."""
    points = [point.id for point in board.points if point.kind == "fuse"]
    parts = [part.designator for part in board.parts if part.kind == "fuse"]
    return tuple(judge_fuse(name, readings) for name in dict.fromkeys([*points, *parts]))


def as_json(
    judged: Iterable[Judged], suspects: Iterable[ShortSuspect], fuses: Iterable[FuseFound] = ()
) -> dict[str, Any]:
    """The object that `uvrix check --json` prints."""
    return {
        "fuses": [{"designator": fuse.designator, "state": fuse.state, "why": fuse.why} for fuse in fuses],
        "readings": [_judged(judgement) for judgement in judged],
        "suspects": [
            {"designator": suspect.part.designator, "chance": round(suspect.chance, 4), "why": suspect.why}
            for suspect in suspects
        ],
    }


def _judged(judged: Judged) -> dict[str, Any]:
    value, found = judged.reading.value, judged.reference
    reference = None
    if found:
        names = ("centre", "low", "high", "cards")
        reference = {**{name: getattr(found, name) for name in names}, "from": found.board}
    return {
        "point": judged.reading.point,
        "quantity": judged.reading.quantity,
        "value": "OL" if value.ol else value.middle,
        "low": value.low,
        "high": value.high,
        "verdict": judged.verdict,
        "reference": reference,
        "why": judged.why,
    }
