"""Hunting a short: how far it is, what was fed, where it glowed, what came off."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.readings.notation import shown
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.acts.models import Act
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.limits import FARTHEST_MM
from uvrix.shop.config.shapes import chosen, declared, given, pixels, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.ohms.api import ShortSuspectSerializer
from uvrix.shop.pictures.models import Picture
from uvrix.shop.shorts.models import Glow, Injection, Thermal
from uvrix.shop.shorts.queries import HUNTING, Feed, shorts
from uvrix.shop.shorts.services import (
    NewInjection,
    cut_out,
    enter_glow,
    enter_injection,
    overlay_thermal,
    take_off,
)

SIDES = ["front", "back"]


class HuntStepSerializer(serializers.Serializer[Any]):
    """The next step of the hunt."""

    do = serializers.ChoiceField(choices=HUNTING)
    target = serializers.CharField()
    says = serializers.CharField()


class FeedSerializer(serializers.Serializer[Any]):
    """How a shorted rail may be fed."""

    rail = serializers.CharField()
    name = serializers.CharField()
    points = serializers.ListField(child=serializers.CharField())
    shown = serializers.SerializerMethodField()
    lowest_v = serializers.FloatField(allow_null=True)
    volts = serializers.FloatField(source="advice.volts")
    amps_limit = serializers.FloatField(source="advice.amps_limit")
    watts = serializers.FloatField(source="advice.watts")
    watts_in_short = serializers.FloatField(source="advice.watts_in_short")
    most_v = serializers.FloatField()
    warms = serializers.BooleanField()
    says = serializers.CharField()
    cautions = serializers.ListField(child=serializers.CharField(), source="advice.cautions")

    def get_shown(self, feed: Feed) -> str:
        """The ohms that the rail reads."""
        return shown(feed.reading, "resistance") if feed.reading else gettext("not read in ohms")


class ProofSerializer(serializers.Serializer[Any]):
    """The two points that prove or clear a part."""

    designator = serializers.CharField()
    pair = serializers.CharField()
    why = serializers.CharField()


class CoilSidesSerializer(serializers.Serializer[Any]):
    """Which side of a lifted coil holds it."""

    coil = serializers.CharField()
    side = serializers.ChoiceField(choices=["converter", "rail", "unclear"])
    why = serializers.CharField()


class NearSerializer(serializers.Serializer[Any]):
    """A part by the warm spot."""

    designator = serializers.CharField(source="part.designator")
    kind = serializers.CharField(source="part.kind")
    chance = serializers.FloatField()
    mm = serializers.FloatField()
    why = serializers.CharField()


class GlowSerializer(serializers.ModelSerializer[Glow]):
    """Where it glowed."""

    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = Glow
        fields = ["id", "side", "x_mm", "y_mm", "by", "at"]


class ThermalSerializer(serializers.ModelSerializer[Thermal]):
    """A thermal picture laid over the board, and the warm spot found on it."""

    by = serializers.CharField(source="by.shown_name")
    picture = serializers.CharField(source="picture_id")
    taken = serializers.CharField(source="taken_id")

    class Meta:
        model = Thermal
        fields = ["id", "side", "picture", "taken", "x_mm", "y_mm", "by", "at"]


class InjectionSerializer(serializers.ModelSerializer[Injection]):
    """What was fed: the short by volts over amps, the heat by volts times amps."""

    by = serializers.CharField(source="by.shown_name")
    wire = serializers.SerializerMethodField()
    ohms = serializers.SerializerMethodField()
    watts = serializers.SerializerMethodField()
    glows = GlowSerializer(many=True)
    thermals = ThermalSerializer(many=True)

    class Meta:
        model = Injection
        fields = ["id", "rail", "point", "wire", "volts", "amps", "ohms", "watts", "advised_v", "note", "by", "at"]
        fields += ["glows", "thermals"]

    def get_wire(self, injection: Injection) -> bool:
        """Whether a lead was soldered on for it."""
        return injection.lead_id is not None

    @extend_schema_field(serializers.FloatField(allow_null=True))
    def get_ohms(self, injection: Injection) -> float | None:
        """Volts at the board over amperes: the resistance of the short."""
        return injection.volts / injection.amps if injection.amps else None

    def get_watts(self, injection: Injection) -> float:
        """The heat there is to see."""
        return injection.volts * injection.amps


class TakenOffSerializer(serializers.ModelSerializer[Act]):
    """A part taken off; `rails` are those that were short then."""

    part = serializers.CharField(source="site")
    by = serializers.CharField(source="by.shown_name")
    rails = serializers.ListField(child=serializers.CharField())

    class Meta:
        model = Act
        fields = ["id", "part", "rails", "note", "by", "at"]


class CutOutSerializer(serializers.ModelSerializer[Act]):
    """Layers cut out below a place, which stays empty."""

    place = serializers.CharField(source="site")
    by = serializers.CharField(source="by.shown_name")
    rails = serializers.ListField(child=serializers.CharField())

    class Meta:
        model = Act
        fields = ["id", "rails", "place", "note", "by", "at"]


class SaysSerializer(serializers.Serializer[Any]):
    """A sentence."""

    says = serializers.CharField()


class ShortsSerializer(serializers.Serializer[Any]):
    """Everything of the hunt."""

    shorted = serializers.ListField(child=serializers.CharField())
    bridges = SaysSerializer(many=True)
    suspects = ShortSuspectSerializer(many=True)
    step = HuntStepSerializer(allow_null=True)
    feeds = FeedSerializer(many=True)
    proofs = ProofSerializer(many=True)
    sides = CoilSidesSerializer(many=True)
    near = NearSerializer(many=True)
    killed = SaysSerializer(many=True)
    empty = SaysSerializer(many=True)
    injections = InjectionSerializer(many=True)
    off = TakenOffSerializer(many=True)
    on_again = serializers.ListField(child=serializers.UUIDField())
    cut = CutOutSerializer(many=True)
    phases = serializers.ListField(child=serializers.CharField())
    photo_mm = serializers.FloatField(allow_null=True)


def _shorts(job: Job) -> Any:
    return ShortsSerializer(shorts(job)).data


class JobShorts(APIView):
    """The hunt on a job."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=ShortsSerializer)
    def get(self, request: Request, number: int) -> Response:
        """How far it is; `photo_mm` is how wide a photograph counts where nobody has drawn the board."""
        return Response(_shorts(found_job(number)))


class JobInjections(APIView):
    """The injection log."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewInjection), responses={201: ShortsSerializer, 200: ShortsSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Enter one."""
        entry, job = entry_of(request, NewInjection), found_job(number)
        _, new = enter_injection(job, entry, person(request))
        return Response(_shorts(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewThermal:
    """A thermal picture and the board's four corners on it, clockwise from the upper left."""

    id: UUID
    side: Annotated[str, chosen(SIDES)]
    picture: Annotated[str, declared(serializers.RegexField("^[0-9a-f]{64}$"))]
    corners: Annotated[Sequence[Any], pixels(4)]


class InjectionThermals(APIView):
    """Thermal pictures of an injection."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewThermal), responses={201: ShortsSerializer, 200: ShortsSerializer})
    def post(self, request: Request, injection: UUID) -> Response:
        """Lay one over the board."""
        entry, found = entry_of(request, NewThermal), _injection(injection)
        picture = get_object_or_404(Picture, pk=entry.picture)
        _, new = overlay_thermal(found, entry.id, (entry.side, picture, entry.corners), person(request))
        return Response(_shorts(found.job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewGlow:
    """Where it glowed."""

    id: UUID
    side: Annotated[str, chosen(SIDES, allow_blank=True)]  # empty where nothing warmed
    x_mm: Annotated[float, given(min_value=-FARTHEST_MM, max_value=FARTHEST_MM)]
    y_mm: Annotated[float, given(min_value=-FARTHEST_MM, max_value=FARTHEST_MM)]


class InjectionGlows(APIView):
    """Where an injection glowed."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewGlow), responses={201: ShortsSerializer, 200: ShortsSerializer})
    def post(self, request: Request, injection: UUID) -> Response:
        """Enter the place."""
        entry, found = entry_of(request, NewGlow), _injection(injection)
        at = entry.x_mm, entry.y_mm
        _, new = enter_glow(found, entry.id, entry.side, at, person(request))
        return Response(_shorts(found.job), 201 if new else 200)


def _injection(injection: UUID) -> Injection:
    return get_object_or_404(Injection.objects.select_related("job__card__model__newest"), pk=injection)


@dataclass(frozen=True, slots=True)
class NewTakenOff:
    """A part taken off for the short."""

    id: UUID
    part: Annotated[str, given(max_length=64)]
    note: Annotated[str, given(max_length=200, allow_blank=True)] = ""


class JobTakenOff(APIView):
    """Parts taken off for the short."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewTakenOff), responses={201: ShortsSerializer, 200: ShortsSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Enter one."""
        entry, job = entry_of(request, NewTakenOff), found_job(number)
        _, new = take_off(job, entry.id, entry.part, entry.note, person(request))
        return Response(_shorts(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewCutOut:
    """Layers cut out; the places that stay empty."""

    id: UUID
    rail: Annotated[str, given(max_length=64)]
    places: Annotated[
        Sequence[str],
        declared(serializers.ListField(child=serializers.CharField(max_length=64), min_length=1, max_length=40)),
    ]
    note: Annotated[str, given(max_length=200, allow_blank=True)] = ""


class JobCutOuts(APIView):
    """Layers cut out."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewCutOut), responses={201: ShortsSerializer, 200: ShortsSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Enter it."""
        entry, job = entry_of(request, NewCutOut), found_job(number)
        said = entry.rail, entry.places, entry.note
        new = cut_out(job, entry.id, said, person(request))
        return Response(_shorts(job), 201 if new else 200)
