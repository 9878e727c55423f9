"""The promises' part of a card's thread: what was kept ends what was begun, where no act says so."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from uvrix.shop.case.rows import Row, key_of, source
from uvrix.shop.promises.models import Promise, PromiseKept

BEGINS = {"coil-lifted": "lift-coil"}
ENDS = {"part-off": "place", "wire-on": "unsolder-lead", "coil-lifted": "fit-coil"}


@source(Promise)
def begun(jobs: Sequence[int]) -> Iterable[Row]:
    """Coils that were lifted."""
    found = Promise.objects.filter(job__in=jobs, kind__in=list(BEGINS)).exclude(part="").order_by("at", "pk")
    for one in found:
        yield Row(one.job_id, one.at, one.by_id, key_of(one), "ohms", {"did": BEGINS[one.kind], "site": one.part})


@source(Promise)
def kept(jobs: Sequence[int]) -> Iterable[Row]:
    """Parts that are on again, wires that came off, coils fitted."""
    found = PromiseKept.objects.filter(promise__job__in=jobs, promise__kind__in=list(ENDS)).exclude(promise__part="")
    for one in found.select_related("promise").order_by("at"):
        entry = {"did": ENDS[one.promise.kind], "site": one.promise.part}
        yield Row(one.promise.job_id, one.at, one.by_id, key_of(one), "ohms", entry, ends=True)
