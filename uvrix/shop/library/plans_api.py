"""Bench plans: by what every card has in common a board is read that nobody has drawn."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.shapes import declared, given, pixels, shape
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.library.models import BenchPlan, BoardModel
from uvrix.shop.library.plans import align_sides, choose_plan, plans, save_plan
from uvrix.shop.library.shapes import BoardModelDetailSerializer, BoardModelSerializer
from uvrix.shop.pictures.models import Picture


class BenchPlanSerializer(serializers.Serializer[Any]):
    """A bench plan (docs/formats/plan.schema.json); `own` where the shop has made it its own."""

    document = DocumentField()
    own = serializers.BooleanField(read_only=True)


class BenchPlans(APIView):
    """The bench plans that models are read by while nobody has drawn them."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=BenchPlanSerializer(many=True), operation_id="bench_plans")
    def get(self, request: Request) -> Response:
        """Every bench plan, the shipped ones first."""
        own = set(BenchPlan.objects.values_list("content__id", flat=True))
        shown = [{"document": document, "own": name in own} for name, document in plans().items()]
        return Response(BenchPlanSerializer(shown, many=True).data)

    @extend_schema(request=BenchPlanSerializer, responses={201: BenchPlanSerializer(many=True)})
    def post(self, request: Request) -> Response:
        """Save one under the id that it carries: the next edition of it, or a new one."""
        save_plan(entry_of(request, BenchPlanSerializer)["document"], person(request))
        return Response(self.get(request).data, 201)


@dataclass(frozen=True, slots=True)
class ChosenPlanRequest:
    """The plan of a model, by its id."""

    plan: Annotated[str, given(max_length=64, allow_blank=True)]


class ModelPlan(APIView):
    """Which plan a model is read by."""

    roles = {"PUT": BENCH}

    @extend_schema(request=shape(ChosenPlanRequest), responses=BoardModelSerializer)
    def put(self, request: Request, slug: str) -> Response:
        """Choose it."""
        model = get_object_or_404(BoardModel, slug=slug)
        choose_plan(model, entry_of(request, ChosenPlanRequest).plan)
        return Response(BoardModelSerializer(model).data)


@dataclass(frozen=True, slots=True)
class HolesRequest:
    """Three holes on the photograph of a side, in its pixels."""

    picture: Annotated[str, declared(serializers.RegexField("^[0-9a-f]{64}$"))]
    px: Annotated[Sequence[tuple[float, float]], pixels(3)]


@dataclass(frozen=True, slots=True)
class SidesRequest:
    """The same three holes on both sides, in the same order."""

    front: HolesRequest
    back: HolesRequest


class ModelSides(APIView):
    """The two photographs of a model laid over each other."""

    roles = {"PUT": BENCH}

    @extend_schema(request=shape(SidesRequest), responses=BoardModelDetailSerializer)
    def put(self, request: Request, slug: str) -> Response:
        """By three holes that go through the board."""
        model, entry = get_object_or_404(BoardModel, slug=slug), entry_of(request, SidesRequest)
        sides = {"front": entry.front, "back": entry.back}
        for holes in sides.values():
            get_object_or_404(Picture, pk=holes.picture)
        align_sides(model, {side: (holes.picture, [(x, y) for x, y in holes.px]) for side, holes in sides.items()})
        return Response(BoardModelDetailSerializer(model).data)
