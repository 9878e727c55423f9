"""A share with the span that small numbers leave: shown as a count out of a total, never as a bare percentage."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from uvrix.core.values.words import percent
from uvrix.language import gettext

# At least this often a span holds the truth, whatever the truth and however few were seen.
COVERS = 0.9
# Fewer than this many are shown as uncertain whatever they say.
FEW = 8


@dataclass(frozen=True, slots=True)
class Share:
    """A count out of a total: the likeliest share, the span in which it lies with nine chances in ten, whether few."""

    hits: int
    of: int
    share: float
    low: float
    high: float

    @property
    def few(self) -> bool:
        """Whether it is to be shown as uncertain."""
        return self.of < FEW

    @property
    def words(self) -> str:
        """In words."""
        if self.of == 0:
            return gettext("none seen")
        return gettext(
            "{hits} of {of}: {low} to {high}",
            hits=self.hits,
            of=self.of,
            low=percent(self.low),
            high=percent(self.high),
        )


@lru_cache(4096)
def share_of(hits: int, of: int, covers: float = COVERS) -> Share:
    """A share with its exact (Clopper-Pearson) span; none seen says nothing. Raises ValueError for more than seen."""
    if not 0 <= hits <= of:
        raise ValueError(gettext("{hits} of {of}", hits=hits, of=of))
    if of == 0:
        return Share(0, 0, 0.5, 0.0, 1.0)
    from scipy.special import betaincinv

    low = 0.0 if hits == 0 else float(betaincinv(hits, of - hits + 1, (1 - covers) / 2))
    high = 1.0 if hits == of else float(betaincinv(hits + 1, of - hits, (1 + covers) / 2))
    return Share(hits, of, hits / of, low, high)


@dataclass(frozen=True, slots=True)
class Middle:
    """A middle of some figures (minutes, money) with the quarter points; None of nothing."""

    count: int
    middle: float | None
    low: float | None
    high: float | None
    total: float


def middle_of(figures: list[float]) -> Middle:
    """The median and the quarter points by linear interpolation, and the sum."""
    if not figures:
        return Middle(0, None, None, None, 0.0)
    low, middle, high = (float(figure) for figure in np.quantile(figures, (0.25, 0.5, 0.75)))
    return Middle(len(figures), middle, low, high, float(sum(figures)))
