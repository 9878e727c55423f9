"""The belief: the strands weighed against each other."""

from __future__ import annotations

from uvrix.core.case.belief.ladder import ladder, trial
from uvrix.core.case.belief.memory import memory
from uvrix.core.case.belief.past import weighed_by_past
from uvrix.core.case.belief.seen import fuse, seen
from uvrix.core.case.belief.shorts import short
from uvrix.core.case.belief.start_up import start_up
from uvrix.core.case.belief.weighing import Cause, Strand
from uvrix.core.case.facts import Facts
from uvrix.language import gettext

# How a strand stands to the others: what explains more goes first.
STRANDS = ("short", "fuse", "seen", "start-up", "memory", "ladder", "trial")
SHARE_OF_FIRST = 0.93


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
        for cause in strand.causes:
            key = cause.cause, cause.designators
            before = chances.get(key)
            chances[key] = Cause(
                cause.cause,
                cause.designators,
                share * cause.chance + (before.chance if before else 0.0),
                tuple(dict.fromkeys([*(before.why if before else ()), *cause.why])),
                tuple(sorted({*(before.entries if before else ()), *cause.entries})),
            )
        unknown += share * strand.unexplained
    ranked = sorted(chances.values(), key=lambda chance: -chance.chance)
    return (
        *ranked,
        Cause(
            "unknown",
            (),
            max(0.0, 1 - sum(candidate.chance for candidate in ranked)),
            (gettext("What nothing explains."),),
        ),
    )


def strands(facts: Facts) -> list[Strand]:
    """What deviates, the deepest first."""
    made = {
        "short": short(facts),
        "fuse": fuse(facts),
        "seen": seen(facts),
        "start-up": start_up(facts),
        "memory": memory(facts),
        "ladder": ladder(facts),
        "trial": trial(facts),
    }
    found = [weighed_by_past(facts, strand) for name in STRANDS if (strand := made[name])]
    if found and all(strand.name in {"ladder", "trial", "seen"} for strand in found):
        return found
    # what was seen counts within the strand that it touches; how far it comes says nothing beside a deeper strand
    return [strand for strand in found if strand.name not in {"ladder", "trial"} or len(found) == 1]


def _nothing_wrong(facts: Facts) -> tuple[Cause, ...]:
    """Nothing deviates: repaired and clean so far, or nothing known yet."""
    clean = [entry.number for entry, run in facts.runs if run.clean]
    shown = facts.rung == "3d" or clean
    passed = [check for check in facts.proof.checks if check.state == "passed"]
    # with a part in the hand good readings are no repair: only what ran as it stands is
    whole = not (facts.card.off or facts.card.missing or facts.card.lifted)
    repaired = facts.last_act is not None and (shown or (passed and whole))
    if not (repaired or shown):
        return (Cause("unknown", (), 1.0, (gettext("Nothing is wrong so far, so nothing is suspected."),)),)
    chance = 1 - 0.5 * 0.8 ** (len(passed) + len(clean))
    why = (
        gettext("Nothing was wrong since the last act: {number} checks passed.", number=len(passed))
        if repaired
        else gettext("Nothing is wrong so far.")
    )
    return (
        Cause("none", (), chance, (why,), tuple(clean)),
        Cause("unknown", (), 1 - chance, (gettext("One clean run proves little."),)),
    )
