"""A stand-in thermal camera: a grey picture of a board's side on which what is fed glows through its lens's blur."""

from __future__ import annotations

import io
from collections.abc import Iterable

import numpy as np
from PIL import Image

from uvrix.core.boards.model import Board
from uvrix.core.virtual.card import Spot

PX_PER_MM, BLUR_MM, MARGIN_MM = 3.0, 4.0, 6.0
# Grey of a cold board, how much a watt adds to it at the middle of a spot, and the sensor's noise.
COLD, PER_WATT, NOISE = 40.0, 220.0, 2.0


def thermal(board: Board, side: str, spots: Iterable[Spot], seed: int = 0) -> bytes:
    """A PNG of the side as it lies (the back mirrored, as one sees it), the board filling it but for a margin."""
    left, bottom, right, top = (float(edge) for edge in board.extents)
    wide, high = (int((span + 2 * MARGIN_MM) * PX_PER_MM) for span in (right - left, top - bottom))
    xs = left - MARGIN_MM + (np.arange(wide) + 0.5) / PX_PER_MM
    ys = top + MARGIN_MM - (np.arange(high) + 0.5) / PX_PER_MM
    grey = np.full((high, wide), COLD) + np.random.default_rng(seed).normal(0, NOISE, (high, wide))
    for spot in spots:
        # through the board it is blurred more, and fainter
        blur = BLUR_MM if spot.side == side else 2 * BLUR_MM
        strength = PER_WATT * min(spot.watts, 1.0) * (BLUR_MM / blur) ** 2
        away = (xs[None, :] - spot.x_mm) ** 2 + (ys[:, None] - spot.y_mm) ** 2
        grey += strength * np.exp(-0.5 * away / blur**2)
    if side == "back":
        grey = grey[:, ::-1]
    written = io.BytesIO()
    Image.fromarray(np.clip(grey, 0, 255).astype(np.uint8)).save(written, "PNG")
    return written.getvalue()
