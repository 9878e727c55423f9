"""Hunting a short (docs/trade §3.7), from the first reading to the part that is off.

The pins that prove a power stage, which side of a lifted coil holds it, where it glows, what the lower rail feeds. What
to do next is the plan's (core/case/plan/hunt.py).
"""

from __future__ import annotations

import math
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from typing import Literal

from uvrix.core.boards.model import Board, Part, Phase
from uvrix.core.readings.limits import (
    COIL_SIDE_TIMES,
    GLOW_BLUR_MM,
    GLOW_NEAR_MM,
    JOINED_OHMS,
    JOINED_SHARE,
    RAILS_ALIKE_OHMS,
    RAILS_ALIKE_SHARE,
)
from uvrix.core.readings.notation import Value, shown, shown_number
from uvrix.core.readings.points import Places
from uvrix.core.readings.shorts import SHORTED, ShortSuspect
from uvrix.core.readings.verdict import Judged
from uvrix.core.values.edges import over
from uvrix.language import gettext

JOINING = frozenset({"power-stage", "converter"})
TOO_LOW = frozenset({"low", "short", "partial-short"})
MOST_NEAR = 6
# A part that is not known to touch the fed rail glows this much less likely than one that is.
OFF_RAIL, UNKNOWN_RAIL = 0.05, 0.4


def _volts(board: Board) -> dict[str, float]:
    return {name: rail.volts for name, rail in board.rails.items()}


def _names(board: Board) -> dict[str, str]:
    return {name: rail.name for name, rail in board.rails.items()}


def lowest_reached(board: Board, rail: str) -> float | None:
    """The lowest rail, in volts, that feeding `rail` may reach through a joined stage or converter; None: no other."""
    volts = _volts(board)
    reached, open_ends = {rail}, [rail]
    while open_ends:
        at = open_ends.pop()
        for part in board.parts:
            if part.kind in JOINING and at in part.rails:
                further = [name for name in part.rails if name in volts and name not in reached]
                reached.update(further)
                open_ends += further
    others = [volts[name] for name in reached - {rail} if volts[name] > 0]
    return min(others) if others else None


@dataclass(frozen=True, slots=True)
class Proof:
    """The two points to read between, which prove or clear a part, and why."""

    designator: str
    pair: str
    why: str


def proofs(board: Board, suspects: Iterable[ShortSuspect]) -> tuple[Proof, ...]:
    """For each suspect that joins two rails: the one against the other, by the nearest points of either.

    Where a part touches two or more of the shorted rails those are meant, else its input and its output.
    """
    volts, names, found = _volts(board), _names(board), []
    for suspect in suspects:
        part = suspect.part
        own = suspect.shorted if len(suspect.shorted) > 1 else part.rails
        rails = sorted((rail for rail in own if rail in volts), key=lambda rail: -volts[rail])
        if part.kind not in JOINING or len(rails) < 2:
            continue
        ends = [_nearest_point(board, part, rail) for rail in (rails[0], rails[-1])]
        if ends[0] and ends[1]:
            why = gettext(
                "{designator}: {names} against {names_2} across its pins. Under {shown_number} it is joined.",
                designator=part.designator,
                names=names[rails[0]],
                names_2=names[rails[-1]],
                shown_number=shown_number(JOINED_OHMS, "resistance"),
            )
            found.append(Proof(part.designator, f"{ends[0]}/{ends[1]}", why))
    return tuple(found)


def _nearest_point(board: Board, part: Part, rail: str) -> str | None:
    """The point of a rail that is nearest to a part; fuses and shunts count less: they may be what is broken."""
    listed = board.rails[rail].points if rail in board.rails else ()
    # what a rail lists counts for it whoever reads it; what only lies on its net is second best
    points = [point for point in board.points if point.id in listed] or [
        point for point in board.points if point.net == rail
    ]

    def away(point: object) -> tuple[bool, float]:
        centre, kind = getattr(point, "centre", None), getattr(point, "kind", "")
        if centre is None or part.centre is None:
            return kind == "fuse", math.inf
        return kind == "fuse", math.dist(
            [float(coordinate) for coordinate in centre], [float(coordinate) for coordinate in part.centre]
        )

    return min(points, key=away).id if points else None


Side = Literal["converter", "rail", "unclear"]


@dataclass(frozen=True, slots=True)
class CoilSides:
    """Which side of a lifted coil holds the short, and the sentence."""

    coil: str
    side: Side
    why: str


def coil_side(coil: str, converter: Value, rail: Value) -> CoilSides:
    """Which side of a lifted coil holds the short: clearly the lower one, or neither."""
    said = gettext(
        "{shown} at the converter pad, {shown_2} at the rail pad",
        shown=shown(converter, "resistance"),
        shown_2=shown(rail, "resistance"),
    )
    ends = [math.inf if value.middle is None else value.middle for value in (converter, rail)]
    if ends[0] * COIL_SIDE_TIMES <= ends[1] and ends[0] < ends[1]:
        why = gettext(
            "{coil}: {said}. The side of the converter holds it: its power stage first.", coil=coil, said=said
        )
        return CoilSides(coil, "converter", why)
    if ends[1] * COIL_SIDE_TIMES <= ends[0] and ends[1] < ends[0]:
        return CoilSides(
            coil,
            "rail",
            gettext("{coil}: {said}. The side of the rail holds it: what the rail feeds.", coil=coil, said=said),
        )
    return CoilSides(
        coil, "unclear", gettext("{coil}: {said}. Too near each other to tell the side.", coil=coil, said=said)
    )


@dataclass(frozen=True, slots=True)
class Near:
    """A part by a warm spot: its share of the blame, how far, and why."""

    part: Part
    chance: float
    mm: float
    why: str


def glowed(
    board: Board, side: str, spot: tuple[float, float], rails: Collection[str], off: Collection[str] = ()
) -> tuple[Near, ...]:
    """The parts by a warm spot, likeliest first, chances among them adding to 1; `rails` are those that were fed.

    A part counts by its distance (blurred as a camera sees it) and by whether it is known to touch a fed rail.
    """
    found = []
    for part in board.parts:
        if part.centre is None or part.designator in off:
            continue
        mm = math.dist(spot, [float(coordinate) for coordinate in part.centre])
        if mm > GLOW_NEAR_MM:
            continue
        on = OFF_RAIL if part.rails else UNKNOWN_RAIL
        on = 1.0 if set(part.rails) & set(rails) else on
        through = 1.0 if part.side == side else 0.3
        blurred = math.exp(-0.5 * (mm / GLOW_BLUR_MM) ** 2)
        found.append((on * through * max(float(part.weight), 1e-6) * blurred, mm, part))
    whole = sum(weight for weight, _, _ in found)
    if whole <= 0:
        return ()
    ranked = sorted(found, key=lambda row: (-row[0], row[1], row[2].designator))[:MOST_NEAR]
    return tuple(Near(part, weight / whole, mm, _near_why(part, mm, side, rails)) for weight, mm, part in ranked)


def _near_why(part: Part, mm: float, side: str, rails: Collection[str]) -> str:
    fed = [rail for rail in part.rails if rail in rails]
    other = "" if part.side == side else gettext(", on the other side of the board")
    on = (
        gettext("on {fed}", fed=", ".join(fed))
        if fed
        else gettext("not on the fed rail")
        if part.rails
        else gettext("its rails are not noted")
    )
    return gettext(
        "{kind} {mm} mm from the spot, {on}{other}.",
        kind=part.kind.replace("-", " ").capitalize(),
        mm=f"{mm:.0f}",
        on=on,
        other=other,
    )


@dataclass(frozen=True, slots=True)
class Killed:
    """A lower rail that a higher one was bridged into, and what hangs on it: all possibly killed."""

    high: str
    low: str
    designators: tuple[str, ...]
    says: str


def possibly_killed(board: Board, joined: Iterable[Part]) -> tuple[Killed, ...]:
    """What parts that joined their highest rail into their lowest may have killed: everything that rail feeds.

    Parts that join the same two rails are named together: which of them it is may not be known yet.
    """
    volts, names = _volts(board), _names(board)
    by_rails: dict[tuple[str, str], list[str]] = {}
    for part in joined:
        rails = sorted((rail for rail in part.rails if rail in volts), key=lambda rail: -volts[rail])
        if part.kind in JOINING and len(rails) > 1:
            by_rails.setdefault((rails[0], rails[-1]), []).append(part.designator)
    found = []
    for (high, low), by in by_rails.items():
        feeds = [part.designator for part in board.parts if low in part.rails and part.designator not in by]
        feeds += [site.designator for site in board.sites if site.rail == low and site.fitted]
        if min(volts.values()) == volts[low] and board.core.designator not in feeds:
            feeds.append(board.core.designator)
        many = ", ".join(feeds) if feeds else gettext("nothing that the model names")
        says = gettext(
            "{by} may have put {high} ({high_2} V) on {low} ({low_2} V). Possibly killed: {many}. "
            "Read them before parts are bought.",
            by=gettext(" or ").join(by),
            high=names[high],
            high_2=f"{volts[high]:g}",
            low=names[low],
            low_2=f"{volts[low]:g}",
            many=many,
        )
        found.append(Killed(high, low, tuple(feeds), says))
    return tuple(found)


def is_joined(value: Value, apart_ohms: float) -> bool:
    """Whether a reading between the input and output of a stage says that they are joined.

    `apart_ohms` is what both read to ground, added up: that is what lies between them where nothing joins them.
    """
    return value.high is not None and value.high < JOINED_OHMS and value.high < JOINED_SHARE * apart_ohms


@dataclass(frozen=True, slots=True)
class Bridge:
    """Two rails that read alike where the higher one should not: something joins them."""

    high: str
    low: str
    says: str


def bridges(board: Board, standing: Iterable[Judged], places: Places) -> tuple[Bridge, ...]:
    """Rails that a stage or converter could have joined: the higher reads too low, and the same as the lower."""
    volts, names, read = _volts(board), _names(board), {}
    for judgement in standing:
        key = places.key(judgement.reading.point, judgement.reading.to)
        middle = judgement.reading.value.middle
        if key[0] == "ground" and key[1] in volts and judgement.reading.quantity == "resistance" and middle is not None:
            read[key[1]] = (middle, judgement)
    pairs = dict.fromkeys(
        (high, low)
        for part in board.parts
        if part.kind in JOINING
        for high in part.rails
        for low in part.rails
        if high in read and low in read and volts[high] > volts[low]
    )
    found = []
    for high, low in pairs:
        (value, judged), (other, _) = read[high], read[low]
        if judged.verdict in TOO_LOW and _alike(value, other):
            said = gettext(
                "{shown_number} and {shown_number_2}",
                shown_number=shown_number(value, "resistance"),
                shown_number_2=shown_number(other, "resistance"),
            )
            says = gettext(
                "{high} and {low} read alike ({said}), and {high} reads too low: joined?",
                high=names[high],
                low=names[low],
                said=said,
            )
            found.append(Bridge(high, low, says))
    return tuple(found)


def _alike(one: float, other: float) -> bool:
    return not over(abs(one - other), RAILS_ALIKE_SHARE * max(one, other) + RAILS_ALIKE_OHMS)


def hunted(
    verdicts: Mapping[str, str], low_inputs: Iterable[str] = (), joined: Iterable[Bridge] = ()
) -> tuple[tuple[str, ...], dict[str, str]]:
    """The rails that are hunted, and the verdicts to rank suspects by.

    Hunted are rails judged short or partly so, inputs under the guard whatever the library says, and the higher of two
    rails that read alike; for the ranking both of those count as short.
    """
    found = [rail for rail, verdict in verdicts.items() if verdict in SHORTED]
    rails = tuple(dict.fromkeys([*found, *low_inputs, *(bridge.high for bridge in joined)]))
    ranked = {**verdicts, **dict.fromkeys(rails, "short"), **{bridge.low: "short" for bridge in joined}}
    return rails, ranked


@dataclass(frozen=True, slots=True)
class EmptyPhase:
    """A phase that stays empty for good: how many are left and what each must carry."""

    rail: str
    left: int
    of: int
    says: str


def empty_phases(board: Board, out: Collection[str]) -> tuple[EmptyPhase, ...]:
    """What phases cut out leave to the others: their share against their rating, where the model notes it."""
    by_rail: dict[str, list[Phase]] = {}
    for phase in board.phases:
        if phase.rail:
            by_rail.setdefault(phase.rail, []).append(phase)
    found = []
    for rail, phases in by_rail.items():
        gone = [phase for phase in phases if phase.designator in out]
        if not gone:
            continue
        left = len(phases) - len(gone)
        share = (
            gettext("each carries {number} of its usual share", number=f"{len(phases) / left:.2f}")
            if left
            else gettext("nothing carries it")
        )
        amps = sum(phase.amps or 0.0 for phase in phases if phase not in gone)
        rated = gettext(", {amps} A rated together", amps=f"{amps:g}") if amps else ""
        says = gettext(
            "{rail}: {left} of {number} phases are left, {share}{rated}. Within rating?",
            rail=rail,
            left=left,
            number=len(phases),
            share=share,
            rated=rated,
        )
        found.append(EmptyPhase(rail, left, len(phases), says))
    return tuple(found)
