"""The board printed at 1:1: pages of core.boards.sheet as SVG in millimetres, made into a PDF."""

from __future__ import annotations

from dataclasses import dataclass
from textwrap import wrap
from typing import Any

from django.template.loader import render_to_string
from django.utils.safestring import SafeString, mark_safe

from uvrix.core.boards.drawing import SiteShape, draw
from uvrix.core.boards.model import Board
from uvrix.core.boards.sheet import CHECK_MM, MARGIN_MM, OVERLAP_MM, Page, Paper, Sheet, sheet_of
from uvrix.core.boards.views import Edge, Orientation, View, edges, view_of
from uvrix.language import gettext
from uvrix.shop.config.paper import FAMILY, pdf

INK, SOFT, SUSPECT = "#20262b", "#8a8a84", "#8f1d58"
EDGE_WORDS: dict[Edge, str] = {
    "left": gettext("left"),
    "right": gettext("right"),
    "up": gettext("up"),
    "down": gettext("down"),
}
MEASURE_IT = gettext("50 mm: measure it before trusting")
# Letters of the foot, all of one width.
FOOT_SIZE_MM, ADVANCE_MM, LINE_MM, FOOT_LINES = 3.4, 2.2, 4.2, 3


@dataclass(frozen=True, slots=True)
class Caption:
    """What stands at the foot of each page."""

    title: str
    more: str
    marked: tuple[str, ...] = ()


def board_pdf(board: Board, orientation: Orientation, paper: Paper, caption: Caption) -> bytes:
    """The PDF: one page or tiles, each with a check bar; marked chips are flagged."""
    sheet = sheet_of(board, orientation, paper)
    words = f"{caption.title}. {_orientation_words(board, orientation)} {caption.more}"
    return pdf(
        "library/board.html",
        caption.title,
        first=sheet.pages[0],
        pages=[_page(page, sheet, words) for page in sheet.pages],
        art=_art(board, orientation, caption.marked),
        margin=MARGIN_MM,
        check=CHECK_MM,
        foot_size=FOOT_SIZE_MM,
    )


def board_picture(board: Board, orientation: Orientation, marked: tuple[str, ...], width_mm: float) -> SafeString:
    """The board as one SVG of that width, marked chips flagged."""
    view = view_of(board, orientation)
    width, height = float(view.width_mm), float(view.height_mm)
    size = {"width_mm": width_mm, "height_mm": width_mm * height / width, "across": width + 4, "down": height + 4}
    return render_to_string("library/picture.svg", {**size, "art": _art(board, orientation, marked)})


def _page(page: Page, sheet: Sheet, words: str) -> dict[str, Any]:
    """What the template draws of one page of the tiling, in millimetres of the paper."""
    x, y, width, height = page.window
    foot = MARGIN_MM + height
    if len(sheet.pages) > 1:
        words = gettext(
            "Page {column} of {columns} across, {row} of {rows} down. {words}",
            column=page.column,
            columns=sheet.columns,
            row=page.row,
            rows=sheet.rows,
            words=words,
        )
    lines = wrap(words, int((page.width_mm - 2 * MARGIN_MM) / ADVANCE_MM), max_lines=FOOT_LINES, placeholder=" …")
    said = [{"x": MARGIN_MM, "y": foot + 5.2 + LINE_MM * number, "words": line} for number, line in enumerate(lines)]
    bar = foot + 16
    return {
        "width": page.width_mm,
        "height": page.height_mm,
        "inner_width": width,
        "inner_height": height,
        "left": MARGIN_MM - x,
        "top": MARGIN_MM - y,
        "clip": f"clip{page.column}-{page.row}",
        "cuts": _cuts(page, sheet, width, height),
        "bar": bar,
        "foot": [*said, {"x": MARGIN_MM + CHECK_MM + 3, "y": bar + 2.6, "words": MEASURE_IT}],
    }


def _cuts(page: Page, sheet: Sheet, width: float, height: float) -> list[str]:
    """Paths of the dashed lines where the next page of the tiling begins, to cut and lay by."""
    paths = []
    if page.column < sheet.columns:
        paths.append(f"M{MARGIN_MM + width - OVERLAP_MM:.3f} {MARGIN_MM} v{height:.3f}")
    if page.row < sheet.rows:
        paths.append(f"M{MARGIN_MM} {MARGIN_MM + height - OVERLAP_MM:.3f} h{width:.3f}")
    return paths


def _orientation_words(board: Board, orientation: Orientation) -> str:
    found = edges(board, orientation)
    side = gettext("Front side") if orientation.side == "front" else gettext("Back side")
    bracket = EDGE_WORDS[found["bracket"]]
    if "edge-contacts" not in found:
        return gettext("{side}, bracket {bracket}.", side=side, bracket=bracket)
    contacts = EDGE_WORDS[found["edge-contacts"]]
    return gettext("{side}, bracket {bracket}, contacts {contacts}.", side=side, bracket=bracket, contacts=contacts)


def _art(board: Board, orientation: Orientation, marked: tuple[str, ...]) -> SafeString:
    """The board in the millimetres of its view."""
    view, drawing = view_of(board, orientation), draw(board)
    given = {
        "ink": INK,
        "soft": SOFT,
        "mono": mark_safe(FAMILY),  # noqa: S308 - a constant
        "matrix": " ".join(f"{float(number):.6f}" for number in view.matrix),
        "outline": _points(drawing.outline),
        "landmarks": [_points(corners) for _, _, corners in drawing.landmarks],
        "core": _points(drawing.core.corners),
        "core_mark": _points(drawing.core.mark),
        "back": orientation.side == "back",
        "sites": [
            _site(shape, view, seen=shape.site.side == orientation.side, flagged=shape.site.designator in marked)
            for shape in drawing.sites
            if shape.site.side == orientation.side or shape.site.designator in marked
        ],
    }
    return render_to_string("library/art.svg", given)


def _points(corners: tuple[tuple[float, float], ...]) -> str:
    return " ".join(f"{x:.4f},{y:.4f}" for x, y in corners)


def _site(shape: SiteShape, view: View, *, seen: bool, flagged: bool) -> dict[str, Any]:
    """A site with its name upright; a marked one is drawn heavy with a flag beside its name."""
    corners = tuple(_placed(view, corner) for corner in shape.corners)
    y = sum(corner[1] for corner in corners) / 4
    return {
        "name": shape.site.designator,
        "channel": shape.channel or "?",
        "corners": _points(corners),
        "x": sum(corner[0] for corner in corners) / 4,
        "name_y": y + 0.2,
        "channel_y": y + 4,
        "pin1": _placed(view, shape.pin1),
        "colour": SUSPECT if flagged else INK,
        "dashed": not (shape.site.fitted and seen),
        "flagged": flagged,
        "flag": (max(corner[0] for corner in corners) - 1.5, min(corner[1] for corner in corners)),
    }


def _placed(view: View, point: tuple[float, float]) -> tuple[float, float]:
    a, b, c, d, e, f = (float(number) for number in view.matrix)
    return a * point[0] + c * point[1] + e, b * point[0] + d * point[1] + f
