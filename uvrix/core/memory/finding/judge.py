"""The finding: the likeliest explanation of all reports together, and the lesser ones."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from uvrix.core.boards.model import ALL_LINES
from uvrix.core.memory.evidence import Evidence
from uvrix.core.memory.finding.events import events_of
from uvrix.core.memory.finding.hypotheses import Suspects, all_hypotheses
from uvrix.core.memory.finding.reasons import cannot_tell_front_from_back, why
from uvrix.core.memory.finding.weigh import Weighed, weigh
from uvrix.core.memory.report import Report
from uvrix.core.memory.sites import BoardCounts

# Below this chance no kind is named; below it for all kinds of one chip together, no chip either.
NAMED = 0.5
SHOWN = 0.02
MOST_OTHERS = 4


@dataclass(frozen=True, slots=True)
class Explanation:
    """One explanation; `designators` are fitted memory sites, `dq` the channel's lines that it names."""

    kind: str
    designators: tuple[str, ...]
    dq: tuple[int, ...]
    chance: float
    why: tuple[str, ...]


def judge(counts: BoardCounts, reports: Sequence[Report]) -> tuple[Explanation, list[Explanation]]:
    """The finding and the lesser explanations of reports that were read against one board."""
    if counts.errors == 0:
        return _without_errors(reports), []
    evidences = [report.evidence for report in reports]
    suspects = _suspects(counts, evidences)
    weighed = weigh(events_of(evidences, suspects.channels), all_hypotheses(suspects))
    blind = _blind_twins(counts, evidences)
    explained = [_explained(one, counts, blind) for one in weighed if one.hypothesis and one.chance >= SHOWN]
    best = weighed[0]
    if best.hypothesis and best.chance >= NAMED:
        return explained[0], explained[1 : MOST_OTHERS + 1]
    return _unclear(weighed, counts, blind), explained[:MOST_OTHERS]


def _suspects(counts: BoardCounts, evidences: Sequence[Evidence]) -> Suspects:
    fitted = tuple(site.place for site in counts.sites if site.place.site.fitted and site.place.channel)
    joint = any(not evidence.tally and evidence.errors for evidence in evidences)
    return Suspects(fitted, joint)


def _explained(one: Weighed, counts: BoardCounts, blind: Sequence[str]) -> Explanation:
    assert one.hypothesis is not None
    fault = one.hypothesis
    reasons = why(fault, counts)
    if set(fault.designators) & set(blind):
        reasons.append(cannot_tell_front_from_back(blind))
    return Explanation(fault.kind, fault.designators, fault.dq, round(one.chance, 4), tuple(reasons))


def _blind_twins(counts: BoardCounts, evidences: Sequence[Evidence]) -> list[str]:
    """Chips of clamshell channels whose errors come without lines, so that front and back look alike."""
    blind = {name for one in evidences for name, channel in one.channels.items() if one.tally and channel.unknown}
    chips = [site.place for site in counts.sites if site.place.channel in blind and site.place.site.fitted]
    return [place.site.designator for place in chips if place.site.lines != ALL_LINES]


def _unclear(weighed: Sequence[Weighed], counts: BoardCounts, blind: Sequence[str]) -> Explanation:
    """No kind stands out; a chip is named where its kinds together have most of the chance."""
    by_site: dict[tuple[str, ...], float] = {}
    for one in weighed:
        if one.hypothesis:
            by_site[one.hypothesis.designators] = by_site.get(one.hypothesis.designators, 0.0) + one.chance
    names, chance = max(by_site.items(), key=lambda item: item[1], default=((), 0.0))
    most = sorted((site for site in counts.sites if site.errors), key=lambda site: -site.errors)[:3]
    listed = ", ".join(f"{site.place.site.designator} {site.errors}" for site in most)
    reasons = [f"{counts.errors} errors, most in {listed}; no single kind of fault explains them better than even."]
    if blind:
        reasons.append(cannot_tell_front_from_back(blind))
    if chance >= NAMED:
        reasons.append(f"Whatever it is, it lies in {' and '.join(names)}.")
        return Explanation("unclear", names, (), round(chance, 4), tuple(reasons))
    reasons.append("Run it again under another condition, or with a tester that reports lines.")
    return Explanation("unclear", (), (), round(1 - chance, 4), tuple(reasons))


def _without_errors(reports: Sequence[Report]) -> Explanation:
    """No error in any site: refused, clean, or nothing that could be told."""
    refused = [report for report in reports if report.meta.result == "refused"]
    outside = sum(report.errors for report in reports)
    if refused and not outside:
        reason = refused[0].meta.refusal or "no reason given"
        text = f"The tester refused ({reason}); nothing in it speaks of a chip."
        return Explanation("refused", (), (), 1.0, (text,))
    if not outside and reports and all(_clean(report) for report in reports):
        many = f"{len(reports)} runs" if len(reports) > 1 else "One run"
        return Explanation("no-errors", (), (), 1.0, (f"{many} without an error.",))
    text = "No errors are listed, and no result says that the run passed."
    if outside:
        text = f"All {outside} errors are of channels that no fitted place of this board has."
    return Explanation("unclear", (), (), 0.0, (text,))


def _clean(report: Report) -> bool:
    """A pass without errors, or a tally of zeros that does not say that it failed."""
    zeros = report.evidence.tally and report.rows > 0 and report.meta.result is None
    return report.errors == 0 and not report.unread.count and (report.meta.result == "pass" or zeros)
