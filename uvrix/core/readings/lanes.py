"""Slot contacts: lanes judged among themselves, and the width that the link will train at (docs/trade §3.17)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from statistics import median
from typing import Literal

from uvrix.core.boards.contacts import MOST_LANES
from uvrix.core.errors import Refusal, quoted
from uvrix.core.readings.limits import LANE_CONTRADICT_SHARE, LANE_CONTRADICT_V, LANE_SHORT_V, LANE_WITHIN_SHARE
from uvrix.core.readings.notation import Value, parse_value, shown
from uvrix.core.readings.reading_file import rows_of
from uvrix.language import gettext

PAIRS, HALVES = ("tx", "rx"), ("p", "n")
WIDTHS = (16, 8, 4, 2, 1)
NOTHING: Mapping[int, Sequence[str]] = {}
LaneVerdict = Literal["works", "open", "short", "odd"]
Half = tuple[str, str]


@dataclass(frozen=True, slots=True)
class Link:
    """Each lane's verdict, the width and the end it counts from, why, warnings."""

    lanes: Mapping[int, LaneVerdict]
    width: int
    start: int
    why: str
    warnings: tuple[str, ...]


def read_lanes(data: bytes, lanes: int = MOST_LANES) -> dict[int, dict[Half, Value]]:
    """The readings of a lanes file, by lane and half. Raises Refusal naming the line."""
    found: dict[int, dict[Half, Value]] = {}
    lines: dict[tuple[int, Half], int] = {}
    for line, row in rows_of(data, ("lane", "pair", "half", "diode_v")):
        text = row["lane"].strip()
        if not (text.isascii() and text.isdigit() and len(text) < 4 and int(text) < lanes):
            raise Refusal(str(line), quoted(text), gettext("a lane from 0 to {lanes}", lanes=lanes - 1))
        pair, half = row["pair"].strip(), row["half"].strip()
        if pair not in PAIRS:
            raise Refusal(str(line), quoted(pair), gettext("tx or rx"))
        if half not in HALVES:
            raise Refusal(str(line), quoted(half), gettext("p or n"))
        try:
            value = parse_value(row["diode_v"], "diode")
        except Refusal as refusal:
            raise Refusal(str(line), refusal.found, gettext("volts or OL")) from None
        lane, which = int(text), (pair, half)
        former = found.get(lane, {}).get(which)
        if former is not None and _contradict(former, value):
            expected = gettext(
                "about the {shown} of line {lines}", shown=shown(former, "diode"), lines=lines[lane, which]
            )
            raise Refusal(
                str(line),
                gettext(
                    "{shown} for lane {lane} {pair} {half}",
                    shown=shown(value, "diode"),
                    lane=lane,
                    pair=pair,
                    half=half,
                ),
                expected,
            )
        found.setdefault(lane, {})[which] = value
        lines[lane, which] = line
    return found


def _contradict(one: Value, other: Value) -> bool:
    first, second = _exact(one), _exact(other)
    if first is None or second is None:
        return first is not second
    apart = abs(first - second)
    return apart > LANE_CONTRADICT_V and apart > LANE_CONTRADICT_SHARE * max(abs(first), abs(second))


def _exact(value: Value) -> Fraction | None:
    middle = value.middle
    return None if middle is None else Fraction(repr(middle))


def link(
    readings: Mapping[int, Mapping[Half, Value]], lanes: int = MOST_LANES, torn: Mapping[int, Sequence[str]] = NOTHING
) -> Link:
    """Judge the lanes and predict the width: the widest run of working lanes from lane 0 or from the last.

    `torn` names the torn contacts of lanes: such a lane is open, whatever is read behind the gap.
    """
    warnings = []
    halves = [(pair, half) for pair in PAIRS for half in HALVES]
    values = {(lane, which): _exact(value) for lane, by_half in readings.items() for which, value in by_half.items()}
    tx = [value for (_, (pair, _)), value in values.items() if pair == "tx"]
    if tx and all(value is None for value in tx):
        warnings.append(gettext("All tx halves are OL, as at the contacts, before their series capacitors: left out."))
        halves = [which for which in halves if which[0] == "rx"]
    usual = {which: _median(values, which) for which in halves}
    verdicts: dict[int, LaneVerdict] = {}
    if not values and not torn:
        return Link({}, 0, 0, gettext("Nothing was read: which lanes work is not known."), ())
    unread = [
        lane for lane in range(lanes) if lane not in torn and not any((lane, which) in values for which in halves)
    ]
    if unread:
        many = (
            gettext("Lane {unread} was", unread=unread[0])
            if len(unread) == 1
            else gettext("Lanes {listed_ranges} were", listed_ranges=listed_ranges(unread))
        )
        warnings.append(gettext("{many} not read: what is not read does not count as working.", many=many))
    for lane in range(lanes):
        if lane in torn:
            verdicts[lane] = "open"
            continue
        read = {which: values[lane, which] for which in halves if (lane, which) in values}
        if not read:
            continue
        if len(read) < len(halves):
            missing = ", ".join(f"{pair} {half}" for pair, half in halves if (pair, half) not in read)
            warnings.append(
                gettext(
                    "Lane {lane} was not read whole ({missing} missing): it does not count as working.",
                    lane=lane,
                    missing=missing,
                )
            )
        judged = [_judge(value, usual[which]) for which, value in read.items()]
        worst: LaneVerdict = next((word for word in ("open", "short", "odd") if word in judged), "works")
        verdicts[lane] = worst
    whole = {lane for lane in verdicts if all((lane, which) in values for which in halves)}
    working = [verdicts.get(lane) == "works" and lane in whole for lane in range(lanes)]
    width, start = widest(working)
    words = {
        lane: gettext("torn ({names})", names=gettext(" and ").join(torn[lane])) if lane in torn else word
        for lane, word in verdicts.items()
    }
    return Link(verdicts, width, start, _why(working, words, start), tuple(warnings))


def listed_ranges(numbers: Sequence[int]) -> str:
    """Rising numbers in words, runs of three and more by their ends: 1, 2 and 5 to 15."""
    runs: list[list[int]] = []
    for number in numbers:
        if runs and number == runs[-1][-1] + 1:
            runs[-1].append(number)
        else:
            runs.append([number])
    said = [
        word
        for run in runs
        for word in ([gettext("{run} to {run_2}", run=run[0], run_2=run[-1])] if len(run) > 2 else map(str, run))
    ]
    return said[0] if len(said) == 1 else gettext("{names} and {said}", names=", ".join(said[:-1]), said=said[-1])


def widest(working: Sequence[bool]) -> tuple[int, int]:
    """The width that lanes allow, and the lane it counts from: lane 0, or the last where that is wider."""
    width, other = _width(_run(working)), _width(_run(working[::-1]))
    return max(width, other), 0 if width >= other else len(working) - 1


def _median(values: Mapping[tuple[int, Half], Fraction | None], which: Half) -> Fraction | None:
    """The median of what remains of a half: neither open nor short."""
    closed = [value for (_, half), value in values.items() if half == which and value is not None]
    left = [value for value in closed if value >= LANE_SHORT_V]
    return median(left) if left else None


def _judge(value: Fraction | None, usual: Fraction | None) -> LaneVerdict:
    if value is None:
        return "open"
    if value < LANE_SHORT_V:
        return "short"
    return "works" if usual is not None and abs(value - usual) <= LANE_WITHIN_SHARE * usual else "odd"


def _run(working: Sequence[bool]) -> int:
    return next((at for at, works in enumerate(working) if not works), len(working))


def _width(run: int) -> int:
    return next((width for width in WIDTHS if width <= run), 0)


def _why(working: Sequence[bool], verdicts: Mapping[int, str], start: int) -> str:
    first, last = _run(working), _run(working[::-1])
    bad = [f"{lane} {verdicts.get(lane, gettext('not read'))}" for lane, works in enumerate(working) if not works]
    if not bad:
        return gettext("All {number} lanes work.", number=len(working))
    return gettext(
        "From lane 0 {first} lanes work (width {width}), from lane {number} {last} (width "
        "{width_2}): counted from lane {start}. Not working: {bad}.",
        first=first,
        width=_width(first),
        number=len(working) - 1,
        last=last,
        width_2=_width(last),
        start=start,
        bad=", ".join(bad),
    )


def as_json(found: Link) -> dict[str, object]:
    """The object that `uvrix link --json` prints."""
    return {
        "lanes": [{"lane": lane, "verdict": verdict} for lane, verdict in found.lanes.items()],
        "width": found.width,
        "from": found.start,
        "why": found.why,
        "warnings": list(found.warnings),
    }
