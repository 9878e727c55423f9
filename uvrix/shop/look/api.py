"""What was seen of a job: regions, findings, photographs, overlays."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.model import Side
from uvrix.core.boards.photograph import Photograph
from uvrix.core.look.findings import KINDS, part_at
from uvrix.core.look.overlay import Overlay
from uvrix.core.look.regions import region_at
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.limits import FARTHEST_MM, FARTHEST_PX
from uvrix.shop.config.shapes import chosen, declared, given, pixels, shape, written
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.queries import model_board
from uvrix.shop.library.shapes import BoardPhotographAnswer, KindWordsAnswer
from uvrix.shop.look.models import JobPhotograph, LookFinding
from uvrix.shop.look.queries import RegionState, Seen, region_states, seen
from uvrix.shop.look.services import (
    NewFinding,
    NewPhotograph,
    Spot,
    enter_finding,
    keep_photograph,
    look_at,
    overlay_photograph,
    reference_of,
    straighten_photograph,
    withdraw_finding,
)
from uvrix.shop.pictures.models import Picture

SIDES = ["front", "back"]


class RegionSerializer(serializers.Serializer[Any]):
    """A region of the board, and whether it was looked at."""

    id = serializers.CharField()
    side = serializers.ChoiceField(choices=SIDES)
    name = serializers.CharField()
    holds = serializers.ListField(child=serializers.CharField())
    x_mm = serializers.FloatField()
    y_mm = serializers.FloatField()
    width_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    state = serializers.ChoiceField(choices=["open", "clear", "found"])
    by = serializers.CharField(allow_null=True)
    at = serializers.DateTimeField(allow_null=True)


@dataclass(frozen=True, slots=True)
class SuspectAnswer:
    """Something near a knocked-off part."""

    designator: str
    kind: str
    mm: float


class LookFindingSerializer(serializers.Serializer[Any]):
    """Something seen; millimetres are null where the board is not drawn over the photograph that it was seen on."""

    id = serializers.UUIDField()
    kind = serializers.CharField()
    words = serializers.CharField()
    side = serializers.ChoiceField(choices=SIDES)
    x_mm = serializers.FloatField(allow_null=True)
    y_mm = serializers.FloatField(allow_null=True)
    picture = serializers.CharField(allow_null=True)
    x_px = serializers.FloatField(allow_null=True)
    y_px = serializers.FloatField(allow_null=True)
    part = serializers.CharField(allow_blank=True)
    note = serializers.CharField(allow_blank=True)
    region = serializers.CharField(allow_null=True)
    suspects = shape(SuspectAnswer)(many=True)
    by = serializers.CharField()
    at = serializers.DateTimeField()


class JobPhotographSerializer(serializers.ModelSerializer[JobPhotograph]):
    """A photograph of the card."""

    sha256 = serializers.CharField(source="picture_id")
    width_px = serializers.IntegerField(source="picture.width_px")
    height_px = serializers.IntegerField(source="picture.height_px")
    side = serializers.ChoiceField(choices=[*SIDES, ""])
    landmarks = serializers.JSONField(allow_null=True)
    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = JobPhotograph
        fields = ["id", "sha256", "width_px", "height_px", "side", "note", "before", "finding", "made_from"]
        fields += ["landmarks", "by", "at"]


@dataclass(frozen=True, slots=True)
class LookAnswer:
    """All that was seen of a job, and what is still to be looked at."""

    regions: Annotated[Iterable[Any], declared(RegionSerializer(many=True))]
    findings: Annotated[Iterable[Any], declared(LookFindingSerializer(many=True))]
    photographs: Annotated[Iterable[Any], declared(JobPhotographSerializer(many=True))]
    references: Sequence[BoardPhotographAnswer]
    kinds: Sequence[KindWordsAnswer]


class JobLook(APIView):
    """Look."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(LookAnswer))
    def get(self, request: Request, number: int) -> Response:
        """Regions along the route with their state, findings, photographs."""
        return Response(_look(found_job(number)))


def _look(job: Job) -> Any:
    findings = seen(job)
    board = model_board(job.card.model)
    references = [(side, reference_of(board, side)) for side in SIDES]
    shown = LookAnswer(
        regions=[_region(state) for state in region_states(job, findings)],
        findings=[_finding(sighting) for sighting in findings],
        photographs=job.photographs.select_related("picture", "by"),
        references=[
            BoardPhotographAnswer(side=side, sha256=found[0], width_px=found[1].width_px, height_px=found[1].height_px)
            for side, found in references
            if found
        ],
        kinds=[KindWordsAnswer(kind=kind, words=words) for kind, words in KINDS.items()],
    )
    return written(shown)


def _region(region_state: RegionState) -> dict[str, Any]:
    fields = ("id", "side", "name", "holds", "x_mm", "y_mm", "width_mm", "height_mm")
    who = (
        {"by": region_state.look.by.shown_name, "at": region_state.look.at}
        if region_state.look
        else {"by": None, "at": None}
    )
    return {**{field: getattr(region_state.region, field) for field in fields}, "state": region_state.state, **who}


def _finding(shown: Seen) -> dict[str, Any]:
    found = shown.finding
    return {
        **{name: getattr(found, name) for name in ("id", "kind", "side", "x_px", "y_px", "part", "note", "at")},
        "words": shown.words,
        "x_mm": shown.x_mm,
        "y_mm": shown.y_mm,
        "picture": found.picture_id,
        "region": shown.region.id if shown.region else None,
        "suspects": [SuspectAnswer(designator=near.designator, kind=near.kind, mm=near.mm) for near in shown.suspects],
        "by": found.by.shown_name,
    }


@dataclass(frozen=True, slots=True)
class LookedRegionRequest:
    """A region that was looked at."""

    id: UUID
    region: Annotated[str, given(max_length=40)]
    clear: bool


class LookedRegions(APIView):
    """Looking at regions."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(LookedRegionRequest), responses={201: shape(LookAnswer), 200: shape(LookAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Enter that a region holds nothing, or is to be looked at again."""
        asked, job = entry_of(request, LookedRegionRequest), found_job(number)
        _, new = look_at(job, asked.id, asked.region, clear=asked.clear, by=person(request))
        return Response(_look(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewLookFinding:
    """Something seen, to enter: on the board in millimetres, or on a photograph in pixels."""

    id: UUID
    kind: Annotated[str, given(max_length=20)]
    side: Annotated[Side, chosen(SIDES)]
    x_mm: Annotated[float | None, given(min_value=-FARTHEST_MM, max_value=FARTHEST_MM)] = None
    y_mm: Annotated[float | None, given(min_value=-FARTHEST_MM, max_value=FARTHEST_MM)] = None
    picture: Annotated[str, declared(serializers.RegexField("^[0-9a-f]{64}$", allow_blank=True))] = ""
    x_px: Annotated[float | None, given(min_value=0, max_value=FARTHEST_PX)] = None
    y_px: Annotated[float | None, given(min_value=0, max_value=FARTHEST_PX)] = None
    note: Annotated[str, given(allow_blank=True, max_length=400)] = ""
    contact: Annotated[str, given(allow_blank=True, max_length=4)] = ""
    part: Annotated[str, given(allow_blank=True, max_length=80)] = ""
    photographs: Annotated[tuple[UUID, ...], given(max_length=20)] = ()


class LookFindings(APIView):
    """Findings of Look."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewLookFinding), responses={201: shape(LookAnswer), 200: shape(LookAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Enter something seen; its region counts as looked at."""
        asked, job = entry_of(request, NewLookFinding), found_job(number)
        spot = Spot(asked.side, asked.x_mm, asked.y_mm, asked.picture, asked.x_px, asked.y_px)
        entered = NewFinding(
            asked.id, asked.kind, spot, asked.note, tuple(asked.photographs), asked.contact, asked.part
        )
        _, new = enter_finding(job, entered, person(request))
        return Response(_look(job), 201 if new else 200)


class LookFindingWithdrawn(APIView):
    """Taking a finding back."""

    roles = {"POST": BENCH}

    @extend_schema(request=None, responses={201: shape(LookAnswer)})
    def post(self, request: Request, finding: UUID) -> Response:
        """Withdraw the finding: it stays in the record and does not count."""
        found = get_object_or_404(LookFinding.objects.select_related("job"), pk=finding)
        withdraw_finding(found, person(request))
        return Response(_look(found_job(found.job.pk)), 201)


@dataclass(frozen=True, slots=True)
class NewJobPhotograph:
    """An uploaded picture as a photograph of the card."""

    id: UUID
    sha256: Annotated[str, declared(serializers.RegexField("^[0-9a-f]{64}$"))]
    side: Annotated[str, declared(serializers.ChoiceField(choices=[*SIDES, ""], required=False, default=""))] = ""
    note: Annotated[str, given(allow_blank=True, max_length=400)] = ""
    before: Annotated[str, given(allow_blank=True, max_length=80)] = ""


class JobPhotographs(APIView):
    """Photographs of a job's card."""

    roles = {"POST": EVERYONE}

    @extend_schema(
        request=shape(NewJobPhotograph), responses={201: JobPhotographSerializer, 200: JobPhotographSerializer}
    )
    def post(self, request: Request, number: int) -> Response:
        """Keep an uploaded picture with the job."""
        asked = entry_of(request, NewJobPhotograph)
        picture = get_object_or_404(Picture, pk=asked.sha256)
        taken = NewPhotograph(asked.id, picture, asked.side, asked.note, asked.before)
        kept, new = keep_photograph(found_job(number), taken, person(request))
        return Response(JobPhotographSerializer(kept).data, 201 if new else 200)


@dataclass(frozen=True, slots=True)
class CornersRequest:
    """The board's four corners on a photograph in pixels, clockwise from the upper left; the new photograph's id."""

    id: UUID
    corners: Annotated[Sequence[Any], pixels(4)]


class PhotographStraightened(APIView):
    """Straightening a photograph."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(CornersRequest), responses={201: shape(LookAnswer), 200: shape(LookAnswer)})
    def post(self, request: Request, photograph: UUID) -> Response:
        """A new photograph, cut to the board and seen from straight above; the old one stays."""
        asked = entry_of(request, CornersRequest)
        found = get_object_or_404(JobPhotograph.objects.select_related("job__card__model", "picture"), pk=photograph)
        _, new = straighten_photograph(found, asked.id, asked.corners, person(request))
        return Response(_look(found_job(found.job.pk)), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class LandmarksRequest:
    """Three landmarks on the reference and the same three on the photograph, in pixels."""

    reference: Annotated[Sequence[Any], pixels(3)]
    photograph: Annotated[Sequence[Any], pixels(3)]


@dataclass(frozen=True, slots=True)
class OverlayPlaceAnswer:
    """A place that looks otherwise than on the reference."""

    x_px: float
    y_px: float
    x_mm: float
    y_mm: float
    score: float
    what: Annotated[str, chosen(["missing", "new", "changed"])]
    part: str | None
    region: str | None


@dataclass(frozen=True, slots=True)
class OverlayAnswer:
    """How a photograph lies over the reference: an SVG matrix from its pixels to the reference's, and what differs."""

    matrix: Annotated[Sequence[float], given(min_length=6, max_length=6)]
    alike: float
    places: Sequence[OverlayPlaceAnswer]


class PhotographOverlay(APIView):
    """A photograph over its model's reference."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(LandmarksRequest), responses=shape(OverlayAnswer))
    def post(self, request: Request, photograph: UUID) -> Response:
        """Lay it by three landmarks, refine that, and name the places that differ, worst first."""
        asked = entry_of(request, LandmarksRequest)
        found = get_object_or_404(JobPhotograph.objects.select_related("job__card__model", "picture"), pk=photograph)
        overlaid, reference = overlay_photograph(found, (asked.reference, asked.photograph))
        return Response(_overlay(found, overlaid, reference))


def _overlay(photograph: JobPhotograph, overlaid: Overlay, reference: Photograph) -> Any:
    board = model_board(photograph.job.card.model)
    assert board is not None
    back = overlaid.affine.inverse
    places = []
    for place in overlaid.places:
        x, y = reference.place((place.x_px, place.y_px))
        region = region_at(board, reference.side, x, y)
        places.append(
            OverlayPlaceAnswer(
                x_px=place.x_px,
                y_px=place.y_px,
                x_mm=round(x, 2),
                y_mm=round(y, 2),
                score=place.score,
                what=place.what,
                part=part_at(board, reference.side, x, y),
                region=region.id if region else None,
            )
        )
    return OverlayAnswer(matrix=[back.a, back.b, back.c, back.d, back.e, back.f], alike=overlaid.alike, places=places)
