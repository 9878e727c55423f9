"""The points of a job, and what was read at them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from functools import cached_property
from typing import cast
from uuid import UUID

from django.db.models import Count, Max

from uvrix.core.boards.model import Board
from uvrix.core.case.generic import GenericNode, GenericPlan, Undrawn, judge_undrawn
from uvrix.core.look.regions import PHOTO_MM
from uvrix.core.readings.fuses import FuseState, fuse_state
from uvrix.core.readings.guard import Block, below_guard, blocks, first_blocks, low_inputs
from uvrix.core.readings.known import Library, Reference
from uvrix.core.readings.notation import COLD, Mode, Quantity, Value
from uvrix.core.readings.points import Places, board_places
from uvrix.core.readings.reading_file import Observation
from uvrix.core.readings.reading_file import Reading as CoreReading
from uvrix.core.readings.route import Stop, route
from uvrix.core.readings.shorts import ShortSuspect, rail_verdicts, short_suspects
from uvrix.core.readings.slot import pins as slot_pins
from uvrix.core.readings.sweeps import PADS, Change, compare, thing_of
from uvrix.core.readings.verdict import Judged, judge
from uvrix.language import gettext
from uvrix.shop.case.rows import key_of
from uvrix.shop.case.threads import VoidRow, thread
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.plans import bench_plan
from uvrix.shop.library.queries import model_board, on_board, packages, relative_slugs
from uvrix.shop.ohms.models import KnownReading, PhotoPoint, PowerState, Reading, Tick

MOST_LIBRARIES = 64
LONG_AGO = datetime.min.replace(tzinfo=UTC)
# Acts that make readings untrue though no short leaves with them.
NO_SHORT_LEAVES = frozenset({"solder-lead", "unsolder-lead", "lift-coil", "fit-coil"})
# Ticked by hand where the model does not name its inputs and fuses.
EVERY_INPUT = gettext("every input and fuse")


@dataclass(frozen=True, slots=True)
class Point:
    """A place to hold a probe: on the board in millimetres, or on a photograph in pixels where none is drawn."""

    name: str
    side: str
    kind: str
    net: str
    reach: str
    x_mm: float | None
    y_mm: float | None
    clicked: PhotoPoint | None


@dataclass(frozen=True)
class ReadingContext:
    """What readings of a job are held against: its board, its points and their names, the models that lend."""

    board: Board | None
    points: list[Point]
    places: Places
    boards: list[str]
    edition: int | None

    @cached_property
    def library(self) -> Library:
        """What the shop's good cards read."""
        return known_library(self.boards, self.places, self.edition)


# The attribute in which a job keeps its ReadingContext.
KEPT = "reading_context"


def reading_context(job: Job) -> ReadingContext:
    """What the readings of a job are judged by; made once for all that a request asks of it."""
    if KEPT not in vars(job):
        board = model_board(job.card.model)
        model = job.card.model
        found = board_points(board) if board else []
        known = {point.name for point in found}
        clicked = [_clicked(board, point) for point in _clicked_points(job, board) if point.name not in known]
        found += clicked
        if board is None:
            marked = {point.name for point in clicked} | {point.net for point in clicked if _a_pad(point)}
            found += [_planned(node) for node in plan_of(model).nodes if node.id not in marked]
        vars(job)[KEPT] = ReadingContext(board, found, _places(board, found), lenders(model), model.newest_id)
    at: ReadingContext = vars(job)[KEPT]
    return at


def forget_bench(job: Job) -> None:
    """Forget what was read of the job's points: one was added."""
    vars(job).pop(KEPT, None)


def points(job: Job) -> list[Point]:
    """The model's points, then those clicked on photographs; the latter lie on the board once one is drawn."""
    return reading_context(job).points


def board_points(board: Board) -> list[Point]:
    """The points of a board."""
    return [
        Point(
            point.id,
            point.side,
            point.kind,
            point.net,
            point.reach,
            float(point.centre[0]) if point.centre else None,
            float(point.centre[1]) if point.centre else None,
            None,
        )
        for point in board.points
    ]


def _clicked_points(job: Job, board: Board | None) -> list[PhotoPoint]:
    """Points clicked on photographs for this job; until its board is drawn also those of other cards of the model.

    So two cards that nobody has drawn are read at the same points; a name that this job gave means its own point.
    """
    own = list(job.photopoint_rows.select_related("picture"))
    if board:
        return own
    names = {point.name for point in own}
    others = PhotoPoint.objects.filter(job__card__model=job.card.model_id).exclude(job=job).select_related("picture")
    for other in others.order_by("at", "pk"):
        if other.name not in names:
            names.add(other.name)
            own.append(other)
    return own


def _clicked(board: Board | None, point: PhotoPoint) -> Point:
    at = on_board(board, point.picture_id, point.side, (point.x_px, point.y_px))
    x, y = at or (None, None)
    return Point(point.name, point.side, point.kind, point.node, "", x, y, point)


def _a_pad(point: Point) -> bool:
    """Whether a clicked point is where a node is probed, not a part that makes it."""
    return point.kind in {"pad", "plug"}


def _planned(node: GenericNode) -> Point:
    """A node of the bench plan that nobody has clicked yet: it is read all the same, by who finds it."""
    return Point(node.id, "front", "pad", node.name, "", None, None, None)


def plan_of(model: BoardModel) -> GenericPlan:
    """The bench plan that a model's cards are read by while nobody has drawn it."""
    return bench_plan(model)


def undrawn_of(job: Job) -> Undrawn | None:
    """What is known of a job's card beside its entries where nobody has drawn its board; None where it is drawn."""
    bench = reading_context(job)
    if bench.board is not None:
        return None
    clicked = [point for point in bench.points if point.clicked]
    parts: defaultdict[str, list[str]] = defaultdict(list)
    for point in clicked:
        if point.kind in {"part", "coil"} and point.net:
            parts[point.net].append(point.name)
    return Undrawn(
        plan_of(job.card.model),
        {node: tuple(names) for node, names in parts.items()},
        {point.name: point.net for point in clicked if _a_pad(point) and point.net},
        frozenset(point.name for point in clicked if point.kind == "fuse"),
        {
            point.name: (point.side, *photo_mm(point.clicked))
            for point in clicked
            if point.kind == "part" and point.clicked
        },
    )


def photo_mm(point: PhotoPoint) -> tuple[float, float]:
    """Where a click lies, were its photograph as wide as a card is long: good for what lies near, for nothing else."""
    scale = PHOTO_MM / max(1, point.picture.width_px)
    return point.x_px * scale, point.y_px * scale


def known_library(boards: Sequence[str], places: Places, edition: int | None) -> Library:
    """What the shop's good cards read, of some models, by the names of an edition of the first.

    Made anew only when an observation came or went.
    """
    rows = KnownReading.objects.filter(board__in=boards)
    version = tuple(rows.aggregate(Count("pk"), Max("pk"), Count("out_at")).values())
    key = (tuple(boards), version, edition)
    if key not in _LIBRARIES:
        if len(_LIBRARIES) >= MOST_LIBRARIES:
            _LIBRARIES.clear()
        kept = rows.filter(out_at=None)
        _LIBRARIES[key] = Library([Observation(row.board, row.card, core_reading(row)) for row in kept], places)
    return _LIBRARIES[key]


_LIBRARIES: dict[object, Library] = {}


def model_figures(model: BoardModel) -> list[tuple[CoreReading, str, Reference]]:
    """Each thing that good cards of a model were read of: such a reading, what it counts for, what they read."""
    board = model_board(model)
    places = board_places(board) if board else Places({}, {}, frozenset(), {})
    library = known_library([model.slug], places, model.newest_id)
    things: dict[object, tuple[CoreReading, str]] = {}
    for row in KnownReading.objects.filter(board=model.slug, out_at=None):
        reading = replace(core_reading(row), meter="", polarity="")
        key = places.key(reading.point, reading.to)
        things.setdefault((key, reading.quantity, reading.mode), (reading, " ".join(key[1:])))
    found = [(reading, name, library.reference(reading, [model.slug])) for reading, name in things.values()]
    return [(reading, name, reference) for reading, name, reference in found if reference]


def lenders(model: BoardModel) -> list[str]:
    """The model's id, then those that lend where it has no card: its relative, then its core family."""
    board = model_board(model)
    relative = board.relative_of if board else ""
    others = relative_slugs(model.slug, model.family, relative)
    return list(dict.fromkeys([model.slug, *([relative] if relative else []), *others]))


def core_reading(row: Reading | KnownReading) -> CoreReading:
    """A row as the core has it."""
    condition = frozenset(row.condition) if isinstance(row, Reading) else frozenset()
    meter = (row.meter.name if row.meter else "") if isinstance(row, Reading) else row.meter
    return CoreReading(
        row.point,
        cast("Quantity", row.quantity),
        Value(row.low, row.high),
        cast("Mode", row.mode),
        row.to,
        row.polarity,
        meter,
        condition,
        row.note if isinstance(row, Reading) else "",
    )


def places_of_job(job: Job) -> Places:
    """The names that a reading of this job may carry: the model's, and points clicked on photographs."""
    return reading_context(job).places


def _places(board: Board | None, known: Sequence[Point]) -> Places:
    if board is None:
        # where a supply is missing, the supply and the enable of its converter are read
        supplies = [point.name for point in known if point.net]
        beside = {f"{name} {what}": "pad" for name in supplies for what in ("supply", "enable")}
        names = {**beside, **{point.name: point.kind for point in known}}
        return Places(names, {}, frozenset(), {}, slot_pins(), undrawn=True)
    own = board_places(board)
    balls = packages()
    chips: dict[str, frozenset[str] | None] = {part.designator: None for part in board.parts}
    for site in board.sites:
        package = balls.get(site.package or "")
        chips[site.designator] = frozenset(package.classes) if package else None
    points = {**{point.name: point.kind for point in known}, **own.points}
    return replace(own, points=points, chips={**chips, **slot_pins()})


@dataclass(frozen=True, slots=True)
class Measured:
    """A job's cold readings judged: the newest of each thing, what shorts the rails, what keeps power locked.

    `standing_judged` are the newest of each thing, without pads of lifted coils (`pads_judged`); `corrects` says which
    earlier reading each one takes the place of; `fuses` how each fuse is by what was read across it. Pins of chips and
    slot contacts stand apart (`pins`): their fellows judge them, not the library. `void` are readings that an act
    has made untrue, `again` the points of the route that are to be read again for it, in its order; `hunted` are the
    newest with those that a lead alone, or a lifted coil, has made untrue: no short leaves with them.
    """

    readings: tuple[Reading, ...]
    judged: dict[UUID, Judged]
    standing: frozenset[UUID]
    standing_judged: tuple[Judged, ...]
    pads_judged: tuple[Judged, ...]
    rail_verdicts: dict[str, str]
    low_inputs: tuple[str, ...]
    fuses: dict[str, FuseState]
    corrects: dict[UUID, UUID]
    suspects: tuple[ShortSuspect, ...]
    blocks: tuple[Block, ...]
    ticks: tuple[Tick, ...]
    route: tuple[str, ...]
    void: dict[UUID, VoidRow]
    again: tuple[str, ...]
    hunted: tuple[Judged, ...]


def measured(job: Job) -> Measured:
    """Everything that the readings say."""
    bench = reading_context(job)
    board, where, places = bench.board, bench.points, bench.places
    every = tuple(job.reading_rows.select_related("by", "meter"))
    rows = tuple(row for row in every if row.quantity in COLD and not places.is_pin(row.point.split("/")[0]))
    verdicts_of = {row.pk: judged(core_reading(row), job) for row in rows}
    voids = thread(job).voids
    void = {row.pk: voids[key] for row in every if (key := key_of(row)) in voids}
    newest: dict[tuple[object, ...], UUID] = {}
    hunted: dict[tuple[object, ...], UUID] = {}
    corrects: dict[UUID, UUID] = {}
    for row in every:
        thing = thing_of(core_reading(row), places)
        if thing in newest:
            corrects[row.pk] = newest[thing]
        newest[thing] = row.pk
        if row.pk not in void or void[row.pk].act in NO_SHORT_LEAVES:
            hunted[thing] = row.pk
        else:
            hunted.pop(thing, None)
        if row.pk in void:
            del newest[thing]
    standing = [verdicts_of[pk] for pk in newest.values() if pk in verdicts_of]
    # a pad of a lifted coil is not the rail as it will be powered
    pads = [judgement for judgement in standing if judgement.reading.condition & PADS]
    whole = [judgement for judgement in standing if not judgement.reading.condition & PADS]
    ticks = tuple(tick for tick in job.tick_rows.select_related("by") if key_of(tick) not in voids)
    readings = [judgement.reading for judgement in whole]
    verdicts = rail_verdicts(whole, places)
    across = {judgement.reading.point: fuse_state(judgement.reading) for judgement in whole}
    fuses = {point.name for point in where if point.kind == "fuse"}
    order = route_of(where) if board else _planned_route(where, plan_of(job.card.model))
    return Measured(
        rows,
        verdicts_of,
        frozenset(newest.values()),
        tuple(whole),
        tuple(pads),
        verdicts,
        low_inputs(_inputs(board), readings, places) if board else (),
        {name: state for name, state in across.items() if name in fuses and state},
        corrects,
        short_suspects(board, verdicts) if board else (),
        (*locked_by(board, readings, ticks, places), *_first(board, whole, ticks, places)),
        ticks,
        order,
        void,
        again=tuple(name for name in order if name in _to_read_again(every, void, newest.values())),
        hunted=tuple(
            verdict
            for pk in hunted.values()
            if (verdict := verdicts_of.get(pk)) and not verdict.reading.condition & PADS
        ),
    )


def judged(reading: CoreReading, job: Job) -> Judged:
    """A reading by good cards; of a board that nobody has drawn, else by what is wrong on every card."""
    bench = reading_context(job)
    found = judge(reading, bench.library, bench.boards)
    if bench.board is not None or found.verdict != "no-reference":
        return found
    return judge_undrawn(reading, plan_of(job.card.model))


def _planned_route(where: Sequence[Point], plan: GenericPlan) -> tuple[str, ...]:
    """On a board that nobody has drawn: the plan's inputs and supplies in their order, then what was clicked."""
    of_node = {point.net or point.name: point.name for point in reversed(where) if point.clicked and _a_pad(point)}
    fed = [node for node in plan.nodes if node.kind in {"input", "rail"}]
    cold = [node.id for node in fed if node.kind == "input" or node.ohms or node.always]
    names = [of_node.get(node, node) for node in cold]
    rest = [
        point.name
        for point in where
        if point.clicked and point.name not in names and point.kind in {"pad", "plug", "fuse"}
    ]
    return (*names, *rest)


def _to_read_again(every: Sequence[Reading], void: Collection[UUID], standing: Collection[UUID]) -> set[str]:
    """Points whose reading an act has made untrue, and that were not read since."""
    read = {row.point for row in every if row.pk in standing}
    return {row.point for row in every if row.pk in void} - read


def pins(job: Job) -> tuple[Reading, ...]:
    """What was read pin by pin, at chips and slot contacts: the newest of each, in the order of the first."""
    places = reading_context(job).places
    newest: dict[object, Reading] = {}
    for row in job.reading_rows.filter(point__contains=".").select_related("by", "meter"):
        if places.is_pin(row.point):
            newest[thing_of(core_reading(row), places)] = row
    return tuple(newest.values())


def route_of(where: Sequence[Point]) -> tuple[str, ...]:
    """The names of points in the order of probing."""
    return route(
        tuple(Stop(point.name, point.reach, point.side, point.x_mm or 0.0, point.y_mm or 0.0) for point in where)
    )


@dataclass(frozen=True, slots=True)
class Compared:
    """Two passes over the rails: their names and what changed between them."""

    before: str
    after: str
    changes: tuple[Change, ...]


def compared(job: Job, found: Measured) -> Compared | None:
    """The last pass against the one before; None where no second one was begun."""
    sweeps = list(job.sweep_rows.all())
    if not sweeps:
        return None
    begun = sweeps[-1].at
    former = sweeps[-2].at if len(sweeps) > 1 else LONG_AGO
    places = places_of_job(job)
    before = [found.judged[row.pk] for row in found.readings if former <= row.at < begun]
    after = [found.judged[row.pk] for row in found.readings if row.at >= begun]
    name = sweeps[-2].name if len(sweeps) > 1 else gettext("First pass")
    return Compared(name, sweeps[-1].name, compare(before, after, places))


def _inputs(board: Board) -> dict[str, str]:
    return {name: rail.name for name, rail in board.rails.items() if rail.input}


def locked_by(
    board: Board | None, readings: Sequence[CoreReading], ticks: Sequence[Tick], places: Places
) -> tuple[Block, ...]:
    """What keeps power locked; where nobody has drawn the board, a person vouches for all its inputs by hand."""
    ticked = [tick.point for tick in ticks]
    if board is None:
        low = [reading for reading in readings if below_guard(reading)]
        inputs = {reading.point: reading.point for reading in low}
        return blocks(inputs, [], low, ticked, places) + _vouched(ticked)
    inputs = _inputs(board)
    fuses = [point.id for point in board.points if point.kind == "fuse"]
    return blocks(inputs, fuses, readings, ticked, places) if inputs or fuses else _vouched(ticked)


def _vouched(ticked: Sequence[str]) -> tuple[Block, ...]:
    """The lock of a board whose inputs nobody has drawn: somebody says by hand that all are good."""
    if EVERY_INPUT in ticked:
        return ()
    return (
        Block(EVERY_INPUT, gettext("Nobody has ticked off that every fuse, both sides, was looked at and is good.")),
    )


def _first(board: Board | None, judged: Sequence[Judged], ticks: Sequence[Tick], places: Places) -> tuple[Block, ...]:
    """Pads that must read right before power and do not."""
    if board is None:
        return ()
    first = [point.id for point in board.points if point.first]
    return first_blocks(first, _inputs(board), judged, [tick.point for tick in ticks], places)


def plugs_of(job: Job) -> int:
    """How many power plugs the card's model has; 0 where nobody has drawn it."""
    board = reading_context(job).board
    return sum(landmark.kind == "power-plug" for landmark in board.landmarks) if board else 0


def power_state(job: Job) -> PowerState | None:
    """How the card stands, as said last; None where nobody said."""
    return job.powerstate_rows.select_related("by").order_by("-at", "-pk").first()


def value_of(reading: Reading) -> Value:
    """A reading's value as the core has it."""
    return Value(reading.low, reading.high)
