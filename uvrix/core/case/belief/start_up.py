"""The strand of rails that do not come up: the nodes of the start-up map, and the parts behind them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from uvrix.core.case.belief.weighing import LOOKED_MISSING, SEEN_WEIGHT, UNEXPLAINED, Cause, Strand, Weighed, strand_of
from uvrix.core.case.facts import Facts
from uvrix.core.readings.hunt import JOINING
from uvrix.core.readings.shorts import short_suspects
from uvrix.core.startup.chain import Chain, contradicted
from uvrix.core.startup.isolate import Suspect
from uvrix.core.startup.limits import REFUTED_SHARE
from uvrix.language import gettext

# Of dead nodes' parts, how many are missing rather than dead, before anybody looked.
MISSING_SHARE = 0.15
# Its side was looked over: a missing part is what the eye passes over, and yet it may have been seen.
GLANCED_MISSING = 0.3
# How much more likely a part is what is missing once it was seen to be; and where a node merely hangs on it.
SEEN_MISSING, HANGS_TIMES = 400.0, 30.0
# A plug or the supply behind an input that is not there, beside each of its fuses.
PLUG_SHARE = 0.5
# What a lent order leaves open, and one that a reading has refuted.
LENT_ORDER, REFUTED_ORDER = 0.1, 0.5
# Two leads cannot tell a short on a healthy rail under this, in ohms; how often one hides there, to a dead converter.
HIDES_A_SHORT_OHMS, HIDDEN_SHORT = 2.0, 0.6
# How often a clock with its crystal there is not driven by the core.
NOT_DRIVEN = 0.3


def start_up(facts: Facts) -> Strand | None:
    """Nodes that do not come up, and what is behind each; None where none is missing."""
    found, chain = facts.isolation, facts.chain
    if found is None or chain is None:
        return None
    missing = [name for name, state in found.measured.items() if state.state == "missing"]
    if not missing:
        return None
    entries = _entries_of(facts, missing)
    weighed = [candidate for suspect in found.suspects for candidate in _behind(facts, suspect, entries)]
    for suspect in found.suspects:
        if suspect.node.id in hides_a_short(facts, missing):
            why = gettext(
                "{name} does not come up, and two leads cannot tell a short from so low a rail.", name=suspect.node.name
            )
            weighed += _hidden_short(facts, suspect, why, entries)
        elif suspect.node.id in never_read_cold(facts, missing):
            why = gettext("{name} does not come up, and nobody read it cold.", name=suspect.node.name)
            weighed += _hidden_short(facts, suspect, why, entries)
    return strand_of("start-up", weighed, _unexplained(facts, chain))


def hides_a_short(facts: Facts, missing: Sequence[str]) -> tuple[str, ...]:
    """Rails that do not come up, so low when healthy that two leads cannot tell a short, and that were not fed yet.

    Only those whose needs are all there: where one is missing, that is why (docs/trade §3.5).
    """
    found = []
    fed = frozenset[str]().union(*(names for _, _, names, _ in facts.glows))
    for rail in facts.rails:
        reference = rail.standing.judged.reference
        usual = rail.standing.reading.value.high if reference is None else reference.centre
        low = usual is not None and usual < HIDES_A_SHORT_OHMS
        if low and rail.id in missing and rail.id not in fed and _needs_met(facts, rail.id):
            found.append(rail.id)
    return tuple(found)


def never_read_cold(facts: Facts, missing: Sequence[str]) -> tuple[str, ...]:
    """Rails that do not come up though what they need may be there, and that nobody read to ground."""
    return tuple(
        name
        for name in missing
        if name in facts.touches.rails and not facts.readings.read_to_ground(name) and _needs_met(facts, name)
    )


def _needs_met(facts: Facts, node: str) -> bool:
    """Whether nothing that a node needs was read as missing."""
    found, nodes = facts.isolation, facts.touches.nodes
    needs = nodes[node].needs if node in nodes else ()
    return found is not None and all(
        found.measured[need].state != "missing" for need in needs if need in found.measured
    )


def _hidden_short(facts: Facts, suspect: Suspect, why: str, entries: list[int]) -> list[Weighed]:
    """A rail that may be short: its parts, beside what makes it."""
    if facts.board is None:
        return []
    parts = short_suspects(facts.board, {suspect.node.id: "short"})
    return [
        Weighed(
            "short",
            (short_suspect.part.designator,),
            suspect.chance * HIDDEN_SHORT * short_suspect.chance,
            [why],
            list(entries),
        )
        for short_suspect in parts
        if short_suspect.part.designator not in facts.card.empty
    ]


def _unexplained(facts: Facts, chain: Chain) -> float:
    """How much of what is missing the map leaves open: more where its order is lent, most where that cannot be."""
    if not (chain.borrowed or chain.lender):
        return UNEXPLAINED
    found = facts.isolation
    return REFUTED_ORDER if found is not None and contradicted(chain, found.measured) else LENT_ORDER


def as_believed(facts: Facts, suspects: Sequence[Suspect], causes: Sequence[Cause]) -> tuple[Suspect, ...]:
    """The nodes that may be dead with the chances of the one belief, likeliest first, adding to what they added to.

    A cause that may lie behind several nodes is shared among them as the map alone has it; a part is behind the nodes
    that name it, and only where none does behind those that it hangs on. Where the belief blames nothing behind any
    node they stay as they are.
    """
    blamed = {(cause.cause, cause.designators): cause.chance for cause in causes}
    naming = {part for suspect in suspects for part in suspect.node.parts}
    behind: dict[tuple[str, tuple[str, ...]], dict[str, float]] = {}
    for suspect in suspects:
        for weighed_cause in _behind(facts, suspect, []):
            if set(weighed_cause.designators) & naming - set(suspect.node.parts):
                continue
            shares = behind.setdefault((weighed_cause.cause, weighed_cause.designators), {})
            shares[suspect.node.id] = shares.get(suspect.node.id, 0.0) + weighed_cause.weight
    believed = dict.fromkeys((candidate.node.id for candidate in suspects), 0.0)
    for key, shares in behind.items():
        whole = sum(shares.values())
        for node, share in shares.items():
            believed[node] += blamed.get(key, 0.0) * share / whole if whole else 0.0
    told = sum(believed.values())
    if told <= 0:
        return tuple(suspects)
    scale = sum(candidate.chance for candidate in suspects) / told
    weighed = [replace(candidate, chance=believed[candidate.node.id] * scale) for candidate in suspects]
    return tuple(sorted(weighed, key=lambda candidate: -candidate.chance))


def _behind(facts: Facts, suspect: Suspect, entries: list[int]) -> list[Weighed]:
    """What is behind a node: its own parts, and parts that hang on it and are known to be missing."""
    weights = {part.designator: float(part.weight) for part in facts.board.parts} if facts.board else {}
    node = suspect.node
    parts = [part for part in node.parts if part not in facts.card.cut]
    hangs = [site for site in facts.card.missing if node.id in facts.touches.of_site(site)]
    if not parts and not hangs:
        return _without_parts(facts, suspect, entries)
    whole = sum(weights.get(part, 1.0) for part in parts) or 1.0
    found = _not_driven(facts, suspect, entries) if node.kind == "clock" and parts else []
    own = suspect.chance * (1 - NOT_DRIVEN) if found else suspect.chance
    for part in parts:
        share = own * weights.get(part, 1.0) / whole
        found += [_gone(facts, part, share, suspect.why, entries), _dead(facts, part, share, suspect.why, entries)]
    for site in hangs:
        if site not in parts:
            why = [gettext("{site} is missing and {name} hangs on it.", site=site, name=node.name)]
            rested = [*entries, facts.card.missing[site]]
            found.append(Weighed("missing", (site,), suspect.chance * HANGS_TIMES, why, rested))
    return found


def _not_driven(facts: Facts, suspect: Suspect, entries: list[int]) -> list[Weighed]:
    """A clock that its crystal may not be to blame for: the core drives it, through joints that may be torn."""
    why = gettext("{name} is silent or noise: the core drives it.", name=suspect.node.name)
    return [Weighed("core-joint", _core(facts), suspect.chance * NOT_DRIVEN, [why], list(entries))]


def _gone(facts: Facts, part: str, share: float, why: str, entries: list[int]) -> Weighed:
    """How likely it is that a part of a dead node is missing."""
    candidate = Weighed("missing", (part,), share * MISSING_SHARE, [why], list(entries))
    if part in facts.looked or facts.done("swap", "place", "remove", site=part):
        candidate.times(LOOKED_MISSING)
    elif part in facts.things and facts.things[part].side in facts.looked:
        candidate.times(GLANCED_MISSING)
    if part in facts.card.missing:
        candidate.times(SEEN_MISSING, gettext("{part} was seen to be missing.", part=part), facts.card.missing[part])
    return candidate


def _dead(facts: Facts, part: str, share: float, why: str, entries: list[int]) -> Weighed:
    """How likely it is that a part of a dead node is there, and dead."""
    candidate = Weighed("dead-part", (part,), share * (1 - MISSING_SHARE), [why], list(entries))
    if part in facts.without_effect:
        candidate.times(REFUTED_SHARE, gettext("{part} was replaced without effect.", part=part))
    for entry, seen in facts.seen:
        if seen.part == part and (factor := SEEN_WEIGHT.get(seen.kind)):
            candidate.times(
                factor, gettext("{part}: {kind} seen.", part=part, kind=seen.kind.replace("-", " ")), entry.number
            )
    if part in facts.card.missing:
        candidate.weight = 0.0
    return candidate


def _without_parts(facts: Facts, suspect: Suspect, entries: list[int]) -> list[Weighed]:
    """Behind a node that names no part: an input's fuses and plug, the core behind a clock, whoever drives it."""
    node, chance, why = suspect.node, suspect.chance, [suspect.why]
    if node.kind == "input":
        names = facts.touches.point_names(node.id)
        fuses = [fuse for fuse in facts.touches.fuses if facts.touches.of_site(fuse) & names]
        if facts.board is None:
            fuses = list(facts.fuses)
        blame = {fuse: 0.1 if facts.readings.fuse(fuse).state == "good" else 1.0 for fuse in fuses}
        whole = sum(blame.values()) + PLUG_SHARE
        found = [
            Weighed("open-fuse", (fuse,), chance * share / whole, list(why), list(entries))
            for fuse, share in blame.items()
        ]
        return [*found, Weighed("plug", (), chance * PLUG_SHARE / whole, list(why), list(entries))]
    if node.kind == "clock":
        return [Weighed("core-joint", _core(facts), chance, list(why), list(entries))]
    return [Weighed("dead-part", _drivers(facts, node.id), chance, list(why), list(entries))]


def _drivers(facts: Facts, node: str) -> tuple[str, ...]:
    """Who makes a rail that names no part: stages and converters on it; none where the model has none."""
    board = facts.board
    if board is None:
        return ()
    names = facts.touches.point_names(node)
    return tuple(part.designator for part in board.parts if part.kind in JOINING and names & set(part.rails))


def _core(facts: Facts) -> tuple[str, ...]:
    """The core by its designator; nameless where nobody has drawn the board."""
    return (facts.board.core.designator,) if facts.board else ()


def _entries_of(facts: Facts, nodes: Iterable[str]) -> list[int]:
    wanted = set(nodes)
    powered = [
        standing
        for standing in facts.readings.standing
        if standing.reading.quantity in {"voltage", "frequency", "current"}
    ]
    return [standing.entry for standing in powered if wanted & facts.touches.of_reading(standing.reading.point)]
