"""One converter of a card: what has to be looked at together where its rail is missing."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.model import Part, ProbePoint
from uvrix.core.readings.notation import shown
from uvrix.core.startup.chain import MEASURED, VOLTS
from uvrix.core.startup.converter import Converter, Step, converter
from uvrix.language import gettext
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, declared, shape, written
from uvrix.shop.jobs.api import found_job
from uvrix.shop.library.models import PinoutEdition
from uvrix.shop.library.pinouts import PinoutAnswer, pinout_shape, pinouts_by_key
from uvrix.shop.library.shapes import UNITS
from uvrix.shop.ohms.queries import core_reading, reading_context, value_of
from uvrix.shop.volts.queries import VoltsContext, volts_context

ROLES = ["output", "supply", "enable", "makes"]


class PlacedSpotSerializer(serializers.Serializer[Any]):
    """Something to look at or probe, and where it lies."""

    name = serializers.CharField()
    kind = serializers.CharField()
    side = serializers.ChoiceField(choices=["front", "back"])
    x_mm = serializers.FloatField(allow_null=True)
    y_mm = serializers.FloatField(allow_null=True)


class ConverterChipSerializer(PlacedSpotSerializer):
    """A chip of the converter; its pinout by the marking it bears, where the shop has noted one."""

    marking = serializers.CharField(allow_blank=True)
    pinout = shape(PinoutAnswer)(allow_null=True)


@dataclass(frozen=True, slots=True)
class ConverterStepAnswer:
    """A node that the converter hangs on: expected and read; its own point first, then substitutes."""

    node: str
    name: str
    part_in: Annotated[str, chosen(ROLES)]
    through: str
    low: float
    high: float
    unit: str
    quantity: str
    state: Annotated[str, chosen(["present", "missing", "unknown"])]
    shown: str
    points: Annotated[Iterable[Any], declared(PlacedSpotSerializer(many=True))]
    parts: Annotated[Iterable[Any], declared(PlacedSpotSerializer(many=True))]


@dataclass(frozen=True, slots=True)
class ConverterPageAnswer:
    """A converter: its coils, chips, every node that it hangs on, what it feeds."""

    node: str
    name: str
    coils: Annotated[Iterable[Any], declared(PlacedSpotSerializer(many=True))]
    chips: Annotated[Iterable[Any], declared(ConverterChipSerializer(many=True))]
    steps: Sequence[ConverterStepAnswer]
    feeds: Sequence[str]


class JobConverter(APIView):
    """A converter of a job's card."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(ConverterPageAnswer))
    def get(self, request: Request, number: int, node: str) -> Response:
        """The converter's page."""
        job = found_job(number)
        at, board = volts_context(job), reading_context(job).board
        found = converter(at.map.chain, board, node) if at.map and board else None
        if found is None:
            raise Problem(404, "unknown-node", gettext("found no node {node} in this card's map", node=repr(node)))
        known = pinouts_by_key()
        return Response(
            written(
                ConverterPageAnswer(
                    node=found.node.id,
                    name=found.node.name,
                    coils=[_point(coil) for coil in found.coils],
                    chips=[
                        {**_part(chip), "marking": chip.marking, "pinout": pinout_shape(known, chip.marking)}
                        for chip in _chips(found, known)
                    ],
                    steps=[_step(step, at) for step in found.steps],
                    feeds=[feed.name for feed in found.feeds],
                )
            )
        )


def _chips(found: Converter, known: Mapping[str, PinoutEdition]) -> list[Part]:
    """The converter's own chips, then every other part of its page whose marking the shop has noted."""
    rest = [part for step in found.steps for part in step.parts if pinout_shape(known, part.marking)]
    return list(dict.fromkeys([*found.chips, *rest]))


def _point(point: ProbePoint) -> dict[str, Any]:
    return {"name": point.id, "kind": point.kind, "side": point.side, **_centre(point.centre)}


def _part(part: Part) -> dict[str, Any]:
    return {"name": part.designator, "kind": part.kind, "side": part.side, **_centre(part.centre)}


def _centre(centre: Any) -> dict[str, float | None]:
    x, y = centre or (None, None)
    return {"x_mm": None if x is None else float(x), "y_mm": None if y is None else float(y)}


def _step(step: Step, at: VoltsContext) -> ConverterStepAnswer:
    assert at.found
    said = at.read.get(step.node.id)
    quantity = core_reading(said).quantity if said else _quantity(step)
    return ConverterStepAnswer(
        node=step.node.id,
        name=step.node.name,
        part_in=step.role,
        through=step.through,
        low=step.node.low,
        high=step.node.high,
        unit=UNITS[_quantity(step)],
        quantity=_quantity(step),
        state=at.found.measured[step.node.id].state,
        shown=shown(value_of(said), quantity) if said else "",
        points=[_point(point) for point in step.points],
        parts=[_part(part) for part in step.parts],
    )


def _quantity(step: Step) -> Any:
    return MEASURED.get(step.node.kind, VOLTS)[0]
