"""The order of the trade: all proposed steps in one list, guarded by what must come first and what never may be."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from uvrix.core.case.belief.believe import believe
from uvrix.core.case.belief.shorts import joined
from uvrix.core.case.belief.weighing import Cause
from uvrix.core.case.facts import Facts
from uvrix.core.case.plan.chips_off import ChipsOff
from uvrix.core.case.plan.cold import Cold
from uvrix.core.case.plan.hunt import Hunt
from uvrix.core.case.plan.ladder import Ladder
from uvrix.core.case.plan.memory import Memory
from uvrix.core.case.plan.mend import Mend
from uvrix.core.case.plan.powered import StartUp
from uvrix.core.case.plan.proposer import Proposer
from uvrix.core.case.plan.proving import Proving
from uvrix.core.case.plan.steps import HARM_MINUTES, LISTED, MINUTES, Step, step
from uvrix.language import gettext

PROPOSERS = (Cold, Hunt, Mend, ChipsOff, StartUp, Memory, Ladder, Proving)


def plan(facts: Facts, causes: Sequence[Cause] | None = None) -> tuple[Step, ...]:
    """The steps, best first; never empty."""
    return Order(facts, believe(facts) if causes is None else causes).ranked()


class Order(Proposer):
    """Ranks what all of them propose."""

    def ranked(self) -> tuple[Step, ...]:
        """All steps, best first."""
        found = [step for proposer in PROPOSERS for step in proposer(self.facts, self.causes).steps()]
        allowed = [candidate for candidate in self.powered(found) if not self.never(candidate)]
        best: dict[tuple[str, str, str], Step] = {}
        for candidate in sorted(allowed, key=lambda candidate: (candidate.tier, -candidate.worth)):
            best.setdefault((candidate.do, candidate.target, str(candidate.more.get("quantity", ""))), candidate)
        ranked = list(best.values())[:LISTED]
        return tuple(self.worth(ranked or [self.give_up()]))

    def give_up(self) -> Step:
        """Nothing is left that is worth its minutes."""
        if self.board is None and not self.facts.allowed:
            candidate = self.facts.undrawn.plan.inputs[0]
            return step(
                "read",
                candidate.id,
                0.3,
                gettext("{name} to ground first.", name=candidate.name),
                20,
                screen="ohms",
                quantity="resistance",
                mode="ohms",
            )
        if any(verdict == "donor" for _, verdict in self.facts.pads.values()):
            return step(
                "return", "donor", 0.5, gettext("The pads are beyond repair: offer it as a donor, or return it."), 59
            )
        return step(
            "return",
            "no-fix",
            0.3,
            gettext("Nothing is left that is worth its minutes: return it, with what was found."),
            59,
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
        figures = gettext(
            "{spent} min spent and {minutes} ahead make {ahead}, the repair brings {most}",
            spent=f"{spent:.0f}",
            minutes=f"{first.minutes:.0f}",
            ahead=f"{ahead:.0f}",
            most=f"{most:.0f}",
        )
        answer = self.facts.answers.get("ask")
        if answer is None:
            return [
                step("ask", "price", 0.4, gettext("{figures}: ask the customer before going on.", figures=figures), 1),
                *ranked,
            ]
        said = str(answer[1].answer).casefold()
        if said in {"no", "false", "return", "stop"}:
            return [
                step(
                    "return",
                    "no-fix",
                    0.5,
                    gettext("{figures}, and the customer does not want it.", figures=figures),
                    1,
                ),
                *ranked,
            ]
        return ranked

    def powered(self, found: Iterable[Step]) -> list[Step]:
        """Each step with what the card must hang on for it, and the switch before it where it hangs elsewhere."""
        steps: list[Step] = []
        for candidate in found:
            state = self.card.power
            wrong = (
                (candidate.needs == "off" and state != "off")
                or (candidate.needs == "supply" and state == "off")
                or (candidate.needs == "computer" and state != "computer")
            )
            if wrong:
                said = {
                    "off": gettext("Switch off and discharge"),
                    "supply": gettext("On the bench supply, limit low"),
                    "computer": gettext("Into the test computer"),
                }
                steps.append(
                    step(
                        "power",
                        candidate.needs,
                        candidate.gain,
                        gettext("{needs}, for: {why}", needs=said[candidate.needs], why=candidate.why),
                        candidate.tier,
                        minutes=MINUTES["power"],
                        ahead=candidate.minutes + candidate.risk * HARM_MINUTES,
                    )
                )
                steps.append(replace(candidate, tier=candidate.tier + 1))
            else:
                steps.append(candidate)
        return steps

    def never(self, candidate: Step) -> bool:
        """Power on a locked card or a joined stage, a tester without core or chips, a part where none may go."""
        if candidate.powered and (not self.facts.allowed or joined(self.facts)):
            return True
        if candidate.do in {"draw", "rung", "run"} and not self.facts.allowed:
            return True
        if candidate.do == "run" and not self.testable():
            return True
        into_computer = candidate.do == "rung" or (candidate.do, candidate.target) == ("power", "computer")
        if into_computer and self.packages & self.card.empty:
            return True
        if candidate.do in {"place", "swap"} and candidate.target in self.card.cut:
            return True
        return candidate.do == "return" and candidate.target == "repaired" and bool(self.blocking)

    @property
    def blocking(self) -> list[str]:
        """What keeps the card here."""
        return [debt.target for debt in self.facts.owed if debt.what not in {"tell", "photograph"}]
