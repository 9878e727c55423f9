"""From a short to the part: feed it, see where it warms, take that one off, read again."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from uvrix.core.case.entries import Glow
from uvrix.core.case.feeding import feeding
from uvrix.core.case.plan.feeding import Feeding
from uvrix.core.case.plan.steps import LEAST_CURE, MOST_GLOWS, SURE, Step, step
from uvrix.language import gettext

# Before a card is returned unrepaired, after everything else.
UNSETTLED = 57
Fed = tuple[int, Glow, frozenset[str], float | None]


class Hunt(Feeding):
    """From a short to the part: feed it, see where it warms, take that one off, read again."""

    def steps(self) -> list[Step]:
        """The steps that it proposes; order.py ranks them."""
        return [*self.hunt()]

    def hunt(self) -> list[Step]:
        """The next steps of the hunt, by how far it has come."""
        if self.board is None:
            return self.undrawn()
        if self.facts.behind_lifted:
            return [
                self.lift("swap", stage, 0.9, gettext("{why} Fit another one.", why=why), 32)
                for stage, why, _ in self.facts.behind_lifted
            ]
        if not self.facts.shorted:
            return self.burnt_layers() or self.unsettled()
        return self.burnt_layers() or self.to_the_part()

    def unsettled(self) -> list[Step]:
        """Rails that did not settle, and that no good card stands behind: fed where nothing else is left to do.

        A capacitor that charges creeps up; a partial short jumps about, and warms.
        """
        fed = frozenset[str]().union(*(names for _, _, names, _ in self.facts.glows))
        found = []
        for rail in self.facts.rails:
            reading = rail.standing.reading
            cold = reading.value.span and (reading.quantity, reading.to) == ("resistance", "ground")
            if cold and rail.verdict in {"no-reference", "unsteady"} and rail.id not in fed:
                said = gettext("{id} did not settle when it was read", id=rail.id)
                found += [
                    replace(candidate, tier=UNSETTLED, why=f"{said}. {candidate.why}")
                    for candidate in self.feed(rail.id)
                ]
        return found

    def to_the_part(self) -> list[Step]:
        """Feed the rail, tell its suspects apart, lift the likeliest."""
        shorted, ranked = self.facts.shorted, self.ranked()
        fed = [glow for glow in self.facts.glows if glow[2] & set(shorted)]
        feeding = [] if fed else self.feed(shorted[0])
        best = ranked[0][0] if ranked else 0.0
        # where feeding warms nothing that could be seen, what tells is what is left
        telling = [] if feeding or not ranked or best >= SURE else self.tell_apart(ranked)
        found = [*feeding, *telling]
        last = not feeding and not telling
        found += [
            self.take_off(chance, who, fed) for chance, who in ranked[:4] if chance >= (LEAST_CURE if last else SURE)
        ]
        unfed = [rail for rail in shorted[1:] if fed and not any(rail in glow[2] for glow in fed)]
        return [*found, *(self.feed(unfed[0]) if unfed and best < SURE else [])]

    def ranked(self) -> list[tuple[float, str]]:
        """The parts that may short, likeliest first, as far as they are on the board."""
        chances = self.chances("short", "partial-short", "chip", "core")
        gone = {*self.card.off, *self.card.cut}
        return sorted(((chance, who[0]) for who, chance in chances.items() if who and who[0] not in gone), reverse=True)

    def tell_apart(self, ranked: Sequence[tuple[float, str]]) -> list[Step]:
        """A look, a second look at the warm spot, the pins of stages, a lifted coil: whatever tells without heat."""
        found = [
            step(
                "look",
                who,
                0.3 * chance,
                gettext("{who} may be the short: look at it before it is lifted.", who=who),
                31,
            )
            for chance, who in ranked[:3]
            if who not in self.facts.looked and chance >= 0.1 and not self.seen_at(who)
        ]
        found += [*self.glow_again(ranked), *self.prove_stages(ranked[:4])]
        return found or self.part_phases(ranked[:4])

    def take_off(self, chance: float, who: str, glows: Iterable[Fed]) -> Step:
        """A part comes off, and its rail is read again."""
        thing = self.facts.things.get(who)
        near = thing is not None and any(thing.by(glow) for _, glow, _, _ in glows)
        said = gettext("{who} lies by the warm spot", who=who) if near else gettext("{who} is the likeliest", who=who)
        shorted = self.facts.shorted
        rail = next((name for name in shorted if thing is not None and name in thing.rails), shorted[0])
        return self.lift(
            "remove",
            who,
            chance,
            gettext(
                "{said}, {chance}: take it off and read {rail} again.", said=said, chance=f"{chance:.2f}", rail=rail
            ),
            32,
        )

    def undrawn(self) -> list[Step]:
        """On a board that nobody has drawn: feed the input that is short, look where it warms, look at that place."""
        if not self.facts.shorted:
            return []
        point = self.facts.shorted[0]
        since = -1 if self.facts.last_act is None else self.facts.last_act
        told = [(number, glow) for number, glow, fed, _ in self.facts.glows if point in fed and number > since]
        warm = [glow for _, glow in told if glow.warm]
        named = [part for _, part in self.facts.named_at_glow if part not in self.card.empty]
        if warm and named:
            why = gettext(
                "{named} stands where it warmed: take it off and read {point} again.", named=named[0], point=point
            )
            return [self.lift("remove", named[0], 0.7, why, 31)]
        if warm:
            place = gettext(
                "{side}, {x_mm} mm from the bracket, {y_mm} mm up",
                side=warm[-1].side,
                x_mm=f"{warm[-1].x_mm:.0f}",
                y_mm=f"{warm[-1].y_mm:.0f}",
            )
            why = gettext("It warms at {place}: look at what stands there, name it, then take it off.", place=place)
            return [step("look", "all", 0.5, why, 31)]
        last = next((row for row in reversed(self.facts.injected) if row[0].number > since), None)
        if last and not any(number > last[0].number for number, _, _, _ in self.facts.glows):
            return [
                step(
                    "glow",
                    last[1].point,
                    0.6,
                    gettext("{point} was fed: where does it warm?", point=last[1].point),
                    30,
                    needs="off",
                )
            ]
        if last:
            return []
        fed = feeding(self.facts, point)
        given = fed.advice
        why = gettext(
            "{point} is short: feed {volts} V, {amps_limit} A at most, and look for the warm spot.",
            point=point,
            volts=f"{given.volts:g}",
            amps_limit=f"{given.amps_limit:g}",
        )
        more = {"volts": given.volts, "amps_limit": given.amps_limit}
        return [step("inject", point, 0.5, why, 30, needs="off", **more)]

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
        why = gettext(
            "{ranked} and {ranked_2} lie too close together for one look: look again, closer.",
            ranked=ranked[0][1],
            ranked_2=ranked[1][1],
        )
        return [step("glow", last[1].point, 0.3, why, 31, needs="off")]

    def part_phases(self, ranked: Sequence[tuple[float, str]]) -> list[Step]:
        """Sister stages on the same two rails: with its coil lifted, the joined one lets go of the lower rail."""
        assert self.board is not None
        coils = {phase.designator: phase.point for phase in self.board.phases}
        parts = {part.designator: frozenset(part.rails) for part in self.board.parts}
        found = []
        for chance, who in ranked:
            coil = coils.get(who)
            sisters = [other for _, other in ranked if other != who and parts.get(other) == parts.get(who)]
            if coil and sisters and chance >= 0.1 and not self.facts.done("lift-coil", site=coil):
                why = gettext(
                    "{who} and {sisters} share both rails: lift {coil} and read again, it tells which.",
                    who=who,
                    sisters=", ".join(sisters),
                    coil=coil,
                )
                found.append(step("lift-coil", coil, 0.5 * chance, why, 31))
        return found

    def burnt_layers(self) -> list[Step]:
        """It glows where a part came off: the layers below are burnt, and cut out as a last resort."""
        layers = self.chances("layers")
        best = max(layers.items(), key=lambda layer: layer[1], default=((), 0.0))
        if best[1] >= SURE and best[0]:
            site = best[0][0]
            if site not in self.card.empty:
                why = gettext(
                    "{site} was replaced, and it warms there again: take it off, the layers below are burnt.", site=site
                )
                return [self.lift("remove", site, best[1], why, 30)]
            return [
                step(
                    "cut-layers",
                    site,
                    best[1],
                    gettext("It still glows where {site} was: burnt layers, cut out as the last resort.", site=site),
                    30,
                )
            ]
        return []
