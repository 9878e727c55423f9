"""A memory chip or the core that is off: its pads are looked at first, then it or another one goes back on."""

from __future__ import annotations

from dataclasses import replace

from uvrix.core.case.belief.memory import MEMORY_CAUSE
from uvrix.core.case.plan.memory import Memory
from uvrix.core.case.plan.proposer import Proposer
from uvrix.core.case.plan.steps import Step, step
from uvrix.core.finding_kinds import group_of
from uvrix.core.planning.habits import USUAL
from uvrix.language import gettext

# Pads are looked at while the place lies open, before anything else is measured; what goes back on waits for that.
OPEN, BACK = 16, 33
CHIP_CAUSES = ("chip-joint", "chip", "board-line")


class ChipsOff(Proposer):
    """A memory chip or the core that is off; where a short left with it mend.py says what goes back."""

    def steps(self) -> list[Step]:
        """The steps that it proposes; order.py ranks them."""
        if self.facts.shorted:
            return []
        found: list[Step] = []
        for site, since in self.card.off.items():
            if site in self.packages:
                found += self.about(site, since)
        return found

    def about(self, site: str, since: int) -> list[Step]:
        """The survey of its pads, which nobody can make once something sits on them; then what goes back on."""
        verdict = self.pads_of(site, since)
        if verdict == "donor":
            why = gettext("The pads of {site} are beyond repair: offer the card as a donor, or return it.", site=site)
            return [step("return", "donor", 0.5, why, OPEN)]
        steps = [] if self.short_left_with(site, since) else self.back_on(site, since)
        if not verdict:
            why = gettext("{site} is off: look at every pad before anything goes back on.", site=site)
            return [step("pads", site, 0.3, why, OPEN), *steps]
        if verdict == "fixable":
            first = gettext("The pads of {site} are repaired first.", site=site)
            steps = [replace(candidate, why=f"{candidate.why} {first}") for candidate in steps]
        return steps

    def back_on(self, site: str, since: int) -> list[Step]:
        """The chip itself once it has new balls; before that, new balls or another chip by what the runs showed."""
        if self.facts.done_since(since, "reball", site=site):
            why = gettext("{site} has new balls: put it back.", site=site)
            return [self.lift("place", site, 0.6, why, BACK)]
        steps = self.by_the_runs(site, since) if site != self.core else []
        if not steps:
            why = gettext("{site} was taken off: it needs new balls before it goes back on.", site=site)
            steps = [self.lift("reball", site, 0.5, why, BACK)]
        return [replace(candidate, tier=BACK + late) for late, candidate in enumerate(steps)]

    def by_the_runs(self, site: str, since: int) -> list[Step]:
        """Reball or swap by what is believed of it, or was shown of it before it came off; none where nothing was."""
        joint, chip, line = (self.chances(cause).get((site,), 0.0) for cause in CHIP_CAUSES)
        if not joint + chip + line:
            joint, chip, line = self.shown_before(site, since)
        return Memory(self.facts, self.causes).repairs(site, joint, chip, line)

    def shown_before(self, site: str, since: int) -> tuple[float, ...]:
        """The chances of its joint, itself and its lines by the runs before it came off; 0 where they named others."""
        before = [run for entry, run in self.facts.runs_before if entry.number < since]
        located = self.facts.finding_of(before)
        findings = (located.finding, *located.others) if located else ()
        found = next((finding for finding in findings if site in finding.designators), None)
        group = group_of(found.kind) if found else None
        chances = dict.fromkeys(MEMORY_CAUSE.values(), 0.0)
        if found and group:
            for name, share in self.facts.shop.shares.get(group.name, USUAL.shares[group.name]).items():
                chances[MEMORY_CAUSE[name]] += found.chance * share
        return tuple(chances[cause] for cause in CHIP_CAUSES)
