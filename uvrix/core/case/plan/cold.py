"""Before power: the symptom, a look, what is missing, every input, fuse and rail to ground."""

from __future__ import annotations

from dataclasses import replace

from uvrix.core.case.entries import Measured
from uvrix.core.case.plan.proposer import Proposer
from uvrix.core.case.plan.steps import COMES_UP, FIRST, LATER, LOOK_SIDE_MINUTES, Step, step
from uvrix.core.case.power import point_of
from uvrix.core.case.rails import Standing
from uvrix.core.look.regions import SIDES
from uvrix.language import gettext

# Rails of a card that comes up, and yet draws what its model does not: after the check was tried again.
LATE = 56
# Rails of a card that no computer lists and whose map names no points: before its owner's computer is doubted.
UNLIT = 48


class Cold(Proposer):
    """Before power: the symptom, a look, what is missing, every input, fuse and rail to ground."""

    def steps(self) -> list[Step]:
        """The steps that it proposes; order.py ranks them."""
        return [
            *self.warranty(),
            *self.arrive(),
            *self.missing(),
            *self.look(),
            *self.again(),
            *self.after_a_lifted_coil(),
            *self.inputs(),
            *self.rails(),
        ]

    def warranty(self) -> list[Step]:
        """A new card with its seals whole: whose it is to repair is asked before anything is opened."""
        if self.facts.acts or self.facts.shop.warranty == "":
            return []
        if self.facts.shop.warranty == "valid":
            why = gettext("It is under its seller's or maker's warranty: it goes back unopened.")
            return [step("return", "no-fix", 0.9, why, FIRST)]
        why = gettext("It was bought new and its seals are whole: opening it may end a warranty that costs nothing.")
        return [step("ask", gettext("the seller's or maker's warranty"), 0.9, why, FIRST)]

    def arrive(self) -> list[Step]:
        """The symptom first; who measured without one is reminded of it, and not sent back."""
        if self.facts.symptoms:
            return []
        why = gettext("No symptom is recorded yet: pin it down first.")
        return [step("symptom", "card", 0.5, why, LATER if self.begun else 0)]

    @property
    def begun(self) -> bool:
        """Whether something was measured, tested or done already."""
        return self.read_anything or bool(self.facts.acts or self.facts.runs)

    def missing(self) -> list[Step]:
        """Parts that are known to be missing go back on."""
        chances = self.chances("missing")
        return [
            step(
                "place",
                site,
                max(0.5, chances.get((site,), 0.5)),
                gettext("{site} was seen to be missing: fit one.", site=site),
                5,
            )
            for site in self.card.missing
        ]

    def look(self) -> list[Step]:
        """Both sides by eye, before any meter; later only where it is worth its minutes."""
        if self.board is None:
            if self.begun or self.facts.looked or self.facts.seen:
                return []
            return [
                step(
                    "look",
                    "all",
                    0.15,
                    gettext("Look the card over before you pick up a meter."),
                    10,
                    minutes=2 * LOOK_SIDE_MINUTES,
                )
            ]
        return [
            step(
                "look",
                side,
                0.12,
                gettext("Look before you measure: a missing or burnt part is the cheapest fault to find."),
                LATER if self.begun else 10,
                minutes=LOOK_SIDE_MINUTES,
            )
            for side in SIDES
            if side not in self.facts.looked and not (self.begun and self.facts.seen)
        ]

    @property
    def _readable_under_power(self) -> bool:
        """Whether the start-up map names a point for any rail that is no input."""
        chain, inputs = self.facts.chain, self.facts.touches.inputs
        return chain is not None and any(node.kind == "rail" and node.point and node.id not in inputs
                                         for node in chain.nodes)  # fmt: skip

    def after_a_lifted_coil(self) -> list[Step]:
        """A coil was lifted to tell stages apart: the input that was short is read again."""
        phases = self.board.phases if self.board else ()
        stages = {phase.point: phase.designator for phase in phases if phase.point}
        found = []
        for coil, since in self.card.lifted.items():
            for rail in self.facts.touches.of_site(stages.get(coil, "")) & set(self.facts.touches.inputs):
                low = self.facts.readings.low_at(rail) or self.short_by(rail)
                if low is not None and low.entry < since:
                    found.append(
                        self.read(
                            low.reading.point,
                            0.5,
                            gettext("{coil} is lifted: is {rail} still short?", coil=coil, rail=rail),
                            16,
                        )
                    )
        return found

    def short_by(self, rail: str) -> Standing | None:
        """The reading by which a rail is short."""
        if rail not in self.facts.shorted:
            return None
        return next((found_rail.standing for found_rail in self.facts.rails if found_rail.id == rail), None)

    def inputs(self) -> list[Step]:
        """Every input and fuse, numbered, before power."""
        found = []
        # a card that ran in the tester since the last act was powered already: what is unread waits for the next time
        tier = LATER if self.has_run else 20
        for block in self.facts.blocks:
            if not block.read or block.about in self.facts.shorted or self.waits(block.about):
                continue
            point = block.about if block.about in self.facts.touches.fuses else block.read
            asked = self.read(point, 0.3, block.why, tier)
            found.append(replace(asked, across=True) if point in self.facts.touches.fuses else asked)
        return found

    def waits(self, fuse: str) -> bool:
        """Whether a fuse need not be read now: it is known to be open, or the hunt on its net goes on behind it."""
        state = self.facts.fuses.get(fuse)
        if state is None or state.state == "blown":
            return state is not None
        hunted = bool(self.facts.touches.of_site(fuse) & set(self.facts.shorted))
        return hunted and any(self._of_fuse(void.entry, fuse) for void in self.facts.counted.void.values())

    def _of_fuse(self, entry: int, fuse: str) -> bool:
        what = self.facts.entries[entry].what
        return isinstance(what, Measured) and what.reading.point == fuse

    def rails(self) -> list[Step]:
        """Every rail to ground, cold, for a card that does not come up.

        Later for one that draws what its model does not: it is not right, however far it comes. One that no computer
        lists is read where its map says of no point at which a rail could be read under power.
        """
        late = any(check.check == "current" and check.state == "failed" for check in self.facts.proof.checks)
        tried = self.facts.rung or self.facts.runs or (self.card.power != "off" and not self.facts.shorted)
        early = not tried and (not self.facts.symptoms <= COMES_UP or self.facts.shorted)
        unlit = self.not_listed and not self._readable_under_power
        if self.board is None or not (early or late or unlit):
            return []
        tier = UNLIT if unlit else LATE if late else 22
        found = []
        for rail, entry in self.facts.touches.rails.items():
            if rail in self.facts.touches.inputs or self.facts.readings.read_to_ground(rail):
                continue
            # known to be short: a lead soldered on for feeding it asks for no reading
            if rail in self.facts.shorted and any(rail in self.facts.touches.of_site(lead) for lead in self.card.leads):
                continue
            point = point_of(rail, self.facts.touches)
            found.append(
                self.read(
                    point,
                    0.2,
                    gettext("{value} to ground, cold: a short shows before power.", value=entry.name),
                    tier,
                )
            )
        return found
