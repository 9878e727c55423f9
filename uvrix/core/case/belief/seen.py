"""The strands of fuses and of what was seen and speaks by itself."""

from __future__ import annotations

import re

from uvrix.core.case.belief.weighing import Strand, Weighed, strand_of
from uvrix.core.case.facts import Facts
from uvrix.language import gettext

ALONE = {"contact": "contact", "plug": "plug", "corner-bond": "core-joint"}
BROKEN = frozenset({"burn", "package", "crooked-part"})
# What was seen to be missing, torn or burnt, each against the others.
MISSING, TORN, BURNT = 10.0, 3.0, 1.5


def fuse(facts: Facts) -> Strand | None:
    """Fuses that read blown or sick; None where none does."""
    found = []
    for name, state in facts.fuses.items():
        if state.state in {"blown", "sick"}:
            read = [
                reading.entry for reading in facts.readings.standing if name in re.split(r"[./]", reading.reading.point)
            ]
            found.append(Weighed("open-fuse", (name,), 1.0, [f"{name}: {state.why}"], read))
    return strand_of("fuse", found)


def seen(facts: Facts) -> Strand | None:
    """What was seen and speaks by itself: parts that are missing, contacts, plugs, the core's corners, burnt parts."""
    found = [
        Weighed("missing", (site,), MISSING, [gettext("{site} is missing.", site=site)], [since])
        for site, since in facts.card.missing.items()
    ]
    for entry, sight in facts.seen:
        cause, said = ALONE.get(sight.kind), gettext("{kind} seen.", kind=sight.kind.replace("-", " "))
        mended = facts.done("contact-repaired", "swap", "place", "reball", "renew-joint", site=sight.part)
        if cause and not mended:
            core = (facts.board.core.designator,) if facts.board and cause == "core-joint" else ()
            found.append(Weighed(cause, (sight.part,) if sight.part else core, TORN, [said], [entry.number]))
        elif sight.part and sight.kind in BROKEN and not mended and sight.part not in facts.card.empty:
            found.append(Weighed("dead-part", (sight.part,), BURNT, [f"{sight.part}: {said}"], [entry.number]))
    return strand_of("seen", found, 0.15)
