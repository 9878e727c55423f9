"""The rails are there and the card does not come as far as it should."""

from __future__ import annotations

from dataclasses import replace

from uvrix.core.case.entries import Looked
from uvrix.core.case.plan.room import Room
from uvrix.core.case.plan.steps import LOOK_SIDE_MINUTES, Step, step
from uvrix.core.look.regions import SIDES, regions


class Ladder(Room):
    """The rails are there and the card does not come as far as it should."""

    def steps(self) -> list[Step]:
        """What this room proposes."""
        return [*self.ladder()]

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
            step(
                "look",
                region.id,
                0.4 * chance,
                "The slot's contacts under the microscope, one by one.",
                49,
                minutes=2.0,
            )
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
