"""Making promises, keeping them, letting them go."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID, uuid5

from django.db import transaction
from django.db.models.signals import post_save
from django.dispatch import receiver
from rest_framework import serializers

from uvrix.core.look.findings import BROKEN, KINDS
from uvrix.core.promises import BY_HAND
from uvrix.core.rework.acts import Do
from uvrix.core.teardown.materials import SOUND
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.case.acting import NewAct, enter_act, entered
from uvrix.shop.config.limits import FARTHEST_MM, FARTHEST_PX
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, declared, given
from uvrix.shop.jobs.models import Job
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.look.models import LookFinding, LookFindingWithdrawal
from uvrix.shop.pictures.models import Picture
from uvrix.shop.promises.models import Promise, PromiseKept, Waiver
from uvrix.shop.promises.queries import Owed, on_loan, owed
from uvrix.shop.teardown.models import PasteOrPad
from uvrix.shop.teardown.queries import layer_of


@dataclass(frozen=True, slots=True)
class NewPromise:
    """A promise to make; `picture`, `x_px`, `y_px` place it where no board is drawn."""

    id: UUID
    kind: Annotated[str, chosen(list(BY_HAND))]
    words: Annotated[str, given(max_length=200)]
    part: Annotated[str, given(max_length=80, allow_blank=True)] = ""
    side: Annotated[str, chosen(["front", "back", ""])] = ""
    x_mm: Annotated[float | None, given(min_value=-FARTHEST_MM, max_value=FARTHEST_MM)] = None
    y_mm: Annotated[float | None, given(min_value=-FARTHEST_MM, max_value=FARTHEST_MM)] = None
    picture: Annotated[str, declared(serializers.RegexField("^[0-9a-f]{64}$", required=False, allow_blank=True))] = ""
    x_px: Annotated[float | None, given(min_value=0, max_value=FARTHEST_PX)] = None
    y_px: Annotated[float | None, given(min_value=0, max_value=FARTHEST_PX)] = None


@transaction.atomic
def make_promise(job: Job, new: NewPromise, by: User) -> tuple[Promise | Act, bool]:
    """A promise, or the act that it follows from where a part is named; and whether it is new.

    Raises Problem 422 where its kind is none that is made by hand; 409 `lent-already` where the thing that it lends
    is with another open job.
    """
    if new.kind not in BY_HAND:
        raise Problem(
            422,
            "unknown-kind",
            gettext("found {kind}, expected one of {by_hand}", kind=repr(new.kind), by_hand=", ".join(BY_HAND)),
        )
    words = new.words.strip()
    if new.part.strip() and new.kind in BEGUN_BY:
        return enter_act(job, NewAct(new.id, BEGUN_BY[new.kind], "rework", new.part, more={"note": words}), by)
    if new.kind == "loan" and (lent := on_loan(words, job)):
        raise Problem(
            409,
            "lent-already",
            gettext("{words} is with {label} already.", words=lent.words, label=lent.job.label),
            job=lent.job.pk,
        )
    picture = Picture.objects.filter(pk=new.picture).first() if new.picture else None
    if new.picture and picture is None:
        raise Problem(422, "unknown-picture", gettext("found a picture that was not sent, expected one of this job's"))
    place = {name: getattr(new, name) for name in ("side", "x_mm", "y_mm", "x_px", "y_px")}
    return keep_row(Promise, job, new.id, by, kind=new.kind, words=words, part=new.part, picture=picture, **place)


def keep_promise(promise: Promise, by: User) -> None:
    """What was owed was done; saying so twice changes nothing."""
    PromiseKept.objects.get_or_create(promise=promise, defaults={"by": by})


def made_by_event(job: Job, event: UUID, kind: str, words: str, by: User) -> Promise:
    """The promise that an event makes: its id follows from the event's, so that each makes one and can end it."""
    return keep_row(Promise, job, uuid5(event, kind), by, kind=kind, words=words[:200])[0]


def end_with_event(event: UUID, kind: str, by: User) -> None:
    """The event was answered, and with it what it promised."""
    if promise := Promise.objects.filter(pk=uuid5(event, kind)).first():
        keep_promise(promise, by)


@receiver(post_save, sender=LookFinding)
def _what_look_found_broken_is_owed(instance: LookFinding, *, created: bool, **_: Any) -> None:
    if created and instance.kind in BROKEN:
        of = gettext(" at {part}", part=instance.part) if instance.part else ""
        made_by_event(
            instance.job,
            instance.pk,
            "other",
            gettext("{kind}{of}: set it right.", kind=KINDS[instance.kind], of=of),
            instance.by,
        )


@receiver(post_save, sender=LookFindingWithdrawal)
def _what_was_not_broken_is_owed_no_more(instance: LookFindingWithdrawal, **_: Any) -> None:
    end_with_event(instance.finding_id, "other", instance.by)


@receiver(post_save, sender=Act)
def _what_was_mended_is_owed_no_more(instance: Act, *, created: bool, **_: Any) -> None:
    if not created or instance.do not in MENDS or not instance.site:
        return
    for finding in instance.job.look_findings.filter(kind__in=BROKEN, part=instance.site, withdrawal=None):
        end_with_event(finding.pk, "other", instance.by)


@receiver(post_save, sender=PasteOrPad)
def _what_dried_is_owed_until_fresh_is_on(instance: PasteOrPad, *, created: bool, **_: Any) -> None:
    if not created:
        return
    if instance.way == "off" and instance.state not in SOUND:
        made_by_event(
            instance.job,
            instance.pk,
            "other",
            gettext("{words}: set it right.", words=layer_of(instance).words),
            instance.by,
        )
    elif instance.way == "on":
        for found in instance.job.pasteorpad_rows.filter(way="off", cooled=instance.cooled):
            end_with_event(found.pk, "other", instance.by)
        for seen in instance.job.look_findings.filter(kind="pads", withdrawal=None):
            end_with_event(seen.pk, "other", instance.by)


# Acts by which a part that was seen to be broken is set right.
MENDS = frozenset({"swap", "place", "renew-joint"})
# Kinds that are an act on a part that is named, and the act that settles each.
BEGUN_BY: Mapping[str, Do] = {"part-off": "remove", "wire-on": "solder-lead", "coil-lifted": "lift-coil"}
SETTLED_BY: Mapping[str, Do] = {"part-off": "place", "wire-on": "unsolder-lead", "coil-lifted": "fit-coil"}


def _promise_of(job: Job, debt: Owed, by: User) -> Promise:
    """The promise behind a debt; of a missing part without a name one is made, so that it can be kept."""
    promise = _promise_id(debt.key)
    if ":" not in debt.key or promise is None:
        return job.promise_rows.get(pk=debt.key)
    place = {name: getattr(debt.place, name) for name in ("side", "x_mm", "y_mm")} if debt.place else {}
    return keep_row(Promise, job, promise, by, kind=debt.kind, words=debt.words, **place)[0]


def _promise_id(key: str) -> UUID | None:
    """The promise that a debt's key names, or that settling it would make; None where the key is no such one."""
    table, _, row = key.rpartition(":")
    with suppress(ValueError):
        return uuid5(UUID(row), "part-off") if table else UUID(row)
    return None


@transaction.atomic
def settle(job: Job, key: str, entry: UUID, by: User, *, same: bool = False) -> None:
    """What was owed was done: a promise is kept, or the act that settles it is entered.

    `same` says that the part that was off is on again; else another one was fitted. Raises Problem 404 where nothing of
    that key is owed or it ends with the thing itself.
    """
    if entered(job, entry, by) or PromiseKept.objects.filter(promise=_promise_id(key), promise__job=job).exists():
        return  # sent again
    debt = next((candidate for candidate in owed(job) if candidate.key == key), None)
    if debt is None or not debt.by_hand:
        raise Problem(404, "not-owed", gettext("This is no longer owed."))
    if ":" not in key or not debt.part:
        keep_promise(_promise_of(job, debt, by), by)
        return
    taken = Act.objects.filter(pk=key.partition(":")[2]).first() if key.startswith("act:") else None
    chip_in = taken.chip if same and taken and debt.kind == "part-off" else ""
    enter_act(job, NewAct(entry, SETTLED_BY[debt.kind], "rework", debt.part, chip_in=chip_in), by)


def waive(job: Job, key: str, reason: str, by: User) -> Waiver:
    """Let the card go although this is owed. Raises Problem 404 where nothing of that key is owed."""
    if key not in {debt.key for debt in owed(job)}:
        raise Problem(404, "not-owed", gettext("This is no longer owed."))
    found, _ = Waiver.objects.get_or_create(job=job, key=key, defaults={"reason": reason, "by": by})
    return found
