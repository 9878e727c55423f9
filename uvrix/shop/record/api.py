"""The record of a job: timeline, notes, resume card, whose move it is."""

from __future__ import annotations

from typing import Any

from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.config.shapes import shape
from uvrix.shop.hypotheses.api import HypothesisAnswer, shown_hypothesis
from uvrix.shop.jobs.api import found_job
from uvrix.shop.promises.api import OwedSerializer
from uvrix.shop.record.resume import Resume, resume
from uvrix.shop.record.services import STEPS, NewNote, write_note
from uvrix.shop.record.timeline import timeline


class EventSerializer(serializers.Serializer[Any]):
    """Something that happened."""

    id = serializers.CharField()
    at = serializers.DateTimeField()
    by = serializers.CharField(allow_blank=True)
    step = serializers.ChoiceField(choices=STEPS)
    kind = serializers.CharField()
    words = serializers.CharField()
    corrects = serializers.CharField(allow_blank=True)


class JobTimeline(APIView):
    """Everything that happened on a job."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}

    @extend_schema(
        responses=EventSerializer(many=True),
        operation_id="job_timeline",
        parameters=[OpenApiParameter("step", OpenApiTypes.STR), OpenApiParameter("kind", OpenApiTypes.STR)],
    )
    def get(self, request: Request, number: int) -> Response:
        """Newest first; of one step or kind alone where asked."""
        events = timeline(found_job(number, "opened_by"))
        for name in ("step", "kind"):
            if wanted := request.query_params.get(name):
                events = [event for event in events if getattr(event, name) == wanted]
        return Response(EventSerializer(events, many=True).data)

    @extend_schema(
        request=shape(NewNote),
        responses={201: EventSerializer(many=True), 200: EventSerializer(many=True)},
        operation_id="job_note",
    )
    def post(self, request: Request, number: int) -> Response:
        """Write a note, or correct what stands there by naming it."""
        entry, job = entry_of(request, NewNote), found_job(number, "opened_by")
        _, new = write_note(job, entry, person(request))
        return Response(EventSerializer(timeline(job), many=True).data, 201 if new else 200)


class ResumeSerializer(serializers.Serializer[Any]):
    """What to know before going on."""

    last = EventSerializer(many=True)
    ruled_out = shape(HypothesisAnswer)(many=True)
    confirmed = shape(HypothesisAnswer)(many=True)
    open = shape(HypothesisAnswer)(many=True)
    off = OwedSerializer(many=True)
    owed = OwedSerializer(many=True)


class JobResume(APIView):
    """The resume card."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=ResumeSerializer)
    def get(self, request: Request, number: int) -> Response:
        """Where it was left, what is ruled out, what is off, what is owed."""
        return Response(_resume(resume(found_job(number, "opened_by"))))


def _resume(found: Resume) -> Any:
    thoughts = {
        name: [shown_hypothesis(entry) for entry in getattr(found, name)] for name in ("ruled_out", "confirmed", "open")
    }
    return ResumeSerializer({**thoughts, "last": found.last, "off": found.off, "owed": found.owed}).data
