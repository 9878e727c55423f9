"""Where every part is and was, whether one fits, what lots and donors say."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any, cast

from django.utils import timezone

from uvrix.core.boards.model import Board, Part
from uvrix.core.rework.events import original
from uvrix.core.rework.near import apart, footprint
from uvrix.core.stock.donors import Accepted, DonorBoard, Half, Inspection, Match, judge_donor, match_halves
from uvrix.core.stock.facts import COUNTED, chip_of, connector_of, small_of
from uvrix.core.stock.fits import Connector, Fits, MemoryChip, Wanted, chip_fits, connector_fits, small_fits
from uvrix.core.stock.life import Life
from uvrix.core.stock.lots import Chip, LotJudged, LotOutcomes, Option, judge_lots, one_or_all, usual_share
from uvrix.core.stock.reorder import Hint, Supplied, hint
from uvrix.core.stock.values import From, Known, Noted, known
from uvrix.language import gettext
from uvrix.shop.acts.models import Act
from uvrix.shop.jobs.boards import of_board, of_this_board
from uvrix.shop.jobs.models import Card, Job, of_the_shop
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import model_board
from uvrix.shop.planning.models import Attempt
from uvrix.shop.rework.models import ImageRead
from uvrix.shop.rework.queries import ReworkContext, rework_context
from uvrix.shop.stock.models import Donor, PartEdition, PartValue, StockMove
from uvrix.shop.stock.parts import Stock, newest_editions, stock

# Uses are counted over this many days.
USED_DAYS = 180
SETTLED = ("yes", "no")


def fit_of(job: Job, site: str, label: str, have: Stock | None = None) -> Fits | None:
    """Whether a part of the stock fits a place of a job's board; None where nobody said what the part is."""
    at = have or stock()
    facts, board = at.facts_of(label), model_board(job.card.model)
    if not facts or board is None:
        return None
    if site in board.by_designator:
        return _chip_fit(job, site, label, at)
    part = next((candidate for candidate in board.parts if candidate.designator == site), None)
    if any(connector.text == site for connector in board.connectors) or (part is not None and part.kind == "connector"):
        return _connector_fit(job, site, label, at)
    if part is None or facts["kind"] not in {"small", "connector"}:
        return None
    if facts["kind"] == "connector":
        return Fits((), (), (gettext("{label} is a connector, {site} is none", label=label, site=site),))
    best = values_of(job.card.model).get(site)
    wanted = {"part": part.kind, "value": best.best.text if best and best.best else part.value}
    return small_fits(small_of(facts), small_of(wanted))


def _chip_fit(job: Job, site: str, label: str, at: Stock) -> Fits:
    """A memory chip against the place that it is for."""
    facts, board = at.facts_of(label), model_board(job.card.model)
    if facts["kind"] != "chip" or board is None:
        return Fits(
            (), (), (gettext("{label} is no memory chip but of the kind {kind}", label=label, kind=facts["kind"]),)
        )
    return chip_fits(chip_of(facts), wanted_at(job, board, site, at))


def _connector_fit(job: Job, site: str, label: str, at: Stock) -> Fits:
    """A connector against the one that was there, else against one that was noted as seen on this model."""
    facts = at.facts_of(label)
    if facts["kind"] != "connector":
        return Fits(
            (), (), (gettext("{label} is no connector but of the kind {kind}", label=label, kind=facts["kind"]),)
        )
    part = connector_of(facts)
    if part is None:
        return Fits((), (gettext("pitch and pins of what comes not known"),), ())
    names = {name.casefold() for name in (f"{job.card.model.name} {site}", f"{job.card.model.slug} {site}")}
    noted = (one for other, one in connectors() if other != label and one.seen_on.casefold() in names)
    wanted = connector_of(at.facts_of(original(job.card.serial, site))) or next(noted, None)
    if wanted is None:
        return Fits(
            (), (gettext("pitch, rows, pins and anchors of {site} not known: note them in Stock", site=site),), ()
        )
    return connector_fits(part, wanted)


def wanted_at(job: Job, board: Board, site: str, at: Stock) -> Wanted:
    """What a memory place wants: by the model, filled up by the chip that was there, and the makers it may be of."""
    said = board.memory
    by_model = MemoryChip("", said.gbit, said.width, said.volts, said.speed)
    serial = job.card.serial
    was = chip_of(at.facts_of(original(serial, site)))
    chip = MemoryChip("", *(a if a is not None else b for a, b in zip(_figures(by_model), _figures(was), strict=True)))
    beside = at.standing_on(serial, [other for other in board.by_designator if other != site])
    others = [chip_of(facts) for facts in at.facts_of_all(beside.values()) if facts]
    read = of_board(ImageRead.objects.all(), job.card_id).select_related("image").order_by("-at").first()
    carried = (read.image.facts.get("vendors") if read else None) or said.vendors
    return Wanted(chip, tuple(carried), tuple(others))


def _figures(chip: MemoryChip) -> tuple[Any, ...]:
    return chip.gbit, chip.width, chip.volts, chip.speed


def values_of(model: BoardModel) -> dict[str, Known]:
    """What is known of the parts of a model, by designator; conflicts among them are named."""
    found: dict[str, list[Noted]] = {}
    for row in PartValue.objects.filter(model=model, withdrawal=None).select_related("by"):
        noted = Noted(
            row.designator, row.text, cast("From", row.source), row.of, row.by.shown_name, row.at, str(row.pk)
        )
        found.setdefault(row.designator, []).append(noted)
    return {name: known(name, rows) for name, rows in sorted(found.items())}


def failed_chips(at: Stock) -> set[str]:
    """Chips that failed: said to be dead, or replaced with the fault gone (attempts that were not taken back)."""
    found = {life.label for life in at.lives.values() if life.condition == "dead"}
    cured = of_the_shop(Attempt.objects.filter(do="replace", outcome="yes", withdrawal=None)).values_list(
        "job", "chips"
    )
    replaced = {(job, site) for job, chips in cured for site in chips.split(",") if site}
    lifted = Act.objects.filter(job__in={job for job, _ in replaced}, do__in=("remove", "swap"), withdrawal=None)
    return found | {chip for job, site, chip in lifted.values_list("job", "site", "chip") if (job, site) in replaced}


def judged_lots(at: Stock) -> tuple[LotJudged, ...]:
    """Every lot of which a chip was seen, by the shop's own outcomes."""
    dead = failed_chips(at)
    seen: dict[str, list[str]] = {}
    for label, lot in at.lots.items():
        seen.setdefault(lot, []).append(label)
    return judge_lots(LotOutcomes(lot, len(them), sum(name in dead for name in them)) for lot, them in seen.items())


@dataclass(frozen=True, slots=True)
class Priced:
    """One chip or all: the options, the chips that were taken as failed, those whose lot nobody read."""

    failed: tuple[str, ...]
    options: tuple[Option, Option]
    lots: tuple[str, ...]
    unread: tuple[str, ...]


def price(job: Job, failed: tuple[str, ...], at: Stock) -> Priced | None:
    """The failed chips of a job alone, or all of the board; None where the board is not drawn or none failed."""
    rework = rework_context(job)
    if rework.board is None or not failed:
        return None
    judged = {judgement.lot: judgement for judgement in judged_lots(at)}
    rest, unread, lots = [], [], []
    for site in rework.board.sites:
        if not site.fitted or site.designator in failed:
            continue
        now = next(site_now for site_now in rework.sites if site_now.designator == site.designator)
        lot = at.lots.get(now.chip or "")
        if lot is None:
            unread.append(site.designator)
        else:
            lots.append(lot)
        share = judged[lot].share if lot in judged else None
        away = min(_away(rework.board, site.designator, name) for name in failed)
        rest.append(Chip(site.designator, away, max(now.cycles, now.chip_cycles), share))
    usual = usual_share(LotOutcomes(judgement.lot, judgement.seen, judgement.failed) for judgement in judged.values())
    options = one_or_all(failed, rest, at.settings.risk, at.settings.prices, usual)
    return Priced(failed, options, tuple(sorted(set(lots))), tuple(unread))


def _away(board: Board, one: str, other: str) -> float:
    here, there = footprint(board, one), footprint(board, other)
    return apart(here[1], there[1]) if here and there else 1000.0


def hints(at: Stock) -> list[Hint]:
    """What to order, the likeliest to run out first."""
    since = timezone.now() - timedelta(days=USED_DAYS)
    have: dict[str, float] = {}
    takes: dict[str, list[float]] = {}
    for label, facts in at.facts.items():
        life = at.lives.get(label)
        name = facts.get("marking") or label
        if life is None:
            continue
        if facts["kind"] in COUNTED:
            have[name] = have.get(name, 0.0) + _amount(facts, life)
            gone = StockMove.objects.filter(label=label, do="used", at__gte=since).values_list("amount", flat=True)
            takes.setdefault(name, []).extend([number for number in gone if number] + _balls_taken(facts, since))
        elif facts["kind"] == "chip":
            at_hand = life.place.kind in {"tray", "hand", "set"} and life.condition not in {"dead", "doubtful"}
            have[name] = have.get(name, 0.0) + at_hand
            placed = [1.0 for step in life.steps if step.do == "place" and step.at and step.at >= since]
            takes.setdefault(name, []).extend(placed)
    supplied = [
        Supplied(name, have[name], sum(them), len(them), USED_DAYS, at.settings.lead_days)
        for name, them in takes.items()
    ]
    found = [hint(supply, at.settings.run_out) for supply in supplied]
    return sorted(
        (candidate for candidate in found if candidate), key=lambda candidate: (-candidate.chance, candidate.name)
    )


def _balls_taken(facts: Mapping[str, Any], since: datetime | None) -> list[float]:
    """Balls of that size and alloy taken at Rework, each time."""
    if facts["kind"] != "balls" or not facts.get("ball_mm"):
        return []
    rows = of_the_shop(Act.objects.filter(do="reball", withdrawal=None, ball_mm=facts["ball_mm"]))
    if facts.get("alloy"):
        rows = rows.filter(alloy_on=facts["alloy"])
    if since:
        rows = rows.filter(at__gte=since)
    return [float(count) for count in rows.values_list("ball_count", flat=True) if count]


def _amount(facts: Mapping[str, Any], life: Life) -> float:
    """Pieces at hand; balls taken at Rework since they were counted are off."""
    counted = [step.at for step in life.steps if step.do in {"counted", "received"} and step.at]
    return max((life.amount or 0.0) - sum(_balls_taken(facts, max(counted, default=None))), 0.0)


def amount_of(facts: Mapping[str, Any], life: Life) -> float | None:
    """Pieces at hand of what is counted; None of what is labelled one by one."""
    return _amount(facts, life) if facts.get("kind") in COUNTED else None


def connectors() -> list[tuple[str, Connector]]:
    """Every connector that the shop noted, with its label."""
    once = PartEdition.objects.filter(facts__kind="connector").values("label")
    found = []
    for edition in newest_editions(PartEdition.objects.filter(label__in=once)):
        connector = connector_of(edition.facts) if edition.facts["kind"] == "connector" else None
        if connector is not None:
            found.append((edition.label, replace(connector, name=edition.label)))
    return found


@dataclass(frozen=True, slots=True)
class Bearer:
    """A board that bears a marking: the model, the part, and the donors of that model that still have it on."""

    model: str
    slug: str
    part: Part
    donors: tuple[str, ...]


def bearing(marking: str, at: Stock) -> list[Bearer]:
    """Where a marking sits, over all drawn boards; and on which donors it is still there."""
    wanted = "".join(marking.split()).casefold()
    found = []
    donors = list(of_the_shop(Donor.objects.select_related("card__model"), "card"))
    for model in BoardModel.objects.exclude(newest=None).select_related("newest").order_by("name"):
        board = model_board(model)
        for part in board.parts if board else ():
            if wanted and "".join(part.marking.split()).casefold() == wanted:
                there = [
                    donor.card.serial
                    for donor in donors
                    if donor.card.model_id == model.pk and at.standing_on(donor.card.serial, [part.designator])
                ]
                found.append(Bearer(str(model), model.slug, part, tuple(there)))
    return found


def inspection_of(card: Card) -> Inspection:
    """A card's newest inspection; an empty one where nobody looked."""
    row = card.inspections.last()
    return as_inspection(row.content) if row else Inspection()


def as_inspection(content: Mapping[str, Any]) -> Inspection:
    """A kept inspection as the core has it."""
    core, board, memory = (cast("Half", content.get(name, "unknown")) for name in ("core", "board", "memory"))
    missing, moved, repaired = (tuple(content.get(name, ())) for name in ("missing", "moved", "repaired"))
    return Inspection(content.get("answers", {}), missing, moved, repaired, core, board, memory)


@dataclass(frozen=True, slots=True)
class AtDonor:
    """A donor as it stands."""

    donor: Donor
    inspection: Inspection
    judged: Accepted
    gone: tuple[str, ...]


def donors(at: Stock) -> list[AtDonor]:
    """Every donor, with what was taken off it."""
    found = []
    for donor in of_the_shop(Donor.objects.select_related("card__model", "job", "by"), "card").order_by("card__serial"):
        inspection = inspection_of(donor.card)
        gone = [
            life.label.rpartition("/")[2]
            for life in at.lives.values()
            if life.label.startswith(f"{donor.card.serial}/") and life.place.card != donor.card.serial
        ]
        found.append(AtDonor(donor, inspection, judge_donor(inspection), tuple(sorted(gone))))
    return found


def matched(at: Stock, most_cycles: int) -> tuple[Match, ...]:
    """Dead cores and dead boards over donors and open jobs that were inspected, matched to make one card."""
    carcasses = []
    inspected = of_the_shop(Card.objects.filter(inspections__isnull=False), "pk")
    for card in inspected.distinct().select_related("model__newest"):
        open_here = card.jobs.filter(closed_at=None).exists() or Donor.objects.filter(card=card).exists()
        if not open_here:
            continue
        inspection, board = inspection_of(card), model_board(card.model)
        core = f"{card.serial}/{board.core.designator}" if board else ""
        cycles = at.lives[core].cycles if core in at.lives else 0
        carcasses.append(
            DonorBoard(
                card.serial,
                card.model.slug,
                card.model.family,
                inspection.core,
                inspection.board,
                inspection.memory,
                cycles,
            )
        )
    return match_halves(carcasses, most_cycles)


def suspects_of(rework: ReworkContext, job: Job) -> tuple[str, ...]:
    """The chips of a job that are taken as failed: its mark, else what its memory runs name."""
    mark = of_this_board(job, job.marks.filter(withdrawal=None)).order_by("-at").first()
    if mark:
        return (mark.designator,)
    finding = (job.located or {}).get("finding") or {}
    sites = {site.designator for site in rework.sites}
    return tuple(designator for designator in finding.get("designators", ()) if designator in sites)


def loans(at: Stock) -> list[tuple[Life, StockMove]]:
    """Parts on loan, the one due first before the others."""
    found = []
    for life in at.lives.values():
        if life.place.kind == "lent":
            row = StockMove.objects.filter(label=life.label, do="lent").order_by("-at").first()
            if row:
                found.append((life, row))
    return sorted(found, key=lambda pair: (pair[1].due is None, pair[1].due or pair[1].at.date(), pair[0].label))
