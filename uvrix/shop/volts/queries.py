"""The powered card of a job: its start-up map, what was read of it, where it breaks and what to probe next."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, cast

from uvrix.core.boards.model import Board
from uvrix.core.case.belief.believe import believe
from uvrix.core.case.belief.start_up import as_believed
from uvrix.core.readings.known import Library
from uvrix.core.readings.limits import ENOUGH_CARDS
from uvrix.core.readings.notation import POWERED, Value
from uvrix.core.readings.points import Places
from uvrix.core.readings.reading_file import Observation
from uvrix.core.readings.reading_file import Reading as CoreReading
from uvrix.core.startup.chain import Chain, Node
from uvrix.core.startup.clock import ClockSaid, clocks_say
from uvrix.core.startup.isolate import Isolation, isolate
from uvrix.core.startup.ladder import DrawJudged, LadderSaid, at_limit, climbed, judge_draw, limit_to_set
from uvrix.core.startup.layout import Layout, layout
from uvrix.core.startup.phases import Phase, PhaseRead, Share, compared, shares
from uvrix.core.startup.refuted import without_refuted
from uvrix.core.startup.supervisors import Sensed, supervised
from uvrix.language import gettext
from uvrix.shop.acts.models import Act
from uvrix.shop.acts.queries import of_job
from uvrix.shop.case.rows import key_of
from uvrix.shop.case.threads import thread
from uvrix.shop.jobs.boards import of_this_board
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.library.startups import StartupMap, with_nodes
from uvrix.shop.ohms.models import Reading
from uvrix.shop.ohms.nodes import counts_for, map_of, quantity_of
from uvrix.shop.ohms.queries import core_reading, reading_context, value_of
from uvrix.shop.volts.models import FirstDraw, Rung

# A node that it leaves with less than this chance is ruled out.
RULED_OUT = 0.01


@dataclass(frozen=True, slots=True)
class VoltsContext:
    """Everything of Volts; `map` is None where the board has neither a map nor rails."""

    map: StartupMap | None
    layout: Layout | None
    found: Isolation | None
    ruled_out: tuple[tuple[Node, str], ...]
    read: Mapping[str, Reading]
    readings: tuple[Reading, ...]
    supervisors: tuple[Sensed, ...]
    draws: tuple[tuple[FirstDraw, DrawJudged], ...]
    limit: tuple[float, str]
    rungs: tuple[tuple[Rung, LadderSaid], ...]
    phases: tuple[Phase, ...]
    shares: tuple[Share, ...]
    clocks: tuple[ClockSaid, ...]
    tried: tuple[Act, ...]
    stale: frozenset[str]


def volts_context(job: Job) -> VoltsContext:
    """What the powered card says."""
    found = map_of(job)
    places = with_nodes(reading_context(job).places, found)
    rows = tuple(job.reading_rows.filter(quantity__in=POWERED).select_related("by", "meter"))
    tried = tuple(of_job(job).exclude(came_of=""))
    voids = thread(job).voids
    newest = {(places.key(row.point, row.to), row.quantity): row for row in rows if key_of(row) not in voids}
    old = [row for row in rows if key_of(row) in voids]
    read_since = {name for row in newest.values() if found for name in _nodes_of(row, found.chain, places)}
    untrue = {name for row in old if found for name in _nodes_of(row, found.chain, places)}
    stale = frozenset(untrue - read_since)
    readings = [core_reading(row) for row in newest.values()]
    known, whose = (found.chain.idle if found else None), gettext("its map says")
    if past := past_idle(job):
        known, whose = past
    draws = tuple(
        (row, judge_draw(row.amps, known, whose, row.limit_amps))
        for row in of_this_board(job, job.firstdraw_rows.select_related("by"))
    )
    rungs = tuple((row, _climbed(row)) for row in of_this_board(job, job.rung_rows.select_related("by")))
    board = reading_context(job).board
    volts = {row.point: value_of(row) for row in newest.values() if row.quantity == "voltage"}
    table = supervised(board, volts) if board else ()
    limit = limit_to_set(known, inputs_low=False)
    phases, load = _phases(job, board)
    if found is None:
        return VoltsContext(
            None, None, None, (), {}, rows, table, draws, limit, rungs, phases, load, (), tried, frozenset()
        )
    refuted = thread(job).facts.without_effect | {act.site for act in tried if act.came_of == "no-change"}
    chain = without_refuted(found.chain, refuted)
    of_map = [reading for reading in readings if _of_map(found.chain, reading.point, places)]
    isolation = isolate(chain, [*of_map, *_drawn(found, draws, readings)], places)
    facts = thread(job).facts
    isolation = replace(isolation, suspects=as_believed(facts, isolation.suspects, believe(facts)))
    read = {}
    for node in found.chain.nodes:
        for row in newest.values():
            if row.quantity == quantity_of(node) and counts_for(row.point, node, places):
                read[node.id] = row
    return VoltsContext(
        found,
        layout(found.chain),
        isolation,
        _ruled_out(found.chain, isolation),
        read,
        rows,
        table,
        draws,
        limit,
        rungs,
        phases,
        load,
        clocks_say(chain, isolation.measured, refuted),
        tried,
        stale,
    )


def _drawn(
    found: StartupMap, draws: tuple[tuple[FirstDraw, DrawJudged], ...], readings: list[CoreReading]
) -> list[CoreReading]:
    """What the supply showed last, as a reading of the map's node of it, unless it stood at its limit.

    A reading of that node itself comes before.
    """
    nodes = [node.id for node in found.chain.nodes if node.kind == "draw"]
    if not nodes or not draws or any(reading.quantity == "current" for reading in readings):
        return []
    if draws[-1][1].word == "limited":
        return []
    amps = draws[-1][0].amps
    return [CoreReading(nodes[-1], "current", Value(amps, amps), "", "ground")]


def _phases(job: Job, board: Board | None) -> tuple[tuple[Phase, ...], tuple[Share, ...]]:
    """The phases of the model with what was read last of each, and the load on those that are left."""
    if board is None:
        return (), ()
    read: dict[str, PhaseRead] = {}
    for row in of_this_board(job, job.phaseseen_rows.all()):
        before = read.get(row.designator, PhaseRead())
        khz = before.khz if row.khz is None else row.khz
        celsius = before.celsius if row.celsius is None else row.celsius
        read[row.designator] = PhaseRead(khz, celsius)
    empty = {cut.site for cut in of_job(job, "cut-layers")}
    found = compared(board, read, empty)
    return found, shares(found, {row.rail: row.amps for row in of_this_board(job, job.railload_rows.all())})


def _nodes_of(row: Reading, chain: Chain, places: Places) -> frozenset[str]:
    """The nodes that a reading is of."""
    return frozenset(
        node.id for node in chain.nodes if row.quantity == quantity_of(node) and counts_for(row.point, node, places)
    )


def past_idle(job: Job) -> tuple[tuple[float, float], str] | None:
    """What other cards of the model drew that came as far as 3D, in amperes, and how many they are; None below three.

    The band is that of the known-good library: a Student band for the next good card.
    """
    good = of_the_shop(Rung.objects.filter(job__card__model=job.card.model_id, rung="3d").exclude(job=job)).values(
        "job"
    )
    drawn = FirstDraw.objects.filter(job__in=good).order_by("job", "-at").distinct("job").select_related("job__card")
    seen = [
        Observation(
            job.card.model.slug,
            row.job.card.serial,
            CoreReading("draw", "current", Value(row.amps, row.amps), "", "ground"),
        )
        for row in drawn
        if not at_limit(row.amps, row.limit_amps)
    ]
    if len({observation.card for observation in seen}) < ENOUGH_CARDS:
        return None
    found = Library(seen, Places({}, {}, frozenset(), {})).reference(seen[0].reading, [job.card.model.slug])
    if found is None or found.low is None or found.high is None:
        return None
    return (found.low, found.high), gettext("{cards} cards that work here", cards=found.cards)


def _climbed(row: Rung) -> LadderSaid:
    return climbed(cast("Any", row.rung), cast("Any", row.picture_of))


def _of_map(chain: Chain, name: str, places: Places) -> bool:
    return any(counts_for(name, node, places) for node in chain.nodes)


def _ruled_out(chain: Chain, found: Isolation) -> tuple[tuple[Node, str], ...]:
    """Nodes that what was read leaves next to no chance, and by what."""
    chance = {suspect.node.id: suspect.chance for suspect in found.suspects}
    named = []
    for at, node in enumerate(chain.nodes):
        if chance.get(node.id, 0.0) >= RULED_OUT:
            continue
        if found.measured[node.id].state == "present":
            named.append((node, gettext("read as present")))
            continue
        there = [
            other.name
            for number, other in enumerate(chain.nodes)
            if chain.absent[at, number] and found.measured[other.id].state == "present"
        ]
        if there:
            named.append((node, gettext("{there} needs it and is present", there=there[0])))
    return tuple(named)
