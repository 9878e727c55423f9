"""Readings at the balls of chips, judged by their fellows (docs/trade §3.12, "Same pin, other chip").

A ball's fellows are the same ball of the other chips of its kind, where three or more were read; else the other data
lines of its own chip. In circuit, on the empty pads and on the chip alone are three things, each with fellows of its
own: core and chip junctions lie parallel until the chip is lifted.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from uvrix.core.readings.limits import (
    LEAST_CHIPS,
    LEAST_LINES,
    SHORT_SHARE,
    SHORT_UNDER,
    STRANGER_BALLS,
    STRANGER_SHARE,
)
from uvrix.core.readings.notation import Quantity, shown, shown_number
from uvrix.core.readings.peers import BY_SHARE, Among, Pin, Split, among, chip_and_pin, pooled, two_groups
from uvrix.core.readings.reading_file import Reading
from uvrix.core.readings.sweeps import CHIP_ALONE, SITE_PADS
from uvrix.core.readings.verdict import NUMBERS, Verdict
from uvrix.core.values.edges import under
from uvrix.language import gettext, ngettext

State = Literal["in circuit", "site pads", "chip alone"]
STATES: tuple[State, ...] = ("in circuit", "site pads", "chip alone")
Fellows = Literal["chips", "lines", ""]


@dataclass(frozen=True, slots=True)
class BallJudged:
    """A reading at a ball: the word, what its fellows usually read (None: over-limit, or none), how many, which."""

    reading: Reading
    chip: str
    pin: str
    state: State
    verdict: Verdict
    usual: float | None
    fellows: int
    among: Fellows
    why: str

    @property
    def odd(self) -> bool:
        """Whether it stands out among its fellows."""
        return self.verdict not in {"within", "no-reference"}


@dataclass(frozen=True, slots=True)
class Kinds:
    """What a board says of its chips: the kind of each (chips of one kind are alike), the data lines of each."""

    kind: Mapping[str, str]
    lines: Mapping[str, Collection[str]]


def state_of(reading: Reading) -> State:
    """Where a ball was read: in circuit, on the pads below a lifted chip, or on the lifted chip itself."""
    if SITE_PADS in reading.condition:
        return "site pads"
    return "chip alone" if CHIP_ALONE in reading.condition else "in circuit"


def judge_balls(readings: Sequence[Reading], kinds: Kinds) -> tuple[BallJudged, ...]:
    """Every reading by its fellows, in their order. Each ball is given once a state, quantity, mode and lead."""
    tables: dict[tuple[str, State], _Table] = defaultdict(_Table)
    for reading in readings:
        chip, pin = chip_and_pin(reading.point)
        tables[kinds.kind.get(chip, ""), state_of(reading)].chips[_pin(pin, reading)][chip] = reading.value.middle
    return tuple(
        _judge(reading, tables[kinds.kind.get(_chip(reading), ""), state_of(reading)], kinds) for reading in readings
    )


class _Table:
    """Readings of chips of one kind in one state, by pin and chip; what is compared is compared once."""

    def __init__(self) -> None:
        self.chips: dict[Pin, dict[str, float | None]] = defaultdict(dict)
        self._spread: dict[bool, float] = {}
        self._among: dict[object, Among | None] = {}
        self._split: dict[object, Split | None] = {}

    def among_chips(self, key: Pin) -> Among | None:
        """The chips of a pin held against each other."""
        if key not in self._among:
            by_share = key[1] in BY_SHARE
            if by_share not in self._spread:
                self._spread[by_share] = pooled(self.chips, by_share=by_share)
            self._among[key] = among(self.chips[key], key[1], self._spread[by_share])
        return self._among[key]

    def split(self, key: Pin) -> Split | None:
        """The two groups that the chips of a pin fall into, where they do."""
        asked = ("split", *key)
        if asked not in self._split:
            self._split[asked] = two_groups(key[0], self.chips[key], key[1])
        return self._split[asked]

    def lines(self, chip: str, own: Collection[str], key: Pin) -> tuple[dict[str, float | None], Among | None]:
        """The data lines of a chip, read as `key` says, held against each other; None where they are too few."""
        values = {
            name: by_chip[chip]
            for (name, *how), by_chip in self.chips.items()
            if name in own and chip in by_chip and tuple(how) == key[1:]
        }
        asked = (chip, *key[1:])
        if asked not in self._among:
            self._among[asked] = among(values, key[1]) if len(values) >= LEAST_LINES else None
        return values, self._among[asked]


def _chip(reading: Reading) -> str:
    return chip_and_pin(reading.point)[0]


def _pin(pin: str, reading: Reading) -> Pin:
    return pin, reading.quantity, reading.mode, reading.to, reading.polarity


def _judge(reading: Reading, table: _Table, kinds: Kinds) -> BallJudged:
    chip, pin = chip_and_pin(reading.point)
    key, state = _pin(pin, reading), state_of(reading)
    chips = table.chips[key]
    if (split := table.split(key)) is not None:
        return BallJudged(reading, chip, pin, state, "no-reference", None, len(chips) - 1, "", split.why)
    found = table.among_chips(key)
    if found is not None:
        held = _Held(chips, found, chip, gettext("{many} other chips at {pin}", many=_many(len(chips) - 1), pin=pin))
        return BallJudged(
            reading, chip, pin, state, *_said(reading, held), len(chips) - 1, "chips", _why(reading, held)
        )
    own = kinds.lines.get(chip, ())
    if pin in own:
        lines, found = table.lines(chip, own, key)
        if found is not None:
            held = _Held(
                lines, found, pin, gettext("{many} other data lines of {chip}", many=_many(len(lines) - 1), chip=chip)
            )
            return BallJudged(
                reading, chip, pin, state, *_said(reading, held), len(lines) - 1, "lines", _why(reading, held)
            )
    few = ngettext(
        "{many} other chip was read at {pin}",
        "{many} other chips were read at {pin}",
        len(chips) - 1,
        many=_many(len(chips) - 1),
        pin=pin,
    )
    why = gettext(
        "{shown}; {few}. From {many} chips on the odd one shows",
        shown=shown(reading.value, reading.quantity),
        few=few,
        many=_many(LEAST_CHIPS),
    )
    why += gettext(", or from {many} data lines of {chip}.", many=_many(LEAST_LINES), chip=chip) if pin in own else "."
    return BallJudged(reading, chip, pin, state, "no-reference", None, len(chips) - 1, "", why)


@dataclass(frozen=True, slots=True)
class _Held:
    """What a reading is held against: all values by name, who is odd among them, its own name, the fellows in words."""

    values: Mapping[str, float | None]
    found: Among
    name: str
    says: str


def _said(reading: Reading, held: _Held) -> tuple[Verdict, float | None]:
    if held.name in held.found.odd:
        return _word(reading, held.found.usual), held.found.usual
    return "unsteady" if reading.value.span else "within", held.found.usual


def _why(reading: Reading, held: _Held) -> str:
    verdict, _ = _said(reading, held)
    others = [value for name, value in held.values.items() if name not in held.found.odd and name != held.name]
    word = "" if verdict == "within" else f", {verdict}"
    return gettext(
        "{shown}{word}; {says} read {range}.",
        shown=shown(reading.value, reading.quantity),
        word=word,
        says=held.says,
        range=_range(others, reading.quantity),
    )


def _word(reading: Reading, usual: float | None) -> Verdict:
    value = reading.value.middle
    if value is None:
        return "open"
    if reading.value.span:
        return "unsteady"
    if usual is None:
        return "low"
    below = SHORT_UNDER.get(reading.quantity, 0.0)
    if under(value, usual * SHORT_SHARE) and value < below:
        return "short"
    return "low" if value < usual else "high"


def _range(values: Iterable[float | None], quantity: Quantity) -> str:
    closed = sorted(value for value in values if value is not None)
    if not closed:
        return "OL"
    low, high = shown_number(closed[0], quantity), shown_number(closed[-1], quantity)
    return low if low == high else gettext("{low} to {high}", low=low, high=high)


def _many(number: int) -> str:
    return NUMBERS[number] if number < len(NUMBERS) else str(number)


def strangers(judged: Iterable[BallJudged]) -> dict[str, str]:
    """Chips that are odd nearly everywhere: another part than their fellows, with the sentence that says so."""
    read, odd = Counter[str](), Counter[str]()
    for judgement in judged:
        if judgement.among == "chips" and judgement.state != "site pads":
            read[judgement.chip] += 1
            odd[judgement.chip] += judgement.odd
    return {
        chip: gettext(
            "{chip} is odd at {chip_2} of {chip_3} balls: not a fault at one of them, rather another "
            "part than its fellows (fake, re-marked or of another kind), or its supply.",
            chip=chip,
            chip_2=odd[chip],
            chip_3=read[chip],
        )
        for chip in read
        if odd[chip] >= STRANGER_BALLS and odd[chip] > STRANGER_SHARE * read[chip]
    }
