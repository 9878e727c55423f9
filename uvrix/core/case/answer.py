"""All that follows from a case as one object: what `uvrix next --json` prints (docs/formats §18)."""

from __future__ import annotations

from typing import Any

from uvrix.core.case.belief.believe import believe
from uvrix.core.case.belief.shorts import JOINED, joined
from uvrix.core.case.belief.weighing import Cause
from uvrix.core.case.belief.words import cause_words
from uvrix.core.case.card import Card
from uvrix.core.case.facts import Facts
from uvrix.core.case.plan.order import plan
from uvrix.core.case.plan.steps import Step
from uvrix.core.case.plan.words import means, sentence
from uvrix.language import gettext


def answer(facts: Facts) -> dict[str, Any]:
    """The object of docs/formats §18: card, void, power, rails, causes, next, owed, proof, warnings."""
    causes = believe(facts)
    steps = plan(facts, causes)
    return {
        "card": _card(facts.card),
        "void": [{"entry": void.entry, "by": void.by, "why": void.why} for void in facts.counted.void.values()],
        "power": {
            "allowed": facts.allowed,
            "blocks": [{"about": block.about, "why": block.why} for block in facts.blocks],
        },
        "rails": [{"id": rail.id, "verdict": rail.verdict, "entry": rail.standing.entry} for rail in facts.rails],
        "causes": [_cause(cause) for cause in causes],
        "next": [step_json(step) for step in steps],
        "owed": [{"what": debt.what, "target": debt.target, "since": debt.since} for debt in facts.owed],
        "proof": {
            "since": facts.proof.since,
            "checks": [{"check": check.check, "state": check.state, "why": check.why} for check in facts.proof.checks],
        },
        "warnings": list(warnings(facts)),
    }


def _card(card: Card) -> dict[str, Any]:
    names = ("off", "missing", "swapped", "lifted", "leads", "wires", "cut")
    return {**{name: list(getattr(card, name)) for name in names}, "power": card.power}


def _cause(cause: Cause) -> dict[str, Any]:
    return {
        "cause": cause.cause,
        "designators": list(cause.designators),
        "chance": round(cause.chance, 4),
        "says": cause_words(cause.cause, cause.designators),
        "why": list(cause.why),
        "entries": list(cause.entries),
    }


def step_json(step: Step) -> dict[str, Any]:
    """A step as docs/formats §18 lists it, with what carries it out."""
    return {
        "do": step.do,
        "target": step.target,
        "step": step.step,
        "minutes": round(step.minutes, 2),
        "risk": round(step.risk, 4),
        "gain": round(step.gain, 4),
        "why": step.why,
        "says": sentence(step),
        "means": means(step),
        **step.more,
    }


def warnings(facts: Facts) -> list[str]:
    """What a technician should know beside the steps."""
    found = list(facts.card.odd)
    if facts.card.baked is not None:
        found.append(
            gettext(
                "The whole card was in an oven: every part has one heat cycle more, and lead and flux fumes came of it."
            )
        )
    found += [JOINED.format(pair) for pair in joined(facts)]
    for fuse, state in facts.fuses.items():
        if state.state == "sick":
            found.append(f"{fuse}: {state.why}")
    if facts.isolation is not None:
        found += facts.isolation.urgent
    for site, (_, lot) in facts.lots.items():
        known = facts.shop.lot(lot)
        if known and known.failed:
            found.append(
                gettext(
                    "{site} is of lot {lot}: {failed} of {of} failed here.",
                    site=site,
                    lot=lot,
                    failed=known.failed,
                    of=known.of,
                )
            )
    if facts.since_the_runs_before:
        found.append(facts.since_the_runs_before)
    for site in facts.card.cut:
        found.append(
            gettext(
                "The layers below {site} are cut out: its place stays empty for good, and the customer is told.",
                site=site,
            )
        )
    return found
