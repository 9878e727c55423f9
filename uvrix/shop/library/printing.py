"""The board printed at 1:1: pages of core.boards.sheet as SVG in millimetres, made into a PDF."""

from __future__ import annotations

from dataclasses import dataclass
from html import escape
from textwrap import wrap
from typing import Literal

from uvrix.core.boards.drawing import Drawing, SiteShape, draw
from uvrix.core.boards.model import Board
from uvrix.core.boards.sheet import CHECK_MM, MARGIN_MM, OVERLAP_MM, Page, Paper, Sheet, sheet_of
from uvrix.core.boards.views import Edge, Lie, View, edges, view_of
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
FONT = f'font-family="{FAMILY}"'
# Letters of the foot, all of one width.
FOOT_SIZE_MM, ADVANCE_MM, LINE_MM, FOOT_LINES = 3.4, 2.2, 4.2, 3


@dataclass(frozen=True, slots=True)
class Caption:
    """What stands at the foot of each page."""

    title: str
    more: str
    marked: tuple[str, ...] = ()


def board_pdf(board: Board, lie: Lie, paper: Paper, caption: Caption) -> bytes:
    """The PDF: one page or tiles, each with a check bar; marked chips are flagged."""
    sheet = sheet_of(board, lie, paper)
    art = _art(board, lie, caption.marked)
    words = f"{caption.title}. {_lie_words(board, lie)} {caption.more}"
    pages = "".join(_page(page, sheet, art, words) for page in sheet.pages)
    first = sheet.pages[0]
    size = f"{first.width_mm:.3f}mm {first.height_mm:.3f}mm"
    style = f"@page {{ size: {size}; margin: 0 }} body {{ margin: 0 }} svg {{ display: block }}"
    return pdf(caption.title, style, pages)


def board_picture(board: Board, lie: Lie, marked: tuple[str, ...], width_mm: float) -> str:
    """The board as one SVG of that width, marked chips flagged."""
    view = view_of(board, lie)
    width, height = float(view.width_mm), float(view.height_mm)
    tall = width_mm * height / width
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width_mm:.2f}mm" height="{tall:.2f}mm" '
        f'viewBox="-2 -2 {width + 4:.3f} {height + 4:.3f}">{_art(board, lie, marked)}</svg>'
    )


def _page(page: Page, sheet: Sheet, art: str, words: str) -> str:
    x, y, width, height = page.window
    clip = f"clip{page.column}-{page.row}"
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
    bar = foot + 16
    said = "".join(
        _text(MARGIN_MM, foot + 5.2 + LINE_MM * number, line, FOOT_SIZE_MM, anchor="start")
        for number, line in enumerate(lines)
    )
    return f"""<svg xmlns="http://www.w3.org/2000/svg" width="{page.width_mm:.3f}mm" height="{page.height_mm:.3f}mm"
 viewBox="0 0 {page.width_mm:.3f} {page.height_mm:.3f}">
<defs><clipPath id="{clip}">
<rect x="{MARGIN_MM}" y="{MARGIN_MM}" width="{width:.3f}" height="{height:.3f}"/></clipPath></defs>
<g clip-path="url(#{clip})"><g transform="translate({MARGIN_MM - x:.4f} {MARGIN_MM - y:.4f})">{art}</g></g>
{_overlaps(page, sheet, width, height)}
<rect x="{MARGIN_MM}" y="{bar:.3f}" width="{CHECK_MM:.0f}" height="2.5" fill="{INK}"/>
{_text(MARGIN_MM + CHECK_MM + 3, bar + 2.6, MEASURE_IT, FOOT_SIZE_MM, anchor="start")}
{said}
</svg>"""


def _overlaps(page: Page, sheet: Sheet, width: float, height: float) -> str:
    """Dashed lines where the next page of the tiling begins, to cut and lay by."""
    lines = []
    if page.column < sheet.columns:
        x = MARGIN_MM + width - OVERLAP_MM
        lines.append(f"<path d='M{x:.3f} {MARGIN_MM} v{height:.3f}'/>")
    if page.row < sheet.rows:
        y = MARGIN_MM + height - OVERLAP_MM
        lines.append(f"<path d='M{MARGIN_MM} {y:.3f} h{width:.3f}'/>")
    return f"<g stroke='{SOFT}' stroke-width='0.2' stroke-dasharray='2 2' fill='none'>{''.join(lines)}</g>"


def _lie_words(board: Board, lie: Lie) -> str:
    found = edges(board, lie)
    side = gettext("Front side") if lie.side == "front" else gettext("Back side")
    bracket = EDGE_WORDS[found["bracket"]]
    if "edge-contacts" not in found:
        return gettext("{side}, bracket {bracket}.", side=side, bracket=bracket)
    contacts = EDGE_WORDS[found["edge-contacts"]]
    return gettext("{side}, bracket {bracket}, contacts {contacts}.", side=side, bracket=bracket, contacts=contacts)


def _art(board: Board, lie: Lie, marked: tuple[str, ...]) -> str:
    """The board in the millimetres of its view."""
    view, drawing = view_of(board, lie), draw(board)
    pieces = [_ground(drawing, view, lie)]
    for shape in drawing.sites:
        seen = shape.site.side == lie.side
        if seen or shape.site.designator in marked:
            pieces.append(_site(shape, view, seen=seen, flagged=shape.site.designator in marked))
    return "".join(pieces)


def _matrix(view: View) -> str:
    return " ".join(f"{float(number):.6f}" for number in view.matrix)


def _points(corners: tuple[tuple[float, float], ...]) -> str:
    return " ".join(f"{x:.4f},{y:.4f}" for x, y in corners)


def _ground(drawing: Drawing, view: View, lie: Lie) -> str:
    dash = " stroke-dasharray='2 1.4'" if lie.side == "back" else ""
    marks = "".join(f"<polygon points='{_points(corners)}'/>" for _, _, corners in drawing.landmarks)
    return (
        f"<g transform='matrix({_matrix(view)})' fill='none' stroke='{INK}' stroke-width='0.35'>"
        f"<polygon points='{_points(drawing.outline)}'/><g stroke='{SOFT}'>{marks}</g>"
        f"<polygon points='{_points(drawing.core.corners)}'{dash}/>"
        f"<polygon points='{_points(drawing.core.mark)}' fill='{INK}'/></g>"
    )


def _site(shape: SiteShape, view: View, *, seen: bool, flagged: bool) -> str:
    """A site with its name upright; a marked one is drawn heavy with a flag beside its name."""
    corners = tuple(_placed(view, corner) for corner in shape.corners)
    x = sum(corner[0] for corner in corners) / 4
    y = sum(corner[1] for corner in corners) / 4
    dot = _placed(view, shape.pin1)
    colour = SUSPECT if flagged else INK
    dash = "" if shape.site.fitted and seen else " stroke-dasharray='1.5 1'"
    name = shape.site.designator
    channel = shape.channel or "?"
    flag = ""
    if flagged:
        right, top = max(corner[0] for corner in corners), min(corner[1] for corner in corners)
        pole = f"M{right - 1.5:.3f} {top:.3f} v-8 l6 2 l-6 2.2"
        flag = f"<path d='{pole}' fill='{SUSPECT}' stroke='{SUSPECT}' stroke-width='0.4'/>"
    return (
        f"<polygon points='{_points(corners)}' fill='none' stroke='{colour}' "
        f"stroke-width='{0.9 if flagged else 0.35}'{dash}/>"
        f"<circle cx='{dot[0]:.3f}' cy='{dot[1]:.3f}' r='0.6' fill='{colour}'/>"
        f"{_text(x, y + 0.2, name, 3.6, colour=colour, bold=True)}{_text(x, y + 4, channel, 3, colour=colour)}{flag}"
    )


def _placed(view: View, point: tuple[float, float]) -> tuple[float, float]:
    a, b, c, d, e, f = (float(number) for number in view.matrix)
    return a * point[0] + c * point[1] + e, b * point[0] + d * point[1] + f


def _text(
    x: float,
    y: float,
    words: str,
    size: float,
    *,
    anchor: Literal["start", "middle"] = "middle",
    colour: str = INK,
    bold: bool = False,
) -> str:
    weight = " font-weight='bold'" if bold else ""
    return (
        f"<text x='{x:.3f}' y='{y:.3f}' font-size='{size}' text-anchor='{anchor}' fill='{colour}'{weight} {FONT}>"
        f"{escape(words)}</text>"
    )
