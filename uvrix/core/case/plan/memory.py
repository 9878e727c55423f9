"""From the memory runs that count to what is tried about them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import replace

from uvrix.core.case.entries import Climbed
from uvrix.core.case.plan.proposer import Proposer
from uvrix.core.case.plan.steps import LEAST_CURE, Step, step
from uvrix.core.case.power import point_of
from uvrix.core.finding_kinds import group_of
from uvrix.core.memory.finding.reasons import title
from uvrix.core.memory.finding.runs import OF_MOST
from uvrix.core.planning.plan import SCHOOL_YIELDS
from uvrix.core.values.words import percent
from uvrix.language import gettext

# Refusals that may be the card's own, and are looked into on the bus before the tester is run again.
OF_THE_CARD = frozenset({"not-found", "not-initialised"})
RUN_AGAIN: Mapping[str, str] = {
    "not-found": gettext("it is listed, so take the recipe's bus index"),
    "not-initialised": gettext("it is listed, so start it as the recipe says"),
    "wrong-build": gettext("take the build that fits the core's generation"),
    "wrong-index": gettext("look its bus index up again, of its first function"),
}
# A school, and the trade's own order where none is named, gives way to a repair that is worth this many times more for
# its minutes, its part and its risk.
YIELDS: Mapping[str, float] = {
    "reball-first": SCHOOL_YIELDS,
    "replace-first": SCHOOL_YIELDS,
    "by-numbers": 1.0,
    "": 1.5,
}
CHIP = frozenset({"reball", "swap"})
# Refused this often, it is no matter of how the tester is set up.
MOST_REFUSED = 3


class Memory(Proposer):
    """From the memory runs that count to what is tried about them."""

    def steps(self) -> list[Step]:
        """The steps that it proposes; order.py ranks them."""
        return [*self.memory()]

    def memory(self) -> list[Step]:
        """From the runs that count to what is tried about them."""
        if self.facts.shorted or not self.testable():
            return []
        told = [run for _, run in self.facts.runs if not run.refused]
        refused = [run for _, run in self.facts.runs if run.refused]
        if not told:
            if refused:
                return self.refused()
            why = gettext("It is on the bus: run the memory tester cold.")
            return [self.run("cold", 0.5, why, 47)] if self.wants_memory else []
        failed = [run for run in told if run.failed]
        if not failed:
            return []
        located = self.facts.located
        if located is None or self.board is None:
            errors: Counter[str] = Counter()
            for run in failed:
                errors.update({name: evidence.errors for name, evidence in run.report.evidence.channels.items()})
            names = [name for name, many in errors.items() if many >= OF_MOST * max(errors.values()) and many]
            which = (
                gettext("channel {names} fails", names=names[0])
                if len(names) == 1
                else gettext("{number} channels fail", number=len(names))
            )
            why = gettext(
                "By the report {which}: where that is on the board, only its model tells. Four clicks draw it.",
                which=which,
            )
            return [step("draw-model", "board", 0.5, why, 47)]
        return self.about_chips()

    def refused(self) -> list[Step]:
        """The tester refused: what its reason asks for, once or twice; then it is no matter of the tester."""
        entry, last = next((entry, run) for entry, run in reversed(self.facts.runs) if run.refused)
        reason, times = last.report.meta.refusal or gettext("no reason given"), len(self.facts.runs)
        again = ""
        if times > 1:
            again = gettext(
                " That is refused again: compare it with the recipe that last worked on this model and host."
            )
        climbed = any(
            isinstance(candidate.what, Climbed) and candidate.number > entry.number for candidate in self.facts.entries
        )
        if reason in OF_THE_CARD and not climbed:
            why = gettext(
                "The tester refused ({reason}): see first whether the card is listed on the bus.", reason=reason
            )
            return [step("rung", "computer", 0.4, why, 46, needs="computer")]
        if times >= MOST_REFUSED:
            return []
        what = RUN_AGAIN.get(reason, gettext("set the tester up by its recipe"))
        return [
            self.run(
                "cold",
                0.4,
                gettext(
                    "The tester refused ({reason}): {what}, and run it again.{again}",
                    reason=reason,
                    what=what,
                    again=again,
                ),
                47,
            )
        ]

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
                    gettext("One run proves little: under another condition it tells more."),
                    47,
                )
            )
        if (group is not None and "check-supply" in group.tried) or kind == "everywhere":
            for rail in sorted(self.facts.touches.memory_rails):
                point = point_of(rail, self.facts.touches)
                read = any(
                    rail in self.facts.readings.names(reading) and reading.reading.quantity == "voltage"
                    for reading in self.facts.readings.standing
                )
                chance = sum(cause.chance for cause in self.causes if cause.cause == "supply")
                if not read and chance > 0.08:
                    found.append(
                        self.read(
                            point,
                            0.8 * chance,
                            gettext("{rail} feeds all of them: read it before a chip is lifted.", rail=rail),
                            47,
                            "voltage",
                        )
                    )
        chips = self.chances("chip-joint", "chip", "board-line")
        for who, _ in sorted(chips.items(), key=lambda chip: -chip[1])[:2]:
            if who:
                found += self.about_chip(who[0])
        core = self.board.core.designator
        chance = self.chances("core-joint").get((core,), 0.0)
        if chance > 0.03 and not self.facts.done("reball", site=core):
            why = gettext(
                "The core's joints, {chance}: the long way, for what no chip explains.", chance=f"{chance:.2f}"
            )
            repair = self.lift("reball", core, 0.65 * chance, why, 48)
            # a chip is far easier to lift: whatever is tried about it goes first, unless the odds are the core's
            easier = any(other.do in CHIP and other.worth >= repair.worth for other in found)
            found.append(replace(repair, tier=48 + easier))
        return found

    def about_chip(self, who: str) -> list[Step]:
        """The lot, the mark, then reball or swap by the shop's school and the odds."""
        joint, chip, line = (self.chances(cause).get((who,), 0.0) for cause in ("chip-joint", "chip", "board-line"))
        found: list[Step] = []
        if self.facts.shop.lots and who not in self.facts.lots and who not in self.facts.looked:
            found.append(
                step(
                    "look", who, 0.05 + 0.1 * chip, gettext("Read the lot off {who} before it is lifted.", who=who), 46
                )
            )
        elif self.bad_lot(who) and "ask" not in self.facts.answers:
            lot = self.facts.shop.lot(self.facts.lots[who][1])
            assert lot is not None
            failed = gettext("Lot {lot}: {failed} of {of} failed here", lot=lot.lot, failed=lot.failed, of=lot.of)
            why = gettext("{failed}. One chip, or all of them? Ask before the first is lifted.", failed=failed)
            found.append(step("ask", gettext("one chip or all"), 0.3, why, 46))
        elif not self.marked(who):
            found.append(step("mark", who, 0.3, self.why_mark(who), 46))
        return found + self.repairs(who, joint, chip, line)

    def repairs(self, who: str, joint: float, chip: float, line: float) -> list[Step]:
        """Reball and swap of a chip, in the order of the shop's school where the odds do not say otherwise."""
        tried = set(self._acts_at(who))
        reball, swap = 0.9 * joint + 0.15 * line, 0.9 * joint + 0.95 * chip + 0.15 * line
        found = []
        if not tried & {"reball", "swap"} and reball > LEAST_CURE:
            why = gettext(
                "{who}: its joint {joint}, the chip itself {chip}. Reball it and run again.",
                who=who,
                joint=f"{joint:.2f}",
                chip=f"{chip:.2f}",
            )
            found.append(self.lift("reball", who, reball, why, 48))
        if "swap" not in tried and swap > LEAST_CURE:
            why = gettext(
                "{who}: the chip itself {chip}, its joint {joint}. Fit another one and run again.",
                who=who,
                chip=f"{chip:.2f}",
                joint=f"{joint:.2f}",
            )
            repair = self.lift("swap", who, swap, why, 48)
            found.append(replace(repair, ahead=self.facts.shop.part_minutes))
        if self.by_school(found):
            found.reverse()
        return [replace(candidate, tier=48 + late) for late, candidate in enumerate(found)]

    def by_school(self, found: list[Step]) -> bool:
        """Whether a swap goes before a reball of the same chip: the first of a school gives way to far better odds."""
        if len(found) < 2:
            return False
        reball, swap = found
        yields = YIELDS[self.facts.shop.school]
        if self.facts.shop.school == "replace-first":
            return reball.worth <= yields * swap.worth
        return swap.worth > yields * reball.worth

    def why_mark(self, who: str) -> str:
        """What the runs say, and that the place is made sure of before a chip is lifted."""
        located = self.facts.located
        assert located is not None
        found = located.finding
        said = (
            gettext("{title}, chance {chance}. ", title=title(found.kind, found.dq), chance=percent(found.chance))
            if who in found.designators
            else ""
        )
        return gettext("{said}Make sure of the place by the core's mark before {who} is lifted.", said=said, who=who)

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
