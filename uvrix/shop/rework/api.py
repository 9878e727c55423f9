"""Rework: what was done, what to heed before, pads, curves, the shop's settings."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.ballmap import lyings
from uvrix.core.boards.packages import ball_map
from uvrix.core.rework.acts import ACTS, DOES, WAYS, Do
from uvrix.core.rework.curve import Alloy, judge_curve, soak_seconds
from uvrix.core.rework.events import SOLDERS
from uvrix.core.rework.heed import Planned
from uvrix.core.rework.pads import PAD_STATES
from uvrix.core.rework.settings import Settings, as_document
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.acts.models import Act
from uvrix.shop.case.acting import withdraw
from uvrix.shop.config.access import BENCH, EVERYONE, LEAD
from uvrix.shop.config.problems import Problem
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.boards import of_board
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.library.queries import model_board, packages
from uvrix.shop.ohms.chips_api import CORNERS, LyingSerializer, lies_shape
from uvrix.shop.rework.coming import coming
from uvrix.shop.rework.models import HeatCurve, PadMarks
from uvrix.shop.rework.queries import before, pads_of, rework_context, settings_now, site_of
from uvrix.shop.rework.services import (
    NO_PIN,
    NewRework,
    enter_rework,
    keep_curve,
    mark_pads,
    note_lot,
    save_settings,
)

LARGEST_CURVE = 4 * 1024 * 1024
MOST_SAMPLES = 600


class AirSerializer(serializers.Serializer[Any]):
    """A phase of hot air."""

    phase = serializers.CharField(max_length=40)
    celsius = serializers.FloatField(min_value=0, max_value=600, allow_null=True, required=False)
    seconds = serializers.FloatField(min_value=0, max_value=100_000, allow_null=True, required=False)


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


class LooseChipSerializer(serializers.Serializer[Any]):
    """A chip that lies loose, since when, and for how many hours where that is too long."""

    chip = serializers.CharField()
    cycles = serializers.IntegerField()
    since = serializers.DateTimeField()
    too_long_h = serializers.FloatField(allow_null=True)


class TemplateSerializer(serializers.Serializer[Any]):
    """A template of the shop: the steps, and what it presets."""

    name = serializers.CharField()
    do = serializers.ChoiceField(choices=list(DOES))
    steps = serializers.ListField(child=serializers.CharField())
    preheat_c = serializers.FloatField(allow_null=True)
    alloy_on = serializers.CharField(allow_blank=True)
    air = AirSerializer(many=True)


class CurveSerializer(serializers.Serializer[Any]):
    """A thermocouple's log against its alloy's window."""

    id = serializers.UUIDField()
    name = serializers.CharField()
    alloy = serializers.CharField()
    reference_c = serializers.FloatField()
    min_peak_c = serializers.FloatField()
    max_peak_c = serializers.FloatField()
    peak_c = serializers.FloatField()
    above_liquidus_s = serializers.FloatField()
    max_ramp_c_per_s = serializers.FloatField()
    soak_s = serializers.FloatField(allow_null=True)
    soak_c = serializers.ListField(child=serializers.FloatField(), allow_null=True)
    judged = serializers.ChoiceField(choices=["good", "too-cold", "too-short", "too-hot", "too-long", "too-fast"])
    why = serializers.ListField(child=serializers.CharField())
    samples = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    by = serializers.CharField()
    at = serializers.DateTimeField()


class JobReworkSerializer(serializers.Serializer[Any]):
    """The rework of a job's card."""

    events = ReworkSerializer(many=True)
    sites = SiteNowSerializer(many=True)
    loose = LooseChipSerializer(many=True)
    templates = TemplateSerializer(many=True)
    alloys = serializers.ListField(child=serializers.CharField())
    curves = CurveSerializer(many=True)
    site_cycles = serializers.IntegerField()
    chip_cycles = serializers.IntegerField()


def rework_of(job: Job) -> Any:
    """What the job's page at Rework shows."""
    at = rework_context(job)
    templates = [{"preheat_c": None, "alloy_on": "", "air": [], **template} for template in at.settings.templates]
    return JobReworkSerializer(
        {
            "events": at.rows,
            "sites": at.sites,
            "loose": [
                {"chip": chip, "cycles": at.ledger.chip_heats(chip), "since": since, "too_long_h": hours}
                for chip, since, hours in at.loose
            ],
            "templates": templates,
            "alloys": list(at.settings.alloys),
            "curves": [_curve(row, at.settings) for row in job.heatcurve_rows.select_related("by")],
            "site_cycles": at.settings.limits.site_cycles,
            "chip_cycles": at.settings.limits.chip_cycles,
        }
    ).data


def _curve(row: HeatCurve, settings: Settings) -> dict[str, Any]:
    alloy: Alloy = settings.alloys.get(row.alloy) or next(iter(settings.alloys.values()))
    samples, soak = [(sample[0], sample[1]) for sample in row.samples], settings.soak_c
    said = judge_curve(samples, alloy)
    step = max(1, len(row.samples) // MOST_SAMPLES)
    return {
        "id": row.pk,
        "name": row.name,
        "alloy": row.alloy,
        "reference_c": alloy.reference_c,
        "min_peak_c": alloy.min_peak_c,
        "max_peak_c": alloy.max_peak_c,
        "peak_c": said.peak_c,
        "above_liquidus_s": said.above_liquidus_s,
        "max_ramp_c_per_s": said.max_ramp_c_per_s,
        "soak_s": soak_seconds(samples, *soak) if soak else None,
        "soak_c": soak,
        "judged": said.verdict,
        "why": said.why,
        "samples": row.samples[::step],
        "by": row.by.shown_name,
        "at": row.at,
    }


class NewReworkSerializer(serializers.Serializer[Any]):
    """Something done, to enter."""

    id = serializers.UUIDField()
    do = serializers.ChoiceField(choices=list(DOES))
    site = serializers.CharField(max_length=80, required=False, allow_blank=True)
    chip = serializers.CharField(max_length=120, required=False, allow_blank=True)
    chip_in = serializers.CharField(max_length=120, required=False, allow_blank=True)
    alloy_off = serializers.ChoiceField(choices=SOLDERS, required=False)
    alloy_on = serializers.ChoiceField(choices=SOLDERS, required=False)
    preheat_c = serializers.FloatField(min_value=0, max_value=400, required=False, allow_null=True)
    air = AirSerializer(many=True, required=False)
    minutes = serializers.FloatField(min_value=0, max_value=6000, required=False, allow_null=True)
    way = serializers.ChoiceField(choices=[*WAYS, ""], required=False)
    cures_minutes = serializers.FloatField(min_value=0.5, max_value=20_000, required=False, allow_null=True)
    balls = serializers.ChoiceField(choices=["stencil", "hand", ""], required=False)
    ball_mm = serializers.FloatField(min_value=0.05, max_value=3, required=False, allow_null=True)
    ball_count = serializers.IntegerField(min_value=1, max_value=20_000, required=False, allow_null=True)
    shields = serializers.ListField(child=serializers.CharField(max_length=80), required=False, max_length=200)
    pin1 = serializers.ChoiceField(choices=[*CORNERS, NO_PIN, ""], required=False)
    moved = serializers.CharField(max_length=200, required=False, allow_blank=True)
    result = serializers.CharField(max_length=200, required=False, allow_blank=True)
    note = serializers.CharField(max_length=400, required=False, allow_blank=True)
    no_photo = serializers.CharField(max_length=200, required=False, allow_blank=True)
    despite = serializers.CharField(max_length=200, required=False, allow_blank=True)


class JobRework(APIView):
    """Rework of a job."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=JobReworkSerializer)
    def get(self, request: Request, number: int) -> Response:
        """History, places, loose chips, templates, curves."""
        return Response(rework_of(found_job(number)))

    @extend_schema(request=NewReworkSerializer, responses={201: JobReworkSerializer, 200: JobReworkSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Enter what was done."""
        entry, job = entry_of(request, NewReworkSerializer), found_job(number)
        entry["air"] = [dict(item) for item in entry.get("air", ())]
        _, new = enter_rework(job, NewRework(**entry), person(request))
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


class NewLotSerializer(serializers.Serializer[Any]):
    """The lot printed on a chip."""

    id = serializers.UUIDField()
    chip = serializers.CharField(max_length=120)
    lot = serializers.CharField(max_length=60)


class JobLots(APIView):
    """Lots of chips."""

    roles = {"POST": BENCH}

    @extend_schema(request=NewLotSerializer, responses={201: JobReworkSerializer, 200: JobReworkSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Note one."""
        entry, job = entry_of(request, NewLotSerializer), found_job(number)
        _, new = note_lot(job, entry["id"], entry["chip"], entry["lot"], person(request))
        return Response(rework_of(job), 201 if new else 200)


class WithdrawActSerializer(serializers.Serializer[Any]):
    """Why an act did not happen."""

    reason = serializers.CharField(max_length=200)


class ActWithdrawn(APIView):
    """Taking back an act entered by mistake, on whichever screen."""

    roles = {"POST": BENCH}

    @extend_schema(request=WithdrawActSerializer, responses=JobReworkSerializer)
    def post(self, request: Request, act: UUID) -> Response:
        """It stays in the record and counts no more."""
        found = get_object_or_404(Act.objects.select_related("job__card__model__newest"), pk=act)
        withdraw(found, entry_of(request, WithdrawActSerializer)["reason"], person(request))
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


class PadSerializer(serializers.Serializer[Any]):
    """A pad: where it lies on the ball map, its class and signal, its state."""

    ball = serializers.CharField()
    column = serializers.IntegerField()
    row = serializers.IntegerField()
    pad_class = serializers.ChoiceField(choices=["signal", "supply", "ground", "unused"])
    signal = serializers.CharField(allow_blank=True)
    looks = serializers.ChoiceField(choices=list(PAD_STATES))


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
    pads = PadSerializer(many=True)
    counts = ClassCountSerializer(many=True)
    judged = serializers.ChoiceField(choices=["not-surveyed", "fixable", "marginal", "donor"])
    why = serializers.ListField(child=serializers.CharField())
    broken = serializers.ListField(child=serializers.CharField())
    lies = LyingSerializer(many=True)
    surveyed = serializers.ListField(child=serializers.CharField())


class MarkPadsSerializer(serializers.Serializer[Any]):
    """Pads to mark, state by ball."""

    id = serializers.UUIDField()
    states = serializers.DictField(child=serializers.ChoiceField(choices=list(PAD_STATES)), allow_empty=False)


def _pads(job: Job, designator: str) -> Any:
    name, states, said = pads_of(job, designator, settings_now())
    package = packages().get(name)
    pads = [
        {
            "ball": ball.ball,
            "column": ball.column,
            "row": ball.row,
            "pad_class": package.classes[ball.ball],
            "signal": package.signals.get(ball.ball, ""),
            "looks": states.get(ball.ball, "good"),
        }
        for ball in (ball_map(package) if package else ())
        if package
    ]
    board = model_board(job.card.model)
    site = site_of(board, designator)
    lies = [lying for lying in lyings(board, site) if not lying.balls_up] if board and site else []
    marked = of_board(PadMarks.objects.all(), job.card_id).order_by("designator").values_list("designator", flat=True)
    shown = {"designator": designator, "package": name, "pads": pads, "lies": lies_shape(lies)}
    shown |= {"surveyed": list(marked.distinct())}
    if said is None:
        empty = {
            "counts": [],
            "judged": "not-surveyed",
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

    @extend_schema(request=MarkPadsSerializer, responses={201: PadSurveyedSerializer, 200: PadSurveyedSerializer})
    def post(self, request: Request, number: int, designator: str) -> Response:
        """Mark some pads."""
        entry, job = entry_of(request, MarkPadsSerializer), found_job(number)
        named = designator.replace("\0", "")[:80]
        _, new = mark_pads(job, entry["id"], named, entry["states"], person(request))
        return Response(_pads(job, named), 201 if new else 200)


class NewCurveSerializer(serializers.Serializer[Any]):
    """A thermocouple's log to keep."""

    entry = serializers.UUIDField()
    alloy = serializers.CharField(max_length=40)
    file = serializers.FileField()


class JobCurves(APIView):
    """Thermocouple curves."""

    roles = {"POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(
        request={"multipart/form-data": NewCurveSerializer}, responses={(201, "application/json"): JobReworkSerializer}
    )
    def post(self, request: Request, number: int) -> Response:
        """Keep one and hold it against its alloy."""
        entry, job = entry_of(request, NewCurveSerializer), found_job(number)
        file = entry["file"]
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
        if entry["alloy"] not in alloys:
            raise Problem(
                422,
                "no-alloy",
                gettext(
                    "found {alloy}, expected one of {alloys}", alloy=repr(entry["alloy"]), alloys=", ".join(alloys)
                ),
            )
        keep_curve(job, entry["entry"], (file.name, file.read()), entry["alloy"], person(request))
        return Response(rework_of(job), 201)
