"""Options put to a customer."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import EVERYONE, LEAD
from uvrix.shop.config.origins import OriginField
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import declared, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.offers.models import Message, Offer
from uvrix.shop.offers.queries import mailbox, offers_of, templates_now
from uvrix.shop.offers.services import (
    MessageDraftAnswer,
    NewAnswerRequest,
    NewMessage,
    NewOffer,
    OfferOptionSerializer,
    answer,
    drafted,
    end_links,
    make_link,
    make_offer,
    save_templates,
    send,
)


class OfferAnswerSerializer(serializers.Serializer[Any]):
    """What the customer chose; `option` null where they declined."""

    option = serializers.IntegerField(allow_null=True)
    name = serializers.CharField()
    words = serializers.CharField(allow_blank=True)
    wording = serializers.CharField()
    how = serializers.CharField()
    at = serializers.DateTimeField()


class OfferSerializer(serializers.Serializer[Any]):
    """Options that were put to the customer, and the answer."""

    answer = serializers.SerializerMethodField()

    id = serializers.UUIDField()
    title = serializers.CharField()
    found = serializers.CharField()
    options = OfferOptionSerializer(many=True)
    by = serializers.CharField(source="by.shown_name")
    at = serializers.DateTimeField()

    @extend_schema_field(OfferAnswerSerializer(allow_null=True))
    def get_answer(self, offer: Offer) -> Any:
        """The answer; null while it waits."""
        return dict(OfferAnswerSerializer(offer.answer).data) if hasattr(offer, "answer") else None


class JobOffers(APIView):
    """What a customer is asked."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}

    @extend_schema(responses=OfferSerializer(many=True))
    def get(self, request: Request, number: int) -> Response:
        """Every offer of a job, oldest first."""
        return Response(OfferSerializer(offers_of(found_job(number)), many=True).data)

    @extend_schema(request=shape(NewOffer), responses={201: OfferSerializer, 200: OfferSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Ask; the job waits for the customer's word."""
        entry, job = entry_of(request, NewOffer), found_job(number)
        row, new = make_offer(job, entry, person(request))
        return Response(OfferSerializer(row).data, 201 if new else 200)


class OfferAnswered(APIView):
    """An answer that a customer gave by voice or letter."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(NewAnswerRequest), responses={201: OfferSerializer})
    def post(self, request: Request, offer: str) -> Response:
        """Enter it in the name of who told us."""
        found = get_object_or_404(Offer.objects.select_related("job", "by"), pk=offer)
        answer(found, entry_of(request, NewAnswerRequest), person(request))
        return Response(OfferSerializer(offers_of(found.job).get(pk=found.pk)).data, 201)


class MessageSerializer(serializers.ModelSerializer[Message]):
    """A message as it was sent."""

    job_label = serializers.CharField(source="job.label")
    job = serializers.IntegerField(source="job_id")
    by = serializers.CharField(source="by.shown_name")

    link = serializers.CharField(read_only=True)

    class Meta:
        model = Message
        fields = ["id", "job", "job_label", "to", "subject", "text", "template", "by", "at", "sent_at", "link"]


class JobMessages(APIView):
    """What was written to a job's customer."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}

    @extend_schema(responses=MessageSerializer(many=True))
    def get(self, request: Request, number: int) -> Response:
        """Oldest first."""
        rows = found_job(number).message_rows.select_related("job", "by")
        return Response(MessageSerializer(rows, many=True).data)

    @extend_schema(request=shape(NewMessage), responses={201: MessageSerializer, 200: MessageSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Send one."""
        entry, job = entry_of(request, NewMessage), found_job(number)
        row, new = send(job, entry, person(request))
        return Response(MessageSerializer(row).data, 201 if new else 200)


class JobMessageDraft(APIView):
    """A template filled for a job, to be read and changed before it is sent."""

    roles = {"GET": EVERYONE}

    @extend_schema(parameters=[OpenApiParameter("template", str, required=True)], responses=shape(MessageDraftAnswer))
    def get(self, request: Request, number: int) -> Response:
        """One template."""
        return Response(drafted(found_job(number), request.query_params.get("template", "")))


class Mailbox(APIView):
    """Everything that was written to customers."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=MessageSerializer(many=True))
    def get(self, request: Request) -> Response:
        """Newest first, at most two hundred."""
        return Response(MessageSerializer(mailbox()[:200], many=True).data)


class TemplatesSerializer(serializers.Serializer[Any]):
    """The shop's templates of messages."""

    document = DocumentField()


class ShopTemplates(APIView):
    """Templates of messages."""

    roles = {"GET": EVERYONE, "PUT": LEAD}

    @extend_schema(responses=TemplatesSerializer)
    def get(self, request: Request) -> Response:
        """As they stand."""
        return Response({"document": templates_now()})

    @extend_schema(request=TemplatesSerializer, responses=TemplatesSerializer)
    def put(self, request: Request) -> Response:
        """Set them."""
        save_templates(entry_of(request, TemplatesSerializer)["document"], person(request))
        return self.get(request)


@dataclass(frozen=True, slots=True)
class LinkRequest:
    """A way to the customer's page to make."""

    entry: UUID
    origin: Annotated[str, declared(OriginField())]


@dataclass(frozen=True, slots=True)
class LinkAnswer:
    """A way to the customer's page, shown once."""

    address: str
    expires_at: datetime


@dataclass(frozen=True, slots=True)
class EndedAnswer:
    """How many ways to the customer's page were ended."""

    ended: int


class JobLinks(APIView):
    """Ways to the customer's page."""

    roles = {"POST": EVERYONE, "DELETE": EVERYONE}

    @extend_schema(request=shape(LinkRequest), responses={201: shape(LinkAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Make one; it is shown this once."""
        entry = entry_of(request, LinkRequest)
        link, token = make_link(found_job(number), entry.entry, person(request))
        if not token:
            raise Problem(409, "shown", gettext("This link was made and shown before. Make another."))
        return Response(LinkAnswer(address=f"{entry.origin}/c/{token}", expires_at=link.expires_at), 201)

    @extend_schema(request=None, responses=shape(EndedAnswer))
    def delete(self, request: Request, number: int) -> Response:
        """End all of them."""
        return Response(EndedAnswer(ended=end_links(found_job(number))))
