"""The warm spot on a thermal picture that was laid over the board (docs/trade §2.3)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import ndimage

from uvrix.core.boards.model import Board
from uvrix.core.values.spread import NORMAL_BY_MEDIAN

# Blurred by this much of the picture's width, noise does not win; a spot must stand this many times the noise above it.
BLUR_SHARE, STANDS_OUT = 0.008, 6.0


@dataclass(frozen=True, slots=True)
class WarmSpot:
    """Where it is warmest, in millimetres of the board, and how many times the picture's own noise it stands out."""

    x_mm: float
    y_mm: float
    stands_out: float


def warmest(grey: Sequence[Sequence[float]] | np.ndarray, board: Board, side: str) -> WarmSpot | None:
    """The warmest place of a picture that shows the board's extents from edge to edge, rows from the top.

    The back is seen mirrored. None where nothing stands out: an even picture has no warm spot.
    """
    pixels = np.asarray(grey, dtype=np.float64)
    high, wide = pixels.shape
    blurred = ndimage.gaussian_filter(pixels, max(1.0, BLUR_SHARE * wide))
    middle = np.median(blurred)
    noise = max(NORMAL_BY_MEDIAN * float(np.median(np.abs(blurred - middle))), 1e-9)
    row, column = np.unravel_index(int(np.argmax(blurred)), blurred.shape)
    stands_out = float(blurred[row, column] - middle) / noise
    if stands_out < STANDS_OUT:
        return None
    left, bottom, right, top = (float(edge) for edge in board.extents)
    share = (float(column) + 0.5) / wide
    x = left + (1 - share if side == "back" else share) * (right - left)
    return WarmSpot(x, top - (float(row) + 0.5) / high * (top - bottom), stands_out)
