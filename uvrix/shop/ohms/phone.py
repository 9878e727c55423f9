"""Readings typed on a phone that joined a job: one hand on the probe, the other on the phone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID, uuid5

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.readings.notation import COLD, Mode, Quantity
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of
from uvrix.shop.accounts.models import User
from uvrix.shop.config.access import BENCH, PUBLIC
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, given, shape
from uvrix.shop.jobs.models import Job
from uvrix.shop.look.phone import joined
from uvrix.shop.ohms.api import VERDICTS, said_of
from uvrix.shop.ohms.models import Reading
from uvrix.shop.ohms.queries import measured
from uvrix.shop.ohms.services import NewPower, NewReading, enter_reading, set_power_state

# What a phone measures, and the mode that the meter is in.
MODE_OF: dict[Quantity, Mode] = {"resistance": "ohms", "diode": "diode", "voltage": ""}


@dataclass(frozen=True, slots=True)
class PhoneReadingAnswer:
    """A reading as a phone shows it: its verdict in a word and a sentence."""

    id: UUID
    point: str
    verdict: Annotated[str, chosen(VERDICTS)]
    why: str


@dataclass(frozen=True, slots=True)
class PhoneRouteAnswer:
    """The points in the order of probing, and the next one that was not read to ground yet; empty where all were."""

    route: Sequence[str]
    next: str


@dataclass(frozen=True, slots=True)
class NewPhoneReading:
    """A reading to enter, the value in shop notation; `unplugged` where the card was just made safe for it."""

    id: UUID
    point: Annotated[str, given(max_length=130)]
    quantity: Annotated[Quantity, chosen(MODE_OF)]
    value: Annotated[str, given(max_length=40)]
    sure: bool = False
    unplugged: bool = False


class PhoneReadings(APIView):
    """Readings by a phone that joined a job."""

    roles = {"GET": PUBLIC, "POST": PUBLIC}

    @extend_schema(responses=shape(PhoneRouteAnswer))
    def get(self, request: Request, token: str) -> Response:
        """Where to probe next; 410 where the link has run out, 403 where its person does not work at the bench."""
        job, _ = _at_bench(token)
        found = measured(job)
        read = {row.point for row in found.readings if row.pk in found.standing and row.quantity in COLD}
        following = next((name for name in found.route if name not in read), "")
        return Response(PhoneRouteAnswer(route=found.route, next=following))

    @extend_schema(
        request=shape(NewPhoneReading), responses={201: shape(PhoneReadingAnswer), 200: shape(PhoneReadingAnswer)}
    )
    def post(self, request: Request, token: str) -> Response:
        """Enter one in the name of who let the phone in; answers with its verdict."""
        job, by = _at_bench(token)
        entry = entry_of(request, NewPhoneReading)
        if entry.unplugged:
            set_power_state(job, NewPower(uuid5(entry.id, "unplugged"), "off"), by)
        mode = MODE_OF[entry.quantity]
        new = NewReading(entry.id, entry.point, entry.quantity, entry.value, mode, sure=entry.sure)
        row, fresh = enter_reading(job, new, by)
        return Response(_shown(job, row), 201 if fresh else 200)


def _shown(job: Job, row: Reading) -> Any:
    said = said_of(job, row)
    return PhoneReadingAnswer(id=row.pk, point=row.point, verdict=said.verdict, why=said.why)


def _at_bench(token: str) -> tuple[Job, User]:
    job, by = joined(token)
    if by.role not in BENCH:
        raise Problem(403, "not-yours", gettext("Only people who work at the bench enter readings."))
    return job, by
