"""How far the hunt for a short is."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from uuid import UUID

from uvrix.core.boards.model import Board, Part
from uvrix.core.case.belief.believe import believe
from uvrix.core.case.belief.weighing import Cause
from uvrix.core.readings.hunt import (
    Bridge,
    CoilSides,
    EmptyPhase,
    Hunt,
    Killed,
    Near,
    Proof,
    Removed,
    Step,
    bridges,
    coil_side,
    empty_phases,
    glowed,
    hunted,
    is_joined,
    lowest_reached,
    possibly_killed,
    proofs,
)
from uvrix.core.readings.inject import Injection as Advice
from uvrix.core.readings.inject import injection
from uvrix.core.readings.notation import Value
from uvrix.core.readings.points import Places
from uvrix.core.readings.shorts import ShortSuspect, rail_verdicts, short_suspects
from uvrix.core.readings.sweeps import CONVERTER_PAD, RAIL_PAD
from uvrix.shop.acts.models import Act
from uvrix.shop.acts.queries import of_job
from uvrix.shop.case.threads import thread
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.queries import model_board
from uvrix.shop.ohms.queries import Measured, measured, places_of_job
from uvrix.shop.shorts.models import Glow, Injection, Thermal

# Causes that are a part which holds a rail down.
SHORTS = frozenset({"short", "partial-short", "layers"})


@dataclass(frozen=True, slots=True)
class Feed:
    """How a shorted rail may be fed: its point, ohm reading, the lowest rail it may reach, what is advised."""

    rail: str
    name: str
    point: str
    reading: Value | None
    lowest_v: float | None
    advice: Advice


@dataclass(frozen=True, slots=True)
class Shorts:
    """Everything of the hunt; the newest glow counts, `step_at` is where the rail of the step is read."""

    shorted: tuple[str, ...]
    bridges: tuple[Bridge, ...]
    suspects: tuple[ShortSuspect, ...]
    step: Step | None
    step_at: str
    feeds: tuple[Feed, ...]
    proofs: tuple[Proof, ...]
    sides: tuple[CoilSides, ...]
    near: tuple[Near, ...]
    killed: tuple[Killed, ...]
    empty: tuple[EmptyPhase, ...]
    injections: tuple[Injection, ...]
    off: tuple[Act, ...]
    on_again: frozenset[UUID]
    cut: tuple[Act, ...]
    phases: tuple[str, ...]


def shorts(job: Job) -> Shorts | None:
    """The hunt on a job; None where its board is not drawn."""
    board = model_board(job.card.model)
    if board is None:
        return None
    found = measured(job)
    places = places_of_job(job)
    joined_rails = bridges(board, found.hunted, places)
    shorted, ranked = hunted(rail_verdicts(found.hunted, places), found.low_inputs, joined_rails)
    suspects = _as_believed(short_suspects(board, ranked), believe(thread(job).facts))
    fed = tuple(job.injection_rows.select_related("by").prefetch_related("glows__by", "thermals__by"))
    taken = tuple(of_job(job, "remove"))
    off_now = thread(job).facts.card.off
    off = tuple({one.site: one for one in taken if one.site in off_now}.values())
    standing = {one.pk for one in off}
    back = frozenset(one.pk for one in taken if one.pk not in standing)
    cut = tuple(of_job(job, "cut-layers"))
    removed = [_removed(one, found, places) for one in off]
    gone = {one.site for one in off}
    glow = newest_glow(fed)
    near: tuple[Near, ...] = ()
    off_mm = None
    if glow:
        was = [one for one in glowed(board, glow.side, (glow.x_mm, glow.y_mm), ()) if one.part.designator in gone]
        off_mm = min((one.mm for one in was), default=None)
        near = glowed(board, glow.side, (glow.x_mm, glow.y_mm), _reached(board, glow.injection.rail), gone)
    pairs = proofs(board, suspects)
    proved, joined = _proved(pairs, found, places)
    fed_since = bool(fed) and (not off or fed[-1].at > off[-1].at)
    hunt = Hunt(shorted, suspects, proved, joined, removed, near, fed_since, off_mm)
    guilty = [part for part in board.parts if part.designator in joined or _came_off(part, off)]
    return Shorts(
        shorted,
        joined_rails,
        suspects,
        step := hunt.next_step(),
        _point_of(board, step),
        tuple(_feed(board, rail, found, places) for rail in shorted),
        pairs,
        _sides(found),
        near,
        possibly_killed(board, guilty),
        empty_phases(board, {one.site for one in cut}),
        fed,
        taken,
        back,
        cut,
        tuple(phase["designator"] for phase in board.document.get("phases", ())),
    )


def _as_believed(suspects: Sequence[ShortSuspect], causes: Sequence[Cause]) -> tuple[ShortSuspect, ...]:
    """The suspects with the chances of the one belief, likeliest first; their own where it blames none of them."""
    blamed: dict[str, float] = defaultdict(float)
    for cause in causes:
        if cause.cause in SHORTS and len(cause.designators) == 1:
            blamed[cause.designators[0]] += cause.chance
    if not any(one.part.designator in blamed for one in suspects):
        return tuple(suspects)
    weighed = (replace(one, chance=blamed[one.part.designator]) for one in suspects)
    return tuple(sorted(weighed, key=lambda one: -one.chance))


def _point_of(board: Board, step: Step | None) -> str:
    """Where the rail of a step is read: its first point; empty where it has none."""
    rails = board.document.get("rails", ())
    return next((at for rail in rails if step and rail["id"] == step.target for at in rail.get("points", ())), "")


def newest_glow(fed: Sequence[Injection]) -> Glow | None:
    """Where it glowed last."""
    glows = [glow for one in fed for glow in one.glows.all()]
    return max(glows, key=lambda glow: (glow.at, glow.pk)) if glows else None


def newest_thermal(fed: Sequence[Injection]) -> Thermal | None:
    """The thermal picture laid over the board last."""
    taken = [thermal for one in fed for thermal in one.thermals.all()]
    return max(taken, key=lambda thermal: (thermal.at, thermal.pk)) if taken else None


def _reached(board: Board, rail: str) -> set[str]:
    """The rail that was fed, and those that it reaches through stages and converters."""
    reached = {rail}
    for part in board.parts:
        if rail in part.rails and part.kind in {"power-stage", "converter"}:
            reached |= set(part.rails)
    return reached


def _removed(row: Act, found: Measured, places: Places) -> Removed:
    """What was read of the rails since a part came off."""
    since = {}
    for reading in found.readings:
        judged = found.judged[reading.pk]
        key = places.key(reading.point, reading.to)
        if reading.at > row.at and key[0] == "ground" and key[1] in row.rails:
            since[key[1]] = judged.verdict
    return Removed(row.site, tuple(row.rails), since)


def _proved(pairs: Sequence[Proof], found: Measured, places: Places) -> tuple[dict[str, Value], frozenset[str]]:
    """What was read between the rails of suspects, by designator, and which of them read joined."""
    read = {
        places.key(one.reading.point, one.reading.to): one.reading.value
        for one in found.hunted
        if one.reading.quantity == "resistance"
    }
    keys = {one.designator: places.key(one.pair, "across") for one in pairs}
    proved = {name: read[key] for name, key in keys.items() if key in read}
    joined = []
    for name, value in proved.items():
        ends = [read.get(("ground", rail)) for rail in keys[name][1:]]
        if is_joined(value, sum(math.inf if end is None or end.middle is None else end.middle for end in ends)):
            joined.append(name)
    return proved, frozenset(joined)


def _feed(board: Board, rail: str, found: Measured, places: Places) -> Feed:
    entry = next(one for one in board.document.get("rails", ()) if one["id"] == rail)
    read = [
        one.reading.value
        for one in found.hunted
        if one.reading.quantity == "resistance" and places.key(one.reading.point, one.reading.to) == ("ground", rail)
    ]
    reading = read[-1] if read else None
    # a partial short is fed by its lowest: the most current it may take; one seen in diode mode alone as if by nothing
    ohms = reading.low if reading and reading.low is not None else 0.0
    lowest = lowest_reached(board, rail)
    point = next(iter(entry.get("points", ())), "")
    advice = injection(float(entry.get("volts") or 1.0), ohms, lowest)
    return Feed(rail, entry.get("name", rail), point, reading, lowest, advice)


def _sides(found: Measured) -> tuple[CoilSides, ...]:
    """Coils of which both pads were read with one end lifted."""
    pads: dict[str, dict[str, Value]] = {}
    for one in found.pads_judged:
        for word in (CONVERTER_PAD, RAIL_PAD):
            if word in one.reading.condition:
                pads.setdefault(one.reading.point, {})[word] = one.reading.value
    return tuple(coil_side(coil, read[CONVERTER_PAD], read[RAIL_PAD]) for coil, read in pads.items() if len(read) == 2)


def _came_off(part: Part, off: Sequence[Act]) -> bool:
    """Whether a part came off while two of its rails were hunted."""
    return any(one.site == part.designator and len(set(one.rails) & set(part.rails)) > 1 for one in off)
