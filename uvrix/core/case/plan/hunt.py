"""From a short to the part: feed it, see where it warms, take that one off, read again."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Any

from uvrix.core.case.belief.shorts import SEEN_WATTS
from uvrix.core.case.plan.room import Room
from uvrix.core.case.plan.steps import LEAST_WATTS, MOST_GLOWS, SURE, Step, step
from uvrix.core.case.power import point_of
from uvrix.core.readings.hunt import JOINING, lowest_reached
from uvrix.core.readings.inject import injection
from uvrix.core.readings.limits import GLOW_CLOSE_MM, INJECT_MOST_V, INJECT_SEEN_W, JOINED_OHMS
from uvrix.core.readings.notation import shown_number


class Hunt(Room):
    """From a short to the part: feed it, see where it warms, take that one off, read again."""

    def steps(self) -> list[Step]:
        """What this room proposes."""
        return [*self.hunt()]

    def hunt(self) -> list[Step]:
        """From a short to the part: feed it, see where it warms, take that one off, read again."""
        shorted = self.facts.shorted
        if self.board is None:
            return []
        if self.facts.behind_lifted:
            return [
                self.lift("swap", stage, 0.9, f"{why} Fit another one.", 32)
                for stage, why, _ in self.facts.behind_lifted
            ]
        if not shorted:
            return []
        if steps := self.burnt_layers():
            return steps
        ranked = sorted(
            ((chance, who[0]) for who, chance in self.chances("short", "partial-short", "chip", "core").items() if who),
            reverse=True,
        )
        ranked = [one for one in ranked if one[1] not in self.card.off and one[1] not in self.card.cut]
        rail = shorted[0]
        fed = [one for one in self.facts.glows if one[2] & set(shorted)]
        found = []
        if not fed:
            found += self.feed(rail)
        blind = not fed and not found
        best = ranked[0] if ranked else (0.0, "")
        near = self.by_the_glow(fed)
        if best[1] and best[0] < SURE and (fed or blind):
            found += [
                step("look", who, 0.3 * chance, f"{who} may be the short: look at it before it is lifted.", 31)
                for chance, who in ranked[:3]
                if who not in self.facts.looked and chance >= 0.1 and not self.seen_at(who)
            ]
            found += self.glow_again(ranked)
            found += self.prove_stages(ranked[:4])
            if not found:
                found += self.part_phases(ranked[:4])
        told = (bool(fed) or blind) and not any(one.do in {"look", "read", "lift-coil", "glow"} for one in found)
        for chance, who in ranked[:4]:
            if chance >= SURE or told:
                said = f"{who} lies by the warm spot" if who in near else f"{who} is the likeliest"
                why = f"{said}, {chance:.2f}: take it off and read {rail} again."
                found.append(self.lift("remove", who, chance, why, 32))
        others = [one for one in shorted[1:] if fed and not any(one in glow[2] for glow in fed)]
        for other in others[:1]:
            if best[0] < SURE:
                found += self.feed(other)
        return found

    def glow_again(self, ranked: Sequence[tuple[float, str]]) -> list[Step]:
        """Two parts too close to each other for one look: look again, up to thrice."""
        last = self.facts.injected[-1] if self.facts.injected else None
        if last is None or len(ranked) < 2 or ranked[1][0] < 0.1:
            return []
        since = [glow for number, glow, _, _ in self.facts.glows if number > last[0].number]
        if (
            not since
            or not all(glow.warm for glow in since)
            or len(since) >= MOST_GLOWS
            or len(set(since)) < len(since)
        ):
            return []
        why = f"{ranked[0][1]} and {ranked[1][1]} lie too close together for one look: look again, closer."
        return [step("glow", last[1].point, 0.3, why, 31, needs="off")]

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
        why = f"Injecting into {rail} would make {1000 * watts:.0f} mW, too little to see: look for the warm spot as it runs."
        return [step("glow", rail, 0.4, why, 31, needs="supply")]

    def by_the_glow(self, glows: Iterable[tuple[int, Any, frozenset[str], float | None]]) -> frozenset[str]:
        """Parts by a warm spot."""
        assert self.board is not None
        found = set()
        for _, glow, _, _ in glows:
            for part in [*self.board.parts, *self.board.sites]:
                if glow.warm and part.centre is not None and part.side == glow.side:
                    if (
                        math.hypot(float(part.centre[0]) - glow.x_mm, float(part.centre[1]) - glow.y_mm)
                        <= GLOW_CLOSE_MM
                    ):
                        found.add(part.designator)
        return frozenset(found)

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

    def part_phases(self, ranked: Sequence[tuple[float, str]]) -> list[Step]:
        """Sister stages on the same two rails: with its coil lifted, the joined one lets go of the lower rail."""
        assert self.board is not None
        coils = {one["designator"]: one.get("point") for one in self.board.document.get("phases", ())}
        parts = {part.designator: frozenset(part.rails) for part in self.board.parts}
        found = []
        for chance, who in ranked:
            coil = coils.get(who)
            sisters = [other for _, other in ranked if other != who and parts.get(other) == parts.get(who)]
            if coil and sisters and chance >= 0.1 and not self.facts.done("lift-coil", site=coil):
                why = f"{who} and {', '.join(sisters)} share both rails: lift {coil} and read again, it tells which."
                found.append(step("lift-coil", coil, 0.5 * chance, why, 31))
        return found

    def burnt_layers(self) -> list[Step]:
        """It glows where a part came off: the layers below are burnt, and cut out as a last resort."""
        layers = self.chances("layers")
        best = max(layers.items(), key=lambda one: one[1], default=((), 0.0))
        if best[1] >= SURE and best[0]:
            site = best[0][0]
            return [
                step(
                    "cut-layers",
                    site,
                    best[1],
                    f"It still glows where {site} was: burnt layers, cut out as the last resort.",
                    30,
                )
            ]
        return []
