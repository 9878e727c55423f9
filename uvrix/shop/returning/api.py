"""Return: what is to be settled, letting a card go, the report, comebacks, reminders."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Annotated, Any
from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import EVERYONE, LEAD
from uvrix.shop.config.shapes import chosen, given, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.offers.queries import SHOP
from uvrix.shop.promises.api import WaiveRequest
from uvrix.shop.returning.models import FollowUp, Return
from uvrix.shop.returning.queries import (
    CAUSES,
    comeback_of,
    earlier,
    in_warranty,
    reminders,
    return_check,
    settings_now,
)
from uvrix.shop.returning.report import report_of, report_pdf
from uvrix.shop.returning.services import (
    NewReturn,
    follow_up_done,
    let_go,
    save_settings,
    say_comeback,
    waive_item,
)


class ItemSerializer(serializers.Serializer[Any]):
    """Something to be settled before a card leaves."""

    key = serializers.CharField()
    words = serializers.CharField()
    why = serializers.CharField(allow_blank=True)
    step = serializers.CharField(allow_blank=True)
    settled = serializers.BooleanField()
    blocks = serializers.BooleanField()
    waived = serializers.SerializerMethodField()

    def get_waived(self, item: Any) -> str:
        """Who let it go and why; empty where nobody did."""
        return f"{item.waived.by.shown_name}: {item.waived.reason}" if item.waived else ""


class ReturnedSerializer(serializers.ModelSerializer[Return]):
    """How a card left."""

    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = Return
        fields = ["id", "way", "tracking", "found", "done", "handling", "no_fix", "price", "warranty_days", "by", "at"]


class EarlierSerializer(serializers.Serializer[Any]):
    """An earlier visit of the card."""

    number = serializers.IntegerField(source="pk")
    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    complaint = serializers.CharField()
    closed_at = serializers.DateTimeField()
    warranty_until = serializers.DateField(allow_null=True)


class ComebackSerializer(serializers.Serializer[Any]):
    """A visit that follows from an earlier one, and why."""

    of = serializers.IntegerField(source="of_id")
    label = serializers.CharField(source="of.label")  # type: ignore[assignment]  # a field, not DRF's label
    cause = serializers.CharField(allow_blank=True)
    cause_words = serializers.SerializerMethodField()
    words = serializers.CharField(allow_blank=True)
    by = serializers.CharField(source="by.shown_name")

    def get_cause_words(self, comeback: Any) -> str:
        """The cause in words."""
        return CAUSES.get(comeback.cause, gettext("not known yet"))


class JobReturnSerializer(serializers.Serializer[Any]):
    """A job at Return."""

    items = ItemSerializer(many=True)
    may_leave = serializers.BooleanField()
    proven = serializers.BooleanField()
    returned = ReturnedSerializer(allow_null=True)
    earlier = EarlierSerializer(many=True)
    in_warranty = EarlierSerializer(allow_null=True)
    comeback = ComebackSerializer(allow_null=True)
    warranty_days = serializers.IntegerField()


def return_of(job: Job, *, no_fix: bool = False) -> Any:
    """What the job's page at Return shows."""
    job.refresh_from_db()
    items, proof = return_check(job, no_fix=no_fix)
    shown = {"items": items, "may_leave": not any(item.blocks for item in items), "proven": proof.proven}
    shown |= {"returned": Return.objects.filter(job=job).select_related("by").last(), "earlier": earlier(job)}
    more = {"in_warranty": in_warranty(job), "comeback": comeback_of(job)}
    return JobReturnSerializer({**shown, **more, "warranty_days": settings_now()["warranty_days"]}).data


class JobReturn(APIView):
    """A job at Return."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}

    @extend_schema(
        parameters=[OpenApiParameter("no_fix", bool, description="As for a card that is not repaired")],
        responses=JobReturnSerializer,
    )
    def get(self, request: Request, number: int) -> Response:
        """What is to be settled, and what became of it."""
        return Response(return_of(found_job(number), no_fix=request.query_params.get("no_fix") == "true"))

    @extend_schema(request=shape(NewReturn), responses={201: JobReturnSerializer, 200: JobReturnSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Let it go."""
        entry, job = entry_of(request, NewReturn), found_job(number)
        _, new = let_go(job, entry, person(request))
        return Response(return_of(job), 201 if new else 200)


class JobReturnWaivers(APIView):
    """What the lead lets go."""

    roles = {"POST": LEAD}

    @extend_schema(request=shape(WaiveRequest), responses={201: JobReturnSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Let one go."""
        entry, job = entry_of(request, WaiveRequest), found_job(number)
        waive_item(job, entry.key, entry.reason, person(request))
        return Response(return_of(job), 201)


@dataclass(frozen=True, slots=True)
class NewComeback:
    """A visit that follows from an earlier one, to enter."""

    id: UUID
    of: int
    cause: Annotated[str, chosen([*CAUSES, ""])] = ""
    words: Annotated[str, given(max_length=400, allow_blank=True)] = ""


class JobComeback(APIView):
    """Why a card came back."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(NewComeback), responses={201: JobReturnSerializer, 200: JobReturnSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Say it; the newest counts."""
        entry, job = entry_of(request, NewComeback), found_job(number)
        of, cause, words = found_job(entry.of), entry.cause, entry.words
        _, new = say_comeback(job, entry.id, of, (cause, words), person(request))
        return Response(return_of(job), 201 if new else 200)


class FittedSerializer(serializers.Serializer[Any]):
    """A part that came onto the card."""

    site = serializers.CharField()
    origin = serializers.CharField()


class JobReportSerializer(serializers.Serializer[Any]):
    """What the report says."""

    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    card = serializers.CharField()
    serial = serializers.CharField()
    complaint = serializers.CharField()
    found = serializers.CharField(allow_blank=True)
    done = serializers.ListField(child=serializers.CharField())
    fitted = FittedSerializer(many=True)
    removed = serializers.ListField(child=serializers.CharField())
    cooling = serializers.ListField(child=serializers.CharField())
    proof = serializers.ListField(child=serializers.ListField(child=serializers.CharField(allow_blank=True)))
    pairs = serializers.ListField(child=serializers.ListField(child=serializers.CharField(allow_blank=True)))
    weak = serializers.ListField(child=serializers.CharField())
    handling = serializers.CharField(allow_blank=True)
    no_fix = serializers.CharField(allow_blank=True)
    left_off = serializers.ListField(child=serializers.CharField())
    warranty = serializers.CharField(allow_blank=True)
    price = serializers.CharField(allow_blank=True)
    sites = serializers.ListField(child=serializers.CharField())


class JobReport(APIView):
    """The report as it would be now."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=JobReportSerializer)
    def get(self, request: Request, number: int) -> Response:
        """What the report to the customer says."""
        return Response(JobReportSerializer(asdict(report_of(found_job(number)))).data)


class JobReportPdf(APIView):
    """The report on paper."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, number: int) -> HttpResponse:
        """A PDF on A4."""
        job = found_job(number)
        headers = {"Content-Disposition": f'inline; filename="{job.label}-report.pdf"'}
        return HttpResponse(report_pdf(job, SHOP), content_type="application/pdf", headers=headers)


class ReminderSerializer(serializers.Serializer[Any]):
    """Something to write to a customer about."""

    kind = serializers.ChoiceField(choices=["follow-up", "answer"])
    job = serializers.IntegerField(source="job.pk")
    job_label = serializers.CharField(source="job.label")
    customer = serializers.CharField(source="job.customer.name")
    card = serializers.CharField(source="job.card.model.__str__")
    due = serializers.DateField()
    words = serializers.CharField()
    key = serializers.CharField()


class Reminders(APIView):
    """What customers are to be written about."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=ReminderSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The oldest first."""
        return Response(ReminderSerializer(reminders(), many=True).data)


class FollowUpDone(APIView):
    """A follow-up that was made."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=None, responses=ReminderSerializer(many=True))
    def post(self, request: Request, follow: str) -> Response:
        """It is done."""
        follow_up_done(get_object_or_404(FollowUp, pk=follow), person(request))
        return Response(ReminderSerializer(reminders(), many=True).data)


class ShopReturnSerializer(serializers.Serializer[Any]):
    """Days of warranty and follow-up."""

    document = DocumentField()


class ShopReturn(APIView):
    """The shop's settings for Return."""

    roles = {"GET": EVERYONE, "PUT": LEAD}

    @extend_schema(responses=ShopReturnSerializer)
    def get(self, request: Request) -> Response:
        """As they stand."""
        return Response({"document": settings_now()})

    @extend_schema(request=ShopReturnSerializer, responses=ShopReturnSerializer)
    def put(self, request: Request) -> Response:
        """Set them."""
        save_settings(entry_of(request, ShopReturnSerializer)["document"], person(request))
        return self.get(request)
