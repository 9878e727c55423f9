"""The debrief: a thread beside what the advice would have done, what each step told and cost, and what cost most."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

from uvrix.core.boards.model import Board
from uvrix.core.case.answer import step_json
from uvrix.core.case.belief.believe import believe
from uvrix.core.case.belief.weighing import Cause
from uvrix.core.case.belief.words import cause_words
from uvrix.core.case.case_file import case_document, case_from
from uvrix.core.case.facts import Facts
from uvrix.core.case.plan.order import plan
from uvrix.core.case.words import entry_words
from uvrix.core.look.regions import SIDES
from uvrix.core.practice.bench import Harm, PracticeBench, bench_after
from uvrix.core.practice.card_file import PracticeCard
from uvrix.core.practice.habits import Habit, habits
from uvrix.core.practice.limits import AS_GOOD_AS_FIRST, IN_QUESTION, RULED_OUT
from uvrix.core.practice.steps import Cost, cost_of, minutes_of, step_of
from uvrix.core.readings.notation import Value
from uvrix.core.readings.reading_file import Observation, Reading
from uvrix.language import gettext

Ended = Literal["repaired", "no-fix", "donor"]
# A belief never gives a thing up altogether.
LEAST_CHANCE = 1e-4
UNKNOWN = ("unknown", ())
MOST_STEPS = 160


@dataclass(frozen=True, slots=True)
class Moment:
    """A step that was taken, beside the advice at that point.

    `bits`: how far it moved the belief. `as_advised`: it was among the advice's first steps. `ruled_out`: why its place
    was out of the question by then, empty where it was not.
    """

    number: int
    do: str
    target: str
    words: str
    minutes: float
    bits: float
    harm: str
    advice: Mapping[str, Any]
    advice_minutes: float
    as_advised: bool
    ruled_out: str
    believed: str


@dataclass(frozen=True, slots=True)
class Worked:
    """How a card was worked through: how it ended, whether that was right, what it cost, what harm was done."""

    ended: Ended
    right: bool
    steps: int
    cost: Cost
    harm: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Debrief:
    """What was hidden, how the card ended, the moments one by one, the advice's own way, the habits that cost most."""

    hidden: tuple[str, ...]
    left: tuple[str, ...]
    person: Worked
    advice: Worked
    moments: tuple[Moment, ...]
    habits: tuple[Habit, ...]


def known_of(card: PracticeCard) -> list[Observation]:
    """What the card knows of good cards of its model, as observations."""
    return [
        Observation(card.board, f"good {number}", Reading(point, "resistance", Value(value, value), "ohms", "ground"))
        for point, values in card.good.items()
        for number, value in enumerate(values)
    ]


def facts_of(
    card: PracticeCard, board: Board, entries: Sequence[Mapping[str, Any]], beside: Facts | None = None
) -> Facts:
    """The facts of a practice card after some entries.

    What is known `beside` it, of good cards and of the shop, is that of the job's own facts; else what the card brings.
    """
    case = case_from(case_document(board.id, [_plain(entry) for entry in entries]), board)
    if beside is None:
        return Facts(case, board, known_of(card))
    return Facts(case, board, shop=beside.shop, good=beside.good, idle=beside.idle)


def _plain(entry: Mapping[str, Any]) -> dict[str, Any]:
    """An entry as a case file has it: without what was shielded."""
    return {key: value for key, value in entry.items() if key != "shields"}


def is_right(ended: str, bench: PracticeBench) -> bool:
    """Whether a card may leave so: repaired and well, or with nothing to repair that was not its owner's computer."""
    own = [fault for fault in bench.faults if fault.kind != "host"]
    nothing_was_wrong = not [fault for fault in bench.hidden if fault.kind != "host"]
    if ended == "repaired":
        return bench.well() and not nothing_was_wrong
    return ended == "no-fix" and nothing_was_wrong and not own and not bench.off


def advised(card: PracticeCard, board: Board, beside: Facts | None = None) -> Worked:
    """The same card worked through by the advice, each time its first step."""
    entries = list(card.entries)
    bench = PracticeBench(card, board)
    steps: list[Mapping[str, Any]] = []
    ended: Ended = "donor"
    # whoever works by the advice shields what it names
    every = [board.core.designator, *board.by_designator, *(part.designator for part in board.parts)]
    for _ in range(MOST_STEPS):
        facts = facts_of(card, board, entries, beside)
        step = step_json(plan(facts, believe(facts))[0])
        steps.append(step)
        if step["do"] == "return":
            ended = step["target"]
            break
        for entry in bench.ask(step):
            bench.take(len(entries), {**entry, "shields": every} if "did" in entry else entry)
            entries.append(entry)
    harm = tuple(harm.words for harm in bench.harmed)
    return Worked(ended, is_right(ended, bench), len(steps), cost_of(steps, board), harm)


def debrief(
    card: PracticeCard, board: Board, entries: Sequence[Mapping[str, Any]], ended: Ended, beside: Facts | None = None
) -> Debrief:
    """Hold a thread (its entries after those that the card came with) against what the advice would have done."""
    bench = bench_after(card, board, entries)
    whole = [*card.entries, *entries]
    harms = {harm.number: harm for harm in bench.harmed}
    told = _told(card, board, whole, beside)
    moments = [
        _moment(told, number, board, harms.get(number), whole[number])
        for number in range(len(card.entries), len(whole))
    ]
    moments = _of_one_log(moments)
    moments.append(_end(told, len(whole), board, ended))
    steps = [step_of(entry) for entry in entries] + [{"do": "return", "target": ended}]
    right = is_right(ended, bench)
    person = Worked(ended, right, len(steps), cost_of(steps, board), tuple(harm.words for harm in bench.harmed))
    advice = advised(card, board, beside)
    return Debrief(
        tuple(fault.text for fault in bench.hidden),
        tuple(fault.text for fault in bench.faults),
        person,
        advice,
        tuple(moments),
        habits(moments, right=right, could_be_repaired=advice.ended == "repaired"),
    )


@dataclass(frozen=True, slots=True)
class _Then:
    """What was known before an entry: the belief, the first steps of the advice."""

    facts: Facts
    causes: tuple[Cause, ...]
    steps: tuple[Mapping[str, Any], ...]


def _told(card: PracticeCard, board: Board, entries: Sequence[Mapping[str, Any]], beside: Facts | None) -> list[_Then]:
    """What was known before each entry and after the last."""
    found = []
    for many in range(len(entries) + 1):
        facts = facts_of(card, board, entries[:many], beside)
        causes = believe(facts)
        steps = plan(facts, causes)[:AS_GOOD_AS_FIRST]
        found.append(_Then(facts, tuple(causes), tuple(step_json(step) for step in steps)))
    return found


def _moment(told: Sequence[_Then], number: int, board: Board, harm: Harm | None, entry: Mapping[str, Any]) -> Moment:
    step, then = step_of(entry), told[number]
    first = then.steps[0]
    return Moment(
        number,
        step["do"],
        str(step["target"]),
        entry_words(told[-1].facts.entries[number]),
        minutes_of(step, board),
        bits_told(then.causes, told[number + 1].causes),
        harm.words if harm else "",
        first,
        minutes_of(first, board),
        any(_same(step, advice) for advice in then.steps),
        _ruled_out(told, number, step),
        _believed(then.causes),
    )


def _end(told: Sequence[_Then], number: int, board: Board, ended: Ended) -> Moment:
    """The card's return as the last moment."""
    then, step = told[number], {"do": "return", "target": ended}
    words = {
        "repaired": gettext("Returned as repaired"),
        "no-fix": gettext("Returned as it came"),
        "donor": gettext("Kept as a donor"),
    }
    first = then.steps[0]
    same = any(_same(step, advice) for advice in then.steps)
    minutes = minutes_of(step, board)
    return Moment(number, "return", ended, words[ended], minutes, 0.0, "", first, minutes_of(first, board), same, "",
                  _believed(then.causes))  # fmt: skip


def _of_one_log(moments: Sequence[Moment]) -> list[Moment]:
    """A log of the test computer brings several checks at once: those after the first are as advised as it was."""
    found: list[Moment] = []
    for moment in moments:
        follows = bool(found) and found[-1].do == moment.do == "proof" and found[-1].as_advised
        found.append(replace(moment, as_advised=True) if follows else moment)
    return found


def _same(step: Mapping[str, Any], advice: Mapping[str, Any]) -> bool:
    """Whether a step is what the advice says; steps without a place of their own are the same everywhere."""
    if step["do"] != advice["do"]:
        return False
    if step["do"] == "look" and advice["target"] in SIDES:
        # a side is looked at region by region, in any order
        return bool(str(step["target"]).partition("-")[0] == advice["target"])
    return step["do"] in {"glow", "draw", "rung", "symptom", "ask", "mark"} or step["target"] == advice["target"]


def bits_told(before: Sequence[Cause], after: Sequence[Cause]) -> float:
    """How far an entry moved the belief: the divergence of what is believed after it from what was before, in bits."""
    had = {(cause.cause, cause.designators): cause.chance for cause in before}
    has = {(cause.cause, cause.designators): cause.chance for cause in after}
    names = had.keys() | has.keys()
    # what was not thought of before was among what nothing explained
    new = names - had.keys()
    unexplained = had.get(UNKNOWN, 0.0) / (len(new) + 1)
    prior = {name: max(unexplained if name in new or name == UNKNOWN else had[name], LEAST_CHANCE) for name in names}
    now = {name: max(has.get(name, 0.0), LEAST_CHANCE) for name in names}
    all_before, all_now = sum(prior.values()), sum(now.values())
    return sum(now[name] / all_now * math.log2((now[name] / all_now) / (prior[name] / all_before)) for name in names)


def _blamed(causes: Sequence[Cause], part: str) -> float:
    return sum(cause.chance for cause in causes if part in cause.designators)


def _ruled_out(told: Sequence[_Then], number: int, step: Mapping[str, Any]) -> str:
    """Why a part that an act is done to was out of the question by then; empty where it was not, or for other steps."""
    part = str(step["target"])
    if step["do"] not in {"remove", "swap", "reball", "cut-layers", "renew-joint"} or not part:
        return ""
    card = told[number].facts.card
    if part in card.empty or part in card.lifted or _blamed(told[number].causes, part) >= RULED_OUT:
        return ""
    chances = [_blamed(then.causes, part) for then in told[: number + 1]]
    if max(chances) < IN_QUESTION:
        return gettext("nothing had spoken for {part}", part=part)
    drops = [(chances[at] - chances[at + 1], at) for at in range(number)]
    _, at = max(drops)
    words = entry_words(told[-1].facts.entries[at])
    return gettext("{part} was ruled out by then: {words}", part=part, words=words)


def _believed(causes: Sequence[Cause]) -> str:
    """The likeliest cause in words; empty where nothing was suspected."""
    first = next((cause for cause in causes if cause.cause not in {"unknown", "none"}), None)
    return cause_words(first.cause, first.designators) if first and first.chance >= IN_QUESTION else ""
