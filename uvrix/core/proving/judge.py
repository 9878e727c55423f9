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
    "readings": "No reading since the last act.",
    "current": "Not drawn on the supply since the last act.",
    "ladder": "Not seen in a computer since the last act.",
    "memory": "No memory run {} since the last act.",
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
    one = seen.identity
    if one is None or one.width is None:
        return Judged(check, "open", ("The test computer has reported no link.",))
    width = check.width or seen.lanes or one.most_width
    speed = check.gt_per_s or one.most_gt_per_s
    wrong = []
    if width and one.width < width:
        wrong.append(f"{one.width} lanes, {width:g} expected.")
    if speed and one.gt_per_s is not None and one.gt_per_s < speed:
        wrong.append(f"{one.gt_per_s:g} GT/s, {speed:g} expected.")
    wrong += [f"{count} errors counted: {name}." for name, count in one.errors.items() if count]
    if wrong:
        return Judged(check, "failed", tuple(wrong))
    said = f"{one.width} lanes" + (f" at {one.gt_per_s:g} GT/s" if one.gt_per_s is not None else "")
    if not width:
        return Judged(check, "refused", (f"{said}; how many it should have is not set.",), no_reference=True)
    return Judged(check, "passed", (f"{said}, no errors counted.",))


def _identity(check: Check, seen: Evidence) -> Judged:
    one = seen.identity
    if one is None or one.memory_mib is None:
        return Judged(check, "open", ("The test computer has not reported how much memory it sees.",))
    expected = check.memory_mib or seen.expected_mib
    if not expected:
        return Judged(
            check, "refused", (f"{one.memory_mib} MiB; the model has no memory size on file.",), no_reference=True
        )
    if over(abs(one.memory_mib - expected), MEMORY_SHARE * expected):
        return Judged(check, "failed", (f"{one.memory_mib} MiB, {expected:g} expected.",))
    return Judged(check, "passed", (f"{one.device or 'It'} with {one.memory_mib} MiB.",))


def _sensors(check: Check, seen: Evidence) -> Judged:
    temperatures = [one for _, log in seen.logs for one in log.figures.get("celsius", ()) if not math.isnan(one)]
    if not temperatures:
        return Judged(check, "open", ("No log since the last rework.",))
    low, high = min(temperatures), max(temperatures)
    if faked := next((said for _, log in seen.logs if (said := _faked(log))), ""):
        return Judged(check, "failed", (faked,))
    if low < COLDEST_C or high > HOTTEST_C:
        return Judged(check, "failed", (f"{low:.0f} to {high:.0f} °C cannot be.",))
    if len(temperatures) > STILL_SAMPLES and under(high - low, STILL_C):
        return Judged(check, "failed", (f"{high:.1f} °C all the while: the sensor stands still.",))
    return Judged(check, "passed", (f"{low:.0f} to {high:.0f} °C.",))


def _faked(log: Log) -> str:
    """What a log says of power that cannot be: much of it while the clock is held low; empty where it does not."""
    if not (log.has("watts") and log.has("mhz")):
        return ""
    watts, clock = (np.array(log.figures[name]) for name in ("watts", "mhz"))
    low, high, reported = float(np.nanmin(clock)), float(np.nanmax(clock)), float(np.nanmedian(watts))
    if not under(high, CLOCK_MOVES_TIMES * max(low, 1.0)) or reported < HELD_WATTS:
        return ""
    return (
        f"{reported:.0f} W reported while the clock stays at {high:.0f} MHz: that is no draw. A sense path that went"
        " high fakes it: read both ends at Volts."
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
    return f"{before:.0f} MHz at {cool:.0f} °C falls to {after:.0f} MHz at {warm:.0f} °C: it sags with heat."


def _clocks(check: Check, seen: Evidence) -> Judged:
    clocks = [(log, np.array(log.figures["mhz"])) for _, log in seen.logs if log.has("mhz")]
    if not clocks:
        return Judged(check, "open", ("No log with a clock since the last rework.",))
    best = max(clocks, key=lambda one: float(np.nanmax(one[1])))[1]
    low, high = float(np.nanmin(best)), float(np.nanmax(best))
    usual = usual_least(seen.usual_mhz, LEAST_CLOCK_SPREAD)
    at_load = next((one for log, _ in clocks if (one := under_load(log, "mhz", check.load_watts)) is not None), None)
    if under(high, CLOCK_MOVES_TIMES * max(low, 1.0)):
        return Judged(check, "failed", (f"{low:.0f} to {high:.0f} MHz: it stands still.",))
    if sagged := next((said for log, _ in clocks if (said := _sags(log, check.load_watts))), ""):
        return Judged(check, "failed", (sagged,))
    if usual and at_load is not None and under(at_load, usual[0]):
        like = f"{_cards(seen.usual_mhz)} about {usual[1]:.0f}, at least {usual[0]:.0f} usual."
        words = f"{at_load:.0f} MHz under load; {like}"
        return Judged(check, "failed", (words,))
    return Judged(check, "passed", (f"{low:.0f} to {high:.0f} MHz.",))


def _stress(check: Check, seen: Evidence) -> Judged:
    if not seen.logs:
        return Judged(check, "open", (f"No log yet; {check.minutes:g} min under load.",))
    found = [
        (name, steadiness(log, check.minutes or 0.0, check.rest_c, check.load_watts), log) for name, log in seen.logs
    ]
    order = {"steady": 3, "rising": 2, "too-short": 1, "idle": 0, "no-load-known": 0}
    name, best, log = max(found, key=lambda one: (order[one[1].word], one[1].loaded_minutes))
    said = (f"{name}: {best.why}",)
    if check.most_c is not None and _hottest(log, check.load_watts) > check.most_c:
        return Judged(check, "failed", (*said, f"{best.peak_c:.0f} °C, at most {check.most_c:g} allowed."))
    if seen.identity and (counted := [f"{n} {name}" for name, n in seen.identity.errors.items() if n]):
        return Judged(check, "failed", (*said, f"Errors counted: {', '.join(counted)}."))
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
        words.append(f"Before the repair it ran at {seen.celsius_before:.0f} °C under load, now at {celsius:.0f} °C.")
    usual = usual_most(seen.usual_celsius)
    if usual is None:
        return True, tuple(words)
    most, middle = usual
    words.append(f"{_cards(seen.usual_celsius)} about {middle:.0f} °C under load, at most {most:.0f} °C usual.")
    if not over(celsius, most):
        return True, tuple(words)
    return False, (*words, "It runs hotter than its like: paste, pads and the seat of the cooler are looked at again.")


def _cards(figures: Sequence[float]) -> str:
    return f"{len(figures)} cards of this model"  # fewer than FEWEST_SCORES are held against nothing


def _hottest(log: Log, load_watts: float | None) -> float:
    busy = loaded(log, load_watts)
    celsius = np.array(log.figures["celsius"])
    return float(np.nanmax(celsius if busy is None or not busy.any() else celsius[busy]))


def usual_least(figures: Sequence[float], least_spread: float = LEAST_SCORE_SPREAD) -> tuple[float, float] | None:
    """The least that the next good card should show, and their geometric mean; None with too few cards to say.

    A one-sided Student bound for one more card, on logarithms: scores and clocks differ by ratios.
    """
    found = _one_more([math.log(one) for one in figures if one > 0], least_spread)
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
        return Judged(check, "open", ("No score since the last rework.",))
    usual = usual_least(seen.usual_scores)
    if usual is None:
        many = len(seen.usual_scores)
        cards = f"{many} other {'card' if many == 1 else 'cards'}"
        return Judged(check, "passed", (f"{seen.score:g}, kept; {cards} of this model: too few to compare with.",))
    least, middle = usual
    words = (
        f"{seen.score:g}; {len(seen.usual_scores)} cards of this model about {middle:.0f}, at least {least:.0f} usual."
    )
    return Judged(check, "passed" if seen.score >= least else "failed", (words,))


def _hand(check: Check, seen: Evidence) -> Judged:
    if check.parts:
        return _each(check, seen)
    said = seen.said.get(check.id)
    if said is None:
        wanted = f"{check.minutes:g} min." if check.minutes else "Say how it went."
        return Judged(check, "open", (wanted,))
    if check.minutes and (said.minutes or 0.0) < check.minutes:
        short = check.minutes - (said.minutes or 0.0)
        return Judged(check, "open", (f"{said.minutes or 0:g} of {check.minutes:g} min.",), short)
    return Judged(check, "passed", (said.note or "Passed.",))


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
        return Judged(check, "open", (f"Still to come: {', '.join(to_come)}.",))
    return Judged(check, "passed", (f"Each of them: {', '.join(check.parts)}.",))


def _cold_start(check: Check, seen: Evidence) -> Judged:
    said, hours = seen.said.get(check.id), check.hours or 0.0
    if said is None:
        return Judged(check, "open", (f"Off for {hours:g} h, then a start from cold.",))
    if seen.off_since is None or said.at - seen.off_since < timedelta(hours=hours):
        off = 0.0 if seen.off_since is None else (said.at - seen.off_since) / timedelta(hours=1)
        return Judged(check, "refused", (f"It was off for {off:.1f} h; {hours:g} h make it cold.",))
    return Judged(
        check, "passed", (said.note or f"Off for {(said.at - seen.off_since) / timedelta(hours=1):.0f} h before.",)
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
    names = {"celsius": ("temperature under load", "°C"), "mhz": ("core clock under load", "MHz"),
             "watts": ("power under load", "W"), "fan": ("fan under load", "")}  # fmt: skip
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
