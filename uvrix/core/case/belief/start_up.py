"""The strand of rails that do not come up: the nodes of the start-up map, and the parts behind them."""

from __future__ import annotations

from collections.abc import Iterable

from uvrix.core.case.belief.weighing import LOOKED_MISSING, SEEN_WEIGHT, UNEXPLAINED, Strand, Weighed, strand_of
from uvrix.core.case.facts import Facts
from uvrix.core.readings.hunt import JOINING
from uvrix.core.startup.limits import REFUTED_SHARE

# Of dead nodes' parts, how many are missing rather than dead, before anybody looked.
MISSING_SHARE = 0.15


def start_up(facts: Facts) -> Strand | None:
    found, chain = facts.isolation, facts.chain
    if found is None or chain is None or facts.board is None:
        return None
    missing = [name for name, state in found.measured.items() if state.state == "missing"]
    if not missing:
        return None
    weights = {part.designator: float(part.weight) for part in facts.board.parts}
    entries = _entries_of(facts, missing)
    weighed: list[Weighed] = []
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
            gone, dead = Weighed("missing", (part,), share * MISSING_SHARE, list(why), list(entries)), None
            dead = Weighed("dead-part", (part,), share * (1 - MISSING_SHARE), list(why), list(entries))
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
                one = Weighed(
                    "missing", (site,), suspect.chance * 30.0, [f"{site} is missing and {node.name} hangs on it."]
                )
                one.entries += [*entries, facts.card.missing[site]]
                weighed.append(one)
    return strand_of("start-up", weighed, 0.1 if chain.borrowed else UNEXPLAINED)


def _without_parts(
    facts: Facts, node: str, kind: str, chance: float, why: list[str], entries: list[int]
) -> list[Weighed]:
    """What is behind a node that names no part: an input's fuses and plug, the core behind a clock, whoever drives it."""
    board = facts.board
    assert board is not None
    if kind == "input":
        names = facts.touches.point_names(node)
        fuses = [fuse for fuse in facts.touches.fuses if facts.touches.of_site(fuse) & names]
        blame = {fuse: 0.1 if facts.readings.fuse(fuse).state == "good" else 1.0 for fuse in fuses}
        whole = sum(blame.values()) + 0.5
        found = [
            Weighed("open-fuse", (fuse,), chance * share / whole, list(why), list(entries))
            for fuse, share in blame.items()
        ]
        return [*found, Weighed("plug", (), chance * 0.5 / whole, list(why), list(entries))]
    if kind == "clock":
        return [Weighed("core-joint", (board.core.designator,), chance, list(why), list(entries))]
    return [Weighed("dead-part", _drivers(facts, node), chance, list(why), list(entries))]


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
