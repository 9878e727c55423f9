"""A thermocouple curve against an alloy's window (docs/formats §12): peak, time above its reference, steepest rise."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any, Literal

from uvrix.core.boards.schema import NUMBER, Schema, object_of
from uvrix.core.errors import Refusal, quoted
from uvrix.core.readings.reading_file import rows_of
from uvrix.core.rework.limits import LEAST_ABOVE_S, MOST_ABOVE_S, MOST_RAMP_C_PER_S
from uvrix.core.values.shape import check_shape
from uvrix.core.values.text import parse_json
from uvrix.language import gettext

CurveVerdict = Literal["good", "too-cold", "too-short", "too-hot", "too-long", "too-fast"]
LIMITS = ("reference_c", "min_peak_c", "max_peak_c", "min_above_s", "max_above_s", "max_ramp_c_per_s")
ALLOYS_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix alloys",
    "description": "Limits of the shop's own alloys by name.",
    "type": "object",
    "additionalProperties": object_of(list(LIMITS), **dict.fromkeys(LIMITS, NUMBER)),
}


@dataclass(frozen=True, slots=True)
class Alloy:
    """An alloy's reference temperature and the window in which a joint of it is made."""

    reference_c: float
    min_peak_c: float
    max_peak_c: float
    min_above_s: float = LEAST_ABOVE_S
    max_above_s: float = MOST_ABOVE_S
    max_ramp_c_per_s: float = MOST_RAMP_C_PER_S


# As usual practice; by custom the lead-free one's reference is its solidus (docs/trade §6.4).
BUILT_IN: Mapping[str, Alloy] = {
    "sn63pb37": Alloy(183.0, 205.0, 230.0),
    "sac305": Alloy(217.0, 230.0, 250.0),
}


@dataclass(frozen=True, slots=True)
class Curve:
    """What a curve shows, the verdict, and each limit with its figure."""

    peak_c: float
    above_liquidus_s: float
    max_ramp_c_per_s: float
    verdict: CurveVerdict
    why: tuple[str, ...]


def read_curve(data: bytes) -> tuple[tuple[float, float], ...]:
    """Seconds and degrees. Raises Refusal naming the line: no number, a time that does not go on, fewer than two."""
    found: list[tuple[float, float]] = []
    for line, row in rows_of(data, ("seconds", "celsius")):
        seconds, celsius = (
            _number(line, row["seconds"], "seconds"),
            _number(line, row["celsius"], gettext("degrees Celsius")),
        )
        if found and seconds <= found[-1][0]:
            raise Refusal(
                str(line),
                gettext("{seconds} seconds", seconds=row["seconds"].strip()),
                gettext("a time after {found}", found=f"{found[-1][0]:g}"),
            )
        found.append((seconds, celsius))
    if len(found) < 2:
        raise Refusal("1", gettext("{number} samples", number=len(found)), gettext("at least two"))
    return tuple(found)


def _number(line: int, text: str, what: str) -> float:
    try:
        number = float(text.strip().replace(",", "."))
    except ValueError:
        raise Refusal(str(line), quoted(text.strip()), gettext("a number of {what}", what=what)) from None
    if not math.isfinite(number):
        raise Refusal(str(line), quoted(text.strip()), gettext("a number of {what}", what=what))
    return number


def read_alloys(data: bytes) -> dict[str, Alloy]:
    """The shop's own alloys. Raises Refusal naming the JSON path, also where a window is upside down."""
    document: Any = parse_json(data)
    check_shape(document, ALLOYS_SCHEMA)
    found = {}
    for name, limits in document.items():
        alloy = Alloy(**{key: float(limits[key]) for key in LIMITS})
        if alloy.min_peak_c > alloy.max_peak_c:
            raise Refusal(
                f"$.{name}.min_peak_c",
                f"{alloy.min_peak_c:g}",
                gettext("at most max_peak_c, {max_peak_c}", max_peak_c=f"{alloy.max_peak_c:g}"),
            )
        if alloy.min_above_s > alloy.max_above_s:
            expected = gettext("at most max_above_s, {max_above_s}", max_above_s=f"{alloy.max_above_s:g}")
            raise Refusal(f"$.{name}.min_above_s", f"{alloy.min_above_s:g}", expected)
        found[name] = alloy
    return found


def judge_curve(samples: Sequence[tuple[float, float]], alloy: Alloy) -> Curve:
    """The curve against the alloy's window; of several misses the first in the order of the contract is the verdict."""
    peak = max(celsius for _, celsius in samples)
    above = sum(_above(one, other, alloy.reference_c) for one, other in pairwise(samples))
    ramp = max(0.0, *((b - a) / (t - s) for (s, a), (t, b) in pairwise(samples)))
    long = gettext("{above} s above {reference_c} °C", above=f"{above:.1f}", reference_c=f"{alloy.reference_c:g}")
    rise = gettext("steepest rise {ramp} °C/s", ramp=f"{ramp:.2f}")
    checks: list[tuple[CurveVerdict, bool, str]] = [
        (
            "too-cold",
            peak < alloy.min_peak_c,
            gettext("peak {peak} °C, at least {min_peak_c}", peak=f"{peak:.1f}", min_peak_c=f"{alloy.min_peak_c:g}"),
        ),
        (
            "too-short",
            above < alloy.min_above_s,
            gettext("{long}, at least {min_above_s}", long=long, min_above_s=f"{alloy.min_above_s:g}"),
        ),
        (
            "too-hot",
            peak > alloy.max_peak_c,
            gettext("peak {peak} °C, at most {max_peak_c}", peak=f"{peak:.1f}", max_peak_c=f"{alloy.max_peak_c:g}"),
        ),
        (
            "too-long",
            above > alloy.max_above_s,
            gettext("{long}, at most {max_above_s}", long=long, max_above_s=f"{alloy.max_above_s:g}"),
        ),
        (
            "too-fast",
            ramp > alloy.max_ramp_c_per_s,
            gettext("{rise}, at most {max_ramp_c_per_s}", rise=rise, max_ramp_c_per_s=f"{alloy.max_ramp_c_per_s:g}"),
        ),
    ]
    missed = [word for word, bad, _ in checks if bad]
    why = tuple(f"{word}: {said}" if bad else said for word, bad, said in checks)
    return Curve(peak, above, ramp, missed[0] if missed else "good", why)


def soak_seconds(samples: Sequence[tuple[float, float]], low: float, high: float) -> float:
    """Seconds of a curve between two temperatures on its way up, crossings interpolated: how long the board soaked."""
    top = max(range(len(samples)), key=lambda at: samples[at][1])
    up = samples[: top + 1]
    return sum(_above(one, other, low) - _above(one, other, high) for one, other in pairwise(up))


def _above(one: tuple[float, float], other: tuple[float, float], level: float) -> float:
    """Seconds of a straight piece that lie above a level."""
    (s, a), (t, b) = one, other
    if a <= level and b <= level:
        return 0.0
    if a > level and b > level:
        return t - s
    share = (max(a, b) - level) / abs(b - a)
    return (t - s) * share
