"""The strand of a short: parts on the rails that are pulled down, by glow, pairs, sight and what came off."""

from __future__ import annotations

import math
from collections.abc import Sequence

from uvrix.core.case.belief.weighing import LOOKED_BURNT, SEEN_WEIGHT, UNEXPLAINED, Strand, Weighed, strand_of
from uvrix.core.case.facts import Facts
from uvrix.core.readings.hunt import JOINING, OFF_RAIL, is_joined
from uvrix.core.readings.limits import GLOW_BLUR_MM, GLOW_CLOSE_MM
from uvrix.core.readings.shorts import short_suspects
from uvrix.core.startup.limits import REFUTED_SHARE

# Whether a warm spot seen far off may still be of a part: heat spreads through copper, in shares of a near one.
FAR_GLOW = 0.01
# From so many watts on a camera should have seen it; that nothing warmed then speaks against parts of the rail a little.
SEEN_WATTS, NO_GLOW = 0.3, 0.7
# A short whose part is off, and that still reads: the part was not it, or burnt layers below it are.
STILL_SHORT_OFF, LAYERS_SHARE = 0.002, 0.06
# What a reading across a stage's pins does to its odds: joined, or apart.
JOINED_TIMES, APART_TIMES = 60.0, 0.05


def short(facts: Facts) -> Strand | None:
    board, shorted = facts.board, facts.shorted
    if board is None:
        return _short_undrawn(facts)
    if facts.behind_lifted:
        found = [Weighed("short", (stage,), 1.0, [why], [entry]) for stage, why, entry in facts.behind_lifted]
        return strand_of("short", found)
    if not shorted:
        return None
    verdicts = {rail.id: rail.verdict for rail in facts.rails} | dict.fromkeys(shorted, "short")
    entries = {rail.id: rail.standing.entry for rail in facts.rails}
    partial = all(rail.verdict == "partial-short" for rail in facts.rails if rail.id in shorted)
    cause = "partial-short" if partial else "short"
    weighed = []
    for one in short_suspects(board, verdicts):
        if one.part.designator in facts.card.empty and one.part.designator not in facts.card.off:
            continue
        found = Weighed(cause, (one.part.designator,), one.chance, [one.why])
        found.entries += [entries[rail] for rail in one.shorted if rail in entries]
        weighed.append(found)
    least = min((one.weight for one in weighed), default=0.1)
    weighed += [
        Weighed("chip", (site.designator,), 0.3 * least, [f"{site.designator} hangs on {site.rail}."])
        for site in board.sites
        if site.fitted and site.rail in shorted and site.designator not in facts.card.empty
    ]
    if set(shorted) & facts.touches.core_rails and board.core.designator not in facts.card.empty:
        weighed.append(Weighed("core", (board.core.designator,), 0.3 * least, ["The core hangs on its rail."]))
    _glow_weight(facts, weighed)
    _pair_weight(facts, weighed)
    _sight_weight(facts, weighed)
    for one in weighed:
        site = one.designators[0]
        if site in facts.card.off:
            one.times(STILL_SHORT_OFF, f"{site} is off and it still reads short.", facts.card.off[site])
        elif swapped := facts.done("swap", "place", site=site):
            one.times(REFUTED_SHARE, f"{site} was replaced and it still reads short.", swapped[-1].number)
    return strand_of("short", [*weighed, *_layers(facts, weighed)], UNEXPLAINED + (0.05 if len(weighed) < 2 else 0.0))


def _short_undrawn(facts: Facts) -> Strand | None:
    low = [rail for rail in facts.rails if rail.verdict in {"short", "low"}]
    if not low:
        return None
    why = [rail.standing.judged.why for rail in low]
    found = Weighed("short", tuple(rail.id for rail in low), 1.0, why, [rail.standing.entry for rail in low])
    return strand_of("short", [found], 0.2)


def _glow_weight(facts: Facts, weighed: Sequence[Weighed]) -> None:
    """How well each part foretells where it warmed, on the rail that was fed."""
    board = facts.board
    assert board is not None
    centres = {part.designator: (part.side, part.centre, frozenset(part.rails)) for part in board.parts}
    centres |= {site.designator: (site.side, site.centre, frozenset([site.rail or ""])) for site in board.sites}
    centres[board.core.designator] = ("front", board.core.centre, facts.touches.core_rails)
    counted = set()
    for number, glow, fed, watts in facts.glows:
        if not fed & set(facts.shorted) or (glow, fed) in counted:
            continue
        counted.add((glow, fed))
        for one in weighed:
            side, centre, rails = centres.get(one.designators[0], ("", None, frozenset()))
            if not glow.warm:
                if watts is not None and watts >= SEEN_WATTS and rails & fed:
                    one.times(NO_GLOW, entry=number)
                continue
            if centre is None:
                one.times(FAR_GLOW**0.5)
                continue
            away = math.hypot(float(centre[0]) - glow.x_mm, float(centre[1]) - glow.y_mm)
            near = (
                math.exp(-0.5 * (away / GLOW_BLUR_MM) ** 2)
                if side == glow.side
                else 0.2 * math.exp(-0.5 * (away / GLOW_BLUR_MM) ** 2)
            )
            factor = max(FAR_GLOW**2, near) * (1.0 if rails & fed else OFF_RAIL)
            said = f"{one.designators[0]} lies {away:.1f} mm from the warm spot." if away <= GLOW_CLOSE_MM else ""
            one.weight *= factor
            one.entries.append(number)
            if said:
                one.why.insert(0, said)


def _pair_weight(facts: Facts, weighed: Sequence[Weighed]) -> None:
    """Readings between two rails prove or clear the stage whose pins were meant, else every stage that joins the two."""
    board = facts.board
    assert board is not None
    parts = {part.designator: part for part in board.parts}
    to_ground = {rail.id: rail.standing.reading.value.middle for rail in facts.rails}
    for pair in facts.readings.pairs():
        if pair.reading.quantity != "resistance":
            continue
        ends = [facts.touches.point_names(end) for end in pair.reading.point.split("/")]
        apart = sum(value for end in ends for rail in end if (value := to_ground.get(rail)) is not None)
        joined = is_joined(pair.reading.value, apart or math.inf)
        for one in weighed:
            part = parts.get(one.designators[0])
            if part is None or part.kind not in JOINING or not all(end & set(part.rails) for end in ends):
                continue
            if pair.pins and pair.pins != part.designator:
                continue
            said = "joined" if joined else "apart"
            one.times(
                JOINED_TIMES if joined else APART_TIMES, f"Across {pair.reading.point} it reads {said}.", pair.entry
            )


def _sight_weight(facts: Facts, weighed: Sequence[Weighed]) -> None:
    """What was seen on a part, and parts that were looked at with nothing wrong seen."""
    for one in weighed:
        for entry, seen in facts.seen:
            if seen.part in one.designators and (factor := SEEN_WEIGHT.get(seen.kind)):
                one.times(factor, f"{seen.part}: {seen.kind.replace('-', ' ')} seen.", entry.number)
        if one.designators[0] in facts.looked:
            one.times(LOOKED_BURNT)


def _layers(facts: Facts, weighed: Sequence[Weighed]) -> list[Weighed]:
    """Burnt layers: where a part came off and its rail is still short, and where it glows again at that place."""
    board = facts.board
    assert board is not None
    whole = sum(one.weight for one in weighed) or 1e-6
    found = []
    for site, since in facts.card.off.items():
        if not facts.touches.of_site(site) & set(facts.shorted):
            continue
        one = Weighed(
            "layers", (site,), LAYERS_SHARE * whole, [f"{site} is off and its rail still reads short."], [since]
        )
        for number, glow, fed, _ in facts.glows:
            if glow.warm and fed & facts.touches.of_site(site) and _at(facts, site, glow.side, glow.x_mm, glow.y_mm):
                one.weight = max(one.weight, 40 * whole)
                one.times(1.01, f"It glows where {site} was.", number)
        found.append(one)
    return found


def _at(facts: Facts, site: str, side: str, x_mm: float, y_mm: float) -> bool:
    board = facts.board
    assert board is not None
    for one in [*board.parts, *board.sites]:
        if one.designator == site and one.centre is not None and one.side == side:
            return math.hypot(float(one.centre[0]) - x_mm, float(one.centre[1]) - y_mm) <= GLOW_BLUR_MM
    return False
