"""Entering an act: one way for every screen, held against the card's own thread; and taking one back."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Annotated, Any, cast
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from uvrix.core.errors import Refusal, quoted
from uvrix.core.rework.acts import DOES, OF_THE_CARD, Do
from uvrix.core.rework.events import Event, check, misfits, worked_on
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act, ActWithdrawal, DeclaredPart
from uvrix.shop.acts.queries import event_of, ledger_of, with_chips
from uvrix.shop.case.threads import Thread, thread
from uvrix.shop.config.limits import FARTHEST_MM
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, given
from uvrix.shop.jobs.leaving import must_be_at_hand
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row


@dataclass(frozen=True, slots=True)
class NewAct:
    """An act to enter: on which screen, at which site, which part came; `more` are further columns of acts.Act."""

    id: UUID
    do: Do
    step: str
    site: str = ""
    chip: str = ""
    chip_in: str = ""
    more: Mapping[str, Any] = field(default_factory=dict)


def enter_act(job: Job, new: NewAct, by: User) -> tuple[Act, bool]:
    """What was done, and whether the entry is new.

    Raises Problem 422 `does-not-fit` where it does not fit what stood before, `unknown-part` where the model has no
    such part, `no-site` where none is named.
    """
    with transaction.atomic():
        return entered(job, new.id, by) or keep_act(job, fitting(job, new), by)


def entered(job: Job, entry: UUID, by: User) -> tuple[Act, bool] | None:
    """The act of an entry that was sent before; None where it is new."""
    return keep_row(Act, job, entry, by) if Act.objects.filter(pk=entry).exists() else None


def fitting(job: Job, new: NewAct) -> NewAct:
    """The act with its part named as the model does and the chip that it works on, held against the card's thread.

    A part that Look saw missing is fitted without being taken off. Keeps other acts on the job waiting. Raises Problem
    422 as `enter_act` does, 409 `left` where the card left.
    """
    must_be_at_hand(job)
    # two people at one card: one after the other
    Job.objects.select_for_update().get(pk=job.pk)
    serial, chip, chip_in = job.card.serial, new.chip.strip(), new.chip_in.strip()
    known = thread(job)
    site = site_named(known, new.site)
    if not site and new.do not in OF_THE_CARD | {"reball", "baked"}:
        raise Problem(422, "no-site", gettext("found no site, expected the designator printed next to it"))
    ledger = ledger_of(with_chips(job, filter(None, (chip, chip_in))))
    if site in known.facts.card.empty:
        ledger.on_site[serial, site] = None
    event = Event(timezone.now(), new.do, serial if site or new.do in OF_THE_CARD else "", site, chip, chip_in)
    try:
        check(ledger, event)
    except Refusal as refusal:
        raise Problem(
            422,
            "does-not-fit",
            gettext("found {found}, expected {expected}", found=refusal.found, expected=refusal.expected),
        ) from None
    return replace(new, site=site, chip=worked_on(ledger, event), chip_in=chip_in)


def keep_act(job: Job, fits: NewAct, by: User) -> tuple[Act, bool]:
    """Keep an act that was found fitting, and whether the entry is new."""
    fields = {
        "step": fits.step,
        "do": fits.do,
        "site": fits.site,
        "chip": fits.chip,
        "chip_in": fits.chip_in,
    }
    return keep_row(Act, job, fits.id, by, card=job.card, **fits.more, **fields)


def site_named(known: Thread, name: str) -> str:
    """The model's own spelling of a part; any name where nobody has drawn the board.

    Raises Problem 422 `unknown-part` for a name that is neither the model's nor declared on the job.
    """
    plain = " ".join(name.split())
    found = known.names.site(plain) if plain else ""
    if found is None:
        model = known.facts.board.name if known.facts.board else gettext("this board")
        detail = gettext(
            "found {plain}, expected a part of {model}, or one that is declared on this job",
            plain=quoted(plain),
            model=model,
        )
        raise Problem(422, "unknown-part", detail)
    return found


@dataclass(frozen=True, slots=True)
class NewDeclared:
    """A part that the model lacks, to declare: its place in millimetres of the board where it is known."""

    id: UUID
    designator: Annotated[str, given(max_length=60)]
    kind: Annotated[str, given(max_length=40, allow_blank=True)] = ""
    side: Annotated[str, chosen(["front", "back", ""])] = ""
    x_mm: Annotated[float | None, given(min_value=-FARTHEST_MM, max_value=FARTHEST_MM)] = None
    y_mm: Annotated[float | None, given(min_value=-FARTHEST_MM, max_value=FARTHEST_MM)] = None


@transaction.atomic
def declare(job: Job, new: NewDeclared, by: User) -> tuple[DeclaredPart, bool]:
    """A part of the card that its model lacks, named once; and whether the entry is new.

    Raises Problem 409 `known-part` where the model has it, or it is declared already.
    """
    if DeclaredPart.objects.filter(pk=new.id).exists():
        return keep_row(DeclaredPart, job, new.id, by)
    name = " ".join(new.designator.split())
    known = thread(job)
    if known.facts.board is None or known.names.site(name):
        raise Problem(
            409,
            "known-part",
            gettext("found {name}, which is known already, expected a part that is not", name=quoted(name)),
        )
    fields = {name: getattr(new, name) for name in ("kind", "side", "x_mm", "y_mm")}
    return keep_row(DeclaredPart, job, new.id, by, designator=name, **fields)


@transaction.atomic
def withdraw(act: Act, reason: str, by: User) -> ActWithdrawal:
    """Withdraw an act that did not happen.

    Raises Problem 409 `built-upon`, naming them, where later acts rest on it.
    """
    if known := ActWithdrawal.objects.filter(act=act).first():
        return known
    if act.job.practice:
        detail = gettext("What was done to a virtual card was done: it cannot be taken back, only mended.")
        raise Problem(409, "practice", detail)
    if resting := rests_on(act):
        named = "; ".join(f"{row.site or row.chip} {DOES[cast('Do', row.do)]}" for row in resting)
        raise Problem(
            409,
            "built-upon",
            gettext("Later acts rest on this one: {named}. Withdraw them first, the last one first.", named=named),
        )
    return ActWithdrawal.objects.create(act=act, reason=reason, by=by)


def rests_on(act: Act) -> list[Act]:
    """Later acts that would no longer fit the card's history without this one."""
    every, serial = with_chips(act.job), act.card.serial
    before = misfits(map(event_of, every), {serial})
    after = misfits((event_of(row) for row in every if row.pk != act.pk), {serial})
    return [row for row in every if str(row.pk) in after.keys() - before.keys()]
