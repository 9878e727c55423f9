"""Rework: what was done, what to heed before, pads, curves, the shop's settings."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any, cast, get_args
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.ballmap import ball_map_views
from uvrix.core.boards.packages import ball_map
from uvrix.core.rework.acts import ACTS, DOES, Do
from uvrix.core.rework.curve import Alloy, judge_curve, soak_seconds
from uvrix.core.rework.heed import Planned
from uvrix.core.rework.pads import PAD_STATES, PadVerdict, by_eye
from uvrix.core.rework.settings import Settings, as_document
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.acts.models import Act
from uvrix.shop.case.acting import withdraw
from uvrix.shop.config.access import BENCH, EVERYONE, LEAD
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, declared, given, shape, written
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.boards import of_board
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.library.queries import model_board, packages
from uvrix.shop.ohms.chips_api import BallMapViewAnswer, ball_map_view_answers
from uvrix.shop.rework.coming import coming
from uvrix.shop.rework.models import HeatCurve, PadMarks
from uvrix.shop.rework.queries import before, pads_of, rework_context, settings_now, site_of
from uvrix.shop.rework.services import (
    AirSerializer,
    NewRework,
    enter_rework,
    keep_curve,
    mark_pads,
    note_lot,
    save_settings,
)

LARGEST_CURVE = 4 * 1024 * 1024
MOST_SAMPLES = 600


class ReworkSerializer(serializers.ModelSerializer[Act]):
    """Something that was done, on the screen `step`."""

    do = serializers.ChoiceField(choices=list(DOES))
    words = serializers.SerializerMethodField()
    air = AirSerializer(many=True)
    shields = serializers.ListField(child=serializers.CharField())
    picture = serializers.CharField(source="picture_id", allow_null=True)
    rails = serializers.ListField(child=serializers.CharField())
    job_label = serializers.CharField(source="job.label")
    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = Act
        fields = [
            *(
                "id",
                "step",
                "do",
                "words",
                "site",
                "drawer",
                "rails",
                "node",
                "came_of",
                "rating",
                "chip",
                "chip_in",
                "alloy_off",
                "alloy_on",
                "preheat_c",
                "air",
                "minutes",
                "way",
                "cures_minutes",
            ),
            *("balls", "ball_mm", "ball_count", "shields", "pin1", "picture", "moved", "result", "note"),
            *("job_label", "by", "at"),
        ]

    def get_words(self, row: Act) -> str:
        """In words."""
        return DOES[cast("Do", row.do)]


class SiteNowSerializer(serializers.Serializer[Any]):
    """A place as it stands."""

    designator = serializers.CharField()
    cycles = serializers.IntegerField()
    warmed = serializers.IntegerField()
    chip = serializers.CharField(allow_null=True)
    chip_cycles = serializers.IntegerField()
    lot = serializers.CharField(allow_blank=True)


@dataclass(frozen=True, slots=True)
class LooseChipAnswer:
    """A chip that lies loose, since when, and for how many hours where that is too long."""

    chip: str
    cycles: int
    since: datetime
    too_long_h: float | None


class TemplateSerializer(serializers.Serializer[Any]):
    """A template of the shop: the steps, and what it presets."""

    name = serializers.CharField()
    do = serializers.ChoiceField(choices=list(DOES))
    steps = serializers.ListField(child=serializers.CharField())
    preheat_c = serializers.FloatField(allow_null=True)
    alloy_on = serializers.CharField(allow_blank=True)
    air = AirSerializer(many=True)


@dataclass(frozen=True, slots=True)
class CurveAnswer:
    """A thermocouple's log against its alloy's window."""

    id: UUID
    name: str
    alloy: str
    reference_c: float
    min_peak_c: float
    max_peak_c: float
    peak_c: float
    above_liquidus_s: float
    max_ramp_c_per_s: float
    soak_s: float | None
    soak_c: Sequence[float] | None
    judged: Annotated[str, chosen(["good", "too-cold", "too-short", "too-hot", "too-long", "too-fast"])]
    why: Sequence[str]
    samples: Sequence[Sequence[float]]
    by: str
    at: datetime


@dataclass(frozen=True, slots=True)
class JobReworkAnswer:
    """The rework of a job's card."""

    events: Annotated[Iterable[Any], declared(ReworkSerializer(many=True))]
    sites: Annotated[Iterable[Any], declared(SiteNowSerializer(many=True))]
    loose: Sequence[LooseChipAnswer]
    templates: Annotated[Iterable[Any], declared(TemplateSerializer(many=True))]
    alloys: Sequence[str]
    curves: Sequence[CurveAnswer]
    site_cycles: int
    chip_cycles: int


def rework_of(job: Job) -> Any:
    """What the job's page at Rework shows."""
    at = rework_context(job)
    templates = [{"preheat_c": None, "alloy_on": "", "air": [], **template} for template in at.settings.templates]
    return written(
        JobReworkAnswer(
            events=at.rows,
            sites=at.sites,
            loose=[
                LooseChipAnswer(chip=chip, cycles=at.ledger.chip_heats(chip), since=since, too_long_h=hours)
                for chip, since, hours in at.loose
            ],
            templates=templates,
            alloys=list(at.settings.alloys),
            curves=[_curve(row, at.settings) for row in job.heatcurve_rows.select_related("by")],
            site_cycles=at.settings.limits.site_cycles,
            chip_cycles=at.settings.limits.chip_cycles,
        )
    )


def _curve(row: HeatCurve, settings: Settings) -> CurveAnswer:
    alloy: Alloy = settings.alloys.get(row.alloy) or next(iter(settings.alloys.values()))
    samples, soak = [(sample[0], sample[1]) for sample in row.samples], settings.soak_c
    said = judge_curve(samples, alloy)
    step = max(1, len(row.samples) // MOST_SAMPLES)
    return CurveAnswer(
        id=row.pk,
        name=row.name,
        alloy=row.alloy,
        reference_c=alloy.reference_c,
        min_peak_c=alloy.min_peak_c,
        max_peak_c=alloy.max_peak_c,
        peak_c=said.peak_c,
        above_liquidus_s=said.above_liquidus_s,
        max_ramp_c_per_s=said.max_ramp_c_per_s,
        soak_s=soak_seconds(samples, *soak) if soak else None,
        soak_c=soak,
        judged=said.verdict,
        why=said.why,
        samples=row.samples[::step],
        by=row.by.shown_name,
        at=row.at,
    )


class JobRework(APIView):
    """Rework of a job."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=shape(JobReworkAnswer))
    def get(self, request: Request, number: int) -> Response:
        """History, places, loose chips, templates, curves."""
        return Response(rework_of(found_job(number)))

    @extend_schema(request=shape(NewRework), responses={201: shape(JobReworkAnswer), 200: shape(JobReworkAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Enter what was done."""
        entry, job = entry_of(request, NewRework), found_job(number)
        _, new = enter_rework(job, entry, person(request))
        return Response(rework_of(job), 201 if new else 200)


class NeighbourSerializer(serializers.Serializer[Any]):
    """Something near."""

    designator = serializers.CharField()
    kind = serializers.CharField()
    side = serializers.CharField()
    behind = serializers.BooleanField()
    away_mm = serializers.FloatField()
    cycles = serializers.IntegerField()
    warmed = serializers.IntegerField()
    shield = serializers.BooleanField()
    why = serializers.CharField()


class FitsSerializer(serializers.Serializer[Any]):
    """Whether a part fits: what agrees, what nobody knows, what speaks against it."""

    judged = serializers.ChoiceField(choices=["yes", "open", "no"], source="verdict")
    agrees = serializers.ListField(child=serializers.CharField(), source="fits")
    unknown = serializers.ListField(child=serializers.CharField(), source="open")
    refused = serializers.ListField(child=serializers.CharField())


class BeforeSerializer(serializers.Serializer[Any]):
    """What to heed before a place is heated; `fits` is null where nobody said what the part is."""

    fits = FitsSerializer(allow_null=True)

    site = SiteNowSerializer()
    neighbours = NeighbourSerializer(many=True)
    hot = serializers.BooleanField()
    warnings = serializers.ListField(child=serializers.CharField())
    pin1 = serializers.CharField(allow_blank=True)
    photographed = serializers.BooleanField()
    cautions = serializers.ListField(child=serializers.CharField())


class JobReworkBefore(APIView):
    """Before something is heated."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        parameters=[
            OpenApiParameter("site", str, required=True),
            OpenApiParameter("do", str, enum=list(DOES), required=True),
            OpenApiParameter("alloy_off", str),
            OpenApiParameter("alloy_on", str),
            OpenApiParameter("chip_in", str),
        ],
        responses=BeforeSerializer,
    )
    def get(self, request: Request, number: int) -> Response:
        """Neighbours by millimetres, cycles, alloys, shields to set, where pin 1 is."""
        job, asked = found_job(number), request.query_params
        site, do = asked.get("site", "").strip().replace("\0", ""), asked.get("do", "")
        if not site or len(site) > 80:
            raise Problem(422, "no-site", gettext("found no site, expected the designator printed next to it"))
        if do not in DOES:
            raise Problem(
                422, "no-do", gettext("found {do}, expected one of {does}", do=repr(do), does=", ".join(DOES))
            )
        alloys = asked.get("alloy_off", ""), asked.get("alloy_on", "")
        chip_in = asked.get("chip_in", "").strip().replace("\0", "")
        at = rework_context(job, filter(None, [chip_in]))
        found = before(job, at, Planned(site, cast("Do", do), alloys, chip_in))
        taken = job.photographs.filter(before__iexact=site).exists()
        shown = {name: getattr(found, name) for name in ("site", "neighbours", "hot", "warnings", "pin1")}
        shown["fits"] = coming(job, site, chip_in).fits
        return Response(
            BeforeSerializer({**shown, "photographed": taken, "cautions": ACTS[cast("Do", do)].cautions}).data
        )


@dataclass(frozen=True, slots=True)
class NewLot:
    """The lot printed on a chip."""

    id: UUID
    chip: Annotated[str, given(max_length=120)]
    lot: Annotated[str, given(max_length=60)]


class JobLots(APIView):
    """Lots of chips."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewLot), responses={201: shape(JobReworkAnswer), 200: shape(JobReworkAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Note one."""
        entry, job = entry_of(request, NewLot), found_job(number)
        _, new = note_lot(job, entry.id, entry.chip, entry.lot, person(request))
        return Response(rework_of(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class WithdrawActRequest:
    """Why an act did not happen."""

    reason: Annotated[str, given(max_length=200)]


class ActWithdrawn(APIView):
    """Taking back an act entered by mistake, on whichever screen."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(WithdrawActRequest), responses=shape(JobReworkAnswer))
    def post(self, request: Request, act: UUID) -> Response:
        """Withdraw the act: it stays in the record and no longer counts."""
        found = get_object_or_404(Act.objects.select_related("job__card__model__newest"), pk=act)
        withdraw(found, entry_of(request, WithdrawActRequest).reason, person(request))
        return Response(rework_of(found.job))


class ShopReworkSerializer(serializers.Serializer[Any]):
    """The shop's settings for rework, as they were saved."""

    document = DocumentField()


class ShopRework(APIView):
    """The shop's settings for rework."""

    roles = {"GET": EVERYONE, "PUT": LEAD}

    @extend_schema(responses=ShopReworkSerializer)
    def get(self, request: Request) -> Response:
        """As they stand."""
        return Response({"document": as_document(settings_now())})

    @extend_schema(request=ShopReworkSerializer, responses=ShopReworkSerializer)
    def put(self, request: Request) -> Response:
        """Set them."""
        save_settings(entry_of(request, ShopReworkSerializer)["document"], person(request))
        return self.get(request)


@dataclass(frozen=True, slots=True)
class PadAnswer:
    """A pad: where it lies on the ball map, its class and signal, its state."""

    ball: str
    column: int
    row: int
    pad_class: Annotated[str, chosen(["signal", "supply", "ground", "unused"])]
    signal: str
    looks: Annotated[str, chosen(list(PAD_STATES))]


class ClassCountSerializer(serializers.Serializer[Any]):
    """Pads of a class."""

    pad_class = serializers.CharField()
    total = serializers.IntegerField()
    torn = serializers.IntegerField()
    grey = serializers.IntegerField()
    repaired = serializers.IntegerField()


class PadSurveyedSerializer(serializers.Serializer[Any]):
    """A pad survey: every pad, counts by class, the verdict with reasons, what torn signals break."""

    designator = serializers.CharField()
    package = serializers.CharField(allow_blank=True)
    pads = shape(PadAnswer)(many=True)
    counts = ClassCountSerializer(many=True)
    judged = serializers.ChoiceField(choices=get_args(PadVerdict))
    why = serializers.ListField(child=serializers.CharField())
    broken = serializers.ListField(child=serializers.CharField())
    views = shape(BallMapViewAnswer)(many=True)
    surveyed = serializers.ListField(child=serializers.CharField())


@dataclass(frozen=True, slots=True)
class MarkPadsRequest:
    """Pads to mark, state by ball."""

    id: UUID
    states: Annotated[
        Mapping[str, Any],
        declared(serializers.DictField(child=serializers.ChoiceField(choices=list(PAD_STATES)), allow_empty=False)),
    ]


def _pads(job: Job, designator: str) -> Any:
    name, states, said = pads_of(job, designator, settings_now())
    package = packages().get(name)
    pads = [
        PadAnswer(
            ball=ball.ball,
            column=ball.column,
            row=ball.row,
            pad_class=package.classes[ball.ball],
            signal=package.signals.get(ball.ball, ""),
            looks=states.get(ball.ball, "good"),
        )
        for ball in (ball_map(package) if package else ())
        if package
    ]
    board = model_board(job.card.model)
    site = site_of(board, designator)
    views = [view for view in ball_map_views(board, site) if not view.balls_up] if board and site else []
    marked = of_board(PadMarks.objects.all(), job.card_id).order_by("designator").values_list("designator", flat=True)
    shown = {"designator": designator, "package": name, "pads": pads, "views": ball_map_view_answers(views)}
    shown |= {"surveyed": list(marked.distinct())}
    if said is None:
        empty = {
            "counts": [],
            "judged": by_eye(states),
            "why": [gettext("no ball map of it is in the library")],
            "broken": [],
        }
        return PadSurveyedSerializer({**shown, **empty}).data
    found = {"counts": said.counts, "judged": said.verdict, "why": said.why, "broken": said.broken}
    return PadSurveyedSerializer({**shown, **found}).data


class JobPads(APIView):
    """The pad survey below a chip or the core."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=PadSurveyedSerializer)
    def get(self, request: Request, number: int, designator: str) -> Response:
        """As it stands."""
        return Response(_pads(found_job(number), designator.replace("\0", "")))

    @extend_schema(request=shape(MarkPadsRequest), responses={201: PadSurveyedSerializer, 200: PadSurveyedSerializer})
    def post(self, request: Request, number: int, designator: str) -> Response:
        """Mark some pads."""
        entry, job = entry_of(request, MarkPadsRequest), found_job(number)
        named = designator.replace("\0", "")[:80]
        _, new = mark_pads(job, entry.id, named, entry.states, person(request))
        return Response(_pads(job, named), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewCurve:
    """A thermocouple's log to keep."""

    entry: UUID
    alloy: Annotated[str, given(max_length=40)]
    file: Annotated[Any, declared(serializers.FileField())]


class JobCurves(APIView):
    """Thermocouple curves."""

    roles = {"POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(
        request={"multipart/form-data": shape(NewCurve)},
        responses={(201, "application/json"): shape(JobReworkAnswer)},
    )
    def post(self, request: Request, number: int) -> Response:
        """Keep one and hold it against its alloy."""
        entry, job = entry_of(request, NewCurve), found_job(number)
        file = entry.file
        if file.size > LARGEST_CURVE:
            raise Problem(
                413,
                "too-large",
                gettext(
                    "{name}: found {size} bytes, expected at most {largest_curve}.",
                    name=file.name,
                    size=file.size,
                    largest_curve=LARGEST_CURVE,
                ),
            )
        alloys = settings_now().alloys
        if entry.alloy not in alloys:
            raise Problem(
                422,
                "no-alloy",
                gettext("found {alloy}, expected one of {alloys}", alloy=repr(entry.alloy), alloys=", ".join(alloys)),
            )
        keep_curve(job, entry.entry, (file.name, file.read()), entry.alloy, person(request))
        return Response(rework_of(job), 201)
