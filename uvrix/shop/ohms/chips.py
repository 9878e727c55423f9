"""Same pin, other chip: the balls of a job's chips, judged by their fellows, and what lifting said."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from uvrix.core.boards.model import Board
from uvrix.core.readings.balls import BallJudged, Kinds, State, judge_balls, state_of, strangers
from uvrix.core.readings.lifting import Lifted, after_lifting
from uvrix.core.readings.notation import Quantity
from uvrix.core.readings.peers import Odd, Split, chip_and_pin, odd_ones
from uvrix.core.readings.slot import CAPACITOR, SLOT
from uvrix.language import gettext
from uvrix.shop.case.answers import with_told
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.queries import packages
from uvrix.shop.ohms.models import Reading
from uvrix.shop.ohms.queries import core_reading, pins, reading_context


@dataclass(frozen=True, slots=True)
class OddBall:
    """An odd value at a ball: which chips show it, what to do or what was found for each."""

    odd: Odd
    lifted: tuple[Lifted, ...]


@dataclass(frozen=True, slots=True)
class SplitBall:
    """A ball whose chips fall into two groups; what lifting said of those that were lifted."""

    split: Split
    lifted: tuple[Lifted, ...]


@dataclass(frozen=True, slots=True)
class ChipAt:
    """A chip of the board that may be read ball by ball; `lifted` where it is off the board."""

    designator: str
    kind: str
    package: str
    side: str
    lifted: bool
    read: int


@dataclass(frozen=True, slots=True)
class ChipsContext:
    """Every ball that was read, the newest of each; the odd ones; balls whose chips fall into two groups.

    `strangers` are chips that are another part, `chips` all that there are.
    """

    balls: tuple[tuple[Reading, BallJudged], ...]
    odd: tuple[OddBall, ...]
    split: tuple[SplitBall, ...]
    strangers: tuple[str, ...]
    chips: tuple[ChipAt, ...]


def chips_context(job: Job) -> ChipsContext:
    """What was read at the balls of a job's chips, and what it means."""
    board = reading_context(job).board
    rows = [row for row in pins(job) if chip_and_pin(row.point)[0] not in {SLOT, CAPACITOR}]
    kinds = kinds_of(board)
    judged = judge_balls([core_reading(row) for row in rows], kinds)
    off = {debt["target"] for debt in (with_told([job])[0].told or {})["owed"] if debt["what"] == "fit"}
    return ChipsContext(
        tuple(zip(rows, judged, strict=True)), *_compared(judged, kinds), tuple(strangers(judged).values()),
        _chips(board, judged, off),
    )  # fmt: skip


def judge_ball(job: Job, row: Reading) -> BallJudged:
    """One reading at a ball, by all that was read of this job."""
    rows = [reading for reading in pins(job) if chip_and_pin(reading.point)[0] not in {SLOT, CAPACITOR}]
    judged = judge_balls([core_reading(reading) for reading in rows], kinds_of(reading_context(job).board))
    return next(judgement for judgement, by in zip(judged, rows, strict=True) if by.pk == row.pk)


def kinds_of(board: Board | None) -> Kinds:
    """Which chips of a board are alike, and the data lines of each."""
    if board is None:
        return Kinds({}, {})
    balls = packages()
    kind = {part.designator: f"{part.kind} {part.value}".strip() for part in board.parts}
    kind |= {site.designator: gettext("memory {package}", package=site.package or "").strip() for site in board.sites}
    lines = {
        site.designator: frozenset(balls[site.package].lines.values()) for site in board.sites if site.package in balls
    }
    return Kinds(kind, lines)


def _compared(judged: tuple[BallJudged, ...], kinds: Kinds) -> tuple[tuple[OddBall, ...], tuple[SplitBall, ...]]:
    """Odd values in circuit, among chips of one kind and among a chip's own data lines, and balls that are split."""
    by_place = {
        (judgement.chip, judgement.pin, judgement.state, judgement.reading.quantity): judgement for judgement in judged
    }
    tables: dict[str, list[BallJudged]] = defaultdict(list)
    for judgement in judged:
        if judgement.state == "in circuit":
            tables[kinds.kind.get(judgement.chip, "")].append(judgement)
    odd: list[Odd] = []
    split: list[Split] = []
    for table in tables.values():
        found = odd_ones([judgement.reading for judgement in table])
        odd += found.odd
        split += found.split
        odd += [
            Odd(judgement.pin, (judgement.chip,), judgement.reading.value.middle, judgement.usual)
            for judgement in table
            if judgement.among == "lines" and judgement.odd
        ]
    return (
        tuple(
            OddBall(odd_chip, tuple(_lifted(odd_chip, chip, by_place) for chip in odd_chip.chips)) for odd_chip in odd
        ),
        tuple(SplitBall(candidate, tuple(_lifted_of_split(candidate, by_place))) for candidate in split),
    )


def _lifted_of_split(split: Split, by_place: Mapping[tuple[str, str, State, Quantity], BallJudged]) -> Iterator[Lifted]:
    """What lifting said of the chips of a split that were lifted: each is held against the other group."""
    for (_, chips), (other, _) in (split.groups, split.groups[::-1]):
        for chip in chips:
            here = by_place[chip, split.pin, "in circuit", split.quantity]
            pads, alone = (
                by_place.get((chip, split.pin, state, split.quantity)) for state in ("site pads", "chip alone")
            )
            if pads is not None:
                yield after_lifting(replace(here, usual=other), pads, alone)


def _lifted(odd: Odd, chip: str, by_place: Mapping[tuple[str, str, State, Quantity], BallJudged]) -> Lifted:
    here = next(
        judgement
        for (name, pin, state, _), judgement in by_place.items()
        if (name, pin, state) == (chip, odd.pin, "in circuit")
    )
    quantity = here.reading.quantity
    pads, alone = (by_place.get((chip, odd.pin, state, quantity)) for state in ("site pads", "chip alone"))
    return after_lifting(here, pads, alone)


def _chips(board: Board | None, judged: tuple[BallJudged, ...], off: set[str]) -> tuple[ChipAt, ...]:
    read: dict[str, int] = defaultdict(int)
    for judgement in judged:
        if state_of(judgement.reading) == "in circuit":
            read[judgement.chip] += 1
    if board is None:
        return tuple(ChipAt(chip, "", "", "front", chip in off, read[chip]) for chip in dict.fromkeys(read))
    sites = [
        ChipAt(
            site.designator, "memory", site.package or "", site.side, site.designator in off or not site.fitted,
            read[site.designator],
        )
        for site in board.sites
    ]  # fmt: skip
    parts = [
        ChipAt(part.designator, part.kind, "", part.side, part.designator in off, read[part.designator])
        for part in board.parts
        if read[part.designator]
    ]
    return (*sites, *parts)
