"""How far a card comes: the current on the supply first, then the detection ladder in a computer (docs/trade §4.3)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from uvrix.core.startup.limits import AT_LIMIT_SHARE, LEAST_LIMIT_A, NOTHING_SHARE, SUSPICIOUS_TIMES, UNKNOWN_LIMIT_A
from uvrix.core.values.edges import over, under
from uvrix.language import gettext

Rung = Literal["absent", "listed", "driver", "picture", "3d"]
RUNGS: tuple[Rung, ...] = ("absent", "listed", "driver", "picture", "3d")
WORDS: Mapping[Rung, str] = {
    "absent": gettext("absent"),
    "listed": gettext("listed on the bus"),
    "driver": gettext("driver loads"),
    "picture": gettext("picture"),
    "3d": gettext("3D works"),
}
PictureOf = Literal["card", "other", ""]
# What a rung leaves to be looked at, and what it rules out.
LEAVES: Mapping[Rung, str] = {
    "absent": gettext("Rails, enables, release, clocks, the link: everything before the bus is open."),
    "listed": gettext(
        "Rails, clocks, release and the link work. Memory, firmware and the core's own insides are open."
    ),
    "driver": gettext(
        "The core answers and its memory was sized. Outputs, memory under load and phases under load are open."
    ),
    "picture": gettext(
        "Core, memory and one output work at rest. What fails is under load, warm, or at another output."
    ),
    "3d": gettext("It works as far as it was tried: what is left shows with time, warmth, load or movement."),
}
OTHERS_PICTURE = gettext("The picture is the other adapter's: it says nothing about this card.")

Draw = Literal["nothing", "below", "idle", "more", "limited", "unknown"]


@dataclass(frozen=True, slots=True)
class DrawJudged:
    """What the current says: a word, and the sentence with the figures."""

    word: Draw
    says: str


def at_limit(amps: float, limit_amps: float | None) -> bool:
    """Whether a supply stands at its limit, so that the current says nothing of the card."""
    return limit_amps is not None and limit_amps > 0 and not under(amps, AT_LIMIT_SHARE * limit_amps)


def judge_draw(
    amps: float, idle: tuple[float, float] | None, whose: str = gettext("its map says"), limit_amps: float | None = None
) -> DrawJudged:
    """The current on the supply against the model's idle band in amperes; None where nobody knows it yet.

    `whose` says where the band is from. A current at the supply's limit and below the band says nothing of the card.
    """
    if at_limit(amps, limit_amps) and (idle is None or amps < idle[0]):
        return DrawJudged(
            "limited",
            gettext("{amps} A: the supply stands at its limit. Read the rails, then raise it.", amps=f"{amps:.3g}"),
        )
    if idle is None:
        return DrawJudged(
            "unknown", gettext("{amps} A; the idle figure of this model is not known yet.", amps=f"{amps:.3g}")
        )
    low, high = idle
    known = gettext(
        "{amps} A; this model idles at {low} to {high} A ({whose})",
        amps=f"{amps:.3g}",
        low=f"{low:.3g}",
        high=f"{high:.3g}",
        whose=whose,
    )
    if under(amps, NOTHING_SHARE * low):
        return DrawJudged("nothing", gettext("{known}: almost nothing, the core was never released.", known=known))
    if amps < low:
        return DrawJudged("below", gettext("{known}: some converters run, the core did not start.", known=known))
    if not over(amps, high * SUSPICIOUS_TIMES):
        return DrawJudged("idle", gettext("{known}: it started.", known=known))
    return DrawJudged(
        "more", gettext("{known}: suspicious. Switch off, feel for warmth, measure the rails cold again.", known=known)
    )


def limit_to_set(idle: tuple[float, float] | None, *, inputs_low: bool) -> tuple[float, str]:
    """The current limit in amperes to begin with, and why; 0 where nothing is to be powered."""
    if inputs_low:
        return 0.0, gettext("an input is short: nothing is powered.")
    if idle is None:
        return UNKNOWN_LIMIT_A, gettext("the model's idle figure is not known, so little that a fault cannot burn.")
    half = max(LEAST_LIMIT_A, round(idle[0] / 2, 1))
    return half, gettext("half of what this model idles at; raised once the rails come up.")


@dataclass(frozen=True, slots=True)
class LadderSaid:
    """What the highest rung says."""

    rung: Rung
    says: str


def climbed(rung: Rung, picture_of: PictureOf) -> LadderSaid:
    """What a rung leaves open; a picture that is the other adapter's counts for nothing."""
    if rung == "picture" and picture_of == "other":
        return LadderSaid("absent", OTHERS_PICTURE)
    return LadderSaid(rung, LEAVES[rung])
