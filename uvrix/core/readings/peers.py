"""Same pin, other chip: identical chips are each other's reference, pin by pin (docs/trade §3.12).

Each pin's chips are compared with their own median: by shares where the pin is read in ohms, by volts in diode mode,
since pins lie decades apart. How far chips of one pin usually differ is pooled over the whole table, robustly; a chip
is odd where it lies beyond so many of those spreads and beyond what a bench meter repeats (limits.py). Chips that show
the same odd value share a line.
"""

from __future__ import annotations

import math
import statistics
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from uvrix.core.errors import Refusal, quoted
from uvrix.core.readings.limits import (
    GROUP_ALIKE,
    GROUP_ALIKE_SHARE,
    GROUP_APART,
    GROUP_TIMES,
    LEAST_CHIPS,
    LEAST_IN_GROUP,
    PEER_ALIKE_SHARE,
    PEER_ODD_SPREADS,
    PEER_SAME,
    PEER_SAME_SHARE,
)
from uvrix.core.readings.notation import Quantity, shown_number
from uvrix.core.readings.reading_file import Reading
from uvrix.core.values.edges import over, under
from uvrix.core.values.spread import normal_spread
from uvrix.language import gettext

BY_SHARE: frozenset[Quantity] = frozenset({"resistance", "frequency"})
Pin = tuple[str, Quantity, str, str, str]


@dataclass(frozen=True, slots=True)
class Odd:
    """An odd value at a pin: which chips show it (None: over-limit), and what the others usually read (None: OL)."""

    pin: str
    chips: tuple[str, ...]
    value: float | None
    peers: float | None

    @property
    def shared(self) -> bool:
        """Whether several chips show it: a line that they share."""
        return len(self.chips) > 1


@dataclass(frozen=True, slots=True)
class Split:
    """A pin whose chips fall into two groups: each with its value (None: over-limit) and chips, the larger first."""

    pin: str
    groups: tuple[tuple[float | None, tuple[str, ...]], tuple[float | None, tuple[str, ...]]]
    quantity: Quantity

    @property
    def chips(self) -> tuple[str, ...]:
        """All of them: none is known to be good."""
        return tuple(chip for _, chips in self.groups for chip in chips)

    @property
    def why(self) -> str:
        """The sentence that says so, and what tells which group is wrong."""
        said = [
            gettext(
                "{chips} read {value}",
                chips=_listed(chips),
                value="OL" if value is None else shown_number(value, self.quantity),
            )
            for value, chips in self.groups
        ]
        smaller = self.groups[1][1][0]
        return gettext(
            "At {pin} {said}; {said_2}: two groups, and neither is the odd one. Chips that read alike "
            "share a line, so all are suspects. Lift {smaller} first and measure again: where its "
            "fellows change with it, it held their line; where nothing changes, it is the line or "
            "another chip on it.",
            pin=self.pin,
            said=said[0],
            said_2=said[1],
            smaller=smaller,
        )


def _listed(names: Sequence[str]) -> str:
    return (
        names[0]
        if len(names) == 1
        else gettext("{names} and {names_2}", names=", ".join(names[:-1]), names_2=names[-1])
    )


@dataclass(frozen=True, slots=True)
class Compared:
    """What a table of pins says: odd values, and pins whose chips fall into two groups, in the order of the pins."""

    odd: tuple[Odd, ...]
    split: tuple[Split, ...]


def chip_and_pin(name: str) -> tuple[str, str]:
    """What a reading's name says; raises Refusal where it is not CHIP.PIN."""
    chip, dot, pin = name.partition(".")
    if not (chip and dot and pin) or "/" in name:
        raise Refusal("", quoted(name), gettext("a name CHIP.PIN, such as U11.A1"))
    return chip, pin


def odd_ones(readings: Iterable[Reading]) -> Compared:
    """The odd values of a table, in the order of its pins; spans count by their middle."""
    table: dict[Pin, dict[str, float | None]] = defaultdict(dict)
    for reading in readings:
        chip, pin = chip_and_pin(reading.point)
        table[pin, reading.quantity, reading.mode, reading.to, reading.polarity][chip] = reading.value.middle
    splits = {key: split for key, chips in table.items() if (split := two_groups(key[0], chips, key[1]))}
    rest = {key: chips for key, chips in table.items() if key not in splits}
    spread = {by_share: pooled(rest, by_share=by_share) for by_share in (True, False)}
    odd = tuple(odd for key, chips in rest.items() for odd in _of_pin(key, chips, spread))
    return Compared(odd, tuple(splits.values()))


def two_groups(pin: str, chips: Mapping[str, float | None], quantity: Quantity) -> Split | None:
    """The two groups that the chips of a pin fall into, or None: the smaller has two of them and two fifths or more."""
    if len(chips) < 2 * LEAST_IN_GROUP:
        return None
    closed = sorted((value, chip) for chip, value in chips.items() if value is not None)
    over_limit = [chip for chip, value in chips.items() if value is None]
    at = len(closed)
    if not over_limit:
        at = max(range(1, len(closed)), key=lambda n: _apart(closed[n - 1][0], closed[n][0], quantity))
    low, high = closed[:at], closed[at:]
    smaller = min(len(low), len(high) + len(over_limit))
    if smaller < LEAST_IN_GROUP or 5 * smaller < 2 * len(chips):
        return None
    if not _one_value([value for value, _ in low], quantity) or (
        high and not _one_value([value for value, _ in high], quantity)
    ):
        return None
    lower = statistics.median(value for value, _ in low)
    higher = statistics.median(value for value, _ in high) if high else None
    if higher is not None and not _two_values(lower, higher, quantity):
        return None
    below = {chip for _, chip in low}
    groups: list[tuple[float | None, tuple[str, ...]]] = [
        (lower, tuple(chip for chip in chips if chip in below)),
        (higher, tuple(chip for chip in chips if chip not in below)),
    ]
    first, second = sorted(groups, key=lambda group: -len(group[1]))
    return Split(pin, (first, second), quantity)


def _apart(one: float, other: float, quantity: Quantity) -> float:
    """How far apart two values are: by shares, or in the quantity's own unit."""
    return _scaled(other, quantity) - _scaled(one, quantity)


def _one_value(group: Sequence[float], quantity: Quantity) -> bool:
    """Whether a group is alike within itself: within what fellows at a bench differ."""
    low, high = min(group), max(group)
    if _shares(quantity):
        return not over(high - low, max(PEER_SAME.get(quantity, 0.0), GROUP_ALIKE_SHARE * high))
    return not over(high - low, GROUP_ALIKE.get(quantity, 0.0))


def _two_values(low: float, high: float, quantity: Quantity) -> bool:
    """Whether two groups are far enough apart to be two."""
    if _shares(quantity):
        least = PEER_SAME.get(quantity, 0.0)
        return not under(high, GROUP_TIMES * max(low, least / GROUP_TIMES)) and over(high - low, least)
    return quantity in GROUP_APART and not under(high - low, GROUP_APART[quantity])


def _scaled(value: float, quantity: Quantity) -> float:
    """Where shares count, a logarithm; what a meter cannot tell from nothing is taken as that."""
    return math.log(max(value, PEER_SAME[quantity] / 10)) if quantity == "resistance" else value


def _shares(quantity: Quantity) -> bool:
    return quantity in BY_SHARE


def pooled(table: Mapping[Pin, Mapping[str, float | None]], *, by_share: bool) -> float:
    """How far chips of one pin usually lie from their median, over all pins."""
    away = []
    for (_, quantity, *_), chips in table.items():
        values = [_scaled(value, quantity) for value in chips.values() if value is not None]
        if _shares(quantity) == by_share and len(values) >= LEAST_CHIPS:
            middle = statistics.median(values)
            away += [math.sqrt(len(values) / (len(values) - 1)) * abs(value - middle) for value in values]
    return normal_spread(away) if away else 0.0


@dataclass(frozen=True, slots=True)
class Among:
    """Values of one kind held against each other: what they usually read (None: over-limit) and which do not."""

    usual: float | None
    odd: Mapping[str, float | None]


def among(values: Mapping[str, float | None], quantity: Quantity, spread: float = 0.0) -> Among | None:
    """Which of some named values are odd; `spread` is how far such values usually lie apart, where that is known.

    None where they are too few to tell, or as many are over-limit as not.
    """
    if len(values) < LEAST_CHIPS:
        return None
    closed = {name: value for name, value in values.items() if value is not None}
    over_limit = dict.fromkeys(name for name in values if name not in closed)
    if 2 * len(over_limit) > len(values):  # over-limit is what these are like
        return Among(None, closed)
    if 2 * len(over_limit) == len(values):
        return None
    scaled = {name: _scaled(value, quantity) for name, value in closed.items()}
    middle = statistics.median(scaled.values())
    own = normal_spread(abs(value - middle) for value in scaled.values())
    far = PEER_ODD_SPREADS * max(own, spread)
    usual = math.exp(middle) if quantity == "resistance" else middle
    strange = {
        name: value
        for name, value in closed.items()
        if over(abs(scaled[name] - middle), far) and not _no_difference(value, usual, quantity)
    }
    others = statistics.median(value for name, value in closed.items() if name not in strange)
    return Among(others, {**strange, **over_limit})


def _of_pin(key: Pin, chips: Mapping[str, float | None], spread: Mapping[bool, float]) -> list[Odd]:
    pin, quantity = key[0], key[1]
    found = among(chips, quantity, spread[_shares(quantity)])
    if found is None:
        return []
    closed = {chip: value for chip, value in found.odd.items() if value is not None}
    over_limit = tuple(chip for chip, value in found.odd.items() if value is None)
    odd = [Odd(pin, together, value, found.usual) for together, value in _groups(closed, quantity)]
    return [*odd, Odd(pin, over_limit, None, found.usual)] if over_limit else odd


def _no_difference(value: float, usual: float, quantity: Quantity) -> bool:
    apart = abs(value - usual)
    if not over(apart, PEER_SAME.get(quantity, 0.0)):
        return True
    return _shares(quantity) and not over(apart, PEER_SAME_SHARE * max(abs(value), abs(usual)))


def _groups(strange: Mapping[str, float], quantity: Quantity) -> list[tuple[tuple[str, ...], float]]:
    """Odd chips by value: those that read alike are together, with their median."""
    groups: list[list[str]] = []
    for chip in sorted(strange, key=lambda name: strange[name]):
        if groups and alike(strange[groups[-1][-1]], strange[chip], quantity):
            groups[-1].append(chip)
        else:
            groups.append([chip])
    return [(tuple(group), statistics.median(strange[chip] for chip in group)) for group in groups]


def alike(one: float, other: float, quantity: Quantity) -> bool:
    """Whether two values of one quantity are one value, read twice."""
    return not over(abs(one - other), max(PEER_SAME.get(quantity, 0.0), PEER_ALIKE_SHARE * max(abs(one), abs(other))))


def as_json(found: Compared) -> dict[str, object]:
    """The object that `uvrix peers --json` prints."""
    return {
        "split": [
            {
                "pin": split.pin,
                "groups": [
                    {"value": "OL" if value is None else value, "chips": list(chips)} for value, chips in split.groups
                ],
                "why": split.why,
            }
            for split in found.split
        ],
        "odd": [
            {
                "pin": odd_chip.pin,
                "chips": list(odd_chip.chips),
                "value": "OL" if odd_chip.value is None else odd_chip.value,
                "peers": "OL" if odd_chip.peers is None else odd_chip.peers,
                "shared": odd_chip.shared,
            }
            for odd_chip in found.odd
        ],
    }
