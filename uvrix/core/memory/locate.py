"""Reports and a board to chips: the whole of `uvrix locate`, and of the Memory step's finding."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from uvrix.core.boards.model import Board
from uvrix.core.boards.packages import Ball, Package, balls_of
from uvrix.core.memory.address_maps import Learned, learn_address_map
from uvrix.core.memory.finding.judge import Explanation, judge
from uvrix.core.memory.finding.reasons import title
from uvrix.core.memory.finding.runs import Compared, compare, current, runs_of
from uvrix.core.memory.report import Report
from uvrix.core.memory.sites import BoardCounts, SiteCount, count_sites
from uvrix.core.planning.plan import Action, actions_for
from uvrix.language import ngettext


@dataclass(frozen=True, slots=True)
class Located:
    """What all reports together say about a board's chips."""

    reports: tuple[tuple[str, Report], ...]
    counts: BoardCounts
    finding: Explanation
    others: tuple[Explanation, ...]
    actions: tuple[Action, ...]
    warnings: tuple[str, ...]
    compared: tuple[Compared, ...]
    balls: tuple[Ball, ...]
    learned: Learned | None


def locate(
    board: Board, reports: Sequence[tuple[str, Report]], packages: Mapping[str, Package] | None = None
) -> Located:
    """The finding of reports, each with its file's name, that were read against `board`.

    Where a `packages` entry and the board's swap are known, the finding's lines are named as balls.
    """
    read = [report for _, report in reports]
    counts = count_sites(board, read)
    finding, others = judge(board, read)
    warnings = [warning for report in read for warning in report.warnings] + list(counts.warnings)
    warnings += [_unread(name, report) for name, report in reports if report.unread.count]
    return Located(
        reports=tuple(reports),
        counts=counts,
        finding=finding,
        others=tuple(others),
        actions=tuple(actions_for(finding.kind, finding.designators, finding.chance, conditions=conditions_of(read))),
        warnings=tuple(dict.fromkeys(warnings)),
        compared=tuple(compare(board, runs_of(board, read))),
        balls=_balls(board, finding, packages or {}),
        learned=_learned(board, read),
    )


def _balls(board: Board, finding: Explanation, packages: Mapping[str, Package]) -> tuple[Ball, ...]:
    if len(finding.designators) != 1 or not finding.dq:
        return ()
    site = board.by_designator[finding.designators[0]]
    return tuple(balls_of(site, finding.dq, packages.get(site.package or "")))


def _learned(board: Board, reports: Sequence[Report]) -> Learned | None:
    """An address map for a board without one, where reports give both address and channel."""
    if board.address_map is not None:
        return None
    pairs = [
        (row[4], name)
        for report in reports
        for name, channel in report.evidence.channels.items()
        for row in channel.sample
        if row[4] is not None
    ]
    return learn_address_map(pairs) if pairs else None


def conditions_of(reports: Sequence[Report]) -> int:
    """Under how many different conditions the card as it is was run."""
    return len({report.meta.condition for report in current(reports)})


def _unread(name: str, report: Report) -> str:
    line, text = report.unread.quotes[0]

    return ngettext(
        "{name}: {count} row could not be read (first, line {line}: {text})",
        "{name}: {count} rows could not be read (first, line {line}: {text})",
        report.unread.count,
        name=name,
        line=line,
        text=text,
    )


def as_json(located: Located) -> dict[str, Any]:
    """The object of docs/formats §18: reports, sites, finding, others, actions, warnings."""
    return {
        "reports": [_report_json(name, report) for name, report in located.reports],
        "sites": [site_json(site) for site in located.counts.sites],
        "finding": _explanation_json(located.finding),
        "others": [_explanation_json(other) for other in located.others],
        "actions": [action_json(action) for action in located.actions],
        "warnings": list(located.warnings),
        "compared": [asdict(comparison) for comparison in located.compared],
        "balls": [asdict(ball) for ball in located.balls],
        "address_map": _learned_json(located.learned),
    }


def action_json(action: Action) -> dict[str, Any]:
    """One action as docs/formats §18 lists it, with what it risks and settles."""
    return {**asdict(action), "designators": list(action.designators), "settles": list(action.settles)}


def _learned_json(learned: Learned | None) -> dict[str, Any] | None:
    if learned is None:
        return None
    found = learned.address_map
    form: dict[str, Any] | None = None
    if found is not None:
        chosen = (
            {"stripe_bytes": found.stripe_bytes} if found.stripe_bytes else {"select": [list(b) for b in found.select]}
        )
        form = {**chosen, "order": list(found.order)}
    return {"learned": form, "why": learned.why}


def _explanation_json(explanation: Explanation) -> dict[str, Any]:
    return {
        "kind": explanation.kind,
        "title": title(explanation.kind, explanation.dq),
        "designators": list(explanation.designators),
        "dq": list(explanation.dq),
        "chance": explanation.chance,
        "why": list(explanation.why),
    }


def _report_json(name: str, report: Report) -> dict[str, Any]:
    return {
        "file": name,
        "format": report.format,
        "condition": list(report.meta.condition),
        "result": report.meta.result,
        "refusal": report.meta.refusal,
        "rows": report.rows,
        "unread": report.unread.count,
        "errors": report.errors,
    }


def site_json(count: SiteCount) -> dict[str, Any]:
    """One site as docs/formats §18 lists it."""
    site = count.place.site
    return {
        "designator": site.designator,
        "side": site.side,
        "channel": count.place.channel,
        "position": count.place.position,
        "fitted": site.fitted,
        "errors": count.errors,
        "share": round(count.share, 6),
        "dq": list(count.dq),
    }
