"""The customer's own page, by a link that nobody guesses and that ends."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of
from uvrix.shop.acts.queries import of_job
from uvrix.shop.clock.queries import money
from uvrix.shop.config.access import PUBLIC
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import declared, extended, shape
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.drawings import SmallBoardAnswer, small_board
from uvrix.shop.offers.api import OfferAnswerSerializer
from uvrix.shop.offers.models import Offer
from uvrix.shop.offers.queries import AGAINST, SHOP, offers_of, open_offer
from uvrix.shop.offers.services import NewAnswerRequest, OfferOptionSerializer, answer, found_link
from uvrix.shop.returning.report import report_pdf


@dataclass(frozen=True, slots=True)
class CustomerBoardAnswer(SmallBoardAnswer):
    """The board's front; `suspects` are the chips that it is about."""

    suspects: Sequence[str]


class CustomerOptionSerializer(OfferOptionSerializer):
    """An option as the customer sees it; `terms` where it goes against advice."""

    terms = serializers.CharField(allow_blank=True)


@dataclass(frozen=True, slots=True)
class CustomerOfferAnswer:
    """What the customer is asked."""

    title: str
    found: str
    options: Annotated[Iterable[Any], declared(CustomerOptionSerializer(many=True))]
    at: datetime
    answer: Annotated[Any, declared(OfferAnswerSerializer(allow_null=True))]


class CustomerPageSerializer(serializers.Serializer[Any]):
    """The customer's own page of a job: its public part and nothing else."""

    shop = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    card = serializers.CharField()
    customer = serializers.CharField()
    complaint = serializers.CharField()
    stands = serializers.ChoiceField(choices=["in-work", "asked", "answered", "returned"])
    offer = shape(CustomerOfferAnswer)(allow_null=True)
    board = shape(CustomerBoardAnswer)(allow_null=True)
    currency = serializers.CharField()
    report = serializers.BooleanField()
    expires_at = serializers.DateTimeField()


def customer_page(job: Job, expires_at: Any) -> Any:
    """What the customer may see of their job."""
    offer = offers_of(job).last()
    said = getattr(offer, "answer", None) if offer else None
    stands = "returned" if job.closed_at else "in-work" if offer is None else "answered" if said else "asked"
    shown = None
    if offer:
        options = [{**option, "terms": AGAINST if option.get("against_advice") else ""} for option in offer.options]
        shown = CustomerOfferAnswer(title=offer.title, found=offer.found, options=options, at=offer.at, answer=said)
    page: dict[str, Any] = {
        "shop": SHOP,
        "label": job.label,
        "card": str(job.card.model),
        "customer": job.customer.name,
    }
    page |= {"complaint": job.complaint, "stands": stands, "offer": shown, "board": _board_of(job, offer)}
    more = {"currency": money().currency, "report": job.closed_at is not None, "expires_at": expires_at}
    return CustomerPageSerializer({**page, **more}).data


def _board_of(job: Job, offer: Offer | None) -> CustomerBoardAnswer | None:
    """The board's front, with the chips that the offer names or that were worked on."""
    if job.card.model.newest is None:
        return None
    board = small_board(job.card.model.newest)
    names = {site.designator for site in board.sites}
    words = f"{offer.found} {offer.title}" if offer else ""
    named = [name for name in sorted(names) if name in words.replace(",", " ").replace(".", " ").split()]
    worked = sorted({row.site for row in of_job(job)} & names)
    return extended(CustomerBoardAnswer, board, suspects=named or worked)


class CustomerPage(APIView):
    """The customer's own page, by an unguessable link that ends."""

    roles = {"GET": PUBLIC}

    @extend_schema(responses=CustomerPageSerializer)
    def get(self, request: Request, token: str) -> Response:
        """The job's public part."""
        link = found_link(token)
        return Response(customer_page(link.job, link.expires_at))


class CustomerAnswer(APIView):
    """The customer's answer."""

    roles = {"POST": PUBLIC}

    @extend_schema(request=shape(NewAnswerRequest), responses={201: CustomerPageSerializer})
    def post(self, request: Request, token: str) -> Response:
        """Accept an option, or decline; kept with the time and all that was shown."""
        link, entry = found_link(token), entry_of(request, NewAnswerRequest)
        offer = open_offer(link.job)
        if offer is None:
            raise Problem(409, "answered", gettext("The question is closed. Write to the shop to change an answer."))
        answer(offer, entry)
        return Response(customer_page(link.job, link.expires_at), 201)


class CustomerReport(APIView):
    """The report, for the customer."""

    roles = {"GET": PUBLIC}

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, token: str) -> HttpResponse:
        """A PDF, once the card has left."""
        job = found_link(token).job
        if job.closed_at is None:
            raise Problem(404, "no-report", gettext("The report is written when the card leaves."))
        headers = {"Content-Disposition": f'inline; filename="{job.label}-report.pdf"'}
        return HttpResponse(report_pdf(job, SHOP), content_type="application/pdf", headers=headers)
