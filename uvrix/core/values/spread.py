"""Spread that a wrong entry or two do not move: by the median distance, as a normal's standard deviation."""

from __future__ import annotations

import statistics
from collections.abc import Iterable

# Half of a normal's values lie within 0.6745 standard deviations of its middle; this is 1 / 0.6745.
NORMAL_BY_MEDIAN = 1.4826


def normal_spread(distances: Iterable[float]) -> float:
    """The standard deviation of a normal whose values lie so far from its middle, at the median, same unit."""
    return NORMAL_BY_MEDIAN * statistics.median(distances)
