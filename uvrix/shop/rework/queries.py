"""The rework of a card: its history replayed, with that of the chips that came from elsewhere."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import cast

from django.utils import timezone

from uvrix.core.boards.ballmap import ball_map_views, core_site
from uvrix.core.boards.model import Board, Site
from uvrix.core.boards.views import Orientation
from uvrix.core.rework.acts import HEATS, Do
from uvrix.core.rework.events import Ledger, original, unbaked
from uvrix.core.rework.heed import LotSeen, Planned, Surroundings, heed
from uvrix.core.rework.near import Neighbour, hot_places, neighbours
from uvrix.core.rework.pads import PadState, Survey, survey
from uvrix.core.rework.settings import Settings, read_settings
from uvrix.shop.acts.models import Act
from uvrix.shop.acts.queries import ledger_of, of_card, with_chips
from uvrix.shop.case.threads import thread
from uvrix.shop.jobs.boards import of_board
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import has_rows
from uvrix.shop.library.queries import model_board, packages
from uvrix.shop.rework.models import ChipLot, PadMarks, ReworkSettings


def settings_now() -> Settings:
    """What the shop set last, else as usual."""
    newest = ReworkSettings.objects.last()
    return read_settings(newest.content) if newest else Settings()


def warmed(board: Board | None, rows: Sequence[Act], settings: Settings) -> Mapping[str, int]:
    """How often each thing stood unshielded near something that was heated; on this card."""
    found: Counter[str] = Counter()
    if board is None:
        return found
    near: dict[str, tuple[Neighbour, ...]] = {}
    for row in rows:
        if not row.site or HEATS[cast("Do", row.do)].site == 0:
            continue
        if row.site not in near:
            near[row.site] = neighbours(board, row.site, settings.limits, {}, {})
        for neighbour in near[row.site]:
            if neighbour.designator not in row.shields:
                found[neighbour.designator] += HEATS[cast("Do", row.do)].site
    return found


@dataclass(frozen=True, slots=True)
class SiteNow:
    """A site as it stands: its cycles, how often it was warmed, the chip on it (None: off), that chip's cycles."""

    designator: str
    cycles: int
    warmed: int
    chip: str | None
    chip_cycles: int
    lot: str = ""


@dataclass(frozen=True, slots=True)
class ReworkContext:
    """A card's rework: its rows, the ledger, every place as it stands, loose chips, the settings."""

    board: Board | None
    rows: tuple[Act, ...]
    ledger: Ledger
    sites: tuple[SiteNow, ...]
    loose: tuple[tuple[str, datetime, float | None], ...]
    settings: Settings


def rework_context(job: Job, chips: Iterable[str] = ()) -> ReworkContext:
    """The rework of a job's card as it stands; the ledger knows some more chips too."""
    board, settings = model_board(job.card.model), settings_now()
    every = with_chips(job, chips)
    ledger, serial = ledger_of(every), job.card.serial
    rows = tuple(row for row in every if row.card_id == job.card_id)
    warm = warmed(board, rows, settings)
    names = [site.designator for site in board.sites if site.fitted] if board else []
    names += sorted({row.site for row in rows if row.site} - set(names))
    names += sorted(set(warm) - set(names))
    there = {name: ledger.chip_at(serial, name) for name in names}
    lots = lots_of(filter(None, there.values()))
    sites = tuple(_site(ledger, serial, name, warm.get(name, 0), lots.get(there[name] or "", "")) for name in names)
    now = timezone.now()
    loose = tuple(
        (chip, since, unbaked(ledger, chip, now, settings.open_hours))
        for chip, since in ledger.open_since.items()
        if ledger.where(chip) is None
    )
    return ReworkContext(board, rows, ledger, sites, loose, settings)


def lots_of(chips: Iterable[str]) -> dict[str, str]:
    """The lot of each chip that anybody read one of."""
    rows = ChipLot.objects.filter(chip__in=list(chips)).order_by("chip", "-at", "-pk").distinct("chip")
    return {row.chip: row.lot for row in rows}


def _site(ledger: Ledger, serial: str, name: str, warm: int, lot: str) -> SiteNow:
    chip = ledger.chip_at(serial, name)
    return SiteNow(name, ledger.cycles(serial, name), warm, chip, ledger.chip_heats(chip) if chip else 0, lot)


@dataclass(frozen=True, slots=True)
class Before:
    """What is to be known before something is heated."""

    site: SiteNow
    neighbours: tuple[Neighbour, ...]
    hot: bool
    warnings: tuple[str, ...]
    pin1: str


def before(job: Job, at: ReworkContext, planned: Planned) -> Before:
    """Neighbours, cycles, alloys and what to heed, before a step at a site."""
    site, serial, limits = planned.site, job.card.serial, at.settings.limits
    known = {site_now.designator: site_now for site_now in at.sites}
    here = known.get(site) or SiteNow(site, 0, 0, original(serial, site), 0)
    # a step heats a place and the chip on it together: the more worn of the two counts
    cycles = {name: max(site_now.cycles, site_now.chip_cycles) for name, site_now in known.items()}
    near = (
        neighbours(at.board, site, limits, cycles, {name: site_now.warmed for name, site_now in known.items()})
        if at.board
        else ()
    )
    # an empty place needs no shield
    near = tuple(
        neighbour
        for neighbour in near
        if neighbour.designator not in known or known[neighbour.designator].chip is not None
    )
    hot = bool(at.board and site in hot_places(at.board))
    lots = {site_now.designator: site_now.lot for site_now in at.sites if site_now.lot}
    seen = {lot.lot: LotSeen(lot.failed, lot.of) for lot in thread(job).facts.shop.lots}
    around = Surroundings(near, hot, lots, seen, timezone.now())
    said = heed(at.ledger, serial, planned, around, at.settings)
    return Before(here, near, hot, said, pin1_corner(at.board, site, job.orientation))


def pin1_corner(board: Board | None, site: str, orientation: Orientation) -> str:
    """Where pin 1 is as the board lies; empty where the model does not say."""
    found = board.by_designator.get(site) if board else None
    if board is None or found is None:
        return ""
    return next(
        view.corner for view in ball_map_views(board, found) if view.orientation == orientation and not view.balls_up
    )


def pads_of(job: Job, designator: str, settings: Settings) -> tuple[str, dict[str, PadState], Survey | None]:
    """The package below a chip or the core, the state of its pads, and what they say; empty where no map is known."""
    board = model_board(job.card.model)
    name = package_of(board, designator)
    states: dict[str, PadState] = {}
    named = {designator, surveyed_at(board, designator)}
    for marks in of_board(PadMarks.objects.filter(designator__in=named), job.card_id).order_by("at", "pk"):
        states |= marks.states
    package = packages().get(name)
    return name, states, survey(package, states, settings.pads) if package else None


def site_of(board: Board | None, designator: str) -> Site | None:
    """A site by its designator, the core as one (`core` or its designator); None where the model has none."""
    if board is None:
        return None
    if designator in {"core", board.core.designator}:
        return core_site(board)
    return board.by_designator.get(designator)


def surveyed_at(board: Board | None, designator: str) -> str:
    """The designator that a survey is kept under: the core's own one where it is called `core`."""
    return board.core.designator if board and designator == "core" else designator


def package_of(board: Board | None, designator: str) -> str:
    """The package of a site, or of the core (`core.package` of the model); empty where nobody said."""
    site = site_of(board, designator)
    return (site.package or "") if site else ""


def flushes_owed(job: Job) -> list[tuple[str, Act]]:
    """Places of a card with low-melt alloy below leaded solder, each with the act since which it is owed."""
    rows = list(of_card(job)) if has_rows(job, Act) else []
    by_id = {str(row.pk): row for row in rows}
    return [(site, by_id[act]) for (_, site), act in ledger_of(rows).owes_flush.items()] if rows else []
