"""What each check of a protocol comes to, from what was measured, dropped, logged or said since the last rework."""

from __future__ import annotations

import math
import statistics
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Literal

import numpy as np

from uvrix.core.proving.identity import Identity
from uvrix.core.proving.limits import (
    CLOCK_MOVES_TIMES,
    COLDEST_C,
    COMPARED_SHARE,
    FEWEST_SCORES,
    HELD_WATTS,
    HOTTEST_C,
    LEAST_CELSIUS_SPREAD,
    LEAST_CLOCK_SPREAD,
    LEAST_SCORE_SPREAD,
    MEMORY_SHARE,
    SAG_SAMPLES,
    SAG_SHARE,
    SAG_WARMED_C,
    SCORE_COVERS,
    STILL_C,
    STILL_SAMPLES,
)
from uvrix.core.proving.log import Log
from uvrix.core.proving.protocol import AGAIN, Check
from uvrix.core.proving.steady import loaded, steadiness
from uvrix.core.values.edges import over, under
from uvrix.language import gettext, ngettext

State = Literal["open", "passed", "failed", "refused"]


@dataclass(frozen=True, slots=True)
class Said:
    """What a person said of a check: whether it passed, for how many minutes, when."""

    passed: bool
    at: datetime
    minutes: float | None = None
    note: str = ""


@dataclass(frozen=True, slots=True)
class Evidence:
    """What there is since the last act.

    `measured` is what the case says of the measured checks (case.proof.measured_since), by kind, a memory check by its
    condition too; `usual_scores`, `usual_celsius` and `usual_mhz` are those of other cards of the model, the last two
    under load; `celsius_before` is this card's own before the repair. `said` is by check, `said_of` by check and part.
    """

    measured: Mapping[str, tuple[Literal["passed", "failed", "open"], str] | None] = field(default_factory=dict)
    identity: Identity | None = None
    expected_mib: int | None = None
    lanes: int | None = None
    logs: Sequence[tuple[str, Log]] = ()
    score: float | None = None
    usual_scores: Sequence[float] = ()
    usual_celsius: Sequence[float] = ()
    usual_mhz: Sequence[float] = ()
    celsius_before: float | None = None
    said: Mapping[str, Said] = field(default_factory=dict)
    said_of: Mapping[tuple[str, str], Said] = field(default_factory=dict)
    off_since: datetime | None = None


@dataclass(frozen=True, slots=True)
class Judged:
    """A check's state and why; `refused` is evidence that proves nothing, `more_minutes` what would still be needed.

    `no_reference`: it was measured, and nothing is known that it could be held against.
    """

    check: Check
    state: State
    why: tuple[str, ...]
    more_minutes: float | None = None
    no_reference: bool = False


def judge_protocol(checks: Sequence[Check], seen: Evidence) -> tuple[Judged, ...]:
    """Every check, in order."""
    return tuple(judge(check, seen) for check in checks)


def judge(check: Check, seen: Evidence) -> Judged:
    """One check. A person's word that it failed goes before what follows from measurements."""
    said = seen.said.get(check.id)
    if said is not None and not said.passed:
        return Judged(check, "failed", (said.note or check.fails,))
    return JUDGES[check.kind](check, seen)


# What is said of a measured check of which nothing was measured.
NOT_MEASURED: Mapping[str, str] = {
    "readings": gettext("No reading since the last act."),
    "current": gettext("Not drawn on the supply since the last act."),
    "ladder": gettext("Not seen in a computer since the last act."),
    "memory": gettext("No memory run {} since the last act."),
}


def _measured(check: Check, seen: Evidence) -> Judged:
    """What the card's case says of it: one judge for the strip and for the proof."""
    by_kind = f"memory-{check.condition}" if check.kind == "memory" else check.kind
    found = seen.measured.get(check.id if check.id == AGAIN else by_kind)
    if found is None:
        return Judged(check, "open", (NOT_MEASURED[check.kind].format(check.condition),))
    state, why = found
    return Judged(check, state, (why,), no_reference=state == "open" and check.kind in {"readings", "current"})


def _link(check: Check, seen: Evidence) -> Judged:
    identity = seen.identity
    if identity is None or identity.width is None:
        return Judged(check, "open", (gettext("The test computer has reported no link."),))
    width = check.width or seen.lanes or identity.most_width
    speed = check.gt_per_s or identity.most_gt_per_s
    wrong = []
    if width and identity.width < width:
        wrong.append(gettext("{width} lanes, {width_2} expected.", width=identity.width, width_2=f"{width:g}"))
    if speed and identity.gt_per_s is not None and identity.gt_per_s < speed:
        wrong.append(
            gettext("{gt_per_s} GT/s, {speed} expected.", gt_per_s=f"{identity.gt_per_s:g}", speed=f"{speed:g}")
        )
    wrong += [
        gettext("{number} errors counted: {name}.", number=count, name=name)
        for name, count in identity.errors.items()
        if count
    ]
    if wrong:
        return Judged(check, "failed", tuple(wrong))
    said = gettext("{width} lanes", width=identity.width) + (
        gettext(" at {gt_per_s} GT/s", gt_per_s=f"{identity.gt_per_s:g}") if identity.gt_per_s is not None else ""
    )
    if not width:
        return Judged(
            check, "refused", (gettext("{said}; how many it should have is not set.", said=said),), no_reference=True
        )
    return Judged(check, "passed", (gettext("{said}, no errors counted.", said=said),))


def _identity(check: Check, seen: Evidence) -> Judged:
    identity = seen.identity
    if identity is None or identity.memory_mib is None:
        return Judged(check, "open", (gettext("The test computer has not reported how much memory it sees."),))
    expected = check.memory_mib or seen.expected_mib
    if not expected:
        return Judged(
            check,
            "refused",
            (gettext("{memory_mib} MiB; the model has no memory size on file.", memory_mib=identity.memory_mib),),
            no_reference=True,
        )
    if over(abs(identity.memory_mib - expected), MEMORY_SHARE * expected):
        return Judged(
            check,
            "failed",
            (
                gettext(
                    "{memory_mib} MiB, {expected} expected.", memory_mib=identity.memory_mib, expected=f"{expected:g}"
                ),
            ),
        )
    return Judged(
        check,
        "passed",
        (
            gettext(
                "{device} with {memory_mib} MiB.",
                device=identity.device or gettext("It"),
                memory_mib=identity.memory_mib,
            ),
        ),
    )


def _sensors(check: Check, seen: Evidence) -> Judged:
    temperatures = [
        identity for _, log in seen.logs for identity in log.figures.get("celsius", ()) if not math.isnan(identity)
    ]
    if not temperatures:
        return Judged(check, "open", (gettext("No log since the last rework."),))
    low, high = min(temperatures), max(temperatures)
    if faked := next((said for _, log in seen.logs if (said := _faked(log))), ""):
        return Judged(check, "failed", (faked,))
    if low < COLDEST_C or high > HOTTEST_C:
        return Judged(
            check, "failed", (gettext("{low} to {high} °C cannot be.", low=f"{low:.0f}", high=f"{high:.0f}"),)
        )
    if len(temperatures) > STILL_SAMPLES and under(high - low, STILL_C):
        return Judged(check, "failed", (gettext("{high} °C the whole time: the sensor is stuck.", high=f"{high:.1f}"),))
    return Judged(check, "passed", (gettext("{low} to {high} °C.", low=f"{low:.0f}", high=f"{high:.0f}"),))


def _faked(log: Log) -> str:
    """What a log says of power that cannot be: much of it while the clock is held low; empty where it does not."""
    if not (log.has("watts") and log.has("mhz")):
        return ""
    watts, clock = (np.array(log.figures[name]) for name in ("watts", "mhz"))
    low, high, reported = float(np.nanmin(clock)), float(np.nanmax(clock)), float(np.nanmedian(watts))
    if not under(high, CLOCK_MOVES_TIMES * max(low, 1.0)) or reported < HELD_WATTS:
        return ""
    return gettext(
        "{reported} W reported while the clock stays at {high} MHz: that is no draw. A sense path "
        "that went high fakes it: read both ends at Volts.",
        reported=f"{reported:.0f}",
        high=f"{high:.0f}",
    )


def _sags(log: Log, load_watts: float | None) -> str:
    """How a clock falls as the card warms under the same load; empty where it does not."""
    busy = loaded(log, load_watts)
    if busy is None or int(busy.sum()) < SAG_SAMPLES:
        return ""
    clock, celsius = (np.array(log.figures[name])[busy] for name in ("mhz", "celsius"))
    third = len(clock) // 3
    before, after = float(np.nanmedian(clock[:third])), float(np.nanmedian(clock[-third:]))
    cool, warm = float(np.nanmedian(celsius[:third])), float(np.nanmedian(celsius[-third:]))
    if not under(after, SAG_SHARE * before) or warm - cool < SAG_WARMED_C:
        return ""
    return gettext(
        "{before} MHz at {cool} °C falls to {after} MHz at {warm} °C: it sags with heat.",
        before=f"{before:.0f}",
        cool=f"{cool:.0f}",
        after=f"{after:.0f}",
        warm=f"{warm:.0f}",
    )


def _clocks(check: Check, seen: Evidence) -> Judged:
    clocks = [(log, np.array(log.figures["mhz"])) for _, log in seen.logs if log.has("mhz")]
    if not clocks:
        return Judged(check, "open", (gettext("No log with a clock since the last rework."),))
    best = max(clocks, key=lambda clock: float(np.nanmax(clock[1])))[1]
    low, high = float(np.nanmin(best)), float(np.nanmax(best))
    usual = usual_least(seen.usual_mhz, LEAST_CLOCK_SPREAD)
    at_load = next(
        (identity for log, _ in clocks if (identity := under_load(log, "mhz", check.load_watts)) is not None), None
    )
    if under(high, CLOCK_MOVES_TIMES * max(low, 1.0)):
        return Judged(
            check, "failed", (gettext("{low} to {high} MHz: it is stuck.", low=f"{low:.0f}", high=f"{high:.0f}"),)
        )
    if sagged := next((said for log, _ in clocks if (said := _sags(log, check.load_watts))), ""):
        return Judged(check, "failed", (sagged,))
    if usual and at_load is not None and under(at_load, usual[0]):
        like = gettext(
            "{cards} about {usual}, at least {usual_2} usual.",
            cards=_cards(seen.usual_mhz),
            usual=f"{usual[1]:.0f}",
            usual_2=f"{usual[0]:.0f}",
        )
        words = gettext("{at_load} MHz under load; {like}", at_load=f"{at_load:.0f}", like=like)
        return Judged(check, "failed", (words,))
    return Judged(check, "passed", (gettext("{low} to {high} MHz.", low=f"{low:.0f}", high=f"{high:.0f}"),))


def _stress(check: Check, seen: Evidence) -> Judged:
    if not seen.logs:
        return Judged(check, "open", (gettext("No log yet; {minutes} min under load.", minutes=f"{check.minutes:g}"),))
    found = [
        (name, steadiness(log, check.minutes or 0.0, check.rest_c, check.load_watts), log) for name, log in seen.logs
    ]
    order = {"steady": 3, "rising": 2, "too-short": 1, "idle": 0, "no-load-known": 0}
    name, best, log = max(found, key=lambda row: (order[row[1].word], row[1].loaded_minutes))
    said = (f"{name}: {best.why}",)
    if check.most_c is not None and _hottest(log, check.load_watts) > check.most_c:
        return Judged(
            check,
            "failed",
            (
                *said,
                gettext(
                    "{peak_c} °C, at most {most_c} allowed.", peak_c=f"{best.peak_c:.0f}", most_c=f"{check.most_c:g}"
                ),
            ),
        )
    if seen.identity and (counted := [f"{n} {name}" for name, n in seen.identity.errors.items() if n]):
        return Judged(check, "failed", (*said, gettext("Errors counted: {counted}.", counted=", ".join(counted))))
    if best.word == "steady":
        held, words = _held_against(under_load(log, "celsius", check.load_watts), seen)
        return Judged(check, "passed" if held else "failed", (*said, *words))
    state: State = "refused" if best.word in {"idle", "no-load-known"} else "open"
    return Judged(check, state, said, best.more_minutes)


def _held_against(celsius: float | None, seen: Evidence) -> tuple[bool, tuple[str, ...]]:
    """Whether a temperature under load is one of this model's usual, and what it is held against.

    Too few cards of the model: nothing is held against it but this card's own figure, which fails nothing: before the
    repair it may have run at less load.
    """
    if celsius is None:
        return True, ()
    words = []
    if seen.celsius_before is not None:
        words.append(
            gettext(
                "Before the repair it ran at {celsius_before} °C under load, now at {celsius} °C.",
                celsius_before=f"{seen.celsius_before:.0f}",
                celsius=f"{celsius:.0f}",
            )
        )
    usual = usual_most(seen.usual_celsius)
    if usual is None:
        return True, tuple(words)
    most, middle = usual
    words.append(
        gettext(
            "{cards} about {middle} °C under load, at most {most} °C usual.",
            cards=_cards(seen.usual_celsius),
            middle=f"{middle:.0f}",
            most=f"{most:.0f}",
        )
    )
    if not over(celsius, most):
        return True, tuple(words)
    return False, (
        *words,
        gettext("It runs hotter than its like: paste, pads and the seat of the cooler are looked at again."),
    )


def _cards(figures: Sequence[float]) -> str:
    return gettext(
        "{number} cards of this model", number=len(figures)
    )  # fewer than FEWEST_SCORES are held against nothing


def _hottest(log: Log, load_watts: float | None) -> float:
    busy = loaded(log, load_watts)
    celsius = np.array(log.figures["celsius"])
    return float(np.nanmax(celsius if busy is None or not busy.any() else celsius[busy]))


def usual_least(figures: Sequence[float], least_spread: float = LEAST_SCORE_SPREAD) -> tuple[float, float] | None:
    """The least that the next good card should show, and their geometric mean; None with too few cards to say.

    A one-sided Student bound for one more card, on logarithms: scores and clocks differ by ratios.
    """
    found = _one_more([math.log(figure) for figure in figures if figure > 0], least_spread)
    return None if found is None else (math.exp(found[0] - found[1]), math.exp(found[0]))


def usual_most(celsius: Sequence[float]) -> tuple[float, float] | None:
    """The most degrees Celsius that the next good card should show, and their mean; None with too few cards to say."""
    found = _one_more(celsius, LEAST_CELSIUS_SPREAD)
    return None if found is None else (found[0] + found[1], found[0])


def _one_more(kept: Sequence[float], least_spread: float) -> tuple[float, float] | None:
    """The mean of some cards and how far from it one more may lie to one side."""
    if len(kept) < FEWEST_SCORES:
        return None
    from scipy.special import stdtrit

    middle, spread = statistics.fmean(kept), statistics.stdev(kept)
    wide = float(stdtrit(len(kept) - 1, SCORE_COVERS)) * max(spread, least_spread) * math.sqrt(1 + 1 / len(kept))
    return middle, wide


def _score(check: Check, seen: Evidence) -> Judged:
    if seen.score is None:
        return Judged(check, "open", (gettext("No score since the last rework."),))
    usual = usual_least(seen.usual_scores)
    if usual is None:
        many = len(seen.usual_scores)
        cards = ngettext("{count} other card", "{count} other cards", many)
        return Judged(
            check,
            "passed",
            (
                gettext(
                    "{score}, kept; {cards} of this model: too few to compare with.",
                    score=f"{seen.score:g}",
                    cards=cards,
                ),
            ),
        )
    least, middle = usual
    words = gettext(
        "{score}; {number} cards of this model about {middle}, at least {least} usual.",
        score=f"{seen.score:g}",
        number=len(seen.usual_scores),
        middle=f"{middle:.0f}",
        least=f"{least:.0f}",
    )
    return Judged(check, "passed" if seen.score >= least else "failed", (words,))


def _hand(check: Check, seen: Evidence) -> Judged:
    if check.parts:
        return _each(check, seen)
    said = seen.said.get(check.id)
    if said is None:
        wanted = (
            gettext("{minutes} min.", minutes=f"{check.minutes:g}") if check.minutes else gettext("Say how it went.")
        )
        return Judged(check, "open", (wanted,))
    if check.minutes and (said.minutes or 0.0) < check.minutes:
        short = check.minutes - (said.minutes or 0.0)
        return Judged(
            check,
            "open",
            (
                gettext(
                    "{minutes} of {minutes_2} min.", minutes=f"{said.minutes or 0:g}", minutes_2=f"{check.minutes:g}"
                ),
            ),
            short,
        )
    return Judged(check, "passed", (said.note or gettext("Passed."),))


def _each(check: Check, seen: Evidence) -> Judged:
    """A check that is said part by part: the parts that are still to come are named."""
    said = {part: seen.said_of.get((check.id, part)) for part in check.parts}
    failed = [
        f"{part}: {(word.note or check.fails).rstrip('.')}."
        for part, word in said.items()
        if word is not None and not word.passed
    ]
    if failed:
        return Judged(check, "failed", tuple(failed))
    if to_come := [part for part, word in said.items() if word is None]:
        return Judged(check, "open", (gettext("Still to come: {to_come}.", to_come=", ".join(to_come)),))
    return Judged(check, "passed", (gettext("Each of them: {parts}.", parts=", ".join(check.parts)),))


def _cold_start(check: Check, seen: Evidence) -> Judged:
    said, hours = seen.said.get(check.id), check.hours or 0.0
    if said is None:
        return Judged(check, "open", (gettext("Off for {hours} h, then a start from cold.", hours=f"{hours:g}"),))
    if seen.off_since is None or said.at - seen.off_since < timedelta(hours=hours):
        off = 0.0 if seen.off_since is None else (said.at - seen.off_since) / timedelta(hours=1)
        return Judged(
            check,
            "refused",
            (gettext("It was off for {off} h; {hours} h make it cold.", off=f"{off:.1f}", hours=f"{hours:g}"),),
        )
    return Judged(
        check,
        "passed",
        (said.note or gettext("Off for {at} h before.", at=f"{(said.at - seen.off_since) / timedelta(hours=1):.0f}"),),
    )


JUDGES = {
    "readings": _measured,
    "current": _measured,
    "ladder": _measured,
    "link": _link,
    "identity": _identity,
    "sensors": _sensors,
    "clocks": _clocks,
    "memory": _measured,
    "stress": _stress,
    "score": _score,
    "hand": _hand,
    "cold-start": _cold_start,
}


def under_load(log: Log, figure: str, load_watts: float | None = None) -> float | None:
    """The middle of the last tenth of a log's samples under load; None where it has no load or not the figure."""
    busy = loaded(log, load_watts)
    if busy is None or not busy.any() or not log.has(figure):
        return None
    last = np.flatnonzero(busy)[-max(2, int(COMPARED_SHARE * busy.sum())) :]
    values = np.array(log.figures[figure])[last]
    return None if np.isnan(values).all() else float(np.nanmedian(values))


@dataclass(frozen=True, slots=True)
class Pair:
    """A figure before the repair and after it; None where it was not taken."""

    name: str
    unit: str
    before: float | None
    after: float | None


def log_figures(log: Log) -> dict[str, tuple[str, float]]:
    """What a log is compared by: the middle of its last tenth under load, else of its end."""
    busy = loaded(log)
    seconds = np.array(log.seconds)
    keep = np.ones(len(seconds), bool) if busy is None or not busy.any() else busy
    last = np.flatnonzero(keep)[-max(2, int(COMPARED_SHARE * keep.sum())) :]
    names = {"celsius": (gettext("temperature under load"), "°C"), "mhz": (gettext("core clock under load"), "MHz"),
             "watts": (gettext("power under load"), "W"), "fan": (gettext("fan under load"), "")}  # fmt: skip
    found = {}
    for name, (words, unit) in names.items():
        if log.has(name):
            values = np.array(log.figures[name])[last]
            if not np.isnan(values).all():
                found[words] = (unit, float(np.nanmedian(values)))
    return found


def before_and_after(
    before: Mapping[str, tuple[str, float]], after: Mapping[str, tuple[str, float]]
) -> tuple[Pair, ...]:
    """Figures side by side, those that have both sides first."""
    names = [
        *(name for name in before if name in after),
        *(name for name in {**before, **after} if not (name in before and name in after)),
    ]
    found = []
    for name in names:
        unit = (before.get(name) or after[name])[0]
        one, other = before.get(name), after.get(name)
        found.append(Pair(name, unit, one[1] if one else None, other[1] if other else None))
    return tuple(found)
