"""Options put to a customer."""

from __future__ import annotations

from typing import Any

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
from uvrix.shop.jobs.api import found_job
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.offers.models import Message, Offer
from uvrix.shop.offers.queries import mailbox, offers_of, templates_now
from uvrix.shop.offers.services import (
    NewAnswer,
    NewMessage,
    NewOffer,
    answer,
    drafted,
    end_links,
    make_link,
    make_offer,
    save_templates,
    send,
)


class OfferOptionSerializer(serializers.Serializer[Any]):
    """An option: what it costs, how likely it holds, what follows from it."""

    name = serializers.CharField(max_length=120)
    price = serializers.FloatField(min_value=0, max_value=1e7)
    chance = serializers.FloatField(min_value=0, max_value=1, allow_null=True)
    consequence = serializers.CharField(max_length=400, allow_blank=True)
    against_advice = serializers.BooleanField(default=False)


class NewOfferSerializer(serializers.Serializer[Any]):
    """Options to put to the customer."""

    id = serializers.UUIDField()
    title = serializers.CharField(max_length=120)
    found = serializers.CharField(max_length=2000)
    options = OfferOptionSerializer(many=True)


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

    @extend_schema(request=NewOfferSerializer, responses={201: OfferSerializer, 200: OfferSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Ask; the job waits for the customer's word."""
        entry, job = entry_of(request, NewOfferSerializer), found_job(number)
        row, new = make_offer(job, NewOffer(**entry), person(request))
        return Response(OfferSerializer(row).data, 201 if new else 200)


class NewAnswerSerializer(serializers.Serializer[Any]):
    """What the customer chose; `option` null where they decline, `agreed` to the terms against advice."""

    option = serializers.IntegerField(min_value=0, allow_null=True)
    name = serializers.CharField(max_length=120)
    words = serializers.CharField(max_length=400, required=False, allow_blank=True)
    agreed = serializers.BooleanField(required=False)


class OfferAnswered(APIView):
    """An answer that a customer gave by voice or letter."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=NewAnswerSerializer, responses={201: OfferSerializer})
    def post(self, request: Request, offer: str) -> Response:
        """Enter it in the name of who told us."""
        found = get_object_or_404(Offer.objects.select_related("job", "by"), pk=offer)
        answer(found, NewAnswer(how="told", **entry_of(request, NewAnswerSerializer)), person(request))
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


class NewMessageSerializer(serializers.Serializer[Any]):
    """A message to send; `{link}` in its text becomes a way to the customer's page below `origin`."""

    id = serializers.UUIDField()
    to = serializers.CharField(max_length=200)
    subject = serializers.CharField(max_length=200)
    text = serializers.CharField(max_length=20_000)
    template = serializers.CharField(max_length=64, required=False, allow_blank=True)
    origin = OriginField()


class JobMessages(APIView):
    """What was written to a job's customer."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}

    @extend_schema(responses=MessageSerializer(many=True))
    def get(self, request: Request, number: int) -> Response:
        """Oldest first."""
        rows = found_job(number).message_rows.select_related("job", "by")
        return Response(MessageSerializer(rows, many=True).data)

    @extend_schema(request=NewMessageSerializer, responses={201: MessageSerializer, 200: MessageSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Send one."""
        entry, job = entry_of(request, NewMessageSerializer), found_job(number)
        row, new = send(job, NewMessage(**entry), person(request))
        return Response(MessageSerializer(row).data, 201 if new else 200)


class MessageDraftSerializer(serializers.Serializer[Any]):
    """A template filled for a job."""

    to = serializers.CharField(allow_blank=True)
    subject = serializers.CharField()
    text = serializers.CharField()
    template = serializers.CharField()


class JobMessageDraft(APIView):
    """A template filled for a job, to be read and changed before it is sent."""

    roles = {"GET": EVERYONE}

    @extend_schema(parameters=[OpenApiParameter("template", str, required=True)], responses=MessageDraftSerializer)
    def get(self, request: Request, number: int) -> Response:
        """One template."""
        return Response(
            MessageDraftSerializer(drafted(found_job(number), request.query_params.get("template", ""))).data
        )


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


class LinkRequestSerializer(serializers.Serializer[Any]):
    """A way to the customer's page to make."""

    entry = serializers.UUIDField()
    origin = OriginField()


class LinkSerializer(serializers.Serializer[Any]):
    """A way to the customer's page, shown once."""

    address = serializers.CharField()
    expires_at = serializers.DateTimeField()


class EndedSerializer(serializers.Serializer[Any]):
    """How many ways to the customer's page were ended."""

    ended = serializers.IntegerField()


class JobLinks(APIView):
    """Ways to the customer's page."""

    roles = {"POST": EVERYONE, "DELETE": EVERYONE}

    @extend_schema(request=LinkRequestSerializer, responses={201: LinkSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Make one; it is shown this once."""
        entry = entry_of(request, LinkRequestSerializer)
        link, token = make_link(found_job(number), entry["entry"], person(request))
        if not token:
            raise Problem(409, "shown", gettext("This link was made and shown before. Make another."))
        return Response({"address": f"{entry['origin']}/c/{token}", "expires_at": link.expires_at}, 201)

    @extend_schema(request=None, responses=EndedSerializer)
    def delete(self, request: Request, number: int) -> Response:
        """End all of them."""
        return Response({"ended": end_links(found_job(number))})
