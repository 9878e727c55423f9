"""The strands of how far the card comes in a computer, and of trials with something else changed."""

from __future__ import annotations

from collections.abc import Mapping

from uvrix.core.case.belief.weighing import Strand, Weighed, strand_of
from uvrix.core.case.entries import Trial
from uvrix.core.case.facts import Facts
from uvrix.core.startup.limits import REFUTED_SHARE
from uvrix.core.values.codes import code_words
from uvrix.language import gettext

# How far a card comes, and what is behind it where the rails are right (docs/trade §4.8, orders of magnitude).
BY_RUNG: Mapping[str, Mapping[str, float]] = {
    "absent": {"core-joint": 0.30, "contact": 0.16, "firmware": 0.14, "core": 0.16, "host": 0.12, "plug": 0.06},
    "listed": {"firmware": 0.30, "core-joint": 0.20, "core": 0.15, "chip-joint": 0.12, "host": 0.1, "supply": 0.05},
    "driver": {"core-joint": 0.22, "core": 0.2, "plug": 0.15, "host": 0.15, "supply": 0.1, "firmware": 0.08},
    "picture": {"core-joint": 0.22, "core": 0.2, "supply": 0.15, "host": 0.1, "plug": 0.08, "firmware": 0.1},
}
# What a trial with one thing changed says: showing without it all the same, and gone without it.
TRIAL_BLAMES: Mapping[str, str] = {"computer": "host", "plug": "plug", "lead": "host", "card": "host"}
SHOWS_YET, GONE_WITHOUT = 0.05, 20.0
RARELY = 0.3


def ladder(facts: Facts) -> Strand | None:
    """What is behind a card that does not come as far as it should; None where it does."""
    rung = facts.rung
    if rung not in BY_RUNG or (facts.card.cooler_off is not None and rung != "absent"):
        return None
    if any(run.clean for _, run in facts.runs) and rung in {"absent", "listed"}:
        return None
    core = facts.board.core.designator if facts.board else ""
    weighed = []
    for cause, share in BY_RUNG[rung].items():
        who = (core,) if core and cause in {"core-joint", "core"} else ()
        candidate = Weighed(
            cause, who, share, [gettext("As far as they were read the rails are there, and it is {rung}.", rung=rung)]
        )
        _by_trial(facts, candidate)
        if cause == "core-joint" and core and facts.done("reball", site=core):
            candidate.times(0.1, gettext("The core was reballed."))
        if cause in {"core", "core-joint"} and core and facts.done("swap", site=core):
            candidate.times(REFUTED_SHARE, gettext("The core was replaced."))
        if cause == "firmware" and facts.done("write"):
            candidate.times(0.1, gettext("The firmware was written."))
        for entry, seen in facts.seen:
            if {"contact": "contact", "plug": "plug", "corner-bond": "core-joint"}.get(seen.kind) == cause:
                repaired = facts.done("contact-repaired", "swap", site=seen.part)
                candidate.times(
                    0.3 if repaired else 12.0,
                    gettext("{kind} seen.", kind=seen.kind.replace("-", " ")),
                    entry.number,
                )
                if seen.part and not repaired:
                    candidate.designators = (seen.part,)
        weighed.append(candidate)
    return strand_of("ladder", weighed, 0.12)


def _by_trial(facts: Facts, weighed: Weighed) -> None:
    for entry, trial in facts.trials:
        blamed = TRIAL_BLAMES[trial.changed]
        # a known-good card in the same computer: showing then, the computer is to blame
        shows = not trial.shows if trial.changed == "card" else trial.shows
        if weighed.cause == blamed:
            less = RARELY if trial.how_often == "rarely" else SHOWS_YET
            weighed.times(
                less if shows else GONE_WITHOUT,
                _trial_said(trial),
                entry.number,
            )


def _trial_said(trial: Trial) -> str:
    if trial.shows:
        return gettext("With another {changed} it shows.", changed=code_words(trial.changed))
    return gettext("With another {changed} it is gone.", changed=code_words(trial.changed))


def trial(facts: Facts) -> Strand | None:
    """A fault that is gone with something else changed lies there."""
    found = []
    for entry, trial in facts.trials:
        outside = trial.shows if trial.changed == "card" else not trial.shows
        if outside and not facts.acts_since(entry.number):
            weight = RARELY if trial.how_often == "rarely" else 1.0
            found.append(
                Weighed(
                    TRIAL_BLAMES[trial.changed],
                    (),
                    weight,
                    [_trial_said(trial)],
                    [entry.number],
                )
            )
    return strand_of("trial", found, 0.1)
