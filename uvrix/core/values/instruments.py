"""Numbers as instruments say them: plain or with an exponent; over-limit and what is no number are none."""

from __future__ import annotations

import math

# SCPI says 9.9E37 for over-limit and 9.91E37 for not a number (SCPI-1999, volume 1, 7.2.1.4 and 7.2.1.5).
OVERLOAD, NOT_A_NUMBER = 9e37, 9.905e37
OVER_LIMIT_WORDS = frozenset({"OL", "0L", "OVLD", "OVERLOAD", "INF", "+INF", "INFINITY", "+INFINITY"})


def instrument_number(said: str) -> float | None:
    """The number in an instrument's answer; None for over-limit, not a number, and anything else."""
    try:
        value = float(said.strip())
    except ValueError:
        return None
    return value if math.isfinite(value) and abs(value) < OVERLOAD else None


def overloaded(said: str) -> bool:
    """Whether an answer says that the value is beyond the range, in a number or in words."""
    text = said.strip().upper()
    if text in OVER_LIMIT_WORDS:
        return True
    try:
        value = float(text)
    except ValueError:
        return False
    return OVERLOAD <= abs(value) < NOT_A_NUMBER
