"""What to do next: one list of steps over all screens, best first (case.md, *What to do next*).

Each step is worth what it cures or settles for its minutes and its harm, within the order that the trade keeps: what
must come first (tiers) before what is only cheaper. Nothing is listed that must never be proposed: the last filter says
what that is.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from uvrix.core.case.belief import SEEN_WATTS, Cause, believe
from uvrix.core.case.entries import Checked, Drawn, Looked, Measured
from uvrix.core.case.facts import Facts
from uvrix.core.case.generic import INPUTS
from uvrix.core.case.power import point_of
from uvrix.core.case.proof import ProofCheck
from uvrix.core.finding_kinds import group_of
from uvrix.core.look.regions import SIDES, regions
from uvrix.core.readings.hunt import JOINING, lowest_reached
from uvrix.core.readings.inject import injection
from uvrix.core.readings.limits import GLOW_CLOSE_MM, INJECT_MOST_V, INJECT_SEEN_W, JOINED_OHMS
from uvrix.core.readings.notation import shown_number

# Minutes of each step where nothing better is known, and the chance that it does harm (usual practice's orders).
MINUTES = {
    "symptom": 2.0,
    "trial": 12.0,
    "look": 1.0,
    "tick": 0.5,
    "inject": 5.0,
    "glow": 2.0,
    "lift-coil": 8.0,
    "fit-coil": 8.0,
    "unsolder-lead": 2.0,
    "remove": 8.0,
    "place": 10.0,
    "swap": 15.0,
    "reball": 50.0,
    "renew-joint": 10.0,
    "contact-repaired": 40.0,
    "cut-layers": 40.0,
    "power": 1.0,
    "cooler-off": 10.0,
    "cooler-on": 15.0,
    "draw": 0.5,
    "rung": 3.0,
    "run": 10.0,
    "mark": 2.0,
    "pads": 5.0,
    "write": 15.0,
    "ask": 5.0,
    "draw-model": 8.0,
    "return": 10.0,
    "read": 1.0,
}
RISK = {
    "remove": 0.02,
    "place": 0.01,
    "swap": 0.02,
    "reball": 0.03,
    "cut-layers": 0.1,
    "inject": 0.005,
    "write": 0.02,
    "lift-coil": 0.02,
    "fit-coil": 0.02,
    "contact-repaired": 0.02,
}
CORE_MINUTES, CORE_RISK, CHIP_SWAP_MINUTES = 180.0, 0.15, 55.0
LOOK_SIDE_MINUTES = 4.0
# What a harm costs, in minutes of work.
HARM_MINUTES = 300.0
PROOF_MINUTES = {
    "readings": 5.0,
    "current": 2.0,
    "ladder": 5.0,
    "identity": 1.0,
    "link": 1.0,
    "sensors": 1.0,
    "memory-cold": 10.0,
    "stress": 35.0,
    "clocks": 2.0,
    "memory-warm": 10.0,
    "loads": 60.0,
    "score": 5.0,
    "outputs": 5.0,
    "plugs": 3.0,
    "fans": 3.0,
    "cold-start": 5.0,
}
SCREEN = {
    "symptom": "arrive",
    "trial": "arrive",
    "ask": "arrive",
    "look": "look",
    "tick": "look",
    **dict.fromkeys(("inject", "glow", "lift-coil", "fit-coil", "unsolder-lead"), "ohms"),
    **dict.fromkeys(("power", "draw", "rung"), "volts"),
    **dict.fromkeys(("run", "mark"), "memory"),
    **dict.fromkeys(("remove", "place", "swap", "reball", "renew-joint", "contact-repaired", "cut-layers"), "rework"),
    **dict.fromkeys(("cooler-off", "cooler-on", "pads", "write"), "rework"),
    "proof": "prove",
    "return": "return",
    "draw-model": "memory",
}
# Symptoms of a card that comes as far as a picture: its memory is tested before its rails are hunted.
COMES_UP = frozenset({"artefacts", "hangs", "driver", "slow", "output", "hot"})
# From this chance on a part is lifted; below it a look, a reading or a glow tells first.
SURE, SURE_NODE = 0.75, 0.85
LISTED = 12
# So many looks for one warm spot: each sees it a little elsewhere.
MOST_GLOWS = 3
# A healthy rail under this hides a short from two leads.
HIDES_A_SHORT_OHMS = 2.0
# A chip is not lifted for less than this chance of a cure.
LEAST_CURE = 0.05
CONDITIONS = ("cold", "warm", "flexed")
# A check of the proof that failed is tried again so many times.
MOST_TIMES = 3
# Less heat than this no camera sees, watts.
LEAST_WATTS = 0.04


@dataclass(frozen=True, slots=True)
class Step:
    """A step: what carries it out, its screen, minutes, risk, what it cures or settles, why; `more` are its details.

    `tier` is the trade's order: a lower one goes first whatever it is worth. `needs` is what the card must hang on;
    `ahead` are the minutes of what a switch is thrown for, which are part of its cost.
    """

    do: str
    target: str
    step: str
    minutes: float
    risk: float
    gain: float
    why: str
    tier: int = 50
    needs: str = ""
    ahead: float = 0.0
    more: dict[str, Any] = field(default_factory=dict)

    @property
    def worth(self) -> float:
        """Gain for a minute, harm counted as minutes."""
        return self.gain / (self.minutes + self.ahead + self.risk * HARM_MINUTES)

    @property
    def powered(self) -> bool:
        """Whether it puts the card under power, or needs it to be."""
        return self.needs in {"supply", "computer"} or (self.do == "power" and self.target != "off")


def step(do: str, target: str, gain: float, why: str, tier: int, **rest: Any) -> Step:
    """A step with usual minutes, risk and screen where `rest` says no others."""
    minutes = rest.pop("minutes", MINUTES.get(do, 1.0))
    risk = rest.pop("risk", RISK.get(do, 0.0))
    screen = rest.pop("screen", SCREEN.get(do, "ohms"))
    needs = rest.pop("needs", "")
    ahead = rest.pop("ahead", 0.0)
    return Step(do, target, screen, minutes, risk, min(1.0, max(0.0, gain)), why, tier, needs, ahead, rest)


def plan(facts: Facts, causes: Sequence[Cause] | None = None) -> tuple[Step, ...]:
    """The steps, best first; never empty."""
    planner = _Planner(facts, believe(facts) if causes is None else causes)
    return planner.steps()


class _Planner:
    def __init__(self, facts: Facts, causes: Sequence[Cause]) -> None:
        self.facts = facts
        self.causes = causes
        self.board = facts.board
        self.card = facts.card
        self.known = not (len(causes) == 1 and causes[0].cause == "unknown")

    def steps(self) -> tuple[Step, ...]:
        found: list[Step] = []
        for make in (
            *(self.arrive, self.missing, self.look, self.again, self.after_a_lifted_coil, self.inputs, self.rails, self.hunt, self.refit),
            *(self.fuses, self.contacts, self.supply, self.start_up, self.computer, self.memory, self.ladder),
            *(self.settle, self.prove),
        ):
            found += make()
        allowed = [one for one in self.powered(found) if not self.never(one)]
        best: dict[tuple[str, str, str], Step] = {}
        for one in sorted(allowed, key=lambda one: (one.tier, -one.worth)):
            best.setdefault((one.do, one.target, str(one.more.get("quantity", ""))), one)
        ranked = list(best.values())[:LISTED]
        return tuple(self.worth(ranked or [self.give_up()]))

    # -- the order of the trade ------------------------------------------------------------------------------------

    def arrive(self) -> list[Step]:
        if not self.facts.symptoms:
            return [step("symptom", "card", 0.5, "Nothing is said of what is wrong: pin the symptom down first.", 0)]
        return []

    def missing(self) -> list[Step]:
        """Parts that are known to be missing go back on."""
        chances = self.chances("missing")
        return [
            step("place", site, max(0.5, chances.get((site,), 0.5)), f"{site} was seen to be missing: fit one.", 5)
            for site in self.card.missing
            if site not in self.facts.shorted
        ]

    def look(self) -> list[Step]:
        """Both sides by eye, before any meter; later only where it is worth its minutes."""
        if self.board is None:
            return (
                [step("look", "all", 0.15, "Look the card over before any meter.", 10, minutes=2 * LOOK_SIDE_MINUTES)]
                if not self.facts.looked and not self.facts.seen and not self.read_anything
                else []
            )
        begun = self.read_anything or bool(self.facts.acts)
        return [
            step(
                "look",
                side,
                0.12,
                "Look before any meter: a missing or burnt part is the cheapest to find.",
                60 if begun else 10,
                minutes=LOOK_SIDE_MINUTES,
            )
            for side in SIDES
            if side not in self.facts.looked and not (begun and self.facts.seen)
        ]

    @property
    def read_anything(self) -> bool:
        """Whether a meter was used already."""
        return bool(self.facts.readings.of_points) or bool(self.facts.counted.void)

    def again(self) -> list[Step]:
        """What an act made void, on the rails that it touched: read again at once."""
        last = self.facts.acts[-1] if self.facts.acts else None
        if last is None or self.board is None or not getattr(last.what, "site", ""):
            return []
        touched = self.facts.touches.of_site(last.what.site)  # type: ignore[union-attr]
        found = []
        for rail in self.facts.touches.rails:
            void = [
                one
                for one in self.facts.counted.void.values()
                if one.by == last.number and rail in self._measured_on(one.entry)
            ]
            if rail in touched and void and not self.facts.readings.read_to_ground(rail):
                why = f"{last.what.says}: read {rail} again."  # type: ignore[union-attr]
                found.append(self.read(point_of(rail, self.facts.touches), 0.4, why[0].upper() + why[1:], 15))
        return found

    def after_a_lifted_coil(self) -> list[Step]:
        """A coil was lifted to tell stages apart: the input that was short is read again."""
        stages = {one["point"]: one["designator"] for one in self.board.document.get("phases", ()) if one.get("point")} if self.board else {}
        found = []
        for coil, since in self.card.lifted.items():
            for rail in self.facts.touches.of_site(stages.get(coil, "")) & set(self.facts.touches.inputs):
                low = self.facts.readings.low_at(rail)
                if low is not None and low.entry < since:
                    found.append(self.read(low.reading.point, 0.5, f"{coil} is lifted: is {rail} still short?", 16))
        return found

    def _measured_on(self, entry: int) -> frozenset[str]:
        what = self.facts.entries[entry].what
        reading = getattr(what, "reading", None)
        if reading is None or reading.quantity not in {"resistance", "diode"}:
            return frozenset()
        return self.facts.touches.of_reading(reading.point)

    def inputs(self) -> list[Step]:
        """Every input and fuse, numbered, before power."""
        found = []
        shorted = set(self.facts.shorted)
        for block in self.facts.blocks:
            if not block.read or block.about in shorted:
                continue
            state = self.facts.fuses.get(block.about)
            if state is not None and state.state == "blown":
                continue
            kind = {"quantity": "resistance", "mode": "ohms"}
            if block.about in self.facts.touches.fuses:
                found.append(
                    step(
                        "read",
                        block.about,
                        0.3,
                        block.why,
                        20,
                        minutes=self.minutes(block.about),
                        needs="off",
                        screen="ohms",
                        **kind,
                    )
                )
            else:
                found.append(
                    step(
                        "read",
                        block.read,
                        0.3,
                        block.why,
                        20,
                        minutes=self.minutes(block.read),
                        needs="off",
                        screen="ohms",
                        **kind,
                    )
                )
        return found

    def rails(self) -> list[Step]:
        """Every rail to ground, cold, for a card that does not come up."""
        if self.board is None or (self.facts.symptoms <= COMES_UP and not self.facts.shorted):
            return []
        if self.facts.rung or self.facts.runs or (self.card.power != "off" and not self.facts.shorted):
            return []
        found = []
        for rail, entry in self.facts.touches.rails.items():
            if rail in self.facts.touches.inputs or self.facts.readings.read_to_ground(rail):
                continue
            point = point_of(rail, self.facts.touches)
            found.append(
                self.read(point, 0.2, f"{entry.get('name', rail)} to ground, cold: a short shows before power.", 22)
            )
        return found

    def read(self, point: str, gain: float, why: str, tier: int, quantity: str = "resistance") -> Step:
        """A reading: cold in ohms, or live."""
        cold = quantity == "resistance"
        return step(
            *("read", point, gain, why, tier),
            minutes=self.minutes(point),
            needs="off" if cold else "supply",
            screen="ohms" if cold else "volts",
            quantity=quantity,
            mode="ohms" if cold else "",
        )

    def minutes(self, point: str) -> float:
        """Minutes to reach a point."""
        found = self.facts.touches.points.get(point.split("/", maxsplit=1)[0].split(".", maxsplit=1)[0])
        return float(found.minutes) if found else 1.0

    def chances(self, *causes: str) -> dict[tuple[str, ...], float]:
        """Chances of some causes by designators."""
        found: dict[tuple[str, ...], float] = {}
        for one in self.causes:
            if one.cause in causes:
                found[one.designators] = found.get(one.designators, 0.0) + one.chance
        return found

    # -- a short ---------------------------------------------------------------------------------------------------

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
                if who not in self.facts.looked and chance >= 0.1 and not self._seen_at(who)
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
        if not since or not all(glow.warm for glow in since) or len(since) >= MOST_GLOWS or len(set(since)) < len(since):
            return []
        why = f"{ranked[0][1]} and {ranked[1][1]} lie too close together for one look: look again, closer."
        return [step("glow", last[1].point, 0.3, why, 31, needs="off")]

    def _seen_at(self, site: str) -> bool:
        return any(seen.part == site for _, seen in self.facts.seen)

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

    def lift(self, do: str, who: str, gain: float, why: str, tier: int) -> Step:
        """An act on a part, a chip or the core with its minutes and risk."""
        board = self.board
        if board is not None and who == board.core.designator:
            return step(do, who, gain, why, tier, minutes=CORE_MINUTES, risk=CORE_RISK)
        if board is not None and who in board.by_designator:
            minutes = CHIP_SWAP_MINUTES if do == "swap" else MINUTES["reball"] if do == "reball" else 20.0
            return step(do, who, gain, why, tier, minutes=minutes, risk=0.03)
        return step(do, who, gain, why, tier)

    def refit(self) -> list[Step]:
        """Parts that are off go back once their rails read right: another one where it took the short with it."""
        if self.facts.shorted and self.board is not None:
            return []
        found = []
        for site, since in self.card.off.items():
            if self.board is not None and any(one.tier == 15 for one in self.again()):
                continue
            if self.innocent(site, since):
                found.append(self.lift("place", site, 0.6, f"{site} was not it: put it back.", 33))
            else:
                found.append(self.lift("swap", site, 0.7, f"The short left with {site}: fit another one.", 33))
        return found

    def innocent(self, site: str, since: int) -> bool:
        """Whether a part came off and the rail stayed short until something else came off, too."""
        touched = self.facts.touches.of_site(site)
        later = [
            entry.number
            for entry in self.facts.acts
            if entry.number > since and getattr(entry.what, "site", "") != site
        ]
        end = later[0] if later else len(self.facts.entries)
        for entry in self.facts.entries[since + 1 : end]:
            if isinstance(entry.what, Measured) and self.facts.short_then(entry.number, entry.what):
                if touched & self.facts.touches.of_reading(entry.what.reading.point):
                    return True
        return self.board is None

    # -- fuses and what was seen -----------------------------------------------------------------------------------

    def fuses(self) -> list[Step]:
        """A blown fuse is a symptom: what is behind it first, both sides read; then another one."""
        if self.facts.shorted:
            return []
        found = []
        for fuse, state in self.facts.fuses.items():
            if state.state not in {"blown", "sick"}:
                continue
            if state.state == "blown" and not self.side_read(fuse):
                for end in ("1", "2"):
                    why = f"{fuse} is open, so its two sides are two nets: read both to ground before another one goes in."
                    if not self._end_read(f"{fuse}.{end}"):
                        found.append(self.read(f"{fuse}.{end}", 0.3, why, 24))
                continue
            found.append(
                step(
                    "swap",
                    fuse,
                    0.85,
                    f"{fuse} is {state.state} and nothing behind it is short: fit another one of its rating.",
                    34,
                )
            )
        return found

    def side_read(self, fuse: str) -> bool:
        """Whether both sides of a fuse were read to ground since it was open."""
        return all(self._end_read(f"{fuse}.{end}") for end in ("1", "2"))

    def _end_read(self, end: str) -> bool:
        return any(
            one.reading.point == end and one.reading.quantity == "resistance" and one.reading.to == "ground"
            for _, one in self.facts.readings.of_points
        )

    def contacts(self) -> list[Step]:
        """Torn contacts and plugs that were seen."""
        found = []
        for one in self.causes:
            if one.cause == "contact" and one.designators and one.chance > 0.05:
                who = one.designators[0]
                if not self.facts.done("contact-repaired", site=who):
                    found.append(step("contact-repaired", who, one.chance, f"{who} was seen torn: repair it.", 34))
            if one.cause == "plug" and one.designators and one.chance > 0.05 and self._seen_at(one.designators[0]):
                found.append(
                    step(
                        "swap",
                        one.designators[0],
                        one.chance,
                        f"{one.designators[0]} was seen damaged: fit another one.",
                        36,
                    )
                )
        return found

    # -- power -----------------------------------------------------------------------------------------------------

    @property
    def comes_up(self) -> bool:
        """Whether the card goes straight into a computer: by its symptom, or since it came up already."""
        return bool(self.facts.symptoms) and self.facts.symptoms <= COMES_UP

    def supply(self) -> list[Step]:
        """The bench supply and what it draws, for a card that does not come up."""
        if self.comes_up or self.facts.shorted or self.facts.rung or self.facts.runs:
            return []
        found = []
        if self.facts.draw is None and not self._start_up_read():
            found.append(
                step(
                    "draw",
                    "supply",
                    0.25,
                    "What it draws on the supply is the first thing to read under power.",
                    40,
                    needs="supply",
                )
            )
        return found

    def _start_up_read(self) -> bool:
        return any(one.reading.quantity in {"voltage", "frequency"} for one in self.facts.readings.standing)

    def start_up(self) -> list[Step]:
        """The next probe of the start-up map, or the part behind the node that is dead."""
        facts, found, chain = self.facts, self.facts.isolation, self.facts.chain
        if found is None or chain is None or self.comes_up or facts.shorted or facts.runs:
            return []
        if facts.rung and facts.rung != "absent":
            return []
        missing = [name for name, state in found.measured.items() if state.state == "missing"]
        if not missing:
            return self.prove_rails()
        steps: list[Step] = []
        best = found.suspects[0].chance if found.suspects else 0.0
        bits = -sum(one.chance * math.log2(one.chance) for one in found.suspects if one.chance > 0) or 1.0
        if best < SURE_NODE:
            for probe in found.probes[:3]:
                if probe.node.point:
                    quantity = {"clock": "frequency", "draw": "current"}.get(probe.node.kind, "voltage")
                    if quantity != "current":
                        steps.append(
                            self.read(
                                probe.node.point,
                                probe.gain_bits / bits,
                                f"{probe.node.name}. {probe.why}",
                                42,
                                quantity,
                            )
                        )
        steps += self.feed_what_hides_a_short(missing)
        told = not steps
        for one in self.causes:
            if one.cause not in {"dead-part", "missing"} or one.chance < 0.02:
                continue
            for who in one.designators[:3]:
                if who in self.card.empty or self._swapped_since_missing(who):
                    continue
                if who not in facts.looked and not self._seen_at(who):
                    steps.append(
                        step(
                            "look",
                            who,
                            max(0.05, 0.5 * one.chance),
                            f"{who} is behind what is missing: is it there, and whole?",
                            41 if told else 43,
                        )
                    )
                elif told and one.cause == "dead-part":
                    steps.append(
                        self.lift(
                            "swap",
                            who,
                            one.chance,
                            f"{who}: {one.why[0] if one.why else 'the likeliest'} Fit another one.",
                            44,
                        )
                    )
        return steps

    def feed_what_hides_a_short(self, missing: Sequence[str]) -> list[Step]:
        """A rail that does not come up and is so low when healthy that two leads cannot tell a short: feed it and look."""
        for found in self.facts.rails:
            reference = found.standing.judged.reference
            hides = reference is not None and reference.centre is not None and reference.centre < HIDES_A_SHORT_OHMS
            told = any(found.id in glow[2] for glow in self.facts.glows)
            if hides and found.id in missing and self._needs_met(found.id) and not told:
                why = f"{found.id} does not come up, and two leads cannot tell a short from so low a rail."
                return [replace(one, why=f"{why} {one.why}", tier=42) for one in self.feed(found.id)]
        return []

    def _needs_met(self, node: str) -> bool:
        """Whether nothing that a node needs was read as missing."""
        found, needs = self.facts.isolation, self.facts.touches.nodes.get(node, {}).get("needs", ())
        return found is not None and all(found.measured[need].state != "missing" for need in needs if need in found.measured)

    def _swapped_since_missing(self, who: str) -> bool:
        return who in self.facts.without_effect

    def prove_rails(self) -> list[Step]:
        """Nothing is missing so far: what shows most of the rest is read first, the end of the chain."""
        found, chain = self.facts.isolation, self.facts.chain
        assert found is not None
        assert chain is not None
        if self.facts.rung:
            return []
        present = [number for number, node in enumerate(chain.nodes) if found.measured[node.id].state == "present"]
        proven = {other for number in present for other in range(len(chain.nodes)) if chain.absent[other, number]}
        steps = []
        for number, node in enumerate(chain.nodes):
            if number in proven or not node.point or node.kind == "draw":
                continue
            new = [other for other in range(len(chain.nodes)) if chain.absent[other, number] and other not in proven]
            quantity = "frequency" if node.kind == "clock" else "voltage"
            share = sum(chain.nodes[other].weight for other in new) / sum(one.weight for one in chain.nodes)
            gain = 0.5 * min(share, 1 - 0.5 * share) + 0.02
            steps.append(
                self.read(
                    node.point, gain, f"{node.name}: present, it shows {len(new)} of the map at once.", 42, quantity
                )
            )
        return sorted(steps, key=lambda one: -one.worth)[:3]

    def computer(self) -> list[Step]:
        """Into the test computer: how far it comes."""
        if self.facts.shorted or self.facts.rung:
            return []
        if any(run.clean or run.failed for _, run in self.facts.runs):
            return []
        if not self.comes_up and self.facts.isolation is not None and not self._rails_proven():
            return []
        why = "Its inputs read right: into the test computer, and see how far it comes."
        return [step("rung", "computer", 0.4, why, 45, needs="computer")]

    def _rails_proven(self) -> bool:
        found = self.facts.isolation
        assert found is not None
        if any(state.state == "missing" for state in found.measured.values()):
            return False
        return not self.prove_rails()

    # -- memory ----------------------------------------------------------------------------------------------------

    def testable(self) -> bool:
        """Whether a memory tester has anything to test: on the bus, core and chips on."""
        if self.board is None:
            return self.facts.rung not in {"", "absent"}
        gone = {self.board.core.designator, *(site.designator for site in self.board.sites)} & self.card.empty
        told = any(not run.refused for _, run in self.facts.runs)
        return not gone and self.facts.rung != "absent" and (bool(self.facts.rung) or told or self.comes_up)

    def run(self, condition: str, gain: float, why: str, tier: int) -> Step:
        """A memory run."""
        return step("run", condition, gain, why, tier, needs="computer", condition=[condition])

    def memory(self) -> list[Step]:
        """From the runs that count to what is tried about them."""
        if self.facts.shorted or not self.testable():
            return []
        told = [run for _, run in self.facts.runs if not run.refused]
        refused = [run for _, run in self.facts.runs if run.refused]
        if not told:
            if len(refused) > 1:
                return []
            return (
                [self.run("cold", 0.5, "It is on the bus: run the memory tester cold.", 47)]
                if self.wants_memory
                else []
            )
        failed = [run for run in told if run.failed]
        if not failed:
            return []
        located = self.facts.located
        if located is None or self.board is None:
            return [
                step("draw-model", "board", 0.5, "Channels fail: which chips are they? Four clicks draw the model.", 47)
            ]
        return self.about_chips()

    @property
    def wants_memory(self) -> bool:
        """Whether memory may be at fault: by the symptom, or by how far it comes."""
        return self.facts.rung in {"listed", "driver", "picture", "3d"} or self.comes_up

    def about_chips(self) -> list[Step]:
        """What to try about the chips that a finding names."""
        located = self.facts.located
        assert located is not None
        assert self.board is not None
        found: list[Step] = []
        kind = located.finding.kind
        conditions = {run.report.meta.condition for _, run in self.facts.runs if not run.refused}
        group = group_of(kind)
        if kind in {"unclear", "joint"} and len(conditions) < 2:
            found.append(
                self.run(
                    "warm" if ("cold",) in conditions else "cold",
                    0.4,
                    "One run proves little: under another condition it tells more.",
                    47,
                )
            )
        if (group is not None and "check-supply" in group.tried) or kind == "everywhere":
            for rail in sorted(self.facts.touches.memory_rails):
                point = point_of(rail, self.facts.touches)
                read = any(
                    rail in self.facts.readings.names(one) and one.reading.quantity == "voltage"
                    for one in self.facts.readings.standing
                )
                chance = sum(one.chance for one in self.causes if one.cause == "supply")
                if not read and chance > 0.08:
                    found.append(
                        self.read(
                            point,
                            0.8 * chance,
                            f"{rail} feeds all of them: read it before a chip is lifted.",
                            47,
                            "voltage",
                        )
                    )
        chips = self.chances("chip-joint", "chip", "board-line")
        for who, _ in sorted(chips.items(), key=lambda one: -one[1])[:2]:
            if who:
                found += self.about_chip(who[0])
        core = self.board.core.designator
        chance = self.chances("core-joint").get((core,), 0.0)
        if chance > 0.03 and not self.facts.done("reball", site=core):
            why = f"The core's joints, {chance:.2f}: the long way, for what no chip explains."
            found.append(self.lift("reball", core, 0.65 * chance, why, 48))
        return found

    def about_chip(self, who: str) -> list[Step]:
        """The lot, the mark, then reball or swap by the shop's school and the odds."""
        joint, chip, line = (self.chances(cause).get((who,), 0.0) for cause in ("chip-joint", "chip", "board-line"))
        found: list[Step] = []
        tier = 48
        if self.facts.shop.lots and who not in self.facts.lots:
            found.append(step("look", who, 0.05 + 0.1 * chip, f"Read the lot off {who} before it is lifted.", 46))
        elif self.bad_lot(who) and "ask" not in self.facts.answers:
            lot = self.facts.shop.lot(self.facts.lots[who][1])
            assert lot is not None
            why = f"Lot {lot.lot}: {lot.failed} of {lot.of} failed here. One chip, or all of them? Ask before the first is lifted."
            found.append(step("ask", "one chip or all", 0.3, why, 46))
        elif not self.marked(who):
            found.append(step("mark", who, 0.3, f"Confirm the core's mark on the board before {who} is lifted.", 46))
        tried = set(self._acts_at(who))
        reball, swap = 0.9 * joint + 0.15 * line, 0.9 * joint + 0.95 * chip + 0.15 * line
        reball_first = self.facts.shop.school == "reball-first" and reball * 4 > swap
        if "reball" not in tried and "swap" not in tried and reball > LEAST_CURE:
            why = f"{who}: its joint {joint:.2f}, the chip itself {chip:.2f}. Reball it and run again."
            found.append(
                self.lift(
                    "reball",
                    who,
                    reball,
                    why,
                    tier
                    if reball_first or (self.facts.shop.school == "reball-first" and reball >= 0.5 * swap)
                    else tier + 1,
                )
            )
        if "swap" not in tried and swap > LEAST_CURE:
            why = f"{who}: the chip itself {chip:.2f}, its joint {joint:.2f}. Fit another one and run again."
            found.append(
                self.lift("swap", who, swap, why, tier + 1 if reball_first and "reball" not in tried else tier)
            )
        return found

    def bad_lot(self, who: str) -> bool:
        """Whether the chip is of a lot that fails here."""
        if who not in self.facts.lots:
            return False
        lot = self.facts.shop.lot(self.facts.lots[who][1])
        return lot is not None and lot.of >= 3 and lot.share >= 0.1

    def marked(self, who: str) -> bool:
        """Whether the mark was confirmed since the runs that count began."""
        number, _ = self.facts.answers.get("mark", (-1, None))
        return number >= 0

    def _acts_at(self, site: str) -> list[str]:
        return [entry.what.act for entry in self.facts.acts if getattr(entry.what, "site", "") == site]  # type: ignore[union-attr]

    # -- how far it comes ------------------------------------------------------------------------------------------

    def ladder(self) -> list[Step]:
        """The rails are there and it does not come as far as it should."""
        rung = self.facts.rung
        if self.facts.shorted or rung not in {"absent", "listed", "driver", "picture"}:
            return []
        if any(run.failed for _, run in self.facts.runs):
            return []
        found = self.other_conditions(48) if rung != "absent" and self.facts.runs else []
        chances = {one.cause: one.chance for one in self.causes}
        tried = {trial.changed for _, trial in self.facts.trials}
        for changed, cause in (("computer", "host"), ("plug", "plug")):
            if changed not in tried and chances.get(cause, 0) > 0.02:
                minutes = 12.0 if changed == "computer" else 2.0
                found.append(
                    step(
                        "trial",
                        changed,
                        0.3 * chances[cause] + 0.03,
                        f"With another {changed}: is it the card at all?",
                        49,
                        minutes=minutes,
                    )
                )
        for side in SIDES:
            if side not in self.facts.looked:
                found.append(
                    step(
                        "look",
                        side,
                        0.3 * chances.get("contact", 0.1),
                        "Torn contacts and a cracked corner of the core are seen, not measured.",
                        49,
                        minutes=LOOK_SIDE_MINUTES,
                    )
                )
        if (
            rung == "absent"
            and self.facts.isolation is not None
            and not any(state.state == "missing" for state in self.facts.isolation.measured.values())
        ):
            found += [replace(one, tier=48) for one in self._probe_even_so()]
        if chances.get("firmware", 0) > 0.05 and not self.facts.done("write"):
            storage = self._storage()
            if storage:
                found.append(
                    step(
                        "write",
                        storage,
                        0.7 * chances["firmware"],
                        "The image of the storage chip: read it, keep it, write one that fits.",
                        50,
                    )
                )
        core = self.board.core.designator if self.board else ""
        joint = chances.get("core-joint", 0.0)
        if core and joint > 0.05 and not self.facts.done("reball", site=core):
            found.append(
                self.lift(
                    "reball",
                    core,
                    0.65 * joint,
                    f"The core's joints, {joint:.2f}: nothing that is easier explains it.",
                    51,
                )
            )
        return found

    def at_the_contacts(self, chance: float) -> list[Step]:
        """The slot's contacts by microscope, region by region: a torn one is passed over at a glance."""
        if self.board is None:
            return []
        named = {one.what.target for one in self.facts.entries if isinstance(one.what, Looked)}
        return [
            step("look", region.id, 0.4 * chance, "The slot's contacts under the microscope, one by one.", 49, minutes=2.0)
            for region in regions(self.board)
            if region.id not in named and "slot contacts" in region.holds
        ]

    def _probe_even_so(self) -> list[Step]:
        facts = self.facts
        found, chain = facts.isolation, facts.chain
        assert found is not None
        assert chain is not None
        present = [number for number, node in enumerate(chain.nodes) if found.measured[node.id].state == "present"]
        proven = {other for number in present for other in range(len(chain.nodes)) if chain.absent[other, number]}
        return [
            self.read(
                node.point,
                0.2,
                f"{node.name} was not shown to be there.",
                48,
                "frequency" if node.kind == "clock" else "voltage",
            )
            for number, node in enumerate(chain.nodes)
            if number not in proven
            and node.point
            and node.kind != "draw"
            and found.measured[node.id].state == "unknown"
        ][:2]

    def _storage(self) -> str:
        """The storage chip of the firmware, where the model names one by its value or marking."""
        for part in self.board.parts if self.board else ():
            if any(word in f"{part.value} {part.marking}".casefold() for word in ("firmware", "storage", "flash")):
                return part.designator
        return ""

    # -- what is owed, the proof, the way out ----------------------------------------------------------------------

    def settle(self) -> list[Step]:
        """What was promised, once nothing else is in the way."""
        found = []
        for one in self.facts.owed:
            if one.what == "unsolder":
                found.append(
                    step("unsolder-lead", one.target, 0.3, f"The injection lead at {one.target} must come off.", 35)
                )
            elif one.what == "refit-coil":
                found.append(step("fit-coil", one.target, 0.3, f"{one.target} is lifted: fit it again.", 35))
            elif one.what == "cooler":
                found.append(step("cooler-on", "cooler", 0.2, "The cooler goes on before the card is proven.", 52))
        return [] if self.facts.shorted or self.facts.behind_lifted else found

    @property
    def shown_clean(self) -> bool:
        """Whether the card as it is was seen to work: on the top rung, or clean in the tester."""
        clean = any(run.clean for _, run in self.facts.runs) and not any(run.failed for _, run in self.facts.runs)
        below = self.facts.rung not in {"", "3d"} and self.card.cooler_off is None
        return not below and (self.facts.rung == "3d" or clean)

    def prove(self) -> list[Step]:
        """The proof, check by check, once the card works; then the way out."""
        proof = self.facts.proof
        if self.facts.shorted or not self.shown_clean or any(run.failed for _, run in self.facts.runs):
            return []
        host = {one.cause: one.chance for one in self.causes}.get("host", 0.0)
        if self.facts.last_act is None and not self.facts.trials:
            return [
                *self.first_clean(),
                step("trial", "computer", 0.3, "Nothing is wrong here: does it show in another computer?", 53),
            ]
        if host > 0.5:
            return [
                step(
                    "return", "no-fix", host, "It shows in the customer's computer alone: the card is not at fault.", 58
                )
            ]
        if proof.failed:
            return self.failed_check(proof.failed[0])
        found = []
        for number, check in enumerate(proof.open):
            found.append(self.check(check.check, check.why, 54 if number == 0 else 55))
        if not found and not [one for one in self.facts.owed if one.what not in {"tell", "photograph"}]:
            what = "repaired" if self.facts.last_act is not None else "no-fix"
            found.append(step("return", what, 0.97, "Every check of the proof passed and nothing is owed.", 56))
        return found

    def failed_check(self, failed: ProofCheck) -> list[Step]:
        """A check of the proof failed: what might show the fault, then the check once more."""
        found = self.other_conditions(51)
        times = sum(isinstance(one.what, Checked) and one.what.check == failed.check for one in self.facts.entries)
        if times < MOST_TIMES:
            why = f"{failed.check} failed: {failed.why} Once more, to see whether it stays."
            found.append(step("proof", failed.check, 0.3, why, 57, minutes=PROOF_MINUTES[failed.check]))
        return found

    def other_conditions(self, tier: int) -> list[Step]:
        """Runs under conditions that were not tried yet: what shows rarely shows warm or flexed."""
        conditions = {word for _, run in self.facts.runs for word in run.report.meta.condition if not run.refused}
        return [
            self.run(word, 0.3, f"It does not show in every run: run it {word}.", tier)
            for word in CONDITIONS
            if word not in conditions and self.testable()
        ]

    def first_clean(self) -> list[Step]:
        """Nothing was done and nothing shows: runs under other conditions before it is called healthy."""
        conditions = {word for _, run in self.facts.runs for word in run.report.meta.condition}
        return [
            self.run(word, 0.25, f"Nothing shows yet: run it {word}.", 52)
            for word in ("cold", "warm")
            if word not in conditions and self.testable()
        ]

    def check(self, check: str, why: str, tier: int) -> Step:
        """The step that answers a check of the proof."""
        gain = 0.3
        since = self.facts.readings.since(self.facts.proof.since)
        cold = [one for one in since if one.reading.quantity == "resistance" and one.reading.to == "ground"]
        if check == "readings" and self.board is not None:
            rails = [*self.facts.touches.inputs]
            unread = [rail for rail in rails if not any(rail in self.facts.readings.names(one) for one in cold)]
            if unread:
                return self.read(point_of(unread[0], self.facts.touches), gain, f"Proof, readings: {why}", tier)
        drawn = [entry for entry in self.facts.entries if isinstance(entry.what, Drawn)]
        if check == "current" and not any(entry.number > (self.facts.proof.since or -1) for entry in drawn):
            return step("draw", "supply", gain, f"Proof, current: {why}", tier, needs="supply")
        if check == "ladder":
            return step("rung", "computer", gain, f"Proof, ladder: {why}", tier, needs="computer")
        if check in {"memory-cold", "memory-warm"} and self.testable():
            return self.run(check.removeprefix("memory-"), gain, f"Proof: {why}", tier)
        return step("proof", check, gain, f"Proof, {check}: {why}", tier, minutes=PROOF_MINUTES[check])

    def give_up(self) -> Step:
        """Nothing is left that is worth its minutes."""
        if self.board is None and not self.facts.allowed:
            one = INPUTS[0]
            return step(
                "read",
                one.id,
                0.3,
                f"{one.name} to ground first.",
                20,
                screen="ohms",
                quantity="resistance",
                mode="ohms",
            )
        if any(verdict == "donor" for _, verdict in self.facts.pads.values()):
            return step("return", "donor", 0.5, "The pads are beyond repair: offer it as a donor, or return it.", 59)
        return step(
            "return", "no-fix", 0.3, "Nothing is left that is worth its minutes: return it, with what was found.", 59
        )

    def worth(self, ranked: list[Step]) -> list[Step]:
        """Where minutes, part and odds exceed what the repair brings, the customer is asked first."""
        worth = self.facts.shop.worth
        first = ranked[0]
        if worth.hour is None or first.do in {"return", "ask", "proof"} or first.minutes < 5:
            return ranked
        spent = worth.spent_minutes or 0.0
        ahead = (spent + first.minutes) / 60 * worth.hour
        most = worth.price if worth.price is not None else worth.card
        if most is None or ahead <= most:
            return ranked
        figures = f"{spent:.0f} min spent and {first.minutes:.0f} ahead make {ahead:.0f}, the repair brings {most:.0f}"
        answer = self.facts.answers.get("ask")
        if answer is None:
            return [step("ask", "price", 0.4, f"{figures}: ask the customer before going on.", 1), *ranked]
        said = str(answer[1].answer).casefold()
        if said in {"no", "false", "return", "stop"}:
            return [step("return", "no-fix", 0.5, f"{figures}, and the customer does not want it.", 1), *ranked]
        return ranked

    # -- what must never be proposed -------------------------------------------------------------------------------

    def powered(self, found: Iterable[Step]) -> list[Step]:
        """Each step with what the card must hang on for it, and the switch before it where it hangs on something else."""
        steps: list[Step] = []
        for one in found:
            state = self.card.power
            wrong = (
                (one.needs == "off" and state != "off")
                or (one.needs == "supply" and state == "off")
                or (one.needs == "computer" and state != "computer")
            )
            if wrong:
                said = {
                    "off": "Switch off and discharge",
                    "supply": "On the bench supply, limit low",
                    "computer": "Into the test computer",
                }
                steps.append(
                    step(
                        "power",
                        one.needs,
                        one.gain,
                        f"{said[one.needs]}, for: {one.why}",
                        one.tier,
                        minutes=MINUTES["power"],
                        ahead=one.minutes + one.risk * HARM_MINUTES,
                    )
                )
                steps.append(replace(one, tier=one.tier + 1))
            else:
                steps.append(one)
        return steps

    def never(self, one: Step) -> bool:
        """Power or a tester on a locked card, a tester without core or chips, a part where none may go."""
        if one.powered and not self.facts.allowed:
            return True
        if one.do in {"draw", "rung", "run"} and not self.facts.allowed:
            return True
        if one.do == "run" and not self.testable():
            return True
        if one.do in {"place", "swap"} and one.target in self.card.cut:
            return True
        return one.do == "return" and one.target == "repaired" and bool(self.blocking)

    @property
    def blocking(self) -> list[str]:
        """What keeps the card here."""
        return [one.target for one in self.facts.owed if one.what not in {"tell", "photograph"}]
