"""The board on paper at 1:1: pages in millimetres, one that fits the board or tiles that overlap, never cut.

Every page carries a check bar of 50 mm, so that a printer that scales is found out before anything is measured by it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from uvrix.core.boards.model import Board
from uvrix.core.boards.views import Orientation, view_of

Paper = Literal["fit", "a4", "a3", "letter"]
PAPERS: dict[str, tuple[float, float]] = {"a4": (210.0, 297.0), "a3": (297.0, 420.0), "letter": (215.9, 279.4)}
# Printers leave the rim white; the caption with the check bar stands above it at the foot of each page.
MARGIN_MM, FOOT_MM, OVERLAP_MM = 8.0, 20.0, 10.0
CHECK_MM = 50.0
# Brackets and sockets stand out over the outline.
BEYOND_MM = 6.0
LEAST_WIDTH_MM = 150.0


@dataclass(frozen=True, slots=True)
class Page:
    """A page: its size, and the upper left of the window that it shows of the drawing, all in millimetres."""

    width_mm: float
    height_mm: float
    x_mm: float
    y_mm: float
    column: int
    row: int

    @property
    def window(self) -> tuple[float, float, float, float]:
        """(x, y, width, height) of the drawing that the page shows."""
        across, down = window_size(self.width_mm, self.height_mm)
        return self.x_mm, self.y_mm, across, down


@dataclass(frozen=True, slots=True)
class Sheet:
    """All pages of a print; `columns` by `rows` of them overlap by OVERLAP_MM."""

    pages: tuple[Page, ...]
    columns: int
    rows: int


def window_size(width_mm: float, height_mm: float) -> tuple[float, float]:
    """What a page has room for beside margins and foot."""
    return width_mm - 2 * MARGIN_MM, height_mm - 2 * MARGIN_MM - FOOT_MM


def sheet_of(board: Board, orientation: Orientation, paper: Paper) -> Sheet:
    """The pages of a board in an orientation: `fit` makes one page of its size, others the fewest tiles."""
    view = view_of(board, orientation)
    width, height = float(view.width_mm) + 2 * BEYOND_MM, float(view.height_mm) + 2 * BEYOND_MM
    if paper == "fit":
        page_width = max(width + 2 * MARGIN_MM, LEAST_WIDTH_MM)
        page = Page(page_width, height + 2 * MARGIN_MM + FOOT_MM, -BEYOND_MM, -BEYOND_MM, 1, 1)
        return Sheet((page,), 1, 1)
    short, long = PAPERS[paper]
    plans = [_tiled(width, height, size) for size in ((short, long), (long, short))]
    return min(plans, key=lambda plan: len(plan.pages))


def _tiled(width: float, height: float, size: tuple[float, float]) -> Sheet:
    across, down = window_size(*size)
    columns, rows = _count(width, across), _count(height, down)
    pages = [
        Page(
            size[0],
            size[1],
            column * (across - OVERLAP_MM) - BEYOND_MM,
            row * (down - OVERLAP_MM) - BEYOND_MM,
            column + 1,
            row + 1,
        )
        for row in range(rows)
        for column in range(columns)
    ]
    return Sheet(tuple(pages), columns, rows)


def _count(length: float, window: float) -> int:
    """How many windows of a length cover another, each but the first overlapping the one before."""
    return 1 if length <= window else 1 + math.ceil((length - window) / (window - OVERLAP_MM))
