"""Ohms: the gate, points, readings."""

from __future__ import annotations

from typing import Any, get_args

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.parsers import JSONParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.readings.notation import QUANTITIES, shown, shown_number
from uvrix.core.readings.verdict import Judged, Verdict
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.entries import entry_of, person
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.ohms.meter_api import MeterSerializer
from uvrix.shop.ohms.models import Meter, PowerState, Reading, Sweep, Tick
from uvrix.shop.ohms.queries import EVERY_INPUT, Measured, Point, compared, measured, points, power_state, value_of
from uvrix.shop.ohms.services import NewReading, begin_sweep, click_point, enter_reading, say_power, swap_fuse, tick
from uvrix.shop.pictures.models import Picture

VERDICTS = list(get_args(Verdict))
STATES = ["off", "supply", "computer"]
FARTHEST_PX = 100_000.0


class PowerStateSerializer(serializers.ModelSerializer[PowerState]):
    """How the card stands."""

    state = serializers.ChoiceField(choices=STATES)
    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = PowerState
        fields = ["state", "by", "at"]


class PointSerializer(serializers.Serializer[Any]):
    """A place to hold a probe."""

    name = serializers.CharField()
    side = serializers.ChoiceField(choices=["front", "back"])
    kind = serializers.CharField()
    net = serializers.CharField(allow_blank=True)
    reach = serializers.CharField(allow_blank=True)
    x_mm = serializers.FloatField(allow_null=True)
    y_mm = serializers.FloatField(allow_null=True)
    picture = serializers.CharField(allow_null=True)
    x_px = serializers.FloatField(allow_null=True)
    y_px = serializers.FloatField(allow_null=True)


class CardFigureSerializer(serializers.Serializer[Any]):
    """A good card behind a figure, and what it read."""

    card = serializers.CharField()
    shown = serializers.CharField()
    odd = serializers.BooleanField()


class KnownFigureSerializer(serializers.Serializer[Any]):
    """What good cards read: middle and accepted band, each card, whose they are."""

    centre = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    cards = serializers.IntegerField()
    board = serializers.CharField()
    lent = serializers.CharField(allow_blank=True)
    seen = serializers.ListField(child=serializers.FloatField())
    odd = serializers.ListField(child=serializers.CharField())
    by_card = serializers.SerializerMethodField()

    @extend_schema_field(CardFigureSerializer(many=True))
    def get_by_card(self, one: Any) -> list[dict[str, Any]]:
        """The cards that stand behind it."""
        quantity = self.context.get("quantity", "resistance")
        return [
            {"card": card, "shown": "OL" if value is None else shown_number(value, quantity), "odd": card in one.odd}
            for card, value in one.by_card
        ]


class ShortSuspectSerializer(serializers.Serializer[Any]):
    """A part that may short the rails."""

    designator = serializers.CharField(source="part.designator")
    kind = serializers.CharField(source="part.kind")
    side = serializers.CharField(source="part.side")
    x_mm = serializers.SerializerMethodField()
    y_mm = serializers.SerializerMethodField()
    chance = serializers.FloatField()
    why = serializers.CharField()

    def get_x_mm(self, one: Any) -> float | None:
        """Where it is."""
        return float(one.part.centre[0]) if one.part.centre else None

    def get_y_mm(self, one: Any) -> float | None:
        """Where it is."""
        return float(one.part.centre[1]) if one.part.centre else None


class BlockSerializer(serializers.Serializer[Any]):
    """Why power stays locked."""

    point = serializers.CharField()
    why = serializers.CharField()


class TickSerializer(serializers.ModelSerializer[Tick]):
    """A fuse or input looked at by hand."""

    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = Tick
        fields = ["point", "skipped", "by", "at"]


class ReadingSerializer(serializers.ModelSerializer[Reading]):
    """A reading."""

    shown = serializers.SerializerMethodField()
    by = serializers.CharField(source="by.shown_name")
    meter = serializers.CharField(source="meter.name", default="")
    condition = serializers.ListField(child=serializers.CharField())
    verdict = serializers.SerializerMethodField()
    why = serializers.SerializerMethodField()
    reference = serializers.SerializerMethodField()
    standing = serializers.SerializerMethodField()

    class Meta:
        model = Reading
        fields = [
            "id",
            "point",
            "to",
            "quantity",
            "mode",
            "text",
            "low",
            "high",
            "shown",
            "polarity",
            "meter",
            "lead_ohms",
        ]
        fields += ["condition", "note", "by", "at", "verdict", "why", "reference", "standing"]

    def _said(self, reading: Reading) -> Judged:
        found: Measured = self.context["measured"]
        return found.judged[reading.pk]

    @extend_schema_field(serializers.ChoiceField(choices=VERDICTS))
    def get_verdict(self, reading: Reading) -> str:
        """The verdict in a word."""
        return self._said(reading).verdict

    def get_why(self, reading: Reading) -> str:
        """The verdict in a sentence with the numbers."""
        return self._said(reading).why

    @extend_schema_field(KnownFigureSerializer(allow_null=True))
    def get_reference(self, reading: Reading) -> Any:
        """What it was held against."""
        found = self._said(reading).reference
        return KnownFigureSerializer(found, context={"quantity": reading.quantity}).data if found else None

    def get_standing(self, reading: Reading) -> bool:
        """Whether no later reading corrects it."""
        found: Measured = self.context["measured"]
        return reading.pk in found.standing

    def get_shown(self, reading: Reading) -> str:
        """The value with its unit."""
        return shown(value_of(reading), reading.quantity)  # type: ignore[arg-type]  # checked when it was entered


class FuseSerializer(serializers.Serializer[Any]):
    """A fuse, and how it is by what was read across it."""

    point = serializers.CharField()
    state = serializers.ChoiceField(choices=["good", "sick", "blown", ""])
    why = serializers.CharField(allow_blank=True)
    rail = serializers.CharField(allow_blank=True)
    swapped = serializers.CharField(allow_blank=True)


class SweepSerializer(serializers.ModelSerializer[Sweep]):
    """A pass over all rails."""

    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = Sweep
        fields = ["id", "name", "by", "at"]


class ChangeSerializer(serializers.Serializer[Any]):
    """A thing read in either of two passes."""

    point = serializers.SerializerMethodField()
    same = serializers.BooleanField(allow_null=True)
    says = serializers.CharField()

    def get_point(self, one: Any) -> str:
        """Where."""
        has = one.after or one.before
        return str(has.reading.point)


class SweepsComparedSerializer(serializers.Serializer[Any]):
    """Two passes beside each other."""

    before = serializers.CharField()
    after = serializers.CharField()
    changes = ChangeSerializer(many=True)


class OhmsSerializer(serializers.Serializer[Any]):
    """Everything of Ohms."""

    power = PowerStateSerializer(allow_null=True)
    points = PointSerializer(many=True)
    readings = ReadingSerializer(many=True)
    meters = MeterSerializer(many=True)
    suspects = ShortSuspectSerializer(many=True)
    blocks = BlockSerializer(many=True)
    ticks = TickSerializer(many=True)
    fuses = FuseSerializer(many=True)
    sweeps = SweepSerializer(many=True)
    compared = SweepsComparedSerializer(allow_null=True)
    route = serializers.ListField(child=serializers.CharField())


def _ohms(job: Job) -> Any:
    found, where = measured(job), points(job)
    shown_now = {
        "power": power_state(job),
        "points": [as_point(one) for one in where],
        "readings": found.readings,
        "meters": Meter.objects.order_by("name"),
        "suspects": found.suspects,
        "blocks": found.blocks,
        "ticks": found.ticks,
        "fuses": _fuses(job, found, where),
        "sweeps": job.sweep_rows.select_related("by"),
        "compared": compared(job, found),
        "route": found.route,
    }
    return OhmsSerializer(shown_now, context={"measured": found}).data


def _fuses(job: Job, found: Measured, where: list[Point]) -> list[dict[str, Any]]:
    swaps = {one.point: f"replaced{f', {one.rating}' if one.rating else ''}" for one in job.fuseswap_rows.all()}
    fuses = [(one.name, one.net) for one in where if one.kind == "fuse"] or [(EVERY_INPUT, "")]
    return [
        {
            "point": name,
            "rail": net,
            "state": found.fuses[name].state if name in found.fuses else "",
            "why": found.fuses[name].why if name in found.fuses else "",
            "swapped": swaps.get(name, ""),
        }
        for name, net in fuses
    ]


def as_point(one: Point) -> dict[str, Any]:
    """A point as `PointSerializer` gives it."""
    fields = {name: getattr(one, name) for name in ("name", "side", "kind", "net", "reach", "x_mm", "y_mm")}
    clicked = one.clicked
    where = {"picture": clicked.picture_id, "x_px": clicked.x_px, "y_px": clicked.y_px} if clicked else {}
    return {"picture": None, "x_px": None, "y_px": None, **fields, **where}


class JobOhms(APIView):
    """Ohms."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=OhmsSerializer)
    def get(self, request: Request, number: int) -> Response:
        """Power state, points, readings."""
        return Response(_ohms(found_job(number)))


class SayPowerSerializer(serializers.Serializer[Any]):
    """How the card stands, to say."""

    id = serializers.UUIDField()
    state = serializers.ChoiceField(choices=STATES)


class JobPower(APIView):
    """The card's power state."""

    roles = {"POST": BENCH}
    parser_classes = [JSONParser]

    @extend_schema(request=SayPowerSerializer, responses={201: OhmsSerializer, 200: OhmsSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Say how it stands."""
        entry, job = entry_of(request, SayPowerSerializer), found_job(number)
        _, new = say_power(job, entry["id"], entry["state"], person(request))
        return Response(_ohms(job), 201 if new else 200)


class NewPhotoPointSerializer(serializers.Serializer[Any]):
    """A point clicked on a photograph."""

    id = serializers.UUIDField()
    name = serializers.RegexField(r"^[^/]{1,64}$")
    side = serializers.ChoiceField(choices=["front", "back"])
    picture = serializers.RegexField("^[0-9a-f]{64}$")
    x_px = serializers.FloatField(min_value=0, max_value=FARTHEST_PX)
    y_px = serializers.FloatField(min_value=0, max_value=FARTHEST_PX)


class JobPhotoPoints(APIView):
    """Points clicked on photographs."""

    roles = {"POST": BENCH}
    parser_classes = [JSONParser]

    @extend_schema(request=NewPhotoPointSerializer, responses={201: OhmsSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Name a point."""
        entry, job = entry_of(request, NewPhotoPointSerializer), found_job(number)
        picture = get_object_or_404(Picture, pk=entry["picture"])
        spot = entry["side"], picture, entry["x_px"], entry["y_px"]
        click_point(job, entry["id"], entry["name"], spot, person(request))
        return Response(_ohms(job), 201)


class NewReadingSerializer(serializers.Serializer[Any]):
    """A reading to enter; the value in shop notation."""

    id = serializers.UUIDField()
    point = serializers.CharField(max_length=130)
    quantity = serializers.ChoiceField(choices=list(QUANTITIES))
    value = serializers.CharField(max_length=40)
    mode = serializers.ChoiceField(choices=["ohms", "diode", "continuity", ""], required=False)
    to = serializers.ChoiceField(choices=["ground", "across", ""], required=False)
    polarity = serializers.ChoiceField(choices=["red", "black", ""], required=False)
    meter = serializers.CharField(max_length=40, required=False, allow_blank=True)
    condition = serializers.ListField(child=serializers.CharField(max_length=40), required=False, max_length=12)
    note = serializers.CharField(max_length=200, required=False, allow_blank=True)
    sure = serializers.BooleanField(required=False)


class JobReadings(APIView):
    """Readings."""

    roles = {"POST": BENCH}
    parser_classes = [JSONParser]

    @extend_schema(request=NewReadingSerializer, responses={201: OhmsSerializer, 200: OhmsSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Enter one."""
        entry, job = entry_of(request, NewReadingSerializer), found_job(number)
        new = NewReading(**{**entry, "condition": tuple(entry.get("condition", ()))})
        _, fresh = enter_reading(job, new, person(request))
        return Response(_ohms(job), 201 if fresh else 200)


class NewTickSerializer(serializers.Serializer[Any]):
    """A fuse or input, ticked by hand or skipped with a reason."""

    id = serializers.UUIDField()
    point = serializers.CharField(max_length=64)
    skipped = serializers.CharField(max_length=200, required=False, allow_blank=True)


class JobTicks(APIView):
    """Fuses and inputs ticked by hand."""

    roles = {"POST": BENCH}
    parser_classes = [JSONParser]

    @extend_schema(request=NewTickSerializer, responses={201: OhmsSerializer, 200: OhmsSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Tick one."""
        entry, job = entry_of(request, NewTickSerializer), found_job(number)
        _, new = tick(job, entry["id"], entry["point"], entry.get("skipped", ""), person(request))
        return Response(_ohms(job), 201 if new else 200)


class NewSweepSerializer(serializers.Serializer[Any]):
    """A pass over all rails, to begin."""

    id = serializers.UUIDField()
    name = serializers.CharField(max_length=60)


class JobSweeps(APIView):
    """Passes over all rails."""

    roles = {"POST": BENCH}
    parser_classes = [JSONParser]

    @extend_schema(request=NewSweepSerializer, responses={201: OhmsSerializer, 200: OhmsSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Begin one."""
        entry, job = entry_of(request, NewSweepSerializer), found_job(number)
        _, new = begin_sweep(job, entry["id"], entry["name"], person(request))
        return Response(_ohms(job), 201 if new else 200)


class NewFuseSwapSerializer(serializers.Serializer[Any]):
    """A fuse that was replaced."""

    id = serializers.UUIDField()
    point = serializers.CharField(max_length=64)
    rating = serializers.CharField(max_length=40, required=False, allow_blank=True)
    reason = serializers.CharField(max_length=200, required=False, allow_blank=True)


class JobFuseSwaps(APIView):
    """Fuses replaced."""

    roles = {"POST": BENCH}
    parser_classes = [JSONParser]

    @extend_schema(request=NewFuseSwapSerializer, responses={201: OhmsSerializer, 200: OhmsSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Enter one."""
        entry, job = entry_of(request, NewFuseSwapSerializer), found_job(number)
        said = entry.get("rating", "").strip(), entry.get("reason", "").strip()
        _, new = swap_fuse(job, entry["id"], entry["point"], said, person(request))
        return Response(_ohms(job), 201 if new else 200)
