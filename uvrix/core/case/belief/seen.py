"""The strands of fuses and of what was seen and speaks by itself."""

from __future__ import annotations

from uvrix.core.case.belief.weighing import Strand, Weighed, strand_of
from uvrix.core.case.facts import Facts


def fuse(facts: Facts) -> Strand | None:
    found = []
    for fuse, state in facts.fuses.items():
        if state.state in {"blown", "sick"}:
            entries = [
                one.entry for one in facts.readings.standing if one.reading.point.split(".")[0].split("/")[0] == fuse
            ]
            found.append(Weighed("open-fuse", (fuse,), 1.0, [f"{fuse}: {state.why}"], entries))
    return strand_of("fuse", found)


def seen(facts: Facts) -> Strand | None:
    """What was seen and speaks by itself: parts that are missing, contacts, plugs, the core's corners."""
    found = []
    for site, since in facts.card.missing.items():
        found.append(Weighed("missing", (site,), 10.0, [f"{site} is missing."], [since]))
    alone = {"contact": "contact", "plug": "plug", "corner-bond": "core-joint"}
    for entry, seen in facts.seen:
        cause = alone.get(seen.kind)
        if cause and not facts.done("contact-repaired", "swap", "reball", "renew-joint", site=seen.part):
            core = (facts.board.core.designator,) if facts.board and cause == "core-joint" else ()
            found.append(
                Weighed(
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
                    Weighed(
                        "dead-part",
                        (seen.part,),
                        1.5,
                        [f"{seen.part}: {seen.kind.replace('-', ' ')} seen."],
                        [entry.number],
                    )
                )
    return strand_of("seen", found, 0.15)
