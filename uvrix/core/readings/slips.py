"""A slip of unit is the commonest typing error: a reading about a thousandfold off its reference asks back.

A reading so low that it is a short is asked about only where its digits are those of good cards: any other may be so.
"""

from __future__ import annotations

import math

from uvrix.core.readings.known import Reference
from uvrix.core.readings.limits import SHORT_UNDER, SLIP_CLOSE, SLIP_STEP, SLIP_WITHIN
from uvrix.core.readings.reading_file import Reading
from uvrix.core.values.edges import over, under


def slip(reading: Reading, reference: Reference | None) -> float | None:
    """The factor by which the value is probably off (0.001, 1000, 1000000 …); None where it is no such slip."""
    middle = reading.value.middle
    if reference is None or not reference.centre or not middle or reading.value.span or middle < 0:
        return None
    within = SLIP_CLOSE if under(middle, SHORT_UNDER.get(reading.quantity, 0.0)) else SLIP_WITHIN
    steps = math.log(middle / reference.centre, SLIP_STEP)
    nearest = round(steps)
    if nearest == 0 or over(SLIP_STEP ** abs(steps - nearest), within):
        return None
    return SLIP_STEP**nearest
