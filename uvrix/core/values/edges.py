"""Limits met exactly: a figure that decimals put right on its limit is neither over nor under it.

Binary fractions put 1 - 0.95 a little above 0.05, so that a reading typed as decimals could fall on either side.
"""

from __future__ import annotations

# Relative to the limit; far above what adding and multiplying a few doubles rounds off, far below any meter.
ROUNDING = 1e-9


def over(figure: float, limit: float) -> bool:
    """Whether a figure is above its limit, by more than rounding."""
    return figure > limit + ROUNDING * abs(limit)


def under(figure: float, limit: float) -> bool:
    """Whether a figure is below its limit, by more than rounding."""
    return figure < limit - ROUNDING * abs(limit)
