"""Feeding a rail to see what warms: how much at most, and stages proven apart to allow more."""

from __future__ import annotations

import math
from collections.abc import Sequence

from uvrix.core.case.belief.shorts import SEEN_WATTS
from uvrix.core.case.plan.room import Room
from uvrix.core.case.plan.steps import LEAST_WATTS, Step, step
from uvrix.core.case.power import point_of
from uvrix.core.readings.hunt import JOINING, lowest_reached
from uvrix.core.readings.inject import injection
from uvrix.core.readings.limits import INJECT_MOST_V, INJECT_SEEN_W, JOINED_OHMS
from uvrix.core.readings.notation import shown_number


class Feeding(Room):
    """What the hunt and the start-up map share: injection and the warm spot."""

    def feed(self, rail: str) -> list[Step]:
        """Inject into a rail, then look where it warms."""
        assert self.board is not None
        last = self.facts.injected[-1] if self.facts.injected else None
        names = self.facts.touches.of_reading(last[1].point) if last else frozenset()
        if last and rail in names and not any(one[0] > last[0].number for one in self.facts.glows):
            why = f"{last[1].point} was fed with {last[1].volts * last[1].amps:.1f} W: where does it warm?"
            return [step("glow", last[1].point, 0.6, why, 30, needs="off")]
        point = point_of(rail, self.facts.touches)
        standing = next(
            (one.standing for one in self.facts.rails if one.id == rail), None
        ) or self.facts.readings.low_at(rail)
        value = standing.reading.value if standing else None
        ohms = (
            value.low
            if value and value.low is not None and standing and standing.reading.quantity == "resistance"
            else 0.5
        )
        volts = float(self.facts.touches.rails.get(rail, {}).get("volts", 1.0)) or 1.0
        given = injection(volts, max(ohms, 0.0), lowest_reached(self.board, rail))
        most = min(INJECT_MOST_V, volts, lowest_reached(self.board, rail) or INJECT_MOST_V)
        warm = given.watts_in_short if ohms > 0 else given.watts
        feed, amps = given.volts, given.amps_limit
        if warm < SEEN_WATTS and ohms > 0:
            joining = [part.designator for part in self.board.parts if part.kind in JOINING and rail in part.rails]
            if not self.proven_apart(joining) and (proofs := self.prove_stages([(1.0, who) for who in joining], 30)):
                return proofs
            if self.proven_apart(joining):
                most = volts
            feed = min(most, max(feed, math.sqrt(INJECT_SEEN_W * ohms)))
            amps = min(amps, round(1.2 * feed / ohms + 0.01, 2))
            warm = min(amps, feed / ohms) ** 2 * ohms
        why = (
            f"{rail} reads {shown_number(ohms, 'resistance')}: feed {feed:.3g} V, {amps:g} A at most, "
            "and look for the warm spot."
        )
        if warm < LEAST_WATTS:
            return self.heat_as_it_runs(rail, warm)
        return [step("inject", point, 0.5, why, 30, needs="off", volts=round(feed, 3), amps_limit=amps)]

    def proven_apart(self, stages: Sequence[str]) -> bool:
        """Whether every stage that joins a rail to another was read across and is not joined."""
        read = {key for who in stages if (key := self._pair_of(who))}
        apart = {
            self.facts.readings.places.key(one.reading.point, "across")
            for one in self.facts.readings.pairs()
            if one.reading.value.middle is None or one.reading.value.middle > JOINED_OHMS
        }
        return {self.facts.readings.places.key(pair, "across") for pair in read} <= apart

    def _pair_of(self, who: str) -> str:
        """The two points across a stage: its input, and its output by its phase's coil; empty where it has none."""
        assert self.board is not None
        part = next((one for one in self.board.parts if one.designator == who), None)
        rails = [rail for rail in part.rails if rail in self.facts.touches.rails] if part else []
        if part is None or part.kind not in JOINING or len(rails) < 2:
            return ""
        rails.sort(key=lambda rail: -float(self.facts.touches.rails[rail].get("volts", 0)))
        phases = {one["designator"]: one.get("point") for one in self.board.document.get("phases", ())}
        return f"{point_of(rails[0], self.facts.touches)}/{phases.get(who) or point_of(rails[-1], self.facts.touches)}"

    def heat_as_it_runs(self, rail: str, watts: float) -> list[Step]:
        """Where injecting warms nothing that could be seen: the rail as it runs, if power is allowed."""
        if not self.facts.allowed or any(one[3] is None for one in self.facts.glows):
            return []
        said = f"Injecting into {rail} would make {1000 * watts:.0f} mW, too little to see"
        why = f"{said}: look for the warm spot as it runs."
        return [step("glow", rail, 0.4, why, 31, needs="supply")]

    def prove_stages(self, ranked: Sequence[tuple[float, str]], tier: int = 31) -> list[Step]:
        """Across the pins of stages that join two rails, where that was not read."""
        key = self.facts.readings.places.key
        read = {key(one.reading.point, "across") for one in self.facts.readings.pairs() if not one.pins}
        named = {one.pins for one in self.facts.readings.pairs()}
        found = []
        for chance, who in ranked:
            pair = self._pair_of(who)
            if pair and chance >= 0.05 and who not in named and key(pair, "across") not in read:
                why = f"{who}: its input against its output; under one ohm it is joined."
                found.append(self.read(pair, 0.2 * chance, why, tier))
        return found
