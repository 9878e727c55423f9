"""What was seen of a job, region by region."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from uvrix.core.boards.model import Board, Side
from uvrix.core.boards.photograph import photograph_from
from uvrix.core.look.findings import KINDS, KNOCKED, Neighbour, neighbours
from uvrix.core.look.regions import Region, region_at, regions
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.queries import model_board
from uvrix.shop.look.models import LookFinding, RegionLook


@dataclass(frozen=True)
class Seen:
    """A finding as it is shown: its place on the board where it has one, its region, and whom it makes suspect."""

    finding: LookFinding
    words: str
    x_mm: float | None
    y_mm: float | None
    region: Region | None
    suspects: tuple[Neighbour, ...]


@dataclass(frozen=True)
class RegionState:
    """A region and whether it was looked at: `open`, `clear` or `found`."""

    region: Region
    state: str
    look: RegionLook | None


def seen(job: Job) -> list[Seen]:
    """The findings that count, oldest first; one clicked on a photograph lies on the board drawn over that."""
    board = model_board(job.card.model)
    standing = job.look_findings.filter(withdrawal=None).select_related("by", "picture")
    return [_seen(board, finding) for finding in standing]


def _seen(board: Board | None, finding: LookFinding) -> Seen:
    at = _on_board(board, finding)
    words = KINDS[finding.kind]
    if board is None or at is None:
        return Seen(finding, words, None, None, None, ())
    side = cast("Side", finding.side)
    suspects = neighbours(board, side, *at) if finding.kind in KNOCKED else ()
    return Seen(finding, words, *at, region_at(board, side, *at), suspects)


def _on_board(board: Board | None, finding: LookFinding) -> tuple[float, float] | None:
    if board is None:
        return None
    if finding.x_mm is not None and finding.y_mm is not None:
        return finding.x_mm, finding.y_mm
    for entry in board.document.get("photographs", ()):
        known = finding.x_px is not None and finding.y_px is not None
        if known and entry["sha256"] == finding.picture_id and entry["side"] == finding.side:
            return photograph_from(entry).place((cast("float", finding.x_px), cast("float", finding.y_px)))
    return None


def looked(job: Job) -> dict[str, int]:
    """How far Look is, in figures."""
    findings = seen(job)
    states = region_states(job, findings)
    return {
        "regions": len(states),
        "looked": sum(one.state != "open" for one in states),
        "findings": len(findings),
        "photographs": job.photographs.count(),
    }


def region_states(job: Job, findings: list[Seen]) -> list[RegionState]:
    """Every region of the board along the route, with what was entered last of it."""
    board = model_board(job.card.model)
    if board is None:
        return []
    last = {look.region: look for look in job.region_looks.select_related("by")}
    found = {one.region.id for one in findings if one.region}
    states = []
    for region in regions(board):
        look = last.get(region.id)
        state = "found" if region.id in found else "clear" if look and look.clear else "open"
        states.append(RegionState(region, state, look))
    return states
