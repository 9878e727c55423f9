"""How far the hunt for a short is."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from uuid import UUID

from uvrix.core.boards.model import Board, Part
from uvrix.core.case.belief.believe import believe
from uvrix.core.case.belief.weighing import Cause
from uvrix.core.case.facts import Facts
from uvrix.core.case.feeding import feeding
from uvrix.core.case.plan.order import plan
from uvrix.core.case.plan.words import sentence
from uvrix.core.look.regions import PHOTO_MM
from uvrix.core.readings.hunt import (
    Bridge,
    CoilSides,
    EmptyPhase,
    Killed,
    Near,
    Proof,
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
from uvrix.core.readings.notation import Value
from uvrix.core.readings.points import Places
from uvrix.core.readings.shorts import ShortSuspect, rail_verdicts, short_suspects
from uvrix.core.readings.sweeps import CONVERTER_PAD, RAIL_PAD
from uvrix.language import gettext
from uvrix.shop.acts.models import Act
from uvrix.shop.acts.queries import of_job
from uvrix.shop.case.threads import thread
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.queries import model_board
from uvrix.shop.ohms.queries import Measured, measured, places_of_job
from uvrix.shop.shorts.models import Glow, Injection

# Causes that are a part which holds a rail down.
SHORTS = frozenset({"short", "partial-short", "layers"})
# Steps of the plan that are done here.
HUNTING = ("inject", "glow", "read", "lift-coil", "remove", "cut-layers", "swap")


@dataclass(frozen=True, slots=True)
class Feed:
    """How a shorted rail may be fed: its points, ohm reading, the lowest rail it may reach, what is advised.

    `says` what that makes to see, and what to do where it is too little; never more than `most_v`.
    """

    rail: str
    name: str
    points: tuple[str, ...]
    reading: Value | None
    lowest_v: float | None
    advice: Advice
    most_v: float
    warms: bool
    says: str


@dataclass(frozen=True, slots=True)
class HuntStep:
    """A step of the plan: what to do (HUNTING), to which part, point or pair, and why."""

    do: str
    target: str
    says: str


@dataclass(frozen=True, slots=True)
class Shorts:
    """Everything of the hunt; the newest glow counts, `step` is the plan's first that belongs to the hunt."""

    shorted: tuple[str, ...]
    bridges: tuple[Bridge, ...]
    suspects: tuple[ShortSuspect, ...]
    step: HuntStep | None
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
    photo_mm: float | None = None


def shorts(job: Job) -> Shorts:
    """The hunt on a job; where nobody has drawn its board, by the points and parts named on its photographs."""
    board = model_board(job.card.model)
    if board is None:
        return _undrawn(job)
    found = measured(job)
    places = places_of_job(job)
    joined_rails = bridges(board, found.hunted, places)
    shorted, ranked = hunted(rail_verdicts(found.hunted, places), found.low_inputs, joined_rails)
    facts = thread(job).facts
    causes = believe(facts)
    suspects = _as_believed(short_suspects(board, ranked), causes)
    fed = tuple(job.injection_rows.select_related("by").prefetch_related("glows__by", "thermals__by"))
    taken = tuple(of_job(job, "remove"))
    off_now = facts.card.off
    off = tuple({act.site: act for act in taken if act.site in off_now}.values())
    standing = {act.pk for act in off}
    back = frozenset(act.pk for act in taken if act.pk not in standing)
    cut = tuple(of_job(job, "cut-layers"))
    gone = {act.site for act in off}
    glow = newest_glow(fed)
    near: tuple[Near, ...] = ()
    if glow:
        near = glowed(board, glow.side, (glow.x_mm, glow.y_mm), _reached(board, glow.injection.rail), gone)
    pairs = proofs(board, suspects)
    joined = _joined(pairs, found, places)
    guilty = [part for part in board.parts if part.designator in joined or _came_off(part, off)]
    return Shorts(
        shorted,
        joined_rails,
        suspects,
        _next_step(facts, causes, {*shorted, *(rail for taken in off for rail in taken.rails)})
        if shorted or off
        else None,
        tuple(_feed(facts, board, rail, found, places) for rail in shorted),
        pairs,
        _sides(found),
        near,
        possibly_killed(board, guilty),
        empty_phases(board, {act.site for act in cut}),
        fed,
        taken,
        back,
        cut,
        tuple(phase.designator for phase in board.phases),
    )


def _undrawn(job: Job) -> Shorts:
    """The hunt on a board that nobody has drawn: nobody knows what hangs on what, so that the warm spot leads."""
    facts = thread(job).facts
    taken, gone = tuple(of_job(job, "remove")), facts.card.off
    off = tuple({act.site: act for act in taken if act.site in gone}.values())
    standing = {act.pk for act in off}
    named = [part for _, part in facts.named_at_glow if part not in facts.card.empty]
    step = _next_step(facts, believe(facts), {*facts.shorted, *(rail for taken in off for rail in taken.rails)})
    return Shorts(
        facts.shorted,
        (),
        (),
        step if facts.shorted or off else None,
        tuple(_feed_undrawn(facts, point) for point in facts.shorted),
        (),
        (),
        tuple(
            Near(_named(part), 1 / len(named), 0.0, gettext("{part} was named where it warmed.", part=part))
            for part in named
        ),
        (),
        (),
        tuple(job.injection_rows.select_related("by").prefetch_related("glows__by", "thermals__by")),
        taken,
        frozenset(act.pk for act in taken if act.pk not in standing),
        tuple(of_job(job, "cut-layers")),
        (),
        PHOTO_MM,
    )


def _named(part: str) -> Part:
    """A part of which nothing is known but its name."""
    return Part(part, "part", "front", None, "", (), Fraction(1))


def _feed_undrawn(facts: Facts, point: str) -> Feed:
    """How a point that reads short is fed."""
    fed, node = feeding(facts, point), facts.node_meant(point)
    read = next((rail.standing.reading.value for rail in facts.rails if rail.id == point), None)
    name = node.name if node else point
    return Feed(point, name, (point,), read, None, fed.advice, fed.most_v, fed.warms, fed.says)


def _as_believed(suspects: Sequence[ShortSuspect], causes: Sequence[Cause]) -> tuple[ShortSuspect, ...]:
    """The suspects with the chances of the one belief, likeliest first; their own where it blames none of them."""
    blamed: dict[str, float] = defaultdict(float)
    for cause in causes:
        if cause.cause in SHORTS and len(cause.designators) == 1:
            blamed[cause.designators[0]] += cause.chance
    if not any(suspect.part.designator in blamed for suspect in suspects):
        return tuple(suspects)
    weighed = (replace(suspect, chance=blamed[suspect.part.designator]) for suspect in suspects)
    return tuple(sorted(weighed, key=lambda suspect: -suspect.chance))


def _next_step(facts: Facts, causes: Sequence[Cause], hunted_rails: Collection[str]) -> HuntStep | None:
    """The first step of the plan that belongs to the hunt on some rails: it need not be the first of all."""
    for step in plan(facts, causes):
        of_the_rails = not step.across and facts.touches.of_reading(step.target) & set(hunted_rails)
        if step.do in HUNTING and (step.do != "read" or "/" in step.target or of_the_rails):
            return HuntStep(step.do, step.target, f"{sentence(step)}. {step.why}")
    return None


def newest_glow(fed: Sequence[Injection]) -> Glow | None:
    """Where it glowed last; None where nothing did."""
    glows = [glow for act in fed for glow in act.glows.all() if glow.side]
    return max(glows, key=lambda glow: (glow.at, glow.pk)) if glows else None


def _reached(board: Board, rail: str) -> set[str]:
    """The rail that was fed, and those that it reaches through stages and converters."""
    reached = {rail}
    for part in board.parts:
        if rail in part.rails and part.kind in {"power-stage", "converter"}:
            reached |= set(part.rails)
    return reached


def _joined(pairs: Sequence[Proof], found: Measured, places: Places) -> frozenset[str]:
    """The suspects whose pins were read against each other and read joined."""
    read = {
        places.key(judgement.reading.point, judgement.reading.to): judgement.reading.value
        for judgement in found.hunted
        if judgement.reading.quantity == "resistance"
    }
    joined = []
    for name, key in ((pair.designator, places.key(pair.pair, "across")) for pair in pairs):
        if key not in read:
            continue
        ends = [read.get(("ground", rail)) for rail in key[1:]]
        if is_joined(read[key], sum(math.inf if end is None or end.middle is None else end.middle for end in ends)):
            joined.append(name)
    return frozenset(joined)


def _feed(facts: Facts, board: Board, rail: str, found: Measured, places: Places) -> Feed:
    entry = board.rails[rail]
    read = [
        judgement.reading.value
        for judgement in found.hunted
        if judgement.reading.quantity == "resistance"
        and places.key(judgement.reading.point, judgement.reading.to) == ("ground", rail)
    ]
    fed = feeding(facts, rail)
    points = entry.points or ((fed.point,) if fed.point else ())
    name, lowest = entry.name, lowest_reached(board, rail)
    return Feed(rail, name, points, read[-1] if read else None, lowest, fed.advice, fed.most_v, fed.warms, fed.says)


def _sides(found: Measured) -> tuple[CoilSides, ...]:
    """Coils of which both pads were read with one end lifted."""
    pads: dict[str, dict[str, Value]] = {}
    for judgement in found.pads_judged:
        for word in (CONVERTER_PAD, RAIL_PAD):
            if word in judgement.reading.condition:
                pads.setdefault(judgement.reading.point, {})[word] = judgement.reading.value
    return tuple(coil_side(coil, read[CONVERTER_PAD], read[RAIL_PAD]) for coil, read in pads.items() if len(read) == 2)


def _came_off(part: Part, off: Sequence[Act]) -> bool:
    """Whether a part came off while two of its rails were hunted."""
    return any(act.site == part.designator and len(set(act.rails) & set(part.rails)) > 1 for act in off)
