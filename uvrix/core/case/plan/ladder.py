"""The rails are there and the card does not come as far as it should."""

from __future__ import annotations

from uvrix.core.case.entries import Looked
from uvrix.core.case.plan.proposer import Proposer
from uvrix.core.case.plan.steps import LEAST_CURE, LOOK_SIDE_MINUTES, Step, step
from uvrix.core.look.regions import SIDES, regions
from uvrix.core.startup.chain import MEASURED, VOLTS
from uvrix.language import gettext


class Ladder(Proposer):
    """The rails are there and the card does not come as far as it should."""

    def steps(self) -> list[Step]:
        """The steps that it proposes; order.py ranks them."""
        return [*self.ladder()]

    def ladder(self) -> list[Step]:
        """The rails are there and it does not come as far as it should."""
        rung = self.facts.rung
        if self.facts.shorted or rung not in {"absent", "listed", "driver", "picture"}:
            return []
        if any(run.failed for _, run in self.facts.runs):
            return []
        found = self.other_conditions(48) if rung != "absent" and self.has_run else []
        found += [*self.trials(), *self.looks()]
        if rung in {"absent", "listed"}:
            found += self.at_the_contacts()
        if rung == "absent":
            found += self.unshown_nodes()
        return [*found, *self.firmware(), *self.core_joints()]

    def chance(self, cause: str) -> float:
        """The chance of a cause over all parts."""
        return sum(candidate.chance for candidate in self.causes if candidate.cause == cause)

    def trials(self) -> list[Step]:
        """Another computer, another plug."""
        tried = {trial.changed for _, trial in self.facts.trials}
        others = (("computer", "host", 12.0), ("plug", "plug", 2.0))
        return [
            step(
                "trial",
                changed,
                0.3 * chance + 0.03,
                gettext("With another {changed}: is it the card?", changed=changed),
                49,
                minutes=minutes,
            )
            for changed, cause, minutes in others
            if (chance := self.chance(cause)) > 0.02 and changed not in tried
        ]

    def looks(self) -> list[Step]:
        """The sides that nobody looked at yet."""
        why = gettext("Torn contacts and a cracked corner of the core are seen, not measured.")
        gain = 0.3 * max(self.chance("contact"), 0.1)
        return [
            step("look", side, gain, why, 49, minutes=LOOK_SIDE_MINUTES)
            for side in SIDES
            if side not in self.facts.looked
        ]

    def firmware(self) -> list[Step]:
        """The image of the storage chip, where the model says which that is."""
        chance, storage = self.chance("firmware"), self._storage()
        if chance <= LEAST_CURE or not storage or self.facts.done("write"):
            return []
        why = gettext("The image of the storage chip: read it, keep it, write one that fits.")
        return [step("write", storage, 0.7 * chance, why, 50)]

    def core_joints(self) -> list[Step]:
        """The core's joints: the long way."""
        core, joint = (self.board.core.designator if self.board else ""), self.chance("core-joint")
        if not core or joint <= LEAST_CURE or self.facts.done("reball", site=core):
            return []
        why = gettext("The core's joints, {joint}: nothing that is easier explains it.", joint=f"{joint:.2f}")
        return [self.lift("reball", core, 0.65 * joint, why, 51)]

    def at_the_contacts(self) -> list[Step]:
        """The slot's contacts by microscope, region by region: a torn one is passed over at a glance."""
        if self.board is None:
            return []
        named = {entry.what.target for entry in self.facts.entries if isinstance(entry.what, Looked)}
        return [
            step(
                "look",
                region.id,
                0.4 * self.chance("contact"),
                gettext("The slot's contacts under the microscope, one by one."),
                49,
                minutes=2.0,
            )
            for region in regions(self.board)
            if region.id not in named and "edge-contacts" in region.kinds
        ]

    def unshown_nodes(self) -> list[Step]:
        """Nodes of the start-up map that were neither read nor shown by what needs them."""
        found, chain = self.facts.isolation, self.facts.chain
        if (
            found is None
            or chain is None
            or any(measurement.state == "missing" for measurement in found.measured.values())
        ):
            return []
        present = [number for number, node in enumerate(chain.nodes) if found.measured[node.id].state == "present"]
        proven = {other for number in present for other in range(len(chain.nodes)) if chain.absent[other, number]}
        steps = [
            self.read(
                node.point,
                0.2,
                gettext("{name} was not shown to be there.", name=node.name),
                48,
                MEASURED.get(node.kind, VOLTS)[0],
            )
            for number, node in enumerate(chain.nodes)
            if number not in proven and node.point and node.kind != "draw"
        ]
        return steps[:2]

    def _storage(self) -> str:
        """The storage chip of the firmware, where the model names one by its value or marking."""
        for part in self.board.parts if self.board else ():
            if any(word in f"{part.value} {part.marking}".casefold() for word in ("firmware", "storage", "flash")):
                return part.designator
        return ""
