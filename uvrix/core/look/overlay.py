"""A photograph laid over the model's reference photograph, and the places where something is missing or new.

Three landmarks clicked on both pictures give an affine map; it is refined on the pictures themselves (Gauss-Newton on
locally normalised grey, from coarse to fine), so a click may be off by some pixels. What differs is found on locally
normalised grey too, so that another lamp does not count, and a difference of a pixel beside an edge does not either.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from uvrix.core.errors import Refusal
from uvrix.core.values.spread import NORMAL_BY_MEDIAN
from uvrix.language import gettext

Grey = NDArray[np.float32]
Point = tuple[float, float]
What = Literal["missing", "new", "changed"]

# Landmarks must span a triangle of this share of the picture's shorter side, else a click's error turns the picture.
LEAST_SPAN = 0.08
LEVELS = (8, 4, 2)
STEPS = 12
SETTLED_PX = 0.01
# Lamps differ over centimetres, parts over millimetres: grey is normalised over windows in between.
WINDOW_MM, PART_MM = 3.0, 0.55
FLOOR = 6.0
APART_MM = 2.5
MOST_PLACES = 12
LEAST_SCORE = 4.0


@dataclass(frozen=True, slots=True)
class Affine:
    """Where a point of the reference lies on the photograph, in pixels, y down: x' = ax + cy + e, y' = bx + dy + f."""

    a: float
    b: float
    c: float
    d: float
    e: float
    f: float

    def place(self, point: Point) -> Point:
        """The photograph's point for one of the reference."""
        x, y = point
        return self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f

    @property
    def inverse(self) -> Affine:
        """From the photograph to the reference."""
        whole = self.a * self.d - self.b * self.c
        a, b, c, d = self.d / whole, -self.b / whole, -self.c / whole, self.a / whole
        return Affine(a, b, c, d, -(a * self.e + c * self.f), -(b * self.e + d * self.f))


@dataclass(frozen=True, slots=True)
class Place:
    """A place on the reference that looks otherwise on the photograph; `score` counts the board's usual differences."""

    x_px: float
    y_px: float
    score: float
    what: What


@dataclass(frozen=True, slots=True)
class Overlay:
    """The refined map, how alike the two are where they overlap (correlation, 1 is the same), places worst first."""

    affine: Affine
    alike: float
    places: tuple[Place, ...]


def affine_of(reference: Sequence[Point], photograph: Sequence[Point], size: tuple[int, int]) -> Affine:
    """The affine map of three landmarks; raises Refusal where they lie nearly in line or on one spot."""
    if len(reference) != 3 or len(photograph) != 3:
        raise Refusal(
            "landmarks",
            gettext("{number} and {number_2}", number=len(reference), number_2=len(photograph)),
            gettext("three landmarks on each picture"),
        )
    for place, points in (("landmarks.reference", reference), ("landmarks.photograph", photograph)):
        (x1, y1), (x2, y2), (x3, y3) = points
        doubled = abs((x2 - x1) * (y3 - y1) - (x3 - x1) * (y2 - y1))
        longest = max(np.hypot(x2 - x1, y2 - y1), np.hypot(x3 - x1, y3 - y1), np.hypot(x3 - x2, y3 - y2))
        if longest == 0 or doubled / longest < LEAST_SPAN * min(size):
            raise Refusal(
                place, gettext("landmarks nearly in line"), gettext("three landmarks that span a triangle of the board")
            )
    known = np.array([[x, y, 1.0] for x, y in reference])
    (a, b), (c, d), (e, f) = np.linalg.solve(known, np.array(photograph, float))
    return Affine(float(a), float(b), float(c), float(d), float(e), float(f))


def overlay(
    reference: Grey,
    photograph: Grey,
    landmarks: tuple[Sequence[Point], Sequence[Point]],
    mm_per_px: float,
    within: NDArray[np.bool_] | None = None,
) -> Overlay:
    """Lay a photograph over the reference and name what differs; both grey 0 to 255, `landmarks` on each in pixels.

    `mm_per_px` is the reference's; `within` masks the board on it. Raises Refusal where landmarks or pictures do not
    fit.
    """
    height, width = reference.shape
    start = affine_of(*landmarks, (width, height))
    affine = refined(reference, photograph, start, mm_per_px)
    warped, seen = resampled(photograph, affine, reference.shape)
    if within is not None:
        seen &= within
    if seen.mean() < 0.05:
        raise Refusal(
            "landmarks",
            gettext("pictures that hardly overlap"),
            gettext("the same landmarks, in the same order, on both"),
        )
    places, alike = _differences(reference, warped, seen, mm_per_px)
    return Overlay(affine, alike, places)


def resampled(photograph: Grey, affine: Affine, shape: tuple[int, ...]) -> tuple[Grey, NDArray[np.bool_]]:
    """The photograph on the reference's pixels, and which of them it shows."""
    rows, columns = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    x = affine.a * columns + affine.c * rows + affine.e
    y = affine.b * columns + affine.d * rows + affine.f
    seen = (x >= 0) & (y >= 0) & (x <= photograph.shape[1] - 1) & (y <= photograph.shape[0] - 1)
    warped = ndimage.map_coordinates(photograph, [y, x], order=1, mode="nearest")
    return warped.astype(np.float32), seen


def refined(reference: Grey, photograph: Grey, start: Affine, mm_per_px: float) -> Affine:
    """The map nearest to `start` under which the pictures agree best; `start` itself where nothing is gained."""
    found = start
    for level in LEVELS:
        if min(*reference.shape, *photograph.shape) // level < 40:
            continue
        window = max(2.0, WINDOW_MM / mm_per_px / level)
        small = _normal(_shrunk(reference, level), window)
        other = _normal(_shrunk(photograph, level), window)
        found = _settled(small, other, found, level)
    return found if _agreement(reference, photograph, found) >= _agreement(reference, photograph, start) else start


def _shrunk(picture: Grey, level: int) -> Grey:
    if level == 1:
        return picture
    return np.asarray(ndimage.gaussian_filter(picture, level / 2)[::level, ::level], dtype=np.float32)


def _settled(reference: Grey, photograph: Grey, start: Affine, level: int) -> Affine:
    """Gauss-Newton on the six numbers of the map, each pixel weighed by how well it fits already."""
    gradient_y, gradient_x = np.gradient(reference)
    rows, columns = np.mgrid[0 : reference.shape[0], 0 : reference.shape[1]].astype(np.float32)
    # centred and scaled, so that the six numbers are of one size
    middle_x, middle_y, scale = reference.shape[1] / 2, reference.shape[0] / 2, max(reference.shape) / 2
    u, v = (columns - middle_x) / scale, (rows - middle_y) / scale
    slopes = np.stack([gradient_x * u, gradient_x * v, gradient_x, gradient_y * u, gradient_y * v, gradient_y])
    now = _at_level(start, level)
    for _ in range(STEPS):
        warped, seen = resampled(photograph, now, reference.shape)
        error = np.where(seen, warped - reference, 0.0)
        spread = 1.5 * float(np.median(np.abs(error[seen]))) + 1e-6 if seen.any() else 1.0
        weight = seen / (1.0 + (error / spread) ** 2)
        system: NDArray[Any] = np.einsum("irc,jrc,rc->ij", slopes, slopes, weight, optimize=True)
        goal = np.einsum("irc,rc,rc->i", slopes, error, weight, optimize=True)
        try:
            step = np.linalg.solve(system + 1e-6 * np.trace(system) * np.eye(6), goal)
        except np.linalg.LinAlgError:
            break
        # the reference would have to move by `step` to look like the photograph: the map takes it back (inverse step)
        move = np.array([[step[0] / scale, step[1] / scale, 0.0], [step[3] / scale, step[4] / scale, 0.0], [0, 0, 0]])
        move[0, 2] = step[2] - move[0, 0] * middle_x - move[0, 1] * middle_y
        move[1, 2] = step[5] - move[1, 0] * middle_x - move[1, 1] * middle_y
        now = _from_matrix(_matrix(now) @ np.linalg.inv(np.eye(3) + move))
        if np.abs(step).max() < SETTLED_PX:
            break
    return _at_level(now, 1 / level)


def _matrix(affine: Affine) -> NDArray[np.float64]:
    return np.array([[affine.a, affine.c, affine.e], [affine.b, affine.d, affine.f], [0.0, 0.0, 1.0]])


def _from_matrix(matrix: NDArray[np.float64]) -> Affine:
    (a, c, e), (b, d, f), _ = matrix.tolist()
    return Affine(a, b, c, d, e, f)


def _at_level(affine: Affine, level: float) -> Affine:
    return Affine(affine.a, affine.b, affine.c, affine.d, affine.e / level, affine.f / level)


def _normal(picture: Grey, window: float) -> Grey:
    """Grey less its local mean, by its local spread: what a lamp does is gone."""
    mean = ndimage.gaussian_filter(picture, window)
    spread = np.sqrt(np.maximum(ndimage.gaussian_filter(picture * picture, window) - mean * mean, 0.0))
    return np.asarray((picture - mean) / (spread + FLOOR), dtype=np.float32)


def _agreement(reference: Grey, photograph: Grey, affine: Affine) -> float:
    """Correlation of the two where they overlap, at a quarter of their size."""
    small, other = _shrunk(reference, 4), _shrunk(photograph, 4)
    warped, seen = resampled(other, _at_level(affine, 4), small.shape)
    return _correlation(small, warped, seen)


def _correlation(one: Grey, other: Grey, seen: NDArray[np.bool_]) -> float:
    if seen.sum() < 100:
        return -1.0
    x, y = one[seen] - one[seen].mean(), other[seen] - other[seen].mean()
    whole = float(np.sqrt((x * x).sum() * (y * y).sum()))
    return float((x * y).sum()) / whole if whole > 0 else 0.0


def _differences(
    reference: Grey, warped: Grey, seen: NDArray[np.bool_], mm_per_px: float
) -> tuple[tuple[Place, ...], float]:
    window, part = WINDOW_MM / mm_per_px, max(0.7, PART_MM / mm_per_px)
    one, other = _normal(reference, window), _normal(warped, window)
    # a pixel's shift is no difference: each is compared with the other's darkest and brightest neighbour
    off = np.maximum(_beyond(one, other), _beyond(other, one))
    rim = ndimage.binary_erosion(seen, iterations=max(2, round(1.0 / mm_per_px)))
    smooth = ndimage.gaussian_filter(np.where(rim, off, 0.0), part)
    usual = smooth[rim]
    if usual.size == 0:
        return (), 0.0
    middle = float(np.median(usual))
    spread = NORMAL_BY_MEDIAN * float(np.median(np.abs(usual - middle))) + 1e-3
    score = (smooth - middle) / spread
    peaks = (score == ndimage.maximum_filter(score, size=2 * round(APART_MM / mm_per_px) + 1)) & rim
    rows, columns = np.nonzero(peaks & (score >= LEAST_SCORE))
    order = np.argsort(-score[rows, columns])[:MOST_PLACES]
    busy = [ndimage.gaussian_filter(np.abs(picture), part * 1.5) for picture in (one, other)]
    places = [
        Place(float(x), float(y), round(float(score[y, x]), 1), _what(float(busy[0][y, x]), float(busy[1][y, x])))
        for y, x in zip(rows[order].tolist(), columns[order].tolist(), strict=True)
    ]
    return tuple(places), round(_correlation(one, other, rim), 3)


def _beyond(one: Grey, other: Grey) -> Grey:
    """By how much `one` lies outside of what `other` shows within a pixel."""
    high, low = ndimage.maximum_filter(other, size=3), ndimage.minimum_filter(other, size=3)
    return np.asarray(np.maximum(0.0, np.maximum(one - high, low - one)), dtype=np.float32)


def _what(before: float, now: float) -> What:
    """Missing where the reference shows something and the photograph less of it."""
    if before > 1.25 * now:
        return "missing"
    return "new" if now > 1.25 * before else "changed"
