"""From a short to the part: feed it, see where it warms, take that one off, read again."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Any

from uvrix.core.case.plan.feeding import Feeding
from uvrix.core.case.plan.steps import MOST_GLOWS, SURE, Step, step
from uvrix.core.readings.limits import GLOW_CLOSE_MM


class Hunt(Feeding):
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
