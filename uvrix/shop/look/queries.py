"""What was seen of a job, region by region."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import cast

from uvrix.core.boards.contacts import by_name, contact_words
from uvrix.core.boards.model import Board, Side
from uvrix.core.look.findings import KINDS, KNOCKED, Neighbour, neighbours
from uvrix.core.look.regions import SIDES, Region, photo_regions, region_at, regions
from uvrix.shop.jobs.boards import of_this_board
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardEdition, BoardModel
from uvrix.shop.library.queries import CACHED_BOARDS, board_of, model_board, on_board
from uvrix.shop.look.models import LookFinding, RegionLook


@dataclass(frozen=True)
class Seen:
    """A finding as shown: its place on the board where it has one, its region, and which parts it makes suspect."""

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
    standing = of_this_board(job, job.look_findings.filter(withdrawal=None)).select_related("by", "picture")
    return [_seen(board, finding) for finding in standing]


def _seen(board: Board | None, finding: LookFinding) -> Seen:
    at = _on_board(board, finding)
    words = KINDS[finding.kind]
    if finding.kind == "contact" and finding.part:
        words = f"{words}, {contact_words(finding.part)}"
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
    if finding.picture_id is None or finding.x_px is None or finding.y_px is None:
        return None
    return on_board(board, finding.picture_id, finding.side, (finding.x_px, finding.y_px))


def looked(job: Job) -> dict[str, int]:
    """How far Look is, in figures; `job` comes with its standing."""
    edition, places = job.card.model.newest, job.standing.seen_places
    figures = {"regions": 0, "looked": 0, "findings": len(places), "photographs": job.standing.photographs}
    if edition is None:
        clear = set(job.standing.clear_regions)
        undrawn = photo_regions_of(job.card.model) if clear or job.standing.photographs else ()
        looked_at = sum(candidate.id in clear for candidate in undrawn)
        return {**figures, "regions": len(undrawn), "looked": looked_at}
    board, known = board_of(edition), regions_of(edition)
    found = set(job.standing.clear_regions)
    for place in places:
        if at := _on_board(board, LookFinding(**place)):
            region = region_at(board, place["side"], *at)
            found |= {region.id} if region else set()
    return {**figures, "regions": len(known), "looked": sum(candidate.id in found for candidate in known)}


def photo_regions_of(model: BoardModel) -> tuple[Region, ...]:
    """The regions of a board that nobody has drawn: a grid over the photograph of each of its sides."""
    newest = {
        photograph.side: photograph.picture
        for photograph in model.pictures.select_related("picture").order_by("added_at")
    }
    sides = [(side, newest[side]) for side in SIDES if side in newest]
    return tuple(
        region for side, picture in sides for region in photo_regions(side, picture.height_px / picture.width_px)
    )


def regions_of(edition: BoardEdition) -> tuple[Region, ...]:
    """The regions of a board; editions never change, so they are kept in memory."""
    return _regions(edition.sha256)


@lru_cache(CACHED_BOARDS)
def _regions(sha256: str) -> tuple[Region, ...]:
    return regions(board_of(BoardEdition.objects.filter(sha256=sha256)[0]))


def region_states(job: Job, findings: list[Seen]) -> list[RegionState]:
    """Every region of the board along the route, with what was entered last of it."""
    board = model_board(job.card.model)
    last = {look.region: look for look in of_this_board(job, job.region_looks.select_related("by"))}
    found = {sighting.region.id for sighting in findings if sighting.region}
    states = []
    for region in regions(board) if board else photo_regions_of(job.card.model):
        look = last.get(region.id)
        state = "found" if region.id in found else "clear" if look and look.clear else "open"
        states.append(RegionState(region, state, look))
    return states


def torn_contacts(job: Job) -> list[LookFinding]:
    """Torn slot contacts that are known by their name (`part`), oldest first."""
    contacts = job.look_findings.filter(withdrawal=None, kind="contact").exclude(part="")
    found = of_this_board(job, contacts).select_related("by")
    return [finding for finding in found if finding.part in by_name()]
