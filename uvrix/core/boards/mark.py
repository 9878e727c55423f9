"""Confirming the mark: the designator as printed, and one landmark question that a wrong chip would answer wrongly.

The question compares distances on the board: it is chosen so that as many as possible of the chips that could be
taken for the right one (all others on the same side) would be answered differently, the reference itself included.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from uvrix.core.boards.drawing import Point
from uvrix.core.boards.model import Board, Site, Vector
from uvrix.core.boards.views import BRACKET, CONTACTS
from uvrix.core.errors import UvrixError
from uvrix.language import gettext

Answer = Literal["yes", "no"]
# Two distances can be told apart by eye where they differ by this many millimetres and by this share of the larger.
CLEAR_MM = 8.0
CLEAR_SHARE = 0.25
NAMES = {
    BRACKET: gettext("the bracket"),
    CONTACTS: gettext("the slot contacts"),
    "power-plug": gettext("the power plug"),
}
NAMES |= {"display-socket": gettext("the display sockets"), "fan-plug": gettext("the fan plug")}


@dataclass(frozen=True, slots=True)
class Question:
    """Is `designator` nearer to `landmark` than `reference` is? Distances are from centres, in millimetres."""

    designator: str
    reference: str
    landmark: str
    distance_mm: float
    reference_mm: float
    catches: int

    @property
    def answer(self) -> Answer:
        """What is true on the board."""
        return "yes" if self.distance_mm < self.reference_mm else "no"

    @property
    def text(self) -> str:
        """The question as it is asked."""
        return gettext(
            "Is the chip in front of you nearer to {landmark} than {reference} is?",
            landmark=self.landmark,
            reference=self.reference,
        )

    @property
    def why(self) -> str:
        """The distances that settle it."""
        return gettext(
            "{designator} lies {distance_mm} mm from {landmark}, {reference} {reference_mm} mm.",
            designator=self.designator,
            distance_mm=f"{self.distance_mm:.0f}",
            landmark=self.landmark,
            reference=self.reference,
            reference_mm=f"{self.reference_mm:.0f}",
        )


class UnknownDesignator(UvrixError):
    """Nothing on the board is printed so."""

    def __init__(self, typed: str, board: Board) -> None:
        self.typed = typed
        close = [name for name in board.by_designator if name.startswith(typed[:1])]
        self.known = close or list(board.by_designator)
        super().__init__(typed)

    def __str__(self) -> str:
        known = ", ".join(self.known[:24])
        return gettext(
            "found {typed}, expected what is printed beside a memory site of this board ({known})",
            typed=repr(self.typed),
            known=known,
        )


def site_named(board: Board, typed: str) -> Site:
    """The site whose printed designator was typed, in any case; raises UnknownDesignator."""
    wanted = typed.strip().upper()
    for name, site in board.by_designator.items():
        if name.upper() == wanted:
            return site
    raise UnknownDesignator(typed.strip(), board)


def question_for(board: Board, designator: str) -> Question | None:
    """The question that catches the most wrong chips, or None where the board gives nothing to compare."""
    site = board.by_designator[designator]
    others = [
        candidate
        for candidate in board.sites
        if candidate.side == site.side and candidate is not site and candidate.fitted
    ]
    best: Question | None = None
    for name, box in _landmarks(board):
        own = _distance(site.centre, box)
        for reference, centre in [(other.designator, other.centre) for other in others] + [_core(board)]:
            question = Question(designator, reference, name, own, _distance(centre, box), 0)
            if not _clear(question):
                continue
            caught = sum(
                (_distance(other.centre, box) < question.reference_mm) != (question.answer == "yes") for other in others
            )
            asked = Question(designator, reference, name, own, question.reference_mm, caught)
            if best is None or _rank(asked) > _rank(best):
                best = asked
    return best


def _clear(question: Question) -> bool:
    apart = abs(question.distance_mm - question.reference_mm)
    return apart >= CLEAR_MM and apart >= CLEAR_SHARE * max(question.distance_mm, question.reference_mm)


def _rank(question: Question) -> tuple[int, float]:
    return question.catches, abs(question.distance_mm - question.reference_mm)


def _core(board: Board) -> tuple[str, Vector]:
    return gettext("the core {designator}", designator=board.core.designator), board.core.centre


def _landmarks(board: Board) -> list[tuple[str, tuple[Point, Point]]]:
    """Landmarks by name with their boxes as (lower left, upper right); those named twice are left out."""
    found: dict[str, list[tuple[Point, Point]]] = {}
    for mark in board.landmarks:
        if mark.kind in NAMES:
            x, y, w, h = (float(number) for number in (*mark.centre, *mark.size))
            found.setdefault(NAMES[mark.kind], []).append(((x - w / 2, y - h / 2), (x + w / 2, y + h / 2)))
    if NAMES[BRACKET] not in found:
        left, bottom, _, top = (float(number) for number in board.extents)
        found[NAMES[BRACKET]] = [((left, bottom), (left, top))]
    return [(name, boxes[0]) for name, boxes in found.items() if len(boxes) == 1]


def _distance(centre: Vector, box: tuple[Point, Point]) -> float:
    """From a point to a box, millimetres; 0 inside."""
    (left, bottom), (right, top) = box
    x, y = float(centre[0]), float(centre[1])
    return math.hypot(max(left - x, 0, x - right), max(bottom - y, 0, y - top))
