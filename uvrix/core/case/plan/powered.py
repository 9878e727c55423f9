"""Under power: what it draws, the next probe of the start-up map, the part behind a dead node."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from uvrix.core.case.belief.start_up import hides_a_short, never_read_cold
from uvrix.core.case.plan.feeding import Feeding
from uvrix.core.case.plan.steps import SURE_NODE, Step, step
from uvrix.core.case.power import point_of
from uvrix.core.startup.chain import MEASURED, VOLTS
from uvrix.core.startup.isolate import Isolation
from uvrix.language import gettext

# The core is not lifted for a clock on less than this.
SURE_CORE = 0.5


class StartUp(Feeding):
    """Under power: what it draws, the next probe of the start-up map, the part behind a dead node."""

    def steps(self) -> list[Step]:
        """The steps that it proposes; order.py ranks them."""
        return [*self.supply(), *self.start_up(), *self.computer()]

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
                    gettext("What it draws on the supply is the first thing to read under power."),
                    40,
                    needs="supply",
                )
            )
        return found

    def _start_up_read(self) -> bool:
        return any(reading.reading.quantity in {"voltage", "frequency"} for reading in self.facts.readings.standing)

    def start_up(self) -> list[Step]:
        """The next probe of the start-up map, or the part behind the node that is dead."""
        facts, found, chain = self.facts, self.facts.isolation, self.facts.chain
        if found is None or chain is None or self.comes_up or facts.shorted or (facts.runs and not self.not_listed):
            return []
        if facts.rung and facts.rung != "absent":
            return []
        missing = [name for name, state in found.measured.items() if state.state == "missing"]
        if not missing:
            return self.prove_rails()
        # under power a probe is nearer than a meter on a card that is switched off for it
        steps = [*(self.probes(found) or self.pulled_down(missing)), *self.feed_what_hides_a_short(missing)]
        return [*steps, *self.parts_behind(told=not steps)]

    def pulled_down(self, missing: Sequence[str]) -> list[Step]:
        """A rail that is missing, or blamed for what is, and that nobody read cold: something may pull it down."""
        suspects = self.facts.isolation.suspects if self.facts.isolation else ()
        blamed = [suspect.node.id for suspect in suspects[:1]]
        return [
            self.read(
                point_of(name, self.facts.touches),
                0.3,
                gettext(
                    "{name} does not come up although what it needs is there: is something pulling it down?", name=name
                ),
                41,
            )
            for name in never_read_cold(self.facts, list(dict.fromkeys([*missing, *blamed])))
        ]

    def probes(self, found: Isolation) -> list[Step]:
        """What to probe next, while no node is surely the dead one."""
        chances = [suspect.chance for suspect in found.suspects if suspect.chance > 0]
        if not chances:
            return []
        if chances[0] >= SURE_NODE:
            return self.read_the_blamed(found)
        bits = -sum(chance * math.log2(chance) for chance in chances) or 1.0
        return [
            self.read(probe.node.point, probe.gain_bits / bits, f"{probe.node.name}. {probe.why}", 42, quantity)
            for probe in found.probes[:3]
            if probe.node.point and (quantity := MEASURED.get(probe.node.kind, VOLTS)[0]) != "current"
        ]

    def read_the_blamed(self, found: Isolation) -> list[Step]:
        """The one node that explains what is missing, where nobody read it: it may be there, and two others dead."""
        node = found.suspects[0].node
        if not node.point or found.measured[node.id].state != "unknown" or node.kind == "draw":
            return []
        why = gettext("{name} would explain all that is missing, and was not read.", name=node.name)
        return [self.read(node.point, 0.4, why, 42, MEASURED.get(node.kind, VOLTS)[0])]

    def parts_behind(self, *, told: bool) -> list[Step]:
        """The parts behind a dead node: looked at first, then replaced where nothing is left to probe."""
        steps = []
        for cause in self.causes:
            if cause.cause not in {"dead-part", "missing"} or cause.chance < 0.02:
                continue
            for who in cause.designators[:3]:
                if who in self.card.empty or who in self.facts.without_effect:
                    continue
                if who not in self.facts.looked and not self.seen_at(who):
                    why = gettext("{who} is behind what is missing: is it there, and whole?", who=who)
                    steps.append(step("look", who, max(0.05, 0.5 * cause.chance), why, 41 if told else 43))
                elif told and cause.cause == "dead-part" and (unread := self.unread_behind(who)):
                    steps.append(unread)
                elif told and cause.cause == "dead-part":
                    why = gettext(
                        "{who}: {why} Fit another one.",
                        who=who,
                        why=cause.why[0] if cause.why else gettext("the likeliest."),
                    )
                    steps.append(self.lift("swap", who, cause.chance, why, 44))
        nameless = self.behind_undrawn() if self.board is None else []
        return [*steps, *nameless, *(self.core_behind() if told else [])]

    def unread_behind(self, who: str) -> Step | None:
        """The node of a part that is blamed for what hangs on it, where nobody read the node itself."""
        found, chain = self.facts.isolation, self.facts.chain
        for node in chain.nodes if found and chain else ():
            if who in node.parts and node.point and found and found.measured[node.id].state == "unknown":
                why = gettext(
                    "{name} is blamed and was not read: read it before {who} is replaced.", name=node.name, who=who
                )
                return self.read(node.point, 0.4, why, 43, MEASURED.get(node.kind, VOLTS)[0])
        return None

    def behind_undrawn(self) -> list[Step]:
        """A node whose parts nobody named: what pulls it down, where it is made, its supply and enable; another one."""
        assert self.facts.isolation is not None
        best = self.facts.isolation.suspects[0]
        node = self.facts.undrawn.plan.meant(best.node.id)
        if node is None or best.node.parts or node.kind not in {"rail", "signal"}:
            return []
        found = []
        if node.kind == "rail" and not self.facts.readings.read_to_ground(node.id):
            why = gettext(
                "{name} is missing although everything it needs is there: is something pulling it down? {leads}",
                name=node.name,
                leads=node.leads,
            )
            found.append(replace(self.read(node.id, 0.3, why, 42), needs="off"))
        if node.id not in self.facts.looked:
            why = gettext(
                "{name} is where it breaks off, {chance}. {where} Find it, and name its parts.",
                name=node.name,
                chance=f"{best.chance:.2f}",
                where=node.where,
            )
            found.append(step("look", node.id, 0.4, why, 43))
            return found
        for what in ("supply", "enable"):
            point = f"{node.id} {what}"
            if not any(reading.reading.point == point for reading in self.facts.readings.standing):
                found.append(
                    self.read(
                        point,
                        0.25,
                        gettext("{name}: is the {what} of its converter there?", name=node.name, what=what),
                        43,
                        "voltage",
                    )
                )
        after = [entry for entry in self.facts.done("swap", "place") if entry.number > self._looked_at(node.id)]
        if not found and not after:
            why = gettext(
                "{name}: its supply and enable were read. {wrong} Fit another converter.",
                name=node.name,
                wrong=node.wrong,
            )
            found.append(self.lift("swap", gettext("{id} converter", id=node.id), 0.5 * best.chance, why, 44))
        return found

    def _looked_at(self, target: str) -> int:
        return max(
            (entry.number for entry in self.facts.entries if getattr(entry.what, "target", None) == target), default=-1
        )

    def core_behind(self) -> list[Step]:
        """A clock that the core does not drive, once its crystal is no longer the likelier: the core's joints."""
        core = self.board.core.designator if self.board else ""
        chance = self.chances("core-joint").get((core,), 0.0)
        if not core or chance < SURE_CORE or self.facts.done("reball", site=core):
            return []
        why = gettext(
            "The core's joints, {chance}: every rail is there, and what hangs on the core alone is silent.",
            chance=f"{chance:.2f}",
        )
        return [self.lift("reball", core, 0.65 * chance, why, 45)]

    def feed_what_hides_a_short(self, missing: Sequence[str]) -> list[Step]:
        """A rail that does not come up, so low when healthy that two leads cannot tell a short: feed it and look."""
        for rail in hides_a_short(self.facts, missing):
            why = gettext("{rail} does not come up, and two leads cannot tell a short from so low a rail.", rail=rail)
            return [replace(candidate, why=f"{why} {candidate.why}", tier=42) for candidate in self.feed(rail)]
        return []

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
            share = sum(chain.nodes[other].weight for other in new) / sum(candidate.weight for candidate in chain.nodes)
            gain = 0.5 * min(share, 1 - 0.5 * share) + 0.02
            steps.append(
                self.read(
                    node.point,
                    gain,
                    gettext("{name}: present, it shows {number} of the map at once.", name=node.name, number=len(new)),
                    42,
                    quantity,
                )
            )
        return sorted(steps, key=lambda candidate: -candidate.worth)[:3]

    def computer(self) -> list[Step]:
        """Into the test computer: how far it comes."""
        if self.facts.shorted or self.facts.rung:
            return []
        if any(run.clean or run.failed for _, run in self.facts.runs):
            return []
        if not self.comes_up and self.facts.isolation is not None and not self._rails_proven():
            return []
        why = gettext("Its inputs read right: into the test computer, and see how far it comes.")
        return [step("rung", "computer", 0.4, why, 45, needs="computer")]

    def _rails_proven(self) -> bool:
        found = self.facts.isolation
        assert found is not None
        if any(state.state == "missing" for state in found.measured.values()):
            return False
        return not self.prove_rails()
