"""Feeding a rail to see what warms: how much at most, and stages proven apart to allow more."""

from __future__ import annotations

from collections.abc import Sequence

from uvrix.core.case.belief.shorts import joined
from uvrix.core.case.feeding import feeding, pair_of, reads
from uvrix.core.case.plan.proposer import Proposer
from uvrix.core.case.plan.steps import Step, step
from uvrix.language import gettext


class Feeding(Proposer):
    """What the hunt and the start-up map share: injection and the warm spot."""

    def feed(self, rail: str) -> list[Step]:
        """Inject into a rail, then look where it warms."""
        assert self.board is not None
        last = self.facts.injected[-1] if self.facts.injected else None
        names = self.facts.touches.of_reading(last[1].point) if last else frozenset()
        if last and rail in names and not any(glow[0] > last[0].number for glow in self.facts.glows):
            why = gettext(
                "{point} was fed with {volts} W: where does it warm?",
                point=last[1].point,
                volts=f"{last[1].volts * last[1].amps:.1f}",
            )
            return [step("glow", last[1].point, 0.6, why, 30, needs="off")]
        found = feeding(self.facts, rail)
        # where a stage is known to be joined no more may be fed, whatever the others read
        unproven = [] if joined(self.facts) else found.unproven
        if unproven and (proofs := self.prove_stages([(1.0, who) for who in unproven], 30)):
            return proofs
        if not found.warms:
            return self.heat_as_it_runs(rail, found.watts)
        given = found.advice
        why = gettext(
            "{rail} reads {reads}: feed {volts} V, {amps_limit} A at most, and look for the warm spot.",
            rail=rail,
            reads=reads(found),
            volts=f"{given.volts:.3g}",
            amps_limit=f"{given.amps_limit:g}",
        )
        more = {"volts": round(given.volts, 3), "amps_limit": given.amps_limit}
        return [step("inject", found.point, 0.5, why, 30, needs="off", **more)]

    def heat_as_it_runs(self, rail: str, watts: float) -> list[Step]:
        """Where injecting warms nothing that could be seen: the rail as it runs, if power is allowed."""
        if not self.facts.allowed or joined(self.facts) or any(glow[3] is None for glow in self.facts.glows):
            return []
        said = gettext(
            "Injecting into {rail} would make {watts} mW, too little to see", rail=rail, watts=f"{1000 * watts:.0f}"
        )
        why = gettext("{said}: look for the warm spot as it runs.", said=said)
        return [step("glow", rail, 0.4, why, 31, needs="supply")]

    def prove_stages(self, ranked: Sequence[tuple[float, str]], tier: int = 31) -> list[Step]:
        """Across the pins of stages that join two rails, where that was not read."""
        key = self.facts.readings.places.key
        read = {key(standing.reading.point, "across") for standing in self.facts.readings.pairs() if not standing.pins}
        named = {standing.pins for standing in self.facts.readings.pairs()}
        found = []
        for chance, who in ranked:
            pair = pair_of(self.facts, who)
            if pair and chance >= 0.05 and who not in named and key(pair, "across") not in read:
                why = gettext("{who}: its input against its output; under one ohm it is joined.", who=who)
                found.append(self.read(pair, 0.2 * chance, why, tier))
        return found
