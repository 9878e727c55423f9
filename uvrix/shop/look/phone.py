"""A phone joins a job by a short-lived link, shown as a code: it sends photographs, and readings (ohms/phone.py)."""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

import segno
from django.core import signing
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.models import User
from uvrix.shop.accounts.uploads import small_file
from uvrix.shop.config.access import EVERYONE, PUBLIC
from uvrix.shop.config.origins import OriginField
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, declared, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.look.services import NewPhotograph, keep_photograph
from uvrix.shop.pictures.api import LARGEST_PICTURE_BYTES
from uvrix.shop.pictures.services import take_picture

MINUTES = 20
SALT = "uvrix.phone"


@dataclass(frozen=True, slots=True)
class PassRequest:
    """Where the screen's own page came from, so that the code leads to the same server."""

    origin: Annotated[str, declared(OriginField())]


@dataclass(frozen=True, slots=True)
class PassAnswer:
    """A link for a phone, and its code row by row, 1 for dark."""

    address: str
    minutes: int
    code: Sequence[str]


class PhonePass(APIView):
    """Letting a phone join a job."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(PassRequest), responses={201: shape(PassAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """A link that takes photographs for this job for some minutes, in the name of who asked for it."""
        entry = entry_of(request, PassRequest)
        job = found_job(number)
        token = signing.dumps({"job": job.pk, "by": person(request).pk, "at": time.time()}, salt=SALT)
        address = f"{entry.origin}/phone/{token}"
        rows = ["".join(str(module) for module in row) for row in segno.make(address, error="m", micro=False).matrix]
        return Response(PassAnswer(address=address, minutes=MINUTES, code=rows), 201)


class PhoneSerializer(serializers.Serializer[Any]):
    """What a phone may know: the number on the label that its photographs go to, and whether it is of Practice."""

    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    practice = serializers.BooleanField()


@dataclass(frozen=True, slots=True)
class PhonePhotographRequest:
    """A photograph from a phone."""

    id: UUID
    file: Annotated[Any, declared(serializers.FileField(allow_empty_file=True))]
    side: Annotated[str, chosen(["front", "back", ""])] = ""


class Phone(APIView):
    """A phone that joined a job."""

    roles = {"GET": PUBLIC, "POST": PUBLIC}
    parser_classes = [MultiPartParser]

    @extend_schema(responses=PhoneSerializer)
    def get(self, request: Request, token: str) -> Response:
        """Which job it takes photographs for; 410 where the link has run out."""
        job, _ = joined(token)
        return Response(PhoneSerializer(job).data)

    @extend_schema(
        request={"multipart/form-data": shape(PhonePhotographRequest)},
        responses={201: PhoneSerializer, 200: PhoneSerializer},
    )
    def post(self, request: Request, token: str) -> Response:
        """Send a photograph; it is kept with the job."""
        job, by = joined(token)
        entry = entry_of(request, PhonePhotographRequest)
        name, data = small_file(request, LARGEST_PICTURE_BYTES)
        picture = take_picture(data, name, by)
        new = NewPhotograph(entry.id, picture, entry.side, gettext("From a phone."))
        _, fresh = keep_photograph(job, new, by)
        return Response(PhoneSerializer(job).data, 201 if fresh else 200)


def joined(token: str) -> tuple[Job, User]:
    """The job that a phone joined, and in whose name. Raises Problem 410 where its link has run out."""
    try:
        found = signing.loads(token, salt=SALT, max_age=60 * MINUTES)
    except signing.BadSignature:
        raise Problem(410, "pass-over", gettext("This link has expired. Show a new code on the screen.")) from None
    job = Job.objects.filter(pk=found["job"], closed_at=None).first()
    by = User.objects.filter(pk=found["by"], is_active=True).first()
    if by and by.signed_out_at and by.signed_out_at.timestamp() > found["at"]:
        raise Problem(
            410, "pass-over", gettext("The person who let this phone in has signed out. Show a new code on the screen.")
        )
    if job is None or by is None:
        raise Problem(410, "pass-over", gettext("This job takes no more photographs."))
    return job, by
