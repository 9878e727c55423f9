"""Stock's part of a card's thread: the lots that were read on the card; and of its rework: parts that come."""

from __future__ import annotations

from collections.abc import Iterable

from uvrix.core.case.shop import LotKnown
from uvrix.core.errors import Refusal
from uvrix.core.stock.life import check_placing
from uvrix.language import gettext
from uvrix.shop.acts.models import Act
from uvrix.shop.case.given import gives
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.planning.models import Attempt
from uvrix.shop.rework.coming import Coming, answers_for_parts
from uvrix.shop.rework.models import ChipLot
from uvrix.shop.stock.models import StockMove
from uvrix.shop.stock.parts import stock
from uvrix.shop.stock.queries import amount_of, fit_of


@gives("lots")
def lots(job: Job) -> Iterable[LotKnown]:
    """How many chips of each lot on the card the shop has seen, on all cards, and how many of them failed."""
    here = set(ChipLot.objects.filter(chip__startswith=f"{job.card.serial}/").values_list("lot", flat=True))
    if not here:
        return ()
    named = of_the_shop(ChipLot.objects.filter(lot__in=here)).values("chip")
    newest = ChipLot.objects.filter(chip__in=named).order_by("chip", "-at", "-pk").distinct("chip")
    of_lot: dict[str, set[str]] = {}
    for chip, lot in newest.values_list("chip", "lot"):
        of_lot.setdefault(lot, set()).add(chip)
    failed = _failed({chip for chips in of_lot.values() for chip in chips})
    return tuple(LotKnown(lot, len(chips & failed), len(chips)) for lot, chips in sorted(of_lot.items()) if lot in here)


def _failed(chips: set[str]) -> set[str]:
    """The chips, of some, that are said to be dead, or were replaced with the fault gone."""
    said = StockMove.objects.filter(label__in=chips, do="condition").order_by("label", "-at", "-pk").distinct("label")
    dead = {label for label, condition in said.values_list("label", "condition") if condition == "dead"}
    lifted = of_the_shop(Act.objects.all()).filter(chip__in=chips, do__in=("remove", "swap"), withdrawal=None)
    places = {(job, site): chip for job, site, chip in lifted.values_list("job", "site", "chip")}
    cured = Attempt.objects.filter(do="replace", outcome="yes", withdrawal=None, job__in={job for job, _ in places})
    return dead | {
        places[job, site]
        for job, sites in cured.values_list("job", "chips")
        for site in sites.split(",")
        if (job, site) in places
    }


@answers_for_parts
def part_that_comes(job: Job, site: str, label: str) -> Coming:
    """Whether a part of the stock is at hand for a place of a card, and fits it."""
    at = stock()
    fits, life = fit_of(job, site, label, at), at.life(label)
    if life is None:
        return Coming(fits=fits)
    try:
        check_placing(life)
    except Refusal as refusal:
        return Coming(
            gettext("found {found}, expected {expected}", found=refusal.found, expected=refusal.expected), fits=fits
        )
    if amount_of(at.facts_of(label), life) is None:
        return Coming(fits=fits)
    return Coming(
        "" if life.amount else gettext("found no piece of {label} left, expected at least one", label=label),
        label,
        fits,
    )
