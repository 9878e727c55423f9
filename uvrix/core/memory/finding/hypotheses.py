"""Every fault that is considered on a board: one function a kind, each yielding its hypotheses.

Priors are how often a kind is met before anything is seen, shared out among its hypotheses; they are usual
practice's order of magnitude and give way to the errors as soon as there are a handful.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from uvrix.core.boards.model import ALL_LINES
from uvrix.core.boards.walk import Place
from uvrix.core.memory.finding.shapes import Shape, marginal, one_line, scattered, wide

BYTE_LANES = tuple(0xFF << 8 * byte for byte in range(4))
HALVES = (0x0000FFFF, 0xFFFF0000)


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """A fault of one kind; `prior` is the kind's, before it is shared out.

    `channels` maps each channel that it touches to the shape of its wrong lines; `dq` are the lines it names.
    """

    kind: str
    designators: tuple[str, ...]
    dq: tuple[int, ...]
    channels: dict[str, Shape]
    prior: float


@dataclass(frozen=True, slots=True)
class Suspects:
    """The fitted places of a board with a known channel; `joint` is false where only a tally's sums are known."""

    places: tuple[Place, ...]
    joint: bool

    def wide(self, lines: int) -> Shape:
        """A shape over a set of lines, by words where they were seen and by sums where not."""
        return wide(lines) if self.joint else marginal(lines)

    @property
    def channels(self) -> tuple[str, ...]:
        """The channels, each once, in walking order."""
        return tuple(dict.fromkeys(place.channel for place in self.places if place.channel))


def _single(kind: str, place: Place, shape: Shape, prior: float, mask: int = 0) -> Hypothesis:
    dq = tuple(line for line in range(32) if mask >> line & 1)
    return Hypothesis(kind, (place.site.designator,), dq, {place.channel or "": shape}, prior)


def dq_line(suspects: Suspects) -> Iterator[Hypothesis]:
    """One line of one chip: an open or bridged ball or trace."""
    for place in suspects.places:
        for line in range(32):
            if place.site.lines >> line & 1:
                yield _single("dq-line", place, one_line(line), 0.24, 1 << line)


def byte_lane(suspects: Suspects) -> Iterator[Hypothesis]:
    """Eight lines of one chip: the line that they share."""
    for place in suspects.places:
        for lane in BYTE_LANES:
            if place.site.lines & lane == lane:
                yield _single("byte-lane", place, suspects.wide(lane), 0.09, lane)


def half(suspects: Suspects) -> Iterator[Hypothesis]:
    """Sixteen lines of a 32-line chip: a write clock, or half of the chip."""
    for place in suspects.places:
        for lines in HALVES:
            if place.site.lines == ALL_LINES:
                yield _single("half", place, suspects.wide(lines), 0.07, lines)


def site(suspects: Suspects) -> Iterator[Hypothesis]:
    """A whole chip: dead, unpowered, unsoldered, or an address line of it."""
    for place in suspects.places:
        yield _single("site", place, suspects.wide(place.site.lines), 0.18)


def cells(suspects: Suspects) -> Iterator[Hypothesis]:
    """Scattered cells of one chip: its die. A tally's sums cannot tell them from the whole chip."""
    if suspects.joint:
        for place in suspects.places:
            yield _single("cells", place, scattered(place.site.lines), 0.16)


def controller(suspects: Suspects) -> Iterator[Hypothesis]:
    """Both channels of one controller: the core, its joints or a supply."""
    for letter in dict.fromkeys(name[:1] for name in suspects.channels):
        both = [name for name in suspects.channels if name[:1] == letter]
        if 2 <= len(both) < len(suspects.channels):
            yield _several("controller", [place for place in suspects.places if place.channel in both], suspects, 0.09)


def rail_group(suspects: Suspects) -> Iterator[Hypothesis]:
    """All chips of one group: the supply that they share."""
    for group in dict.fromkeys(place.site.group for place in suspects.places if place.site.group):
        members = [place for place in suspects.places if place.site.group == group]
        if 2 <= len(members) < len(suspects.places):
            yield _several("rail-group", members, suspects, 0.06)


def everywhere(suspects: Suspects) -> Iterator[Hypothesis]:
    """All chips: no memory problem at all."""
    if len(suspects.channels) > 1:
        yield _several("everywhere", suspects.places, suspects, 0.06)


def _several(kind: str, members: Sequence[Place], suspects: Suspects, prior: float) -> Hypothesis:
    channels: dict[str, int] = {}
    for place in members:
        channels[place.channel or ""] = channels.get(place.channel or "", 0) | place.site.lines
    shapes = {name: suspects.wide(lines) for name, lines in channels.items()}
    return Hypothesis(kind, tuple(place.site.designator for place in members), (), shapes, prior)


KINDS: Sequence[Callable[[Suspects], Iterator[Hypothesis]]] = (
    dq_line,
    byte_lane,
    half,
    site,
    cells,
    controller,
    rail_group,
    everywhere,
)


def all_hypotheses(suspects: Suspects) -> list[Hypothesis]:
    """Every hypothesis of every kind, each kind's prior shared out evenly."""
    found: list[Hypothesis] = []
    for kind in KINDS:
        ones = list(kind(suspects))
        found += [Hypothesis(h.kind, h.designators, h.dq, h.channels, h.prior / len(ones)) for h in ones]
    return found
