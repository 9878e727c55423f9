"""What may be wrong: one belief over causes, from all steps (case.md, *What to do next*).

What deviates falls into strands: a short, a fuse, the start of the rails, memory, how far the card comes in a computer,
what was seen. Within a strand every cause is weighed by how well it foretells what was read, seen, fed and replaced; the
strands share the belief by which of them would explain the others. Nothing is suspected that nothing points at: what no
strand explains is `unknown`.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from uvrix.core.case.facts import Facts
from uvrix.core.finding_kinds import group_of
from uvrix.core.planning.habits import USUAL
from uvrix.core.readings.hunt import JOINING, OFF_RAIL, is_joined
from uvrix.core.readings.limits import GLOW_BLUR_MM, GLOW_CLOSE_MM
from uvrix.core.readings.shorts import short_suspects
from uvrix.core.startup.limits import REFUTED_SHARE

CAUSES = (
    *("short", "partial-short", "layers", "open-fuse", "missing", "dead-part", "chip-joint", "chip", "board-line"),
    *("core-joint", "core", "supply", "firmware", "contact", "plug", "host", "none", "unknown"),
)
# What stays unexplained within each strand: another cause than those that were thought of.
UNEXPLAINED = 0.03
# Whether a warm spot seen far off may still be of a part: heat spreads through copper, in shares of a near one.
FAR_GLOW = 0.01
# From so many watts on a camera should have seen it; that nothing warmed then speaks against parts of the rail a little.
SEEN_WATTS, NO_GLOW = 0.3, 0.7
# How much a sight speaks for a part of a strand that it lies in.
SEEN_WEIGHT: Mapping[str, float] = {
    "burn": 25.0,
    "package": 25.0,
    "crooked-part": 8.0,
    "corrosion": 6.0,
    "joint": 4.0,
    "opened-before": 2.0,
    "dirt": 1.5,
}
# A part that was looked at with nothing wrong seen is not missing, and hardly burnt.
LOOKED_MISSING, LOOKED_BURNT = 0.02, 0.7
# Of dead nodes' parts, how many are missing rather than dead, before anybody looked.
MISSING_SHARE = 0.15
# A short whose part is off, and that still reads: the part was not it, or burnt layers below it are.
STILL_SHORT_OFF, LAYERS_SHARE = 0.002, 0.06
# What a reading across a stage's pins does to its odds: joined, or apart.
JOINED_TIMES, APART_TIMES = 60.0, 0.05
# How far a card comes, and what is behind it where the rails are right (domain.md §4 and §6, orders of magnitude).
BY_RUNG: Mapping[str, Mapping[str, float]] = {
    "absent": {"core-joint": 0.30, "contact": 0.16, "firmware": 0.14, "core": 0.16, "host": 0.12, "plug": 0.06},
    "listed": {"firmware": 0.30, "core-joint": 0.20, "core": 0.15, "chip-joint": 0.12, "host": 0.1, "supply": 0.05},
    "driver": {"core-joint": 0.22, "core": 0.2, "plug": 0.15, "host": 0.15, "supply": 0.1, "firmware": 0.08},
    "picture": {"core-joint": 0.22, "core": 0.2, "supply": 0.15, "host": 0.1, "plug": 0.08, "firmware": 0.1},
}
# What a trial with one thing changed says: showing without it all the same, and gone without it.
TRIAL_BLAMES: Mapping[str, str] = {"computer": "host", "plug": "plug", "lead": "host", "card": "host"}
SHOWS_YET, GONE_WITHOUT = 0.05, 20.0
RARELY = 0.3
MEMORY_CAUSE: Mapping[str, str] = {
    "chip-joint": "chip-joint",
    "chip": "chip",
    "board": "board-line",
    "core-joint": "core-joint",
    "supply": "supply",
    "other": "host",
}
# How a strand stands to the others: what explains more goes first.
STRANDS = ("short", "fuse", "seen", "start-up", "memory", "ladder", "trial")
SHARE_OF_FIRST = 0.93


@dataclass(frozen=True, slots=True)
class Cause:
    """A cause with its chance, and what speaks for it: sentences, each with the entries that it rests on."""

    cause: str
    designators: tuple[str, ...]
    chance: float
    why: tuple[str, ...] = ()
    entries: tuple[int, ...] = ()


@dataclass(slots=True)
class _Weighed:
    """A cause while it is weighed."""

    cause: str
    designators: tuple[str, ...]
    weight: float
    why: list[str] = field(default_factory=list)
    entries: list[int] = field(default_factory=list)

    def times(self, factor: float, why: str = "", entry: int | None = None) -> None:
        """Weigh by one thing more; what raises it is said first."""
        self.weight *= factor
        if why:
            self.why.insert(0, why) if factor > 1 else self.why.append(why)
        if entry is not None:
            self.entries.append(entry)


@dataclass(frozen=True, slots=True)
class Strand:
    """Causes of one thing that deviates, their weights adding to 1 with what is unexplained."""

    name: str
    causes: tuple[Cause, ...]
    unexplained: float


def believe(facts: Facts) -> tuple[Cause, ...]:
    """The causes, likeliest first, their chances adding to 1."""
    found = strands(facts)
    if not found:
        return _nothing_wrong(facts)
    chances: dict[tuple[str, tuple[str, ...]], Cause] = {}
    unknown, left = 0.0, 1.0
    for number, strand in enumerate(found):
        share = left if number == len(found) - 1 else left * SHARE_OF_FIRST
        left -= share
        for one in strand.causes:
            key = one.cause, one.designators
            before = chances.get(key)
            chances[key] = Cause(
                one.cause,
                one.designators,
                share * one.chance + (before.chance if before else 0.0),
                tuple(dict.fromkeys([*(before.why if before else ()), *one.why])),
                tuple(sorted({*(before.entries if before else ()), *one.entries})),
            )
        unknown += share * strand.unexplained
    ranked = sorted(chances.values(), key=lambda one: -one.chance)
    return (*ranked, Cause("unknown", (), max(0.0, 1 - sum(one.chance for one in ranked)), ("What nothing explains.",)))


def strands(facts: Facts) -> list[Strand]:
    """What deviates, the deepest first."""
    made = {
        "short": _short(facts),
        "fuse": _fuse(facts),
        "seen": _seen(facts),
        "start-up": _start_up(facts),
        "memory": _memory(facts),
        "ladder": _ladder(facts),
        "trial": _trial(facts),
    }
    found = [strand for name in STRANDS if (strand := made[name])]
    if found and all(strand.name in {"ladder", "trial", "seen"} for strand in found):
        return found
    # what was seen counts within the strand that it touches; how far it comes says nothing beside a deeper strand
    return [strand for strand in found if strand.name not in {"ladder", "trial"} or len(found) == 1]


def _nothing_wrong(facts: Facts) -> tuple[Cause, ...]:
    """Nothing deviates: repaired and clean so far, or nothing known yet."""
    clean = [entry.number for entry, run in facts.runs if run.clean]
    shown = facts.rung == "3d" or clean
    passed = [check for check in facts.proof.checks if check.state == "passed"]
    repaired = facts.last_act is not None and (shown or passed)
    if not (repaired or shown):
        return (Cause("unknown", (), 1.0, ("Nothing is wrong so far, so nothing is suspected.",)),)
    chance = 1 - 0.5 * 0.8 ** (len(passed) + len(clean))
    why = (
        f"Nothing was wrong since the last act: {len(passed)} checks passed."
        if repaired
        else "Nothing is wrong so far."
    )
    return (
        Cause("none", (), chance, (why,), tuple(clean)),
        Cause("unknown", (), 1 - chance, ("One clean run proves little.",)),
    )


def _strand(name: str, weighed: Iterable[_Weighed], unexplained: float = UNEXPLAINED) -> Strand | None:
    """Causes made to add to 1 with what is unexplained; one cause of the same part counts once."""
    merged: dict[tuple[str, tuple[str, ...]], _Weighed] = {}
    for one in weighed:
        key = one.cause, one.designators
        if key in merged:
            merged[key].weight += one.weight
            merged[key].why += [why for why in one.why if why not in merged[key].why]
            merged[key].entries += one.entries
        elif one.weight > 0:
            merged[key] = one
    whole = sum(one.weight for one in merged.values())
    if whole <= 0:
        return None
    causes = tuple(
        Cause(
            one.cause,
            one.designators,
            (1 - unexplained) * one.weight / whole,
            tuple(one.why),
            tuple(sorted(set(one.entries))),
        )
        for one in sorted(merged.values(), key=lambda one: -one.weight)
    )
    return Strand(name, causes, unexplained)


# -- a short -----------------------------------------------------------------------------------------------------------


def _short(facts: Facts) -> Strand | None:
    board, shorted = facts.board, facts.shorted
    if board is None:
        return _short_undrawn(facts)
    if facts.behind_lifted:
        found = [_Weighed("short", (stage,), 1.0, [why], [entry]) for stage, why, entry in facts.behind_lifted]
        return _strand("short", found)
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
        found = _Weighed(cause, (one.part.designator,), one.chance, [one.why])
        found.entries += [entries[rail] for rail in one.shorted if rail in entries]
        weighed.append(found)
    least = min((one.weight for one in weighed), default=0.1)
    weighed += [
        _Weighed("chip", (site.designator,), 0.3 * least, [f"{site.designator} hangs on {site.rail}."])
        for site in board.sites
        if site.fitted and site.rail in shorted and site.designator not in facts.card.empty
    ]
    if set(shorted) & facts.touches.core_rails and board.core.designator not in facts.card.empty:
        weighed.append(_Weighed("core", (board.core.designator,), 0.3 * least, ["The core hangs on its rail."]))
    _glow_weight(facts, weighed)
    _pair_weight(facts, weighed)
    _sight_weight(facts, weighed)
    for one in weighed:
        site = one.designators[0]
        if site in facts.card.off:
            one.times(STILL_SHORT_OFF, f"{site} is off and it still reads short.", facts.card.off[site])
        elif swapped := facts.done("swap", "place", site=site):
            one.times(REFUTED_SHARE, f"{site} was replaced and it still reads short.", swapped[-1].number)
    return _strand("short", [*weighed, *_layers(facts, weighed)], UNEXPLAINED + (0.05 if len(weighed) < 2 else 0.0))


def _short_undrawn(facts: Facts) -> Strand | None:
    low = [rail for rail in facts.rails if rail.verdict in {"short", "low"}]
    if not low:
        return None
    why = [rail.standing.judged.why for rail in low]
    found = _Weighed("short", tuple(rail.id for rail in low), 1.0, why, [rail.standing.entry for rail in low])
    return _strand("short", [found], 0.2)


def _glow_weight(facts: Facts, weighed: Sequence[_Weighed]) -> None:
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


def _pair_weight(facts: Facts, weighed: Sequence[_Weighed]) -> None:
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
            one.times(JOINED_TIMES if joined else APART_TIMES, f"Across {pair.reading.point} it reads {said}.", pair.entry)


def _sight_weight(facts: Facts, weighed: Sequence[_Weighed]) -> None:
    """What was seen on a part, and parts that were looked at with nothing wrong seen."""
    for one in weighed:
        for entry, seen in facts.seen:
            if seen.part in one.designators and (factor := SEEN_WEIGHT.get(seen.kind)):
                one.times(factor, f"{seen.part}: {seen.kind.replace('-', ' ')} seen.", entry.number)
        if one.designators[0] in facts.looked:
            one.times(LOOKED_BURNT)


def _layers(facts: Facts, weighed: Sequence[_Weighed]) -> list[_Weighed]:
    """Burnt layers: where a part came off and its rail is still short, and where it glows again at that place."""
    board = facts.board
    assert board is not None
    whole = sum(one.weight for one in weighed) or 1e-6
    found = []
    for site, since in facts.card.off.items():
        if not facts.touches.of_site(site) & set(facts.shorted):
            continue
        one = _Weighed(
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


# -- fuses and what was seen -------------------------------------------------------------------------------------------


def _fuse(facts: Facts) -> Strand | None:
    found = []
    for fuse, state in facts.fuses.items():
        if state.state in {"blown", "sick"}:
            entries = [
                one.entry for one in facts.readings.standing if one.reading.point.split(".")[0].split("/")[0] == fuse
            ]
            found.append(_Weighed("open-fuse", (fuse,), 1.0, [f"{fuse}: {state.why}"], entries))
    return _strand("fuse", found)


def _seen(facts: Facts) -> Strand | None:
    """What was seen and speaks by itself: parts that are missing, contacts, plugs, the core's corners."""
    found = []
    for site, since in facts.card.missing.items():
        found.append(_Weighed("missing", (site,), 10.0, [f"{site} is missing."], [since]))
    alone = {"contact": "contact", "plug": "plug", "corner-bond": "core-joint"}
    for entry, seen in facts.seen:
        cause = alone.get(seen.kind)
        if cause and not facts.done("contact-repaired", "swap", "reball", "renew-joint", site=seen.part):
            core = (facts.board.core.designator,) if facts.board and cause == "core-joint" else ()
            found.append(
                _Weighed(
                    cause,
                    (seen.part,) if seen.part else core,
                    3.0,
                    [f"{seen.kind.replace('-', ' ')} seen."],
                    [entry.number],
                )
            )
        elif seen.part and seen.kind in {"burn", "package", "crooked-part"} and seen.part not in facts.card.empty:
            if not facts.done("swap", "place", site=seen.part):
                found.append(
                    _Weighed(
                        "dead-part",
                        (seen.part,),
                        1.5,
                        [f"{seen.part}: {seen.kind.replace('-', ' ')} seen."],
                        [entry.number],
                    )
                )
    return _strand("seen", found, 0.15)


# -- the start of the rails --------------------------------------------------------------------------------------------


def _start_up(facts: Facts) -> Strand | None:
    found, chain = facts.isolation, facts.chain
    if found is None or chain is None or facts.board is None:
        return None
    missing = [name for name, state in found.measured.items() if state.state == "missing"]
    if not missing:
        return None
    weights = {part.designator: float(part.weight) for part in facts.board.parts}
    entries = _entries_of(facts, missing)
    weighed: list[_Weighed] = []
    for suspect in found.suspects:
        node, why = suspect.node, [suspect.why]
        parts = [part for part in node.parts if part not in facts.card.cut]
        hangs = [site for site in facts.card.missing if node.id in facts.touches.of_site(site)]
        if not parts and not hangs:
            weighed += _without_parts(facts, node.id, node.kind, suspect.chance, why, entries)
            continue
        whole = sum(weights.get(part, 1.0) for part in parts) or 1.0
        for part in parts:
            share = suspect.chance * weights.get(part, 1.0) / whole
            gone, dead = _Weighed("missing", (part,), share * MISSING_SHARE, list(why), list(entries)), None
            dead = _Weighed("dead-part", (part,), share * (1 - MISSING_SHARE), list(why), list(entries))
            if part in facts.looked or facts.done("swap", "place", "remove", site=part):
                gone.times(LOOKED_MISSING)
            if part in facts.without_effect:
                dead.times(REFUTED_SHARE, f"{part} was replaced without effect.")
            for entry, seen in facts.seen:
                if seen.part == part and (factor := SEEN_WEIGHT.get(seen.kind)):
                    dead.times(factor, f"{part}: {seen.kind.replace('-', ' ')} seen.", entry.number)
            if part in facts.card.missing:
                gone.times(400.0, f"{part} was seen to be missing.", facts.card.missing[part])
                dead.weight = 0.0
            weighed += [gone, dead]
        for site in hangs:
            if site not in parts:
                one = _Weighed(
                    "missing", (site,), suspect.chance * 30.0, [f"{site} is missing and {node.name} hangs on it."]
                )
                one.entries += [*entries, facts.card.missing[site]]
                weighed.append(one)
    return _strand("start-up", weighed, 0.1 if chain.borrowed else UNEXPLAINED)


def _without_parts(
    facts: Facts, node: str, kind: str, chance: float, why: list[str], entries: list[int]
) -> list[_Weighed]:
    """What is behind a node that names no part: an input's fuses and plug, the core behind a clock, whoever drives it."""
    board = facts.board
    assert board is not None
    if kind == "input":
        names = facts.touches.point_names(node)
        fuses = [fuse for fuse in facts.touches.fuses if facts.touches.of_site(fuse) & names]
        blame = {fuse: 0.1 if facts.readings.fuse(fuse).state == "good" else 1.0 for fuse in fuses}
        whole = sum(blame.values()) + 0.5
        found = [
            _Weighed("open-fuse", (fuse,), chance * share / whole, list(why), list(entries)) for fuse, share in blame.items()
        ]
        return [*found, _Weighed("plug", (), chance * 0.5 / whole, list(why), list(entries))]
    if kind == "clock":
        return [_Weighed("core-joint", (board.core.designator,), chance, list(why), list(entries))]
    return [_Weighed("dead-part", _drivers(facts, node), chance, list(why), list(entries))]


def _drivers(facts: Facts, node: str) -> tuple[str, ...]:
    """Who makes a rail that names no part: stages and converters on it; none where the model has none."""
    board = facts.board
    assert board is not None
    names = facts.touches.point_names(node)
    return tuple(part.designator for part in board.parts if part.kind in JOINING and names & set(part.rails))


def _entries_of(facts: Facts, nodes: Iterable[str]) -> list[int]:
    wanted = set(nodes)
    return [one.entry for one in facts.readings.standing if wanted & facts.touches.of_reading(one.reading.point)
            and one.reading.quantity in {"voltage", "frequency", "current"}]  # fmt: skip


# -- memory ------------------------------------------------------------------------------------------------------------


def _memory(facts: Facts) -> Strand | None:
    """The causes behind the finding of the runs that count, after what was tried about the same chips."""
    located, board = facts.located, facts.board
    if board is None:
        failed = [entry.number for entry, run in facts.runs if run.failed]
        return (
            _strand(
                "memory",
                [
                    _Weighed("chip-joint", (), 0.5, ["Errors; the board is not drawn."], failed),
                    _Weighed("chip", (), 0.5, [], failed),
                ],
                0.2,
            )
            if failed
            else None
        )
    if located is None or not any(run.failed for _, run in facts.runs):
        return None
    entries = [entry.number for entry, run in facts.runs if run.failed]
    weighed = []
    for number, found in enumerate((located.finding, *located.others)):
        group = group_of(found.kind)
        if group is None:
            continue
        chance = found.chance if number == 0 or found.chance < 1 - located.finding.chance else 0.2
        if found.kind == "unclear":
            chance = max(chance, 0.3)
        for name, share in USUAL.shares[group.name].items():
            cause = MEMORY_CAUSE[name]
            for designators in _who(cause, found.designators, board.core.designator):
                many = max(1, len(found.designators)) if cause in {"chip", "chip-joint", "board-line"} else 1
                one = _Weighed(cause, designators, chance * share / many, list(found.why[:2]), list(entries))
                _tried(facts, one)
                _lots(facts, one)
                weighed.append(one)
    return _strand("memory", weighed, 0.05)


def _who(cause: str, designators: Sequence[str], core: str) -> list[tuple[str, ...]]:
    if cause in {"core-joint", "core"}:
        return [(core,)]
    if cause in {"chip", "chip-joint", "board-line"}:
        return [(site,) for site in designators] or [()]
    return [()]


def _tried(facts: Facts, one: _Weighed) -> None:
    """What was done about a chip or the core, and that it fails as before."""
    for site in one.designators:
        last = facts.runs[-1][0].number if facts.runs else -1
        reballed = [entry for entry in facts.done("reball", site=site) if entry.number < last]
        swapped = [entry for entry in facts.done("swap", site=site) if entry.number < last]
        if one.cause in {"chip-joint", "core-joint"} and (reballed or swapped):
            one.times(0.1, f"{site} was reballed and it fails yet.", [*reballed, *swapped][-1].number)
        if one.cause in {"chip", "core"} and swapped:
            one.times(REFUTED_SHARE, f"{site} was replaced and it fails yet.", swapped[-1].number)
        if one.cause == "board-line" and (reballed or swapped):
            one.times(1.5)
        pads = facts.pads.get(site)
        if pads and one.cause == "board-line":
            one.times({"good": 0.2, "fixable": 4.0, "donor": 8.0}[pads[1]], f"The pads of {site}: {pads[1]}.", pads[0])
        for entry, seen in facts.seen:
            if (
                seen.part == site
                and seen.kind in {"joint", "corner-bond"}
                and one.cause in {"chip-joint", "core-joint"}
            ):
                one.times(3.0, f"{site}: {seen.kind.replace('-', ' ')} seen.", entry.number)


def _lots(facts: Facts, one: _Weighed) -> None:
    """A chip of a lot that fails here."""
    for site in one.designators:
        if one.cause == "chip" and site in facts.lots:
            number, lot = facts.lots[site]
            known = facts.shop.lot(lot)
            if known and known.of:
                one.times(
                    max(0.5, min(8.0, known.share / 0.05)),
                    f"Lot {lot}: {known.failed} of {known.of} failed here.",
                    number,
                )


# -- how far it comes, and trials --------------------------------------------------------------------------------------


def _ladder(facts: Facts) -> Strand | None:
    rung = facts.rung
    if rung not in BY_RUNG or (facts.card.cooler_off is not None and rung != "absent"):
        return None
    if any(run.clean for _, run in facts.runs) and rung in {"absent", "listed"}:
        return None
    core = facts.board.core.designator if facts.board else ""
    weighed = []
    for cause, share in BY_RUNG[rung].items():
        who = (core,) if core and cause in {"core-joint", "core"} else ()
        one = _Weighed(cause, who, share, [f"The rails are there as far as they were read, and it is {rung}."])
        _by_trial(facts, one)
        if cause == "core-joint" and core and facts.done("reball", site=core):
            one.times(0.1, "The core was reballed.")
        if cause in {"core", "core-joint"} and core and facts.done("swap", site=core):
            one.times(REFUTED_SHARE, "The core was replaced.")
        if cause == "firmware" and facts.done("write"):
            one.times(0.1, "The firmware was written.")
        for entry, seen in facts.seen:
            if {"contact": "contact", "plug": "plug", "corner-bond": "core-joint"}.get(seen.kind) == cause:
                repaired = facts.done("contact-repaired", "swap", site=seen.part)
                one.times(0.3 if repaired else 12.0, f"{seen.kind.replace('-', ' ')} seen.", entry.number)
                if seen.part and not repaired:
                    one.designators = (seen.part,)
        weighed.append(one)
    return _strand("ladder", weighed, 0.12)


def _by_trial(facts: Facts, one: _Weighed) -> None:
    for entry, trial in facts.trials:
        blamed = TRIAL_BLAMES[trial.changed]
        # a known-good card in the same computer: showing then, the computer is to blame
        shows = not trial.shows if trial.changed == "card" else trial.shows
        if one.cause == blamed:
            less = RARELY if trial.how_often == "rarely" else SHOWS_YET
            one.times(
                less if shows else GONE_WITHOUT,
                f"With another {trial.changed} it {'shows' if trial.shows else 'is gone'}.",
                entry.number,
            )


def _trial(facts: Facts) -> Strand | None:
    """A fault that is gone with something else changed lies there."""
    found = []
    for entry, trial in facts.trials:
        outside = trial.shows if trial.changed == "card" else not trial.shows
        if outside and not facts.acts_since(entry.number):
            weight = RARELY if trial.how_often == "rarely" else 1.0
            found.append(
                _Weighed(
                    TRIAL_BLAMES[trial.changed],
                    (),
                    weight,
                    [f"With another {trial.changed} it {'shows' if trial.shows else 'is gone'}."],
                    [entry.number],
                )
            )
    return _strand("trial", found, 0.1)
