"""A stand-in camera: a picture of a virtual card's board, at a known scale and turn.

It draws what a person looks for on a photograph (outline, contacts 1 mm apart, core with its mark, chips, plugs,
printed designators) and nothing that only a file knows, such as channels.
"""

from __future__ import annotations

import io
import math
from dataclasses import dataclass

from PIL import Image, ImageDraw, ImageFilter, ImageFont

from uvrix.core.boards.drawing import draw
from uvrix.core.boards.model import Board
from uvrix.core.boards.views import CONTACTS

Point = tuple[float, float]
Colour = tuple[int, int, int]
TABLE, BOARD, SILK, CHIP, GOLD, METAL, PLUG = (
    (150, 140, 122),
    (62, 84, 74),
    (214, 210, 196),
    (38, 42, 46),
    (196, 160, 84),
    (150, 148, 142),
    (24, 26, 28),
)
LANDMARKS = {"bracket": METAL, "power-plug": PLUG, "display-socket": METAL, "fan-plug": PLUG, "hole": TABLE}
MARGIN_MM = 12.0
PITCH_MM = 1.0


@dataclass(frozen=True, slots=True)
class Shot:
    """A picture as JPEG, its size in pixels, and where things truly are on it."""

    jpeg: bytes
    width_px: int
    height_px: int
    px_per_mm: float
    turn_deg: float
    centre_mm: Point

    def pixel(self, at_mm: Point) -> Point:
        """The pixel that shows a point of the front, in millimetres of the model."""
        angle = math.radians(self.turn_deg)
        x, y = at_mm[0] - self.centre_mm[0], self.centre_mm[1] - at_mm[1]
        across = x * math.cos(angle) - y * math.sin(angle)
        down = x * math.sin(angle) + y * math.cos(angle)
        return self.width_px / 2 + across * self.px_per_mm, self.height_px / 2 + down * self.px_per_mm


def contact_ends(board: Board) -> tuple[Point, Point, int]:
    """The first and the last slot contact, and how many there are."""
    row = next(mark for mark in board.landmarks if mark.kind == CONTACTS)
    many = int(float(row.size[0]) / PITCH_MM)
    first = float(row.centre[0]) - (many - 1) * PITCH_MM / 2
    y = float(row.centre[1])
    return (first, y), (first + (many - 1) * PITCH_MM, y), many


def photograph(board: Board, px_per_mm: float = 9.0, turn_deg: float = 0.0) -> Shot:
    """A picture of a board's front, turned clockwise by `turn_deg`, with some noise and blur."""
    left, bottom, right, top = (float(edge) for edge in board.extents)
    width = int((right - left + 2 * MARGIN_MM) * px_per_mm)
    height = int((top - bottom + 2 * MARGIN_MM) * px_per_mm)
    shot = Shot(b"", width, height, px_per_mm, turn_deg, ((left + right) / 2, (bottom + top) / 2))
    picture = Image.new("RGB", (width, height), TABLE)
    _draw(ImageDraw.Draw(picture), board, shot)
    grain = Image.effect_noise((width, height), 18).convert("RGB")
    picture = Image.blend(picture, grain, 0.06)
    picture = picture.filter(ImageFilter.GaussianBlur(0.6))
    written = io.BytesIO()
    picture.save(written, "JPEG", quality=82)
    return Shot(written.getvalue(), width, height, px_per_mm, turn_deg, shot.centre_mm)


def _draw(on: ImageDraw.ImageDraw, board: Board, shot: Shot) -> None:
    drawing = draw(board)

    def shape(corners: tuple[Point, ...], colour: Colour, edge: Colour | None = None) -> None:
        on.polygon([shot.pixel(corner) for corner in corners], fill=colour, outline=edge)

    shape(drawing.outline, BOARD, (40, 56, 48))
    for kind, _, corners in drawing.landmarks:
        if kind in LANDMARKS:
            shape(corners, LANDMARKS[kind])
    if any(kind == CONTACTS for kind, _, _ in drawing.landmarks):
        first, _, many = contact_ends(board)
        for number in range(many):
            x = first[0] + number * PITCH_MM
            shape(((x - 0.35, 0.3), (x + 0.35, 0.3), (x + 0.35, 5.5), (x - 0.35, 5.5)), GOLD)
    shape(drawing.core.corners, CHIP, (90, 96, 96))
    shape(drawing.core.mark, SILK)
    font = ImageFont.load_default(2.6 * shot.px_per_mm)
    for site in drawing.sites:
        if site.site.side != "front":
            continue
        shape(site.corners, CHIP if site.site.fitted else BOARD, SILK)
        centre = float(site.site.centre[0]), float(site.site.centre[1])
        above = max(y for _, y in site.corners) + 2.2
        on.text(shot.pixel((centre[0], above)), site.site.designator, fill=SILK, font=font, anchor="mm")
