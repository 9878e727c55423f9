"""What returned cards teach the next one: the cause that the last act before the proof has cured."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping

from uvrix.core.boards.model import Board
from uvrix.core.case.shop import PastCause
from uvrix.shop.acts.models import Act
from uvrix.shop.arrive.models import Symptom
from uvrix.shop.case.given import gives
from uvrix.shop.clock.queries import money
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.library.queries import model_board
from uvrix.shop.offers.queries import fills_places
from uvrix.shop.returning.models import Return

# This many of the newest returned cards of a model are looked at.
MOST_PAST = 100
# What an act cures that says so by itself.
CURES = {"contact-repaired": "contact", "write": "firmware", "bridge-cleared": "short"}


@gives("past")
def past(job: Job) -> Iterable[PastCause]:
    """How often each cause was proven on returned cards of the model that came with one of this card's symptoms."""
    symptoms = set(_symptoms([job.pk]).get(job.pk, ()))
    repaired = of_the_shop(Return.objects.filter(no_fix="", job__card__model=job.card.model_id)).exclude(job=job)
    jobs = list(repaired.order_by("-at").values_list("job", flat=True)[:MOST_PAST])
    if not symptoms or not jobs:
        return ()
    alike = {number for number, kinds in _symptoms(jobs).items() if symptoms & set(kinds)}
    board = model_board(job.card.model)
    acts = Act.objects.filter(job__in=alike, withdrawal=None).select_related("card").order_by("at", "pk")
    last = {act.job_id: act for act in acts if cause_cured(act, board)}
    had = Counter((cause_cured(act, board), act.site) for act in last.values())
    kinds = frozenset(symptoms)
    return tuple(
        PastCause(job.card.model.slug, cause, (site,) if site else (), kinds, many, len(alike))
        for (cause, site), many in sorted(had.items())
    )


def cause_cured(act: Act, board: Board | None) -> str:
    """The cause that an act cures, as docs/formats §17 calls it; empty where the act alone does not say."""
    core = board.core.designator if board else "U1"
    chip = board is not None and act.site in board.by_designator
    fuse = board is not None and any(point.id == act.site and point.kind == "fuse" for point in board.points)
    if act.do in {"reball", "renew-joint"}:
        return "core-joint" if act.site == core else "chip-joint" if chip else ""
    if act.do in {"place", "swap"} and act.chip_in != f"{act.card.serial}/{act.site}":
        if fuse:
            return "open-fuse"
        if act.site == core or chip:
            return "core" if act.site == core else "chip"
        return "dead-part" if act.node else ""
    if act.do == "remove" and act.rails:
        return "short"
    return CURES.get(act.do, "")


def _symptoms(jobs: Iterable[int]) -> dict[int, list[str]]:
    """The kinds of symptoms of some jobs, as they were said last."""
    return dict(Symptom.objects.filter(job__in=jobs).order_by("at", "pk").values_list("job", "kinds"))


@fills_places
def places(job: Job) -> Mapping[str, str]:
    """What a letter may say of the return: what was found, the price, what is weak."""
    returned = Return.objects.filter(job=job).last()
    if returned is None:
        return {}
    price = money().amount(returned.price) if returned.price is not None else ""
    return {"found": returned.found, "price": price, "handling": returned.handling}
