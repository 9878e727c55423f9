"""Entering parts, their moves, values, donors, sets and offers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Annotated, Any
from uuid import UUID, uuid5

from django.db import transaction
from django.utils import timezone

from uvrix.core.errors import Refusal
from uvrix.core.stock.donors import HALVES, QUESTIONS
from uvrix.core.stock.facts import COUNTED, read_facts
from uvrix.core.stock.life import CONDITIONS, MOVES, Move, check_move
from uvrix.core.stock.settings import read_settings
from uvrix.core.stock.values import SOURCES, From
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, declared, given
from uvrix.shop.jobs.models import Card, Job, JobBoard
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.jobs.services import NewJob, open_job
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import model_board
from uvrix.shop.rework.queries import pin1_corner, rework_context
from uvrix.shop.rework.services import NO_PIN, NewRework, enter_rework
from uvrix.shop.stock.models import (
    Donor,
    DonorInspection,
    PartEdition,
    PartValue,
    PartValueWithdrawal,
    StockMove,
    StockSettings,
)
from uvrix.shop.stock.parts import Stock, stock

PREFIX = "P-"
# The customer to whom the shop's own donors belong.
OWN = gettext("The shop itself")


@dataclass(frozen=True, slots=True)
class NewMove:
    """A part moved, counted or judged, to enter (models.StockMove)."""

    id: UUID
    label: Annotated[str, given(max_length=120)]
    do: Annotated[Move, chosen(list(MOVES))]
    to: Annotated[str, given(max_length=120, allow_blank=True)] = ""
    amount: Annotated[float | None, given(min_value=0, max_value=1000000000.0)] = None
    condition: Annotated[str, chosen([*CONDITIONS, ""])] = ""
    due: date | None = None
    note: Annotated[str, given(max_length=200, allow_blank=True)] = ""


@transaction.atomic
def enter_move(new: NewMove, by: User) -> tuple[StockMove, bool]:
    """A part's move, and whether it is new.

    Raises Problem 404 `no-part` for a label that nobody knows; 422 `does-not-fit` where it does not fit where the part
    is; 422 `no-condition`, `no-amount` where one is wanted.
    """
    if known := StockMove.objects.filter(pk=new.id).first():
        return known, False
    at = stock()
    life = at.life(new.label)
    if life is None:
        raise Problem(
            404, "no-part", gettext("found {label}, expected the label of a part, or CARD/PLACE", label=repr(new.label))
        )
    if new.do not in MOVES:
        raise Problem(
            422, "no-move", gettext("found {do}, expected one of {moves}", do=repr(new.do), moves=", ".join(MOVES))
        )
    if (new.condition and new.condition not in CONDITIONS) or (new.do == "condition" and not new.condition):
        detail = gettext(
            "found {condition}, expected one of {conditions}",
            condition=repr(new.condition or gettext("none")),
            conditions=", ".join(CONDITIONS),
        )
        raise Problem(422, "no-condition", detail)
    if new.do in {"used", "counted"} and new.amount is None:
        raise Problem(422, "no-amount", gettext("found no amount, expected how many pieces"))
    if new.do in {"used", "counted"} and at.facts_of(new.label).get("kind") not in COUNTED:
        detail = gettext("found {label}, which is one piece, expected something that is counted", label=new.label)
        raise Problem(422, "not-counted", detail)
    try:
        check_move(life, new.do, new.to.strip())
    except Refusal as refusal:
        raise Problem(
            422,
            "does-not-fit",
            gettext("found {found}, expected {expected}", found=refusal.found, expected=refusal.expected),
        ) from None
    if new.do == "joined" and at.facts_of(new.to.strip()).get("kind") != "set":
        raise Problem(422, "no-set", gettext("found {to}, expected the label of a set in stock", to=repr(new.to)))
    fields = {"label": new.label, "do": new.do, "to": new.to.strip(), "amount": new.amount, "due": new.due}
    fields |= {"condition": new.condition, "note": new.note}
    return StockMove.objects.create(pk=new.id, by=by, at=timezone.now(), **fields), True


@dataclass(frozen=True, slots=True)
class NewPart:
    """A part to take into stock; without a label the next free one of the shop's own is taken."""

    id: UUID
    facts: Annotated[Mapping[str, Any], declared(DocumentField())]
    to: Annotated[str, given(max_length=120)]
    label: Annotated[str, given(max_length=120, allow_blank=True)] = ""
    condition: Annotated[str, chosen([*CONDITIONS, ""])] = ""
    amount: Annotated[float | None, given(min_value=0, max_value=1000000000.0)] = None


@transaction.atomic
def take_in(new: NewPart, by: User) -> tuple[str, bool]:
    """The label of a part that is in stock now, and whether it is new.

    Raises Refusal where its facts do not fit; Problem 409 `label-used` where another part bears that label.
    """
    if known := StockMove.objects.filter(pk=new.id).first():
        return known.label, False
    read_facts(new.facts)
    label = new.label.strip() or _next_label()
    if PartEdition.objects.filter(label=label).exists():
        raise Problem(
            409,
            "label-used",
            gettext("found {label}, which another part bears, expected a label of its own", label=label),
        )
    if "/" in label:
        raise Problem(
            422,
            "card-label",
            gettext("found {label}, expected a label without a slash: those are parts of cards", label=repr(label)),
        )
    amount = (new.amount or 0.0) if new.facts["kind"] in COUNTED else None
    PartEdition.objects.create(label=label, number=1, facts=dict(new.facts), by=by)
    enter_move(NewMove(new.id, label, "received", new.to, amount, new.condition), by)
    return label, True


def _next_label() -> str:
    used = PartEdition.objects.filter(label__regex=rf"^{PREFIX}\d+$").values_list("label", flat=True)
    return f"{PREFIX}{max((int(name.removeprefix(PREFIX)) for name in used), default=0) + 1:04d}"


@transaction.atomic
def note_facts(label: str, facts: Mapping[str, Any], base: int, by: User) -> PartEdition:
    """What a part is, in a new edition. Raises Problem 404 for no such part, 409 `changed` if edited since."""
    read_facts(facts)
    if stock().life(label) is None:
        raise Problem(
            404, "no-part", gettext("found {label}, expected the label of a part, or CARD/PLACE", label=repr(label))
        )
    newest = PartEdition.objects.filter(label=label).order_by("-number").first()
    number = newest.number if newest else 0
    if number != base:
        said = gettext(
            "Somebody changed {label} meanwhile (edition {number}). Look at it, then save yours.",
            label=label,
            number=number,
        )
        raise Problem(409, "changed", said)
    return PartEdition.objects.create(label=label, number=number + 1, facts=dict(facts), by=by)


@dataclass(frozen=True, slots=True)
class NewValue:
    """A value or note of a part of a model (models.PartValue)."""

    id: UUID
    designator: Annotated[str, given(max_length=80)]
    text: Annotated[str, given(max_length=120)]
    origin: Annotated[From, chosen(SOURCES)]
    of: Annotated[str, given(max_length=120, allow_blank=True)] = ""


@transaction.atomic
def note_value(model: BoardModel, new: NewValue, job: Job | None, by: User) -> tuple[PartValue, bool]:
    """A value, and whether it is new. Raises Problem 422 where the source is none, or a donor's without its card."""
    if new.origin not in SOURCES:
        raise Problem(
            422,
            "no-source",
            gettext("found {source}, expected one of {sources}", source=repr(new.origin), sources=", ".join(SOURCES)),
        )
    if new.origin == "donor" and not new.of.strip():
        raise Problem(422, "no-donor", gettext("found no donor, expected the serial of the card that it was read off"))
    fields: dict[str, Any] = {"model": model, "designator": new.designator.strip(), "text": new.text.strip()}
    fields |= {"source": new.origin, "of": new.of.strip(), "job": job, "by": by, "at": timezone.now()}
    return PartValue.objects.get_or_create(pk=new.id, defaults=fields)


def withdraw_value(value: PartValue, by: User) -> None:
    """A value that was none counts no more."""
    PartValueWithdrawal.objects.get_or_create(value=value, defaults={"by": by})


@dataclass(frozen=True, slots=True)
class NewDonor:
    """A card to take in as a donor; `entry` is the id of its visit."""

    entry: UUID
    serial: Annotated[str, given(max_length=80)]
    board_model: Annotated[str, given(max_length=64)]
    origin: Annotated[str, given(max_length=200)]
    place: Annotated[str, given(max_length=20, allow_blank=True)] = ""


@transaction.atomic
def take_donor(new: NewDonor, by: User) -> tuple[Donor, bool]:
    """A donor, and whether it is new. A card that was here before keeps its history; its last visit keeps its rows.

    Raises Problem 409 `on-the-bench` for a card with an open job: it is somebody's.
    """
    card = Card.objects.filter(serial=new.serial).first()
    if card and (known := Donor.objects.filter(card=card).first()):
        return known, False
    if card and (here := card.jobs.filter(closed_at=None).first()):
        detail = gettext(
            "{serial} is here as {label}: close that job before it gives parts.", serial=card.serial, label=here.label
        )
        raise Problem(409, "on-the-bench", detail)
    job = card.jobs.order_by("-opened_at").first() if card else None
    if job is None:
        entry = NewJob(
            new.entry, new.serial, new.board_model, OWN, gettext("Donor: {origin}", origin=new.origin), place=new.place
        )
        job, _ = open_job(entry, by)
        job.closed_at = timezone.now()
        job.save(update_fields=["closed_at"])
    return Donor.objects.create(card=job.card, job=job, origin=new.origin, by=by), True


def inspect(card: Card, entry: UUID, content: Mapping[str, Any], by: User) -> tuple[DonorInspection, bool]:
    """What an inspection found, and whether it is new. Raises Problem 422 for unknown questions or halves."""
    if unknown := set(content.get("answers", {})) - set(QUESTIONS):
        raise Problem(
            422,
            "no-question",
            gettext(
                "found {unknown}, expected one of {questions}",
                unknown=repr(min(unknown)),
                questions=", ".join(QUESTIONS),
            ),
        )
    for name in ("core", "board", "memory"):
        if content.get(name, "unknown") not in HALVES:
            raise Problem(
                422,
                "no-half",
                gettext(
                    "found {name} for {name_2}, expected one of {halves}",
                    name=repr(content[name]),
                    name_2=name,
                    halves=", ".join(HALVES),
                ),
            )
    fields = {"card": card, "content": dict(content), "by": by, "at": timezone.now()}
    return DonorInspection.objects.get_or_create(pk=entry, defaults=fields)


@dataclass(frozen=True, slots=True)
class SetMove:
    """Core and memory moved as a set: `reason` says where the photographs of both boards are.

    `goes_along`: the giver's job goes on with the taker's board, which is a donor's.
    """

    entry: UUID
    giver: Job
    taker: Job
    sites: Sequence[str]
    reason: str
    goes_along: bool = False


@transaction.atomic
def move_set(new: SetMove, by: User) -> list[str]:
    """The labels of the parts moved, each place by place. All of them move, or none.

    Raises Problem 422 `no-place` where the taker's board lacks a place, `other-family` where its core is another; 409
    `no-donor` where a job is to go on with a board that is no donor's, `closed` where it is closed.
    """
    if known := _moved_before(new):
        return known
    giver, taker = new.giver, new.taker
    one, other = model_board(giver.card.model), model_board(taker.card.model)
    if one is None or other is None:
        raise Problem(422, "not-drawn", gettext("found a board that is not drawn, expected both drawn"))
    if giver.card_id == taker.card_id:
        raise Problem(422, "same-card", gettext("found {serial} twice, expected two cards", serial=giver.card.serial))
    kin = giver.card.model.family and giver.card.model.family == taker.card.model.family
    if giver.card.model_id != taker.card.model_id and not kin:
        detail = gettext(
            "found {model} and {model_2}, expected one core family on both boards",
            model=giver.card.model,
            model_2=taker.card.model,
        )
        raise Problem(422, "other-family", detail)
    places = {other.core.designator, *(site.designator for site in other.sites if site.fitted)}
    if lacking := [site for site in new.sites if site not in places]:
        raise Problem(
            422,
            "no-place",
            gettext(
                "found {lacking}, expected places that {model} has", lacking=", ".join(lacking), model=taker.card.model
            ),
        )
    if not new.sites:
        raise Problem(422, "no-set", gettext("found no place, expected those whose parts move"))
    chips = [_taken_off(new, site, by) for site in new.sites]
    if new.goes_along:
        taker = _live_on(giver, taker, new.entry, by)
    there = {site_now.designator: site_now.chip for site_now in rework_context(taker).sites}
    for site, chip in zip(new.sites, chips, strict=True):
        former = there.get(site, f"{taker.card.serial}/{site}")
        pin1 = _pin1(taker, site) if former else ""
        on = NewRework(uuid5(new.entry, f"on {site}"), "swap" if former else "place", site, chip_in=chip, pin1=pin1,
                       no_photo=new.reason, note=gettext("Moved as a set."))  # fmt: skip
        enter_rework(taker, on, by)
    return chips


def _moved_before(new: SetMove) -> list[str]:
    """The labels that an entry moved which was sent before; empty where it is new."""
    ids = {uuid5(new.entry, f"on {site}"): site for site in new.sites}
    acts = {act.pk: act.chip_in for act in Act.objects.filter(pk__in=ids)}
    return [acts[key] for key in ids] if len(acts) == len(ids) else []


def _taken_off(new: SetMove, site: str, by: User) -> str:
    """The label of the part taken off the giver's place. Raises Problem 422 `empty` where there is none."""
    giver = new.giver
    chip = {here.designator: here.chip for here in rework_context(giver).sites}.get(site, f"{giver.card.serial}/{site}")
    if chip is None:
        raise Problem(
            422,
            "empty",
            gettext("found {site} of {serial} empty, expected a part to move", site=site, serial=giver.card.serial),
        )
    off = NewRework(uuid5(new.entry, f"off {site}"), "remove", site, pin1=_pin1(giver, site), no_photo=new.reason,
                    note=gettext("Moved as a set."))  # fmt: skip
    enter_rework(giver, off, by)
    return chip


def _live_on(job: Job, donor: Job, entry: UUID, by: User) -> Job:
    """The job, gone on with the donor's board; the board that it had becomes a donor in its place."""
    job = Job.objects.select_for_update(of=("self",)).select_related("card__model").get(pk=job.pk)
    if job.closed_at is not None:
        raise Problem(
            409,
            "closed",
            gettext("{label} is closed, expected a job whose card goes on with another board", label=job.label),
        )
    taken = Donor.objects.filter(card=donor.card).first()
    if taken is None or donor.card.jobs.filter(closed_at=None).exists():
        raise Problem(
            409,
            "no-donor",
            gettext("found {serial}, expected a donor that nobody else works on", serial=donor.card.serial),
        )
    before, after = job.card, donor.card
    keep_row(JobBoard, job, uuid5(entry, "board"), by, before=before, after=after)
    job.card = after
    job.save(update_fields=["card"])
    taken.delete()
    take_donor(
        NewDonor(
            uuid5(entry, "donor"), before.serial, before.model.slug, gettext("the board of {label}", label=job.label)
        ),
        by,
    )
    return job


def _pin1(job: Job, site: str) -> str:
    return pin1_corner(model_board(job.card.model), site, job.orientation) or NO_PIN


def save_settings(document: Mapping[str, Any], by: User) -> StockSettings:
    """The shop's settings. Raises Refusal where they do not fit."""
    read_settings(document)
    return StockSettings.objects.create(content=dict(document), by=by)


def part_words(label: str, at: Stock) -> list[str]:
    """The lines of a part's label on paper."""
    facts = at.facts_of(label)
    said = [facts.get("marking", ""), facts.get("vendor", ""), at.printed_on(label), facts.get("value", "")]
    return [entry for entry in said if entry][:3] or [facts.get("kind", "part")]
