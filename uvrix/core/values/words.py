"""Figures in words, the same in every sentence."""

from __future__ import annotations

from uvrix.language import gettext


def percent(share: float) -> str:
    """A share of 0 to 1 as sentences have it, rounded half up: 0.125 is `13 %`, with a space that does not break."""
    return f"{int(100 * share + 0.5)}\N{NO-BREAK SPACE}%"


def times(number: int) -> str:
    """How often something happened: once, twice, 3 times."""
    return {1: gettext("once"), 2: gettext("twice")}.get(number, gettext("{number} times", number=number))
