"""Every fault that is considered on a board: one function a kind, each yielding its hypotheses.

Priors are how often a kind is met before anything is seen, shared out among its hypotheses; they are usual
practice's order of magnitude and give way to the errors as soon as there are a handful.
"""

from __future__ import annotations

import functools
import itertools
import math
import operator
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from uvrix.core.boards.model import ALL_LINES, AddressMap
from uvrix.core.boards.walk import Place
from uvrix.core.memory.finding.shapes import Shape, marginal, one_line, one_of, scattered, two_lines, wide
from uvrix.core.memory.finding.traces import Trace, log_alias, log_bridge, log_placing, word_lines

BYTE_LANES = tuple(0xFF << 8 * byte for byte in range(4))
HALVES = (0x0000FFFF, 0xFFFF0000)
# A bridge is looked for among the lines that are wrong most often.
MOST_BRIDGED = 5


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """A fault of one kind; `prior` is the kind's, before it is shared out.

    `channels` maps each channel that it touches to the shape of its wrong lines; `dq` are the lines it names.
    `trace` is what addresses and words add, a logarithm; with `fresh` an address that fails again counts once.
    """

    kind: str
    designators: tuple[str, ...]
    dq: tuple[int, ...]
    channels: dict[str, Shape]
    prior: float
    trace: float = 0.0
    fresh: bool = False


@dataclass(frozen=True, slots=True)
class Suspects:
    """The fitted places of a board with a known channel, and the traces of channels with errors.

    `joint` is false where only a tally's sums are known.
    """

    places: tuple[Place, ...]
    joint: bool
    traces: dict[str, Trace]
    address_map: AddressMap | None = None

    def wide(self, lines: int) -> Shape:
        """A shape over a set of lines, by words where they were seen and by sums where not."""
        return wide(lines) if self.joint else marginal(lines)

    def shared(self, chips: Sequence[int]) -> Shape:
        """A shape over the chips of one channel."""
        union = functools.reduce(operator.or_, chips)
        return one_of([self.wide(lines) for lines in chips], self.wide(union)) if len(chips) > 1 else self.wide(union)

    @property
    def channels(self) -> tuple[str, ...]:
        """The channels, each once, in walking order."""
        return tuple(dict.fromkeys(place.channel for place in self.places if place.channel))

    @property
    def failing(self) -> Iterator[tuple[Place, Trace]]:
        """The places whose channel has errors; a fault of one chip lies in one of them."""
        for place in self.places:
            if place.channel in self.traces:
                yield place, self.traces[place.channel]


def _single(
    kind: str, place: Place, shape: Shape, prior: float, *, trace: float, mask: int = 0, fresh: bool = False
) -> Hypothesis:
    """A fault of one chip; `prior` is that of the kind, shared among the chips and their alternatives."""
    dq = tuple(line for line in range(32) if mask >> line & 1)
    return Hypothesis(kind, (place.site.designator,), dq, {place.channel or "": shape}, prior, trace, fresh)


def dq_line(suspects: Suspects) -> Iterator[Hypothesis]:
    """One line of one chip: an open or bridged ball or trace."""
    for place, trace in suspects.failing:
        log = log_placing(trace, "dq-line")
        prior = 0.12 / len(suspects.places) / place.site.lines.bit_count()
        for line in trace.likely_lines(place.site.lines):
            yield _single("dq-line", place, one_line(line), prior, trace=log, mask=1 << line)


def dq_bridge(suspects: Suspects) -> Iterator[Hypothesis]:
    """Two lines of one chip that read alike: of all pairs, those that were met."""
    for place, trace in suspects.failing:
        log = log_placing(trace, "dq-bridge")
        prior = 0.08 / len(suspects.places) / math.comb(place.site.lines.bit_count(), 2)
        for one, other in _pairs(place, trace):
            words, mask = log_bridge(trace, one, other), 1 << one | 1 << other
            yield _single("dq-bridge", place, two_lines(one, other), prior, trace=log + words, mask=mask)


def _pairs(place: Place, trace: Trace) -> Iterator[tuple[int, int]]:
    """Pairs that may be bridged: those of the lines most often wrong, and the first of them with any other."""
    likely = trace.likely_lines(place.site.lines, MOST_BRIDGED)
    yield from itertools.combinations(likely, 2)
    for line in range(32):
        if place.site.lines >> line & 1 and line not in likely:
            yield likely[0], line


def byte_lane(suspects: Suspects) -> Iterator[Hypothesis]:
    """Eight lines of one chip: the line that they share."""
    for place, trace in suspects.failing:
        log = log_placing(trace, "byte-lane")
        lanes = [lane for lane in BYTE_LANES if place.site.lines & lane == lane]
        for lane in lanes:
            prior = 0.09 / len(suspects.places) / len(lanes)
            yield _single("byte-lane", place, suspects.wide(lane), prior, trace=log, mask=lane)


def half(suspects: Suspects) -> Iterator[Hypothesis]:
    """Sixteen lines of a 32-line chip: a write clock, or half of the chip."""
    for place, trace in suspects.failing:
        log = log_placing(trace, "half")
        for lines in HALVES:
            if place.site.lines == ALL_LINES:
                prior = 0.08 / len(suspects.places) / len(HALVES)
                yield _single("half", place, suspects.wide(lines), prior, trace=log, mask=lines)


def site(suspects: Suspects) -> Iterator[Hypothesis]:
    """A whole chip, wrong from the start: dead, unpowered, unsoldered."""
    for place, trace in suspects.failing:
        prior, log = 0.09 / len(suspects.places), log_placing(trace, "site")
        yield _single("site", place, suspects.wide(place.site.lines), prior, trace=log)


def cells(suspects: Suspects) -> Iterator[Hypothesis]:
    """Scattered cells of one chip: its die. A tally's sums cannot tell them from the whole chip."""
    if suspects.joint:
        for place, trace in suspects.failing:
            log = log_placing(trace, "cells")
            prior = 0.11 / len(suspects.places)
            yield _single("cells", place, scattered(place.site.lines), prior, trace=log, fresh=True)


def address_line(suspects: Suspects) -> Iterator[Hypothesis]:
    """An address line of one chip: half of the addresses read what belongs to others."""
    if suspects.joint:
        for place, trace in suspects.failing:
            log = log_placing(trace, "address-line") + log_alias(trace, suspects.address_map)
            prior = 0.11 / len(suspects.places)
            shape = suspects.wide(word_lines(trace, place.site.lines) or place.site.lines)
            yield _single("address-line", place, shape, prior, trace=log)


def controller(suspects: Suspects) -> Iterator[Hypothesis]:
    """Both channels of one controller: the core, its joints or a supply."""
    letters = dict.fromkeys(name[:1] for name in suspects.channels)
    chips = [[place for place in suspects.places if (place.channel or "")[:1] == letter] for letter in letters]
    both = [members for members in chips if len({place.channel for place in members}) > 1]
    yield from _several("controller", both, suspects, 0.10)


def rail_group(suspects: Suspects) -> Iterator[Hypothesis]:
    """All chips of one group: the supply that they share."""
    groups = dict.fromkeys(place.site.group for place in suspects.places if place.site.group)
    chips = [[place for place in suspects.places if place.site.group == group] for group in groups]
    yield from _several("rail-group", [members for members in chips if len(members) > 1], suspects, 0.08)


def everywhere(suspects: Suspects) -> Iterator[Hypothesis]:
    """All chips: no memory problem at all."""
    if len(suspects.channels) > 1:
        yield _whole("everywhere", suspects.places, suspects, 0.18)


def _several(kind: str, sets: Sequence[Sequence[Place]], suspects: Suspects, prior: float) -> Iterator[Hypothesis]:
    """A hypothesis for each set of chips that is not all of them."""
    for members in sets:
        if 1 < len(members) < len(suspects.places):
            yield _whole(kind, members, suspects, prior / len(sets))


def _whole(kind: str, members: Sequence[Place], suspects: Suspects, prior: float) -> Hypothesis:
    chips: dict[str, list[int]] = {}
    for place in members:
        chips.setdefault(place.channel or "", []).append(place.site.lines)
    shapes = {name: suspects.shared(lines) for name, lines in chips.items()}
    return Hypothesis(kind, tuple(place.site.designator for place in members), (), shapes, prior)


KINDS: Sequence[Callable[[Suspects], Iterator[Hypothesis]]] = (
    dq_line,
    dq_bridge,
    byte_lane,
    half,
    site,
    cells,
    address_line,
    controller,
    rail_group,
    everywhere,
)


def all_hypotheses(suspects: Suspects) -> list[Hypothesis]:
    """Every hypothesis of every kind that the errors leave open; faults of chips without errors would have shown."""
    return [hypothesis for kind in KINDS for hypothesis in kind(suspects)]
