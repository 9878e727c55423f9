"""The strand of a short: parts on the rails that are pulled down, by glow, pairs, sight and what came off."""

from __future__ import annotations

import math
from collections.abc import Sequence

from uvrix.core.case.belief.weighing import LOOKED_BURNT, SEEN_WEIGHT, UNEXPLAINED, Strand, Weighed, strand_of
from uvrix.core.case.entries import Glow, Injected
from uvrix.core.case.facts import Facts, Thing
from uvrix.core.case.rails import Standing
from uvrix.core.readings.hunt import JOINING, OFF_RAIL, is_joined
from uvrix.core.readings.limits import GLOW_BLUR_MM
from uvrix.core.readings.shorts import short_suspects
from uvrix.core.startup.limits import REFUTED_SHARE
from uvrix.language import gettext

# Whether a warm spot seen far off may still be of a part: heat spreads through copper, in shares of a near one.
FAR_GLOW, THROUGH_THE_BOARD = 0.01, 0.2
# How likely a second short stands beside the first, where each warms at a place of its own.
SECOND_FAULT = 0.05
# From this many watts on a camera should have seen it: that nothing warmed speaks a little against the rail's parts.
SEEN_WATTS, NO_GLOW = 0.3, 0.7
# A part that was named where it warmed, against all that nobody named.
NAMED_TIMES = 4.0
# A short whose part is off, and that still reads: the part was not it, or burnt layers below it are.
STILL_SHORT_OFF, LAYERS_SHARE = 0.002, 0.06
AGAIN = gettext("{0} was replaced, and it warmed there again: burnt layers below it.")
# What a reading across a stage's pins does to its odds: joined, or apart.
JOINED_TIMES, APART_TIMES = 60.0, 0.05


def short(facts: Facts) -> Strand | None:
    """Parts on the rails that are pulled down; None where none is."""
    board, shorted = facts.board, facts.shorted
    if board is None:
        return _short_undrawn(facts)
    if facts.behind_lifted:
        behind = [Weighed("short", (stage,), 1.0, [why], [entry]) for stage, why, entry in facts.behind_lifted]
        return strand_of("short", behind)
    if not shorted:
        return _burnt_below(facts)
    verdicts = {rail.id: rail.verdict for rail in facts.rails} | dict.fromkeys(shorted, "short")
    entries = {rail.id: rail.standing.entry for rail in facts.rails}
    words = [rail.verdict for rail in facts.rails if rail.id in shorted]
    partial = bool(words) and all(word == "partial-short" for word in words)
    cause = "partial-short" if partial else "short"
    weighed: list[Weighed] = []
    for suspect in short_suspects(board, verdicts):
        who = suspect.part.designator
        if who not in facts.card.empty or who in facts.card.off:
            rested = [entries[rail] for rail in suspect.shorted if rail in entries]
            weighed.append(Weighed(cause, (who,), suspect.chance, [suspect.why], rested))
    least = min((weighed_cause.weight for weighed_cause in weighed), default=0.1)
    weighed += [
        Weighed(
            "chip",
            (site.designator,),
            0.3 * least,
            [gettext("{designator} hangs on {rail}.", designator=site.designator, rail=site.rail)],
        )
        for site in board.sites
        if site.fitted and site.rail in shorted and site.designator not in facts.card.empty
    ]
    if set(shorted) & facts.touches.core_rails and board.core.designator not in facts.card.empty:
        weighed.append(Weighed("core", (board.core.designator,), 0.3 * least, [gettext("The core hangs on its rail.")]))
    _glow_weight(facts, weighed)
    _pair_weight(facts, weighed)
    _sight_weight(facts, weighed)
    for weighed_cause in weighed:
        site = weighed_cause.designators[0]
        if site in facts.card.off:
            weighed_cause.times(
                STILL_SHORT_OFF, gettext("{site} is off and it still reads short.", site=site), facts.card.off[site]
            )
        elif swapped := facts.done("swap", "place", site=site):
            weighed_cause.times(
                REFUTED_SHARE, gettext("{site} was replaced and it still reads short.", site=site), swapped[-1].number
            )
    return strand_of("short", [*weighed, *_layers(facts, weighed)], UNEXPLAINED + (0.05 if len(weighed) < 2 else 0.0))


def _burnt_below(facts: Facts) -> Strand | None:
    """Burnt layers that two leads cannot tell: where a part was replaced, and it warmed again at its place."""
    found = [
        Weighed("layers", (site,), 1.0, [AGAIN.format(site)], [entry]) for site, entry in burnt_again(facts).items()
    ]
    return strand_of("short", found, UNEXPLAINED) if found else None


def burnt_again(facts: Facts) -> dict[str, int]:
    """Places where it warmed again after the part was replaced, each with that entry, whether it still counts or not.

    Two parts in a row at one place are far less likely than burnt layers below it (docs/trade §3.10).
    """
    found: dict[str, int] = {}
    fed: frozenset[str] = frozenset()
    for entry in facts.entries:
        if isinstance(entry.what, Injected):
            fed = facts.touches.of_reading(entry.what.point)
        elif isinstance(entry.what, Glow) and entry.what.warm:
            for site, replaced in facts.card.swapped.items():
                before = replaced < entry.number and site not in facts.card.cut
                if before and facts.touches.of_site(site) & fed and _at(facts, site, entry.what):
                    found[site] = entry.number
    return found


JOINED = gettext("Across {0} it reads joined: power would go straight through. Take the stage off first.")


def joined(facts: Facts) -> tuple[str, ...]:
    """Pairs of points between which it reads joined, by readings that count."""
    return tuple(pair.reading.point for pair in facts.readings.pairs() if _is_joined(facts, pair))


def _short_undrawn(facts: Facts) -> Strand | None:
    low = [rail for rail in facts.rails if rail.verdict in {"short", "low"}]
    if not low:
        return None
    why = [rail.standing.judged.why for rail in low]
    entries = [rail.standing.entry for rail in low]
    found = [Weighed("short", tuple(rail.id for rail in low), 1.0, why, entries)]
    for number, part in facts.named_at_glow:
        if part not in facts.card.empty:
            found.append(
                Weighed(
                    "short",
                    (part,),
                    NAMED_TIMES,
                    [gettext("{part} stands where it warmed.", part=part)],
                    [*entries, number],
                )
            )
    return strand_of("short", found, 0.2)


def _glow_weight(facts: Facts, weighed: Sequence[Weighed]) -> None:
    """How well each part foretells where it warmed, on the rail that was fed."""
    counted = set()
    for number, glow, fed, watts in facts.glows:
        if not fed & set(facts.shorted) or (glow, fed) in counted:
            continue
        counted.add((glow, fed))
        things = {cause.designators[0]: facts.things.get(cause.designators[0]) for cause in weighed}
        own = [_foretells(thing, glow) for thing in things.values() if thing is not None and thing.rails & fed]
        # a part of another short rail leaves this spot to a second fault, which foretells it as its own parts do
        second = SECOND_FAULT * max(own, default=0.0)
        for cause in weighed:
            thing = things[cause.designators[0]]
            on_rail = thing is not None and bool(thing.rails & fed)
            if glow.warm:
                told = _foretells(thing, glow)
                elsewhere = second if thing is not None and thing.rails & set(facts.shorted) else 0.0
                cause.weight *= told if on_rail else max(OFF_RAIL * told, elsewhere)
                cause.entries.append(number)
                if thing is not None and thing.by(glow):
                    cause.why.insert(
                        0,
                        gettext(
                            "{designator} lies {away} mm from the warm spot.",
                            designator=thing.designator,
                            away=f"{thing.away(glow):.1f}",
                        ),
                    )
            elif watts is not None and watts >= SEEN_WATTS and on_rail:
                cause.times(NO_GLOW, entry=number)


def _foretells(thing: Thing | None, glow: Glow) -> float:
    """How likely a warm spot is there, were this the part that warms: it blurs, and shows weakly through the board."""
    if thing is None or thing.centre is None:
        return math.sqrt(FAR_GLOW)
    near: float = math.exp(-0.5 * (thing.away(glow) / GLOW_BLUR_MM) ** 2)
    return max(FAR_GLOW * FAR_GLOW, near if thing.side == glow.side else THROUGH_THE_BOARD * near)


def _pair_weight(facts: Facts, weighed: Sequence[Weighed]) -> None:
    """Readings between two rails prove or clear the stage whose pins were meant, else every stage that joins them."""
    board = facts.board
    assert board is not None
    parts = {part.designator: part for part in board.parts}
    for pair in facts.readings.pairs():
        if pair.reading.quantity != "resistance":
            continue
        ends = [facts.touches.point_names(end) for end in pair.reading.point.split("/")]
        joined = _is_joined(facts, pair)
        for cause in weighed:
            part = parts.get(cause.designators[0])
            if part is None or part.kind not in JOINING or not all(end & set(part.rails) for end in ends):
                continue
            if pair.pins and pair.pins != part.designator:
                continue
            said = "joined" if joined else "apart"
            why = gettext("Across {point} it reads {said}.", point=pair.reading.point, said=said)
            cause.times(JOINED_TIMES if joined else APART_TIMES, why, pair.entry)


def _is_joined(facts: Facts, pair: Standing) -> bool:
    to_ground = {rail.id: rail.standing.reading.value.middle for rail in facts.rails}
    ends = [facts.touches.point_names(end) for end in pair.reading.point.split("/")]
    apart = sum(value for end in ends for rail in end if (value := to_ground.get(rail)) is not None)
    return pair.reading.quantity == "resistance" and is_joined(pair.reading.value, apart or math.inf)


def _sight_weight(facts: Facts, weighed: Sequence[Weighed]) -> None:
    """What was seen on a part, and parts that were looked at with nothing wrong seen."""
    for cause in weighed:
        for entry, seen in facts.seen:
            if seen.part in cause.designators and (factor := SEEN_WEIGHT.get(seen.kind)):
                cause.times(
                    factor,
                    gettext("{part}: {kind} seen.", part=seen.part, kind=seen.kind.replace("-", " ")),
                    entry.number,
                )
        if cause.designators[0] in facts.looked:
            cause.times(LOOKED_BURNT)


def _layers(facts: Facts, weighed: Sequence[Weighed]) -> list[Weighed]:
    """Burnt layers: where a part came off and its rail is still short, and where it glows again at that place."""
    board = facts.board
    assert board is not None
    whole = sum(cause.weight for cause in weighed) or 1e-6
    found = []
    for site, entry in burnt_again(facts).items():
        if site not in facts.card.off:
            found.append(Weighed("layers", (site,), 40 * whole, [AGAIN.format(site)], [entry]))
    for site, since in facts.card.off.items():
        if not facts.touches.of_site(site) & set(facts.shorted):
            continue
        candidate = Weighed(
            "layers",
            (site,),
            LAYERS_SHARE * whole,
            [gettext("{site} is off and its rail still reads short.", site=site)],
            [since],
        )
        for number, glow, fed, _ in facts.glows:
            if glow.warm and fed & facts.touches.of_site(site) and _at(facts, site, glow):
                candidate.weight = max(candidate.weight, 40 * whole)
                candidate.times(1.01, gettext("It glows where {site} was.", site=site), number)
        found.append(candidate)
    return found


def _at(facts: Facts, site: str, glow: Glow) -> bool:
    """Whether it warmed within a blur of a place."""
    thing = facts.things.get(site)
    return thing is not None and thing.side == glow.side and thing.away(glow) <= GLOW_BLUR_MM
