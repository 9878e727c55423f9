"""Putting options to a customer, writing to them, and taking their answer."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Annotated, Any
from uuid import UUID, uuid4

from django.conf import settings
from django.core.mail import EmailMessage
from django.db import transaction
from django.utils import timezone
from rest_framework import serializers

from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.config.origins import OriginField
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import declared, given
from uvrix.shop.jobs.models import Job, WhoseMove
from uvrix.shop.jobs.rows import keep_row
from uvrix.shop.jobs.services import change_job
from uvrix.shop.offers.models import CustomerLink, Message, MessageTemplates, Offer, OfferAnswer
from uvrix.shop.offers.queries import places_of, templates_now, wording_of
from uvrix.shop.offers.templates import filled, read_templates

LINK_DAYS = 30
# What stands for the link until the message is sent.
LINK_HERE = "{link}"


class OfferOptionSerializer(serializers.Serializer[Any]):
    """An option: what it costs, how likely it holds, what follows from it."""

    name = serializers.CharField(max_length=120)
    price = serializers.FloatField(min_value=0, max_value=1e7)
    chance = serializers.FloatField(min_value=0, max_value=1, allow_null=True)
    consequence = serializers.CharField(max_length=400, allow_blank=True)
    against_advice = serializers.BooleanField(default=False)


@dataclass(frozen=True, slots=True)
class MessageDraftAnswer:
    """A template filled for a job."""

    to: str
    subject: str
    text: str
    template: str


@dataclass(frozen=True, slots=True)
class NewOffer:
    """Options to put to the customer (models.Offer)."""

    id: UUID
    title: Annotated[str, given(max_length=120)]
    found: Annotated[str, given(max_length=2000)]
    options: Annotated[Sequence[Mapping[str, Any]], declared(OfferOptionSerializer(many=True))]


@transaction.atomic
def make_offer(job: Job, new: NewOffer, by: User) -> tuple[Offer, bool]:
    """Options put to the customer, and whether they are new; the job waits for the customer's word."""
    if not new.options:
        raise Problem(422, "no-options", gettext("found no option, expected at least one to choose"))
    row, fresh = keep_row(
        Offer, job, new.id, by, title=new.title, found=new.found, options=[dict(option) for option in new.options]
    )
    if fresh:
        change_job(job, uuid4(), {"move": WhoseMove.CUSTOMER, "waits_for": new.title}, by)
    return row, fresh


@dataclass(frozen=True, slots=True)
class NewAnswerRequest:
    """What the customer chose: an option's number, or None where they decline; `agreed` to terms against advice."""

    option: Annotated[int | None, given(min_value=0)]
    name: Annotated[str, given(max_length=120)]
    words: Annotated[str, given(max_length=400, allow_blank=True)] = ""
    agreed: bool = False


@transaction.atomic
def answer(offer: Offer, new: NewAnswerRequest, by: User | None = None) -> OfferAnswer:
    """The customer's answer, kept with all that they saw; the job is back in our hands. `by` entered what they told us.

    Raises Problem 409 `answered` where it was answered before, 422 `no-option`, `no-name`; 409 `against-advice` where
    the option goes against advice and the terms were not agreed to.
    """
    offer = Offer.objects.select_for_update().get(pk=offer.pk)
    if known := OfferAnswer.objects.filter(offer=offer).first():
        raise Problem(
            409,
            "answered",
            gettext("{name} has answered this already. Write to the shop to change it.", name=known.name),
        )
    if new.option is not None and not 0 <= new.option < len(offer.options):
        raise Problem(
            422,
            "no-option",
            gettext("found option {option}, expected one of {number}", option=new.option, number=len(offer.options)),
        )
    if not new.name.strip():
        raise Problem(422, "no-name", gettext("found no name, expected who answers"))
    if new.option is not None and offer.options[new.option].get("against_advice") and not new.agreed:
        raise Problem(
            409, "against-advice", gettext("This is against our advice. Agree to its terms, or choose another.")
        )
    row = OfferAnswer.objects.create(
        offer=offer,
        option=new.option,
        name=new.name.strip(),
        words=new.words.strip(),
        wording=wording_of(offer),
        how="told" if by else "page",
        by=by,
    )
    newest = Offer.objects.filter(job=offer.job).order_by("-at").first()
    if newest and newest.pk == offer.pk and offer.job.move == WhoseMove.CUSTOMER:
        change_job(offer.job, uuid4(), {"move": WhoseMove.HANDS}, by or offer.by)
    return row


def make_link(job: Job, entry: UUID, by: User, days: int = LINK_DAYS) -> tuple[CustomerLink, str]:
    """A way to the customer's page, and its token, which is shown once and not kept."""
    token = secrets.token_urlsafe(32)
    ends = timezone.now() + timedelta(days=days)
    fields: dict[str, Any] = {"token_sha256": _hash(token), "expires_at": ends}
    link, fresh = keep_row(CustomerLink, job, entry, by, **fields)
    return link, token if fresh else ""


def end_links(job: Job) -> int:
    """All ways to the customer's page of a job end now; how many there were."""
    return CustomerLink.objects.filter(job=job, ended_at=None).update(ended_at=timezone.now())


def found_link(token: str) -> CustomerLink:
    """The link of a token. Raises Problem 410 `link-over` where there is none, or it has ended."""
    link = CustomerLink.objects.filter(token_sha256=_hash(token)).select_related("job__card__model__newest").first()
    if link is None or link.ended_at is not None or link.expires_at <= timezone.now():
        raise Problem(410, "link-over", gettext("This link has expired. Write to the shop for a new one."))
    return link


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


@dataclass(frozen=True, slots=True)
class NewMessage:
    """A message to send; the link's place in `text` is filled as it is sent. `origin` is where the shop is reached."""

    id: UUID
    to: Annotated[str, given(max_length=200)]
    subject: Annotated[str, given(max_length=200)]
    text: Annotated[str, given(max_length=20000)]
    origin: Annotated[str, declared(OriginField())]
    template: Annotated[str, given(max_length=64, allow_blank=True)] = ""


def drafted(job: Job, key: str) -> MessageDraftAnswer:
    """A template filled for a job, the link's place left. Raises Problem 404 for no such template."""
    template = next((entry for entry in templates_now()["templates"] if entry["key"] == key), None)
    if template is None:
        raise Problem(404, "no-template", gettext("found {key}, expected a template of the shop", key=repr(key)))
    places = places_of(job) | {"link": LINK_HERE}
    return MessageDraftAnswer(
        to=job.customer.contact,
        subject=filled(template["subject"], places),
        text=filled(template["text"], places),
        template=key,
    )


@transaction.atomic
def send(job: Job, new: NewMessage, by: User) -> tuple[Message, bool]:
    """Write to the customer, and whether it is new; a link in it is made for this message, and not kept with it.

    Without a mail server the message bears the link as `link`, this once, to be given by hand. Raises Problem 422
    `no-address` where there is nobody to write to.
    """
    if known := Message.objects.filter(pk=new.id).first():
        return keep_row(Message, job, known.pk, by)
    if "@" not in new.to:
        raise Problem(422, "no-address", gettext("found {to}, expected an address to write to", to=repr(new.to)))
    fields = {"to": new.to.strip(), "subject": new.subject.strip(), "template": new.template}
    row, fresh = keep_row(Message, job, new.id, by, text=new.text, **fields)
    if not fresh:  # another request brought it in the same moment, and sends it
        return row, fresh
    if settings.EMAIL_HOST:
        from uvrix.shop.offers.tasks import send_letter

        # in the same transaction: a letter that is kept is sent, and one that is not kept is not
        send_letter.defer(message=str(row.pk), origin=new.origin)
        return row, fresh
    EmailMessage(row.subject, row.text, settings.DEFAULT_FROM_EMAIL, [row.to]).send()
    row.sent_at = timezone.now()
    row.save(update_fields=["sent_at"])
    if LINK_HERE in row.text:
        row.link = f"{new.origin}/c/{make_link(job, uuid4(), by)[1]}"
    return row, fresh


@transaction.atomic
def deliver(message: UUID, origin: str) -> bool:
    """Give a letter to the mail server, unless it has it; whether it was given now.

    Its own link is made here and is nowhere kept. Raises OSError where it is not taken; nothing is kept then.
    """
    row = Message.objects.select_for_update().select_related("job", "by").get(pk=message)
    if row.sent_at is not None:
        return False
    text = row.text
    if LINK_HERE in text:
        text = text.replace(LINK_HERE, f"{origin}/c/{make_link(row.job, uuid4(), row.by)[1]}")
    row.sent_at = timezone.now()
    row.save(update_fields=["sent_at"])
    # one that is given twice after all (killed between the server's yes and ours) is one letter by its number
    numbered = {"Message-ID": f"<{row.pk}@{settings.DEFAULT_FROM_EMAIL.rpartition('@')[2]}>"}
    EmailMessage(row.subject, text, settings.DEFAULT_FROM_EMAIL, [row.to], headers=numbered).send()
    return True


def save_templates(document: Any, by: User) -> MessageTemplates:
    """The shop's templates. Raises Refusal where they do not fit."""
    return MessageTemplates.objects.create(content=read_templates(document), by=by)
