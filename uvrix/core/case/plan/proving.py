"""What is owed, the proof check by check, and the way out."""

from __future__ import annotations

from uvrix.core.case.entries import Checked, Drawn
from uvrix.core.case.plan.proposer import Proposer
from uvrix.core.case.plan.steps import MOST_TIMES, PROOF_MINUTES, Step, step
from uvrix.core.case.power import point_of
from uvrix.core.case.proof import ProofCheck
from uvrix.language import gettext


class Proving(Proposer):
    """What is owed, the proof check by check, and the way out."""

    def steps(self) -> list[Step]:
        """The steps that it proposes; order.py ranks them."""
        return [*self.settle(), *self.prove()]

    def settle(self) -> list[Step]:
        """What was promised, once nothing else is in the way."""
        found = []
        for debt in self.facts.owed:
            if debt.what == "unsolder":
                found.append(
                    step(
                        "unsolder-lead",
                        debt.target,
                        0.3,
                        gettext("The injection lead on {target} must come off.", target=debt.target),
                        35,
                    )
                )
            elif debt.what == "refit-coil":
                found.append(
                    step(
                        "fit-coil",
                        debt.target,
                        0.3,
                        gettext("{target} is lifted: fit it again.", target=debt.target),
                        35,
                    )
                )
            elif debt.what == "cooler":
                found.append(
                    step("cooler-on", "cooler", 0.2, gettext("The cooler goes on before the card is proven."), 52)
                )
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
        host = {cause.cause: cause.chance for cause in self.causes}.get("host", 0.0)
        if self.facts.last_act is None and not self.facts.trials:
            return [
                *self.first_clean(),
                step("trial", "computer", 0.3, gettext("Nothing is wrong here: does it show in another computer?"), 53),
            ]
        if host > 0.5:
            return [
                step(
                    "return",
                    "no-fix",
                    host,
                    gettext("It shows in the customer's computer alone: the card is not at fault."),
                    58,
                )
            ]
        if proof.failed:
            return self.failed_check(proof.failed[0])
        found = []
        for number, check in enumerate(proof_check for proof_check in proof.open if not self.beyond_proof(proof_check)):
            found.append(self.check(check.check, check.why, 54 if number == 0 else 55))
        if not found and not [debt for debt in self.facts.owed if debt.what not in {"tell", "photograph"}]:
            what = "repaired" if self.facts.last_act is not None else "no-fix"
            found.append(
                step("return", what, 0.97, gettext("Every check of the proof passed and nothing is owed."), 56)
            )
        return found

    def beyond_proof(self, check: ProofCheck) -> bool:
        """Whether every input was read again and no good card stands behind any of it: nothing more can be read."""
        if check.check != "readings":
            return False
        since = self.facts.readings.since(self.facts.proof.since)
        cold = [
            standing
            for standing in since
            if standing.reading.quantity == "resistance" and standing.reading.to == "ground"
        ]
        inputs = self.facts.touches.inputs
        whole = all(any(rail in self.facts.readings.names(standing) for standing in cold) for rail in inputs)
        return bool(cold) and whole and all(standing.judged.verdict == "no-reference" for standing in cold)

    def failed_check(self, failed: ProofCheck) -> list[Step]:
        """A check of the proof failed: what might show the fault, then the check once more."""
        found = [*self.sense_paths(failed), *self.other_conditions(51)]
        times = sum(
            isinstance(entry.what, Checked) and entry.what.check == failed.check for entry in self.facts.entries
        )
        if times < MOST_TIMES:
            why = gettext(
                "{check} failed: {why} Once more, to see whether it stays.", check=failed.check, why=failed.why
            )
            found.append(step("proof", failed.check, 0.3, why, 57, minutes=PROOF_MINUTES[failed.check]))
        return found

    def sense_paths(self, failed: ProofCheck) -> list[Step]:
        """Figures that cannot be, or clocks that stay low: both ends of the paths by which the card sees its power.

        A sense resistor that corrodes fakes a drop: the card believes that it draws several times what it may, and
        locks its clocks low (docs/trade §4.10).
        """
        if failed.check not in {"sensors", "clocks"} or self.board is None:
            return []
        said = [entry.number for entry in self.facts.entries if isinstance(entry.what, Checked)]
        since = {standing.reading.point for standing in self.facts.readings.since(said[-1] if said else None)}
        ends = [
            end
            for supervisor in self.board.supervisors
            for path in supervisor.inputs
            for end in (path.high_point, path.low_point)
            if end
        ]
        why = gettext(
            "{check} failed: a sense path that went high fakes a drop and holds the clocks low. Read both ends.",
            check=failed.check,
        )
        return [self.read(point, 0.3, why, 50, "voltage") for point in dict.fromkeys(ends) if point not in since]

    def first_clean(self) -> list[Step]:
        """Nothing was done and nothing shows: runs under other conditions before it is called healthy."""
        conditions = {word for _, run in self.facts.runs for word in run.report.meta.condition}
        return [
            self.run(word, 0.25, gettext("Nothing shows yet: run it {word}.", word=word), 52)
            for word in ("cold", "warm")
            if word not in conditions and self.testable()
        ]

    def check(self, check: str, why: str, tier: int) -> Step:
        """The step that answers a check of the proof."""
        gain = 0.3
        since = self.facts.readings.since(self.facts.proof.since)
        cold = [
            standing
            for standing in since
            if standing.reading.quantity == "resistance" and standing.reading.to == "ground"
        ]
        if check == "readings" and self.board is not None:
            rails = [*self.facts.touches.inputs]
            unread = [
                rail for rail in rails if not any(rail in self.facts.readings.names(standing) for standing in cold)
            ]
            if unread:
                return self.read(
                    point_of(unread[0], self.facts.touches), gain, gettext("Proof, readings: {why}", why=why), tier
                )
        drawn = [entry for entry in self.facts.entries if isinstance(entry.what, Drawn)]
        if check == "current" and not any(entry.number > (self.facts.proof.since or -1) for entry in drawn):
            return step("draw", "supply", gain, gettext("Proof, current: {why}", why=why), tier, needs="supply")
        if check == "ladder":
            return step("rung", "computer", gain, gettext("Proof, ladder: {why}", why=why), tier, needs="computer")
        if check in {"memory-cold", "memory-warm"} and self.testable():
            return self.run(check.removeprefix("memory-"), gain, gettext("Proof: {why}", why=why), tier)
        return step(
            "proof",
            check,
            gain,
            gettext("Proof, {check}: {why}", check=check, why=why),
            tier,
            minutes=PROOF_MINUTES[check],
        )
