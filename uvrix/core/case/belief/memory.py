"""The strand of memory: the causes behind the finding of the runs that count, after what was tried."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from uvrix.core.case.belief.weighing import Cause, Strand, Weighed, strand_of
from uvrix.core.case.facts import Facts
from uvrix.core.finding_kinds import group_of
from uvrix.core.planning.habits import USUAL
from uvrix.core.planning.plan import ELSEWHERE
from uvrix.core.startup.limits import REFUTED_SHARE
from uvrix.core.values.codes import code_words
from uvrix.language import gettext

# What is left of the supply's blame once its rails read right under power: a meter sees no dip.
SUPPLY_READ = 0.1
MEMORY_CAUSE: Mapping[str, str] = {
    "chip-joint": "chip-joint",
    "chip": "chip",
    "board": "board-line",
    "core-joint": "core-joint",
    "supply": "supply",
    "other": "host",
}


def memory(facts: Facts) -> Strand | None:
    """The causes behind the finding of the runs that count, after what was tried about the same chips."""
    located, board = facts.located, facts.board
    if board is None:
        failed = [entry.number for entry, run in facts.runs if run.failed]
        return (
            strand_of(
                "memory",
                [
                    Weighed("chip-joint", (), 0.5, [gettext("Errors; the board is not drawn.")], failed),
                    Weighed("chip", (), 0.5, [], failed),
                ],
                0.2,
            )
            if failed
            else None
        )
    if located is None or not any(run.failed for _, run in facts.runs):
        return None
    entries = [entry.number for entry, run in facts.runs if run.failed]
    erring = {site.place.site.designator for site in located.counts.sites if site.errors}
    weighed = []
    for number, found in enumerate((located.finding, *located.others)):
        group = group_of(found.kind)
        if group is None:
            continue
        chance = found.chance if number == 0 or found.chance < 1 - located.finding.chance else 0.2
        if found.kind == "unclear":
            chance = max(chance, 0.3)
        for name, share in facts.shop.shares.get(group.name, USUAL.shares[group.name]).items():
            cause = MEMORY_CAUSE[name]
            # of chips that share a supply or a controller those without an error are not the ones
            chips = [name for name in found.designators if name in erring] or found.designators
            for designators in _who(cause, chips, board.core.designator):
                many = max(1, len(chips)) if cause in {"chip", "chip-joint", "board-line"} else 1
                candidate = Weighed(cause, designators, chance * share / many, list(found.why[:2]), list(entries))
                _supplied(facts, candidate)
                _tried(facts, candidate)
                _lots(facts, candidate)
                weighed.append(candidate)
    return strand_of("memory", weighed, 0.05)


def behind_the_finding(causes: Sequence[Cause], designators: Sequence[str]) -> dict[str, float]:
    """The chances of what may be behind a finding on some chips, by the causes of a plan (finding_kinds.CAUSES).

    What lies behind something else is `elsewhere`: the view of the one belief that a plan about a finding takes.
    """
    found = dict.fromkeys((*MEMORY_CAUSE, ELSEWHERE), 0.0)
    of_plan = {cause: name for name, cause in MEMORY_CAUSE.items()} | {"core": "core-joint"}
    for candidate in causes:
        name = of_plan.get(candidate.cause, ELSEWHERE)
        own = name not in {"chip-joint", "chip", "board"} or set(candidate.designators) <= set(designators)
        found[name if own else ELSEWHERE] += candidate.chance
    return found


def _who(cause: str, designators: Sequence[str], core: str) -> list[tuple[str, ...]]:
    if cause in {"core-joint", "core"}:
        return [(core,)]
    if cause in {"chip", "chip-joint", "board-line"}:
        return [(site,) for site in designators] or [()]
    return [()]


def _tried(facts: Facts, weighed: Weighed) -> None:
    """What was done about a chip or the core, and that it fails as before."""
    for site in weighed.designators:
        last = facts.runs[-1][0].number if facts.runs else -1
        reballed = [entry for entry in facts.done("reball", site=site) if entry.number < last]
        swapped = [entry for entry in facts.done("swap", site=site) if entry.number < last]
        if weighed.cause in {"chip-joint", "core-joint"} and (reballed or swapped):
            weighed.times(
                0.1, gettext("{site} was reballed and still fails.", site=site), [*reballed, *swapped][-1].number
            )
        if weighed.cause in {"chip", "core"} and swapped:
            weighed.times(REFUTED_SHARE, gettext("{site} was replaced and still fails.", site=site), swapped[-1].number)
        if weighed.cause == "board-line" and (reballed or swapped):
            weighed.times(1.5)
        pads = facts.pads.get(site)
        if pads and weighed.cause == "board-line":
            weighed.times(
                {"good": 0.2, "fixable": 4.0, "donor": 8.0}[pads[1]],
                gettext("The pads of {site}: {pads}.", site=site, pads=code_words(pads[1])),
                pads[0],
            )
        for entry, seen in facts.seen:
            if (
                seen.part == site
                and seen.kind in {"joint", "corner-bond"}
                and weighed.cause in {"chip-joint", "core-joint"}
            ):
                weighed.times(
                    3.0,
                    gettext("{site}: {kind} seen.", site=site, kind=seen.kind.replace("-", " ")),
                    entry.number,
                )


def _supplied(facts: Facts, weighed: Weighed) -> None:
    """The supply of memory, where its rails were read under power and are right."""
    if weighed.cause != "supply" or facts.isolation is None:
        return
    states = [
        facts.isolation.measured[rail].state for rail in facts.touches.memory_rails if rail in facts.isolation.measured
    ]
    if states and all(state == "present" for state in states):
        weighed.times(SUPPLY_READ, gettext("Its supply reads right."))


def _lots(facts: Facts, weighed: Weighed) -> None:
    """A chip of a lot that fails here."""
    for site in weighed.designators:
        if weighed.cause == "chip" and site in facts.lots:
            number, lot = facts.lots[site]
            known = facts.shop.lot(lot)
            if known and known.of:
                weighed.times(
                    max(0.5, min(8.0, known.share / 0.05)),
                    gettext("Lot {lot}: {failed} of {of} failed here.", lot=lot, failed=known.failed, of=known.of),
                    number,
                )
