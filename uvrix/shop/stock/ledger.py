"""Stock's part of a card's thread: what the shop knows of the lots that were read on the card."""

from __future__ import annotations

from collections.abc import Iterable

from uvrix.core.case.shop import LotKnown
from uvrix.shop.acts.models import Act
from uvrix.shop.case.given import gives
from uvrix.shop.jobs.models import Job
from uvrix.shop.planning.models import Attempt
from uvrix.shop.rework.models import ChipLot
from uvrix.shop.stock.models import StockMove


@gives("lots")
def lots(job: Job) -> Iterable[LotKnown]:
    """How many chips of each lot on the card the shop has seen, on all cards, and how many of them failed."""
    here = set(ChipLot.objects.filter(chip__startswith=f"{job.card.serial}/").values_list("lot", flat=True))
    if not here:
        return ()
    named = ChipLot.objects.filter(lot__in=here).values("chip")
    newest = ChipLot.objects.filter(chip__in=named).order_by("chip", "-at", "-pk").distinct("chip")
    of_lot: dict[str, set[str]] = {}
    for chip, lot in newest.values_list("chip", "lot"):
        of_lot.setdefault(lot, set()).add(chip)
    failed = _failed({chip for chips in of_lot.values() for chip in chips})
    return tuple(LotKnown(lot, len(chips & failed), len(chips)) for lot, chips in sorted(of_lot.items()) if lot in here)


def _failed(chips: set[str]) -> set[str]:
    """Those of some chips that are said to be dead, or were replaced with the fault gone."""
    said = StockMove.objects.filter(label__in=chips, do="condition").order_by("label", "-at", "-pk").distinct("label")
    dead = {label for label, condition in said.values_list("label", "condition") if condition == "dead"}
    lifted = Act.objects.filter(chip__in=chips, do__in=("remove", "swap"), withdrawal=None)
    places = {(job, site): chip for job, site, chip in lifted.values_list("job", "site", "chip")}
    cured = Attempt.objects.filter(do="replace", outcome="yes", withdrawal=None, job__in={job for job, _ in places})
    return dead | {
        places[job, site]
        for job, sites in cured.values_list("job", "chips")
        for site in sites.split(",")
        if (job, site) in places
    }
