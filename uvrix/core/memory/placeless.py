"""Reports of a card whose board is not drawn yet: totals by channel, and the finding in channels instead of chips.

The stand-in board has one place a channel, named like the channel; nothing is known of where it lies. What is said of
it is true of the channel; which chip that is, only a board model tells.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from fractions import Fraction

from uvrix.core.boards.model import ALL_LINES, Board, Core, Site
from uvrix.core.memory.report import Channels, Report
from uvrix.language import gettext

NAME = re.compile(r"([A-Za-z]+)([0-9]+)")
RADIUS_MM, LENGTH_MM = 40, 120


def any_channel() -> Channels:
    """What a reader is told of a board that nobody has drawn."""
    return Channels(frozenset(), (ALL_LINES,), None)


def channels_in(reports: Sequence[Report]) -> list[str]:
    """The channels that reports speak of, in the order of their letters and digits."""
    return sorted({name for report in reports for name in report.evidence.channels}, key=channel_order)


def channel_order(name: str) -> tuple[str, int, str]:
    """A key that puts A2 before A10."""
    found = NAME.fullmatch(name)
    return (found[1], int(found[2]), name) if found else (name, 0, name)


def channel_board(channels: Sequence[str]) -> Board:
    """A stand-in with one place a channel round a core; only the names mean anything."""
    middle = Fraction(LENGTH_MM, 2)
    sites = []
    for number, name in enumerate(channels):
        turn = 2 * math.pi * number / len(channels)
        x, y = round(RADIUS_MM * math.cos(turn), 3), round(RADIUS_MM * math.sin(turn), 3)
        centre = (middle + Fraction(str(x)), middle + Fraction(str(y)))
        sites.append(Site(name, "front", centre, (Fraction(8), Fraction(8)), Fraction(0), True, name, ALL_LINES))
    outline = tuple(
        (Fraction(x), Fraction(y)) for x, y in ((0, 0), (LENGTH_MM, 0), (LENGTH_MM, LENGTH_MM), (0, LENGTH_MM))
    )
    core = Core("core", (middle, middle), (Fraction(30), Fraction(30)), "top-left")
    return Board("not-drawn", gettext("Not drawn yet"), "", outline, core, tuple(sites))
