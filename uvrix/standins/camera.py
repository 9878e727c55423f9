"""A stand-in camera: a picture of a virtual card's board, at a known scale and turn.

It draws what a person looks for on a photograph (outline, contacts 1 mm apart, core with its mark, chips, small parts,
plugs, printed designators) and nothing that only a file knows, such as channels. Two shots of one board differ as two
photographs do: turn, shift, lamp, grain; and by parts that one of the cards has lost.
"""

from __future__ import annotations

import io
import math
import zlib
from collections.abc import Collection, Iterable
from dataclasses import dataclass, replace

import numpy as np
from PIL import Image, ImageDraw, ImageFilter, ImageFont

from uvrix.core.boards.contacts import by_name, spot_of
from uvrix.core.boards.drawing import draw
from uvrix.core.boards.model import Board, Side
from uvrix.core.boards.photograph import Photograph, entry_of
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
# Parts by kind: length, width, body; ends are tinned where the part has two.
SMALL: dict[str, tuple[float, float, Colour, bool]] = {
    "capacitor": (1.6, 0.8, (150, 122, 92), True),
    "resistor": (1.6, 0.8, (30, 30, 34), True),
    "fuse": (3.2, 1.6, (222, 220, 214), True),
    "shunt": (3.2, 1.6, (44, 48, 44), True),
    "coil": (6.0, 6.0, (96, 98, 98), False),
}
CHIP_MM = (3.0, 2.6)
TRACE, VIA = (74, 98, 86), (128, 132, 110)
TRACES, VIAS = 90, 260
# What is seen from behind too.
THROUGH = frozenset({"hole", "bracket"})
SOOT, BARE = (28, 20, 14), (112, 96, 70)
SOOT_MM = 3.2
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
    shift_px: Point = (0.0, 0.0)
    side: Side = "front"

    def pixel(self, at_mm: Point) -> Point:
        """The pixel that shows a point of its side, in millimetres of the model: the back is seen from behind."""
        angle = math.radians(self.turn_deg)
        x, y = at_mm[0] - self.centre_mm[0], self.centre_mm[1] - at_mm[1]
        x = -x if self.side == "back" else x
        across = x * math.cos(angle) - y * math.sin(angle)
        down = x * math.sin(angle) + y * math.cos(angle)
        x_px = self.width_px / 2 + self.shift_px[0] + across * self.px_per_mm
        return x_px, self.height_px / 2 + self.shift_px[1] + down * self.px_per_mm

    def place(self, pixel: Point) -> Point:
        """The point of the front that a pixel shows."""
        angle = math.radians(self.turn_deg)
        across = (pixel[0] - self.width_px / 2 - self.shift_px[0]) / self.px_per_mm
        down = (pixel[1] - self.height_px / 2 - self.shift_px[1]) / self.px_per_mm
        x = across * math.cos(angle) + down * math.sin(angle)
        y = -across * math.sin(angle) + down * math.cos(angle)
        return self.centre_mm[0] + x, self.centre_mm[1] - y

    def entry(self, sha256: str) -> dict[str, object]:
        """The board file's entry of the picture as the model's reference photograph of the front."""
        x, y = self.place((0.0, 0.0))
        photograph = Photograph("front", self.width_px, self.height_px, x, y, 1 / self.px_per_mm, self.turn_deg)
        return entry_of(photograph, sha256)


@dataclass(frozen=True, slots=True)
class Light:
    """How a picture is lit: `lamp` times as bright, darker to one side by `slope`, its grain by `seed`."""

    lamp: float = 1.0
    slope: float = 0.0
    seed: int = 1


DAYLIGHT = Light()


@dataclass(frozen=True, slots=True)
class Damage:
    """What is wrong to be seen: parts that are not there, burnt ones, slot contacts that are torn off.

    `pads`: where a part is gone its pads are seen.
    """

    gone: frozenset[str] = frozenset()
    burnt: frozenset[str] = frozenset()
    torn: frozenset[str] = frozenset()
    pads: bool = True


SOUND = Damage()


def contact_ends(board: Board) -> tuple[Point, Point, int]:
    """The first and the last slot contact, and how many there are."""
    row = next(mark for mark in board.landmarks if mark.kind == CONTACTS)
    many = int(float(row.size[0]) / PITCH_MM)
    first = float(row.centre[0]) - (many - 1) * PITCH_MM / 2
    y = float(row.centre[1])
    return (first, y), (first + (many - 1) * PITCH_MM, y), many


def photograph(
    board: Board,
    px_per_mm: float = 9.0,
    turn_deg: float = 0.0,
    *,
    shift_px: Point = (0.0, 0.0),
    light: Light = DAYLIGHT,
    without: Collection[str] = (),
) -> Shot:
    """A picture of a board's front, turned clockwise by `turn_deg`, with some grain and blur; `without` some parts."""
    left, bottom, right, top = (float(edge) for edge in board.extents)
    width = int((right - left + 2 * MARGIN_MM) * px_per_mm)
    height = int((top - bottom + 2 * MARGIN_MM) * px_per_mm)
    shot = Shot(b"", width, height, px_per_mm, turn_deg, ((left + right) / 2, (bottom + top) / 2), shift_px)
    picture = Image.new("RGB", (width, height), TABLE)
    return _taken(picture, board, shot, light, Damage(frozenset(without), pads=False))


def seen(board: Board, side: Side, damage: Damage, light: Light = DAYLIGHT, px_per_mm: float = 9.0) -> Shot:
    """A whole side of a card with what is wrong to be seen on it; the back as it lies with its contacts down."""
    left, bottom, right, top = (float(edge) for edge in board.extents)
    middle = (left + right) / 2, (bottom + top) / 2
    size = right - left + 2 * MARGIN_MM, top - bottom + 2 * MARGIN_MM
    return close_up(board, Frame(side, middle, size, px_per_mm), damage, light)


@dataclass(frozen=True, slots=True)
class Frame:
    """What a close-up shows: a side, its width and height in millimetres about a point of it."""

    side: Side
    middle_mm: Point
    size_mm: Point
    px_per_mm: float = 20.0


def close_up(board: Board, frame: Frame, damage: Damage, light: Light = DAYLIGHT) -> Shot:
    """A part of a side, with what is wrong to be seen on it."""
    width, height = (int(length * frame.px_per_mm) for length in frame.size_mm)
    shot = Shot(b"", width, height, frame.px_per_mm, 0.0, frame.middle_mm, side=frame.side)
    return _taken(Image.new("RGB", (width, height), TABLE), board, shot, light, damage)


def _taken(picture: Image.Image, board: Board, shot: Shot, light: Light, damage: Damage) -> Shot:
    _draw(ImageDraw.Draw(picture), board, shot, damage)
    picture = _burnt(picture, board, shot, damage.burnt)
    picture = _lit(picture.filter(ImageFilter.GaussianBlur(0.6)), light)
    written = io.BytesIO()
    picture.save(written, "JPEG", quality=82)
    return replace(shot, jpeg=written.getvalue())


def _burnt(picture: Image.Image, board: Board, shot: Shot, burnt: Collection[str]) -> Image.Image:
    """Soot over burnt parts, darkest at the part and gone some millimetres away."""
    places = [part.centre for part in board.parts if part.designator in burnt and part.side == shot.side]
    points = [shot.pixel((float(centre[0]), float(centre[1]))) for centre in places if centre is not None]
    if not points:
        return picture
    mask = Image.new("L", picture.size, 0)
    on = ImageDraw.Draw(mask)
    for point in points:
        for share, depth in ((1.0, 70), (0.7, 130), (0.4, 210)):
            _dot(on, point, share * SOOT_MM * shot.px_per_mm, depth)
    mask = mask.filter(ImageFilter.GaussianBlur(0.5 * shot.px_per_mm))
    return Image.composite(Image.new("RGB", picture.size, SOOT), picture, mask)


def _lit(picture: Image.Image, light: Light) -> Image.Image:
    """The picture under a lamp, with the grain of its sensor."""
    pixels = np.asarray(picture, dtype=np.float32)
    fall = np.linspace(1.0 + light.slope / 2, 1.0 - light.slope / 2, picture.width, dtype=np.float32)
    grain = np.random.default_rng(light.seed).normal(0.0, 2.5, pixels.shape[:2]).astype(np.float32)
    lit = pixels * fall[None, :, None] * light.lamp + grain[:, :, None]
    return Image.fromarray(np.clip(lit, 0, 255).astype(np.uint8))


def _shape(
    on: ImageDraw.ImageDraw, shot: Shot, corners: Iterable[Point], colour: Colour, edge: Colour | None = None
) -> None:
    on.polygon([shot.pixel(corner) for corner in corners], fill=colour, outline=edge)


def _draw(on: ImageDraw.ImageDraw, board: Board, shot: Shot, damage: Damage) -> None:
    drawing, front = draw(board), shot.side == "front"
    _shape(on, shot, drawing.outline, BOARD, (40, 56, 48))
    _copper(on, board, shot)
    for kind, _, corners in drawing.landmarks:
        if kind in LANDMARKS and (front or kind in THROUGH):
            _shape(on, shot, corners, LANDMARKS[kind])
    if any(kind == CONTACTS for kind, _, _ in drawing.landmarks):
        _contacts(on, board, shot, damage.torn)
    if front:
        _shape(on, shot, drawing.core.corners, CHIP, (90, 96, 96))
        _shape(on, shot, drawing.core.mark, SILK)
    _parts(on, board, shot, damage)
    font = ImageFont.load_default(2.6 * shot.px_per_mm)
    for site in drawing.sites:
        if site.site.side == shot.side:
            _shape(on, shot, site.corners, CHIP if site.site.fitted else BOARD, SILK)
            above = float(site.site.centre[0]), max(y for _, y in site.corners) + 2.2
            on.text(shot.pixel(above), site.site.designator, fill=SILK, font=font, anchor="mm")


def _parts(on: ImageDraw.ImageDraw, board: Board, shot: Shot, damage: Damage) -> None:
    """The small parts of the side, and the pads of those that are gone."""
    for part in board.parts:
        if part.side == shot.side and part.centre:
            at = (float(part.centre[0]), float(part.centre[1]))
            if part.designator not in damage.gone:
                _part(on, shot, part.kind, at)
            elif damage.pads:
                _pads(on, shot, part.kind, at)


def _contacts(on: ImageDraw.ImageDraw, board: Board, shot: Shot, torn: Collection[str]) -> None:
    """The slot's contacts, those that are torn without their gold."""
    first, _, many = contact_ends(board)
    for number in range(many):
        x = first[0] + number * PITCH_MM
        _shape(on, shot, ((x - 0.35, 0.3), (x + 0.35, 0.3), (x + 0.35, 5.5), (x - 0.35, 5.5)), GOLD)
    for name in torn:
        _torn(on, board, shot, name)


def _copper(on: ImageDraw.ImageDraw, board: Board, shot: Shot) -> None:
    """Traces and vias: the same on every card of a board model."""
    rng = np.random.default_rng(zlib.crc32(board.id.encode()))
    left, bottom, right, top = (float(edge) for edge in board.extents)
    for x, y, angle, length in zip(
        rng.uniform(left, right, TRACES),
        rng.uniform(bottom, top, TRACES),
        rng.choice([0, 45, 90, 135], TRACES),
        rng.uniform(5, 30, TRACES),
        strict=True,
    ):
        turn = math.radians(float(angle))
        end = _inside(board, (x + length * math.cos(turn), y + length * math.sin(turn)))
        on.line([shot.pixel((x, y)), shot.pixel(end)], fill=TRACE, width=max(1, round(0.25 * shot.px_per_mm)))
    for x, y in zip(rng.uniform(left, right, VIAS), rng.uniform(bottom, top, VIAS), strict=True):
        _dot(on, shot.pixel((x, y)), 0.3 * shot.px_per_mm, VIA)


def _inside(board: Board, point: Point) -> Point:
    left, bottom, right, top = (float(edge) for edge in board.extents)
    return min(max(point[0], left), right), min(max(point[1], bottom), top)


def _dot(on: ImageDraw.ImageDraw, at: Point, radius: float, colour: Colour | int) -> None:
    on.ellipse([at[0] - radius, at[1] - radius, at[0] + radius, at[1] + radius], fill=colour)


def _torn(on: ImageDraw.ImageDraw, board: Board, shot: Shot, name: str) -> None:
    """A contact whose gold is gone but for a sliver at its root."""
    contact = by_name().get(name)
    found = spot_of(board, contact) if contact else None
    if found is None or found[0] != shot.side:
        return
    x = found[1]
    corners = ((x - 0.55, 0.0), (x + 0.55, 0.0), (x + 0.55, 4.6), (x - 0.55, 4.2))
    on.polygon([shot.pixel(corner) for corner in corners], fill=BARE)


def _pads(on: ImageDraw.ImageDraw, shot: Shot, kind: str, at: Point) -> None:
    """Where a part should be: two tinned pads, and the bare board between them."""
    length, width, _, _ = SMALL.get(kind, (*CHIP_MM, CHIP, False))
    for x in (-length * 0.4, length * 0.4):
        left, right, low, high = x - length * 0.14, x + length * 0.14, -width / 2, width / 2
        corners = ((left, low), (right, low), (right, high), (left, high))
        on.polygon([shot.pixel((at[0] + dx, at[1] + dy)) for dx, dy in corners], fill=METAL)


def _part(on: ImageDraw.ImageDraw, shot: Shot, kind: str, at: Point) -> None:
    """A small part: its body, and tinned ends where it has two."""
    length, width, body, ends = SMALL.get(kind, (*CHIP_MM, CHIP, False))

    def box(x1: float, x2: float, colour: Colour) -> None:
        corners = ((x1, -width / 2), (x2, -width / 2), (x2, width / 2), (x1, width / 2))
        on.polygon([shot.pixel((at[0] + x, at[1] + y)) for x, y in corners], fill=colour)

    box(-length / 2, length / 2, METAL if ends else body)
    if ends:
        box(-length * 0.3, length * 0.3, body)
