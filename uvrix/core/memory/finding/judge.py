"""The finding: the likeliest explanation of all reports together, and the lesser ones."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from uvrix.core.boards.model import ALL_LINES, Board
from uvrix.core.finding_kinds import FINDING_KINDS
from uvrix.core.memory.evidence import Evidence
from uvrix.core.memory.finding.events import Events, events_of
from uvrix.core.memory.finding.hypotheses import Hypothesis, Suspects, all_hypotheses
from uvrix.core.memory.finding.reasons import cannot_tell_front_from_back, lines_not_known, why, why_refused
from uvrix.core.memory.finding.runs import Run, comes_and_goes, current, joint_chance, runs_of
from uvrix.core.memory.finding.traces import trace_of
from uvrix.core.memory.finding.weigh import Weighed, explained, weigh
from uvrix.core.memory.report import Report
from uvrix.core.memory.sites import BoardCounts, count_sites
from uvrix.language import gettext, ngettext

# Below this chance no kind is named; below it for all kinds of one chip together, no chip either.
NAMED = 0.4
SHOWN = 0.02
MOST_OTHERS = 4
# A second fault is looked for where this many errors, and such a share, are left; it is told where it is so sure.
LEAST_LEFT, LEAST_SHARE, SURE = 4.0, 0.06, 0.8
# Counts without lines name the chip that has this many of them (docs/trade §5.3).
IN_ONE_CHIP, LEAST_COUNTED = 0.9, 0.6


@dataclass(frozen=True, slots=True)
class Explanation:
    """One explanation; `designators` are fitted memory sites, `dq` the channel's lines that it names."""

    kind: str
    designators: tuple[str, ...]
    dq: tuple[int, ...]
    chance: float
    why: tuple[str, ...]


def judge(board: Board, reports: Sequence[Report]) -> tuple[Explanation, list[Explanation]]:
    """The finding and the lesser explanations of reports that were read against one board.

    Where some runs are after rework, they decide: what was there before is history (runs.py says what changed).
    """
    now = current(reports)
    counts = count_sites(board, now)
    if counts.errors == 0:
        return _without_errors(now), []
    evidences = [report.evidence for report in now]
    suspects = _suspects(board, counts, evidences)
    events = events_of(evidences, suspects.channels)
    hypotheses = all_hypotheses(suspects)
    weighed = _whole_chip_where_only_counted(weigh(events, hypotheses), counts, evidences)
    blind = _blind_twins(counts, evidences)
    runs = runs_of(board, now)
    said = _with_joints(weighed, counts, blind, runs)
    best = said[0] if said else None
    beside = _beside(events, hypotheses, weighed, counts, blind)
    if best and best.chance >= NAMED:
        return best, [*beside, *said[1:]][:MOST_OTHERS]
    return _unclear(weighed, counts, blind), said[:MOST_OTHERS]


def _whole_chip_where_only_counted(
    weighed: Sequence[Weighed], counts: BoardCounts, evidences: Sequence[Evidence]
) -> list[Weighed]:
    """Counts without lines that lie in one chip: which of its faults it is cannot be told, that it is the chip can."""
    if counts.lines_known or any(not evidence.tally for evidence in evidences if evidence.errors):
        return list(weighed)
    chip = max((count for count in counts.sites if count.place.site.fitted), key=lambda count: count.errors)
    if chip.errors < IN_ONE_CHIP * counts.errors:
        return list(weighed)
    names = (chip.place.site.designator,)
    own = [
        hypothesis
        for hypothesis in weighed
        if hypothesis.hypothesis is not None and hypothesis.hypothesis.designators == names
    ]
    whole = next(
        (hypothesis.hypothesis for hypothesis in own if hypothesis.hypothesis and hypothesis.hypothesis.kind == "site"),
        None,
    )
    if whole is None:
        return list(weighed)
    # errors of no one fault that lie nearly all in one chip are that chip's too
    chance = max(
        sum(hypothesis.chance for hypothesis in weighed if hypothesis in own or hypothesis.hypothesis is None),
        LEAST_COUNTED,
    )
    rest = [hypothesis for hypothesis in weighed if hypothesis not in own and hypothesis.hypothesis is not None]
    left = sum(hypothesis.chance for hypothesis in rest)
    part = min(1.0, (1 - chance) / left) if left else 0.0
    return [Weighed(whole, chance), *(Weighed(hypothesis.hypothesis, hypothesis.chance * part) for hypothesis in rest)]


def _with_joints(
    weighed: Sequence[Weighed], counts: BoardCounts, blind: Sequence[str], runs: Sequence[Run]
) -> list[Explanation]:
    """Explanations with a chance worth showing; what comes and goes of one chip is said to be a joint."""
    joints: dict[tuple[str, ...], float] = {}
    said = []
    for hypothesis in weighed:
        if hypothesis.hypothesis is None:
            continue
        fault = hypothesis.hypothesis
        share = joint_chance(runs, fault.designators)
        if len(fault.designators) == 1:
            joints[fault.designators] = joints.get(fault.designators, 0.0) + hypothesis.chance * share
        chance = hypothesis.chance * (1 - share) if len(fault.designators) == 1 else hypothesis.chance
        if chance >= SHOWN:
            more = comes_and_goes(runs, fault.designators) if share else ""
            said.append(_explained(Weighed(fault, chance), counts, blind, more))
    for designators, chance in joints.items():
        if chance >= SHOWN:
            reasons = (comes_and_goes(runs, designators), FINDING_KINDS["joint"].means)
            said.append(Explanation("joint", designators, (), round(chance, 4), reasons))
    return sorted(said, key=lambda explanation: -explanation.chance)


def _beside(
    events: Events,
    hypotheses: Sequence[Hypothesis],
    weighed: Sequence[Weighed],
    counts: BoardCounts,
    blind: Sequence[str],
) -> list[Explanation]:
    """A second fault: what the first leaves unexplained, if it is much and has a pattern of its own."""
    first = weighed[0].hypothesis
    if first is None:
        return []
    rest = events.left(explained(events, first))
    left = float(rest.weight.sum())
    if left < LEAST_LEFT or left < LEAST_SHARE * float(events.weight.sum()):
        return []
    others = [hypothesis for hypothesis in hypotheses if not set(hypothesis.designators) & set(first.designators)]
    again = weigh(rest, others) if others else []
    if not again or again[0].hypothesis is None or again[0].chance < SURE:
        return []
    second = again[0]
    share = float((rest.weight * explained(rest, again[0].hypothesis)).sum()) / left
    if share < 0.5:
        return []
    explanation = _explained(second, counts, blind, "")
    names = gettext(" and ").join(first.designators[:4])
    return [
        replace(
            explanation,
            why=(
                gettext("Beside the fault of {names}: {why}", names=names, why=explanation.why[0]),
                *explanation.why[1:],
            ),
        )
    ]


def _suspects(board: Board, counts: BoardCounts, evidences: Sequence[Evidence]) -> Suspects:
    fitted = tuple(site.place for site in counts.sites if site.place.site.fitted and site.place.channel)
    joint = any(not evidence.tally and evidence.errors for evidence in evidences)
    failing = [place.channel for place in fitted if any(_fails(evidence, place.channel) for evidence in evidences)]
    traces = {name: trace_of(evidences, name) for name in dict.fromkeys(failing) if name}
    return Suspects(fitted, joint, traces, board.address_map)


def _fails(evidence: Evidence, channel: str | None) -> bool:
    return channel in evidence.channels and evidence.channels[channel].errors > 0


def _explained(weighed: Weighed, counts: BoardCounts, blind: Sequence[str], more: str) -> Explanation:
    assert weighed.hypothesis is not None
    fault = weighed.hypothesis
    reasons = why(fault, counts) + ([more] if more else [])
    if fault.kind == "site" and not counts.lines_known:
        reasons.append(lines_not_known(counts, fault.designators))
    if set(fault.designators) & set(blind):
        reasons.append(cannot_tell_front_from_back(blind))
    return Explanation(fault.kind, fault.designators, fault.dq, round(weighed.chance, 4), tuple(reasons))


def _blind_twins(counts: BoardCounts, evidences: Sequence[Evidence]) -> list[str]:
    """Chips of clamshell channels whose errors come without lines, so that front and back look alike."""
    blind = {
        name
        for evidence in evidences
        for name, channel in evidence.channels.items()
        if evidence.tally and channel.unknown
    }
    chips = [site.place for site in counts.sites if site.place.channel in blind and site.place.site.fitted]
    return [place.site.designator for place in chips if place.site.lines != ALL_LINES]


def _unclear(weighed: Sequence[Weighed], counts: BoardCounts, blind: Sequence[str]) -> Explanation:
    """No kind stands out; a chip is named where its kinds together have most of the chance."""
    by_site: dict[tuple[str, ...], float] = {}
    for hypothesis in weighed:
        if hypothesis.hypothesis:
            by_site[hypothesis.hypothesis.designators] = (
                by_site.get(hypothesis.hypothesis.designators, 0.0) + hypothesis.chance
            )
    names, chance = max(by_site.items(), key=lambda item: item[1], default=((), 0.0))
    most = sorted((site for site in counts.sites if site.errors), key=lambda site: -site.errors)[:3]
    listed = ", ".join(f"{site.place.site.designator} {site.errors}" for site in most)
    reasons = [
        gettext(
            "{errors} errors, most in {listed}; no single kind of fault explains them better than even.",
            errors=counts.errors,
            listed=listed,
        )
    ]
    if blind:
        reasons.append(cannot_tell_front_from_back(blind))
    if chance >= NAMED:
        reasons.append(gettext("Whatever it is, it lies in {names}.", names=gettext(" and ").join(names)))
        return Explanation("unclear", names, (), round(chance, 4), tuple(reasons))
    reasons.append(gettext("Run it again under another condition, or with a tester that reports lines."))
    return Explanation("unclear", (), (), round(1 - chance, 4), tuple(reasons))


def _without_errors(reports: Sequence[Report]) -> Explanation:
    """No error in any site: refused, clean, or nothing that could be told."""
    refused = [report for report in reports if report.meta.result == "refused"]
    outside = sum(report.errors for report in reports)
    if refused and not outside:
        return Explanation("refused", (), (), 1.0, why_refused(refused[0].meta.refusal))
    if not outside and reports and all(_clean(report) for report in reports):
        many = ngettext("One run", "{count} runs", len(reports))
        return Explanation("no-errors", (), (), 1.0, (gettext("{many} without an error.", many=many),))
    text = gettext("No errors are listed, and no result says that the run passed.")
    unread = sum(report.unread.count for report in reports)
    if unread:
        lines = ngettext("1 line", "{count} lines", unread)
        text = gettext(
            "No error was read, but {lines} could not be read at all: that says nothing about the card.", lines=lines
        )
    if outside:
        text = gettext("All {outside} errors are of channels that no fitted place of this board has.", outside=outside)
    return Explanation("unclear", (), (), 0.0, (text,))


def _clean(report: Report) -> bool:
    """A pass without errors, or a tally of zeros that does not say that it failed."""
    zeros = report.evidence.tally and report.rows > 0 and report.meta.result is None
    return report.errors == 0 and not report.unread.count and (report.meta.result == "pass" or zeros)
