"""Ohms: the gate, points, readings."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any, cast, get_args
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.case.generic import GenericNode, nodes_of, order_of
from uvrix.core.readings.known import Reference
from uvrix.core.readings.notation import POWERED, Quantity, shown, shown_number
from uvrix.core.readings.slot import CAPACITOR, SLOT
from uvrix.core.readings.verdict import Judged, Verdict
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.acts.queries import of_job
from uvrix.shop.case.threads import VoidRow
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.limits import FARTHEST_PX
from uvrix.shop.config.shapes import chosen, declared, given, shape, written
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.library.models import BoardModel
from uvrix.shop.ohms.alike import cards_alike
from uvrix.shop.ohms.chips import judge_ball
from uvrix.shop.ohms.guard import locks
from uvrix.shop.ohms.meter_api import MeterSerializer, morning_now
from uvrix.shop.ohms.models import POINT_KINDS, Meter, PhotoPoint, PowerState, Reading, Sweep, Tick
from uvrix.shop.ohms.nodes import judge_node
from uvrix.shop.ohms.queries import (
    EVERY_INPUT,
    Measured,
    Point,
    compared,
    core_reading,
    judged,
    measured,
    plan_of,
    points,
    power_state,
    reading_context,
    value_of,
)
from uvrix.shop.ohms.services import (
    POWER_STATES,
    NewName,
    NewPower,
    NewReading,
    begin_sweep,
    click_point,
    enter_reading,
    set_power_state,
    swap_fuse,
    tick,
)
from uvrix.shop.ohms.slots import judge_contact
from uvrix.shop.pictures.models import Picture

VERDICTS = list(get_args(Verdict))
NOT_CLICKED = {"picture": None, "x_px": None, "y_px": None}


class PowerStateSerializer(serializers.ModelSerializer[PowerState]):
    """How the card stands."""

    state = serializers.ChoiceField(choices=POWER_STATES)
    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = PowerState
        fields = ["state", "plugs_in", "bare", "by", "at"]


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

    def to_representation(self, point: Point) -> dict[str, Any]:
        """The row, written straight as readings are."""
        names = ("name", "side", "kind", "net", "reach", "x_mm", "y_mm")
        clicked = point.clicked
        where = {"picture": clicked.picture_id, "x_px": clicked.x_px, "y_px": clicked.y_px} if clicked else NOT_CLICKED
        return {**{name: getattr(point, name) for name in names}, **where}


@dataclass(frozen=True, slots=True)
class CardFigureAnswer:
    """A good card behind a figure, and what it read."""

    card: str
    value: float | None
    shown: str
    odd: bool


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
    by_card = shape(CardFigureAnswer)(many=True)


class ShortSuspectSerializer(serializers.Serializer[Any]):
    """A part that may short the rails."""

    designator = serializers.CharField(source="part.designator")
    kind = serializers.CharField(source="part.kind")
    side = serializers.CharField(source="part.side")
    x_mm = serializers.SerializerMethodField()
    y_mm = serializers.SerializerMethodField()
    chance = serializers.FloatField()
    why = serializers.CharField()

    def get_x_mm(self, suspect: Any) -> float | None:
        """Where it is."""
        return float(suspect.part.centre[0]) if suspect.part.centre else None

    def get_y_mm(self, suspect: Any) -> float | None:
        """Where it is."""
        return float(suspect.part.centre[1]) if suspect.part.centre else None


class BenchNodeSerializer(serializers.Serializer[Any]):
    """A node of the bench plan, in words: where it is found, what is usual, what lowers it, what a wrong one means."""

    id = serializers.CharField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=["input", "rail", "signal", "clock"])
    where = serializers.CharField(allow_blank=True)
    usual = serializers.SerializerMethodField()
    lowered_by = serializers.CharField(allow_blank=True)
    wrong = serializers.CharField(allow_blank=True)
    leads = serializers.CharField(allow_blank=True)

    def get_usual(self, generic_node: GenericNode) -> str:
        """The usual order of magnitude to ground; empty where none is said."""
        return (
            gettext(
                "{order_of} to {order_of_2}",
                order_of=order_of(generic_node.ohms[0]),
                order_of_2=order_of(generic_node.ohms[1]),
            )
            if generic_node.ohms
            else ""
        )


class BlockSerializer(serializers.Serializer[Any]):
    """Why power stays locked."""

    point = serializers.CharField()
    why = serializers.CharField()
    may_tick = serializers.BooleanField()


class TickSerializer(serializers.ModelSerializer[Tick]):
    """A fuse or input looked at by hand."""

    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = Tick
        fields = ["point", "skipped", "by", "at"]


@dataclass(frozen=True, slots=True)
class VoidAnswer:
    """Why a reading counts no more, and when that was done."""

    why: str
    at: datetime


class ReadingSerializer(serializers.Serializer[Any]):
    """A reading, its verdict in a word and in a sentence with the numbers, and what it was held against.

    A job has many, and each is shown at once after Enter: the rows are written straight, by what the fields say.
    """

    id = serializers.UUIDField()
    point = serializers.CharField()
    to = serializers.CharField()
    quantity = serializers.CharField()
    mode = serializers.CharField(allow_blank=True)
    text = serializers.CharField()
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    shown = serializers.CharField()
    polarity = serializers.CharField(allow_blank=True)
    meter = serializers.CharField(allow_blank=True)
    lead_ohms = serializers.FloatField()
    condition = serializers.ListField(child=serializers.CharField())
    note = serializers.CharField(allow_blank=True)
    by = serializers.CharField()
    at = serializers.DateTimeField()
    verdict = serializers.ChoiceField(choices=VERDICTS)
    why = serializers.CharField()
    reference = KnownFigureSerializer(allow_null=True)
    standing = serializers.BooleanField()
    void = shape(VoidAnswer)(allow_null=True)

    def to_representation(self, reading: Reading) -> dict[str, Any]:
        """The row."""
        judged: Mapping[UUID, Judged] = self.context["judged"]
        standing: Collection[UUID] = self.context["standing"]
        void: Mapping[UUID, VoidRow] = self.context["void"]
        said, gone = judged[reading.pk], void.get(reading.pk)
        names = ("point", "to", "quantity", "mode", "text", "low", "high", "polarity", "lead_ohms", "condition", "note")
        quantity = cast("Quantity", reading.quantity)
        return {
            "id": reading.pk,
            **{name: getattr(reading, name) for name in names},
            "shown": shown(value_of(reading), quantity),
            "meter": reading.meter.name if reading.meter else "",
            "by": reading.by.shown_name,
            "at": reading.at,
            "verdict": said.verdict,
            "why": said.why,
            "reference": figure(said.reference, quantity) if said.reference else None,
            "standing": reading.pk in standing,
            "void": VoidAnswer(why=gone.why, at=gone.at) if gone else None,
        }


def figure(reference: Reference, quantity: Quantity) -> dict[str, Any]:
    """A reference as `KnownFigureSerializer` says it."""
    cards = [
        CardFigureAnswer(
            card=card,
            value=value,
            shown="OL" if value is None else shown_number(value, quantity),
            odd=card in reference.odd,
        )
        for card, value in reference.by_card
    ]
    names = ("centre", "low", "high", "cards", "board", "lent", "seen", "odd")
    return {**{name: getattr(reference, name) for name in names}, "by_card": cards}


@dataclass(frozen=True, slots=True)
class FuseAnswer:
    """A fuse, and how it is by what was read across it."""

    point: str
    state: Annotated[str, chosen(["good", "sick", "blown", ""])]
    why: str
    rail: str
    swapped: str


@dataclass(frozen=True, slots=True)
class InputAnswer:
    """An input of the board, and what it last read to ground."""

    rail: str
    name: str
    point: str
    shown: str
    low: bool


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

    def get_point(self, change: Any) -> str:
        """Where."""
        has = change.after or change.before
        return str(has.reading.point)


class SweepsComparedSerializer(serializers.Serializer[Any]):
    """Two passes beside each other."""

    before = serializers.CharField()
    after = serializers.CharField()
    changes = ChangeSerializer(many=True)


@dataclass(frozen=True, slots=True)
class OhmsAnswer:
    """Everything of Ohms."""

    power: Annotated[Any, declared(PowerStateSerializer(allow_null=True))]
    points: Annotated[Iterable[Any], declared(PointSerializer(many=True))]
    readings: Annotated[Iterable[Any], declared(ReadingSerializer(many=True))]
    earlier: Annotated[int, given(help_text="Older readings that stand no more, at readings/earlier.")]
    meters: Annotated[Iterable[Any], declared(MeterSerializer(many=True))]
    suspects: Annotated[Iterable[Any], declared(ShortSuspectSerializer(many=True))]
    blocks: Annotated[Iterable[Any], declared(BlockSerializer(many=True))]
    ticks: Annotated[Iterable[Any], declared(TickSerializer(many=True))]
    fuses: Sequence[FuseAnswer]
    inputs: Sequence[InputAnswer]
    sweeps: Annotated[Iterable[Any], declared(SweepSerializer(many=True))]
    compared: Annotated[Any, declared(SweepsComparedSerializer(allow_null=True))]
    route: Sequence[str]
    again: Sequence[str]
    plan: Annotated[Iterable[Any], declared(BenchNodeSerializer(many=True))]


# What stands no more is shown as far as this; the rest is asked for (readings/earlier), this much at a time.
SHOWN_READINGS = 200


def _by_age(found: Measured) -> tuple[list[Reading], list[Reading]]:
    """The readings that the page shows, oldest first, and the earlier ones, newest first."""
    recent = {row.pk for row in found.readings[-SHOWN_READINGS:]}
    again = set(found.again)
    shows = [
        row
        for row in found.readings
        if row.pk in recent or row.pk in found.standing or (row.pk in found.void and row.point in again)
    ]
    there = {row.pk for row in shows}
    return shows, [row for row in reversed(found.readings) if row.pk not in there]


def _context(found: Measured) -> dict[str, Any]:
    return {"judged": found.judged, "standing": found.standing, "void": found.void, "morning": morning_now()}


def _ohms(job: Job) -> Any:
    found, where = measured(job), points(job)
    shows, earlier = _by_age(found)
    shown_now = OhmsAnswer(
        power=power_state(job),
        points=where,
        readings=shows,
        earlier=len(earlier),
        meters=Meter.objects.order_by("name"),
        suspects=found.suspects,
        blocks=locks(job, found),
        ticks=found.ticks,
        fuses=_fuses(job, found, where),
        inputs=_inputs(job, found),
        sweeps=job.sweep_rows.select_related("by"),
        compared=compared(job, found),
        route=found.route,
        again=found.again,
        plan=() if reading_context(job).board else plan_of(job.card.model).nodes,
    )
    return shape(OhmsAnswer)(shown_now, context=_context(found)).data


def _inputs(job: Job, found: Measured) -> list[InputAnswer]:
    """Every input, numbered by its place here, whether read or not."""
    bench = reading_context(job)
    read = {}
    for judgement in found.standing_judged:
        key = bench.places.key(judgement.reading.point, judgement.reading.to)
        if key[0] == "ground" and judgement.reading.quantity == "resistance":
            read[key[1]] = shown(judgement.reading.value, "resistance")
    rails = bench.board.rails.values() if bench.board else ()
    return [
        InputAnswer(
            rail=rail.id,
            name=rail.name,
            point=next(iter(rail.points), ""),
            shown=read.get(rail.id, ""),
            low=rail.id in found.low_inputs,
        )
        for rail in rails
        if rail.input
    ]


def _fuses(job: Job, found: Measured, where: list[Point]) -> list[FuseAnswer]:
    swaps = {act.site: f"replaced{f', {act.rating}' if act.rating else ''}" for act in of_job(job, "swap")}
    fuses = [(point.name, point.net) for point in where if point.kind == "fuse"] or [(EVERY_INPUT, "")]
    return [
        FuseAnswer(
            point=name,
            rail=net,
            state=found.fuses[name].state if name in found.fuses else "",
            why=found.fuses[name].why if name in found.fuses else "",
            swapped=swaps.get(name, ""),
        )
        for name, net in fuses
    ]


class JobOhms(APIView):
    """Ohms."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(OhmsAnswer))
    def get(self, request: Request, number: int) -> Response:
        """Power state, points, readings."""
        return Response(_ohms(found_job(number)))


class JobEarlierReadings(APIView):
    """Readings that stand no more and that the page leaves out."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        parameters=[OpenApiParameter("skip", int)],
        responses=ReadingSerializer(many=True),
        operation_id="job_earlier_readings",
    )
    def get(self, request: Request, number: int) -> Response:
        """Newest first, at most two hundred after the first `skip`."""
        asked = request.query_params.get("skip", "0")
        if not (asked.isascii() and asked.isdigit() and len(asked) < 10):
            raise serializers.ValidationError(
                {"skip": gettext("found {asked}, expected how many to leave out", asked=repr(asked[:40]))}
            )
        found = measured(found_job(number))
        rows = _by_age(found)[1][int(asked) : int(asked) + SHOWN_READINGS]
        return Response(ReadingSerializer(rows, many=True, context=_context(found)).data)


class JobPower(APIView):
    """The card's power state."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewPower), responses={201: shape(OhmsAnswer), 200: shape(OhmsAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Say how it stands."""
        entry, job = entry_of(request, NewPower), found_job(number)
        _, new = set_power_state(job, entry, person(request))
        return Response(_ohms(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewPhotoPoint:
    """A point clicked on a photograph."""

    id: UUID
    name: Annotated[str, declared(serializers.RegexField("^[^/]{1,64}$"))]
    side: Annotated[str, chosen(["front", "back"])]
    picture: Annotated[str, declared(serializers.RegexField("^[0-9a-f]{64}$"))]
    x_px: Annotated[float, given(min_value=0, max_value=FARTHEST_PX)]
    y_px: Annotated[float, given(min_value=0, max_value=FARTHEST_PX)]
    kind: Annotated[str, chosen(list(POINT_KINDS))] = "pad"
    node: Annotated[str, given(max_length=80, allow_blank=True)] = ""


class JobPhotoPoints(APIView):
    """Points clicked on photographs."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewPhotoPoint), responses={201: shape(OhmsAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Name a point."""
        entry, job = entry_of(request, NewPhotoPoint), found_job(number)
        picture = get_object_or_404(Picture, pk=entry.picture)
        spot = entry.side, picture, entry.x_px, entry.y_px
        named = NewName(entry.name, entry.kind, entry.node)
        click_point(job, entry.id, named, spot, person(request))
        return Response(_ohms(job), 201)


class NamedOnPhotographSerializer(serializers.Serializer[Any]):
    """What was named on a photograph."""

    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=list(POINT_KINDS))
    node = serializers.CharField(allow_blank=True)
    side = serializers.ChoiceField(choices=["front", "back"])
    picture = serializers.CharField()
    x_px = serializers.FloatField()
    y_px = serializers.FloatField()


@dataclass(frozen=True, slots=True)
class SketchAnswer:
    """What the cards of a model have taught so far, as the editor's edit `named` takes it in."""

    entries: Annotated[Iterable[Any], declared(NamedOnPhotographSerializer(many=True))]
    nodes: Sequence[Mapping[str, Any]]


class ModelSketch(APIView):
    """What was named on the photographs of a model's cards."""

    roles = {"GET": BENCH}

    @extend_schema(responses=shape(SketchAnswer))
    def get(self, request: Request, slug: str) -> Response:
        """The newest of each name over all cards, and the bench plan that they were read by."""
        model = get_object_or_404(BoardModel, slug=slug)
        rows = of_the_shop(PhotoPoint.objects.filter(job__card__model=model)).order_by("at", "pk")
        newest = {row.name: row for row in rows}
        entries = [{**fields, "picture": row.picture_id} for row in newest.values() for fields in [_named(row)]]
        return Response(written(SketchAnswer(entries=entries, nodes=nodes_of(plan_of(model)))))


def _named(row: PhotoPoint) -> dict[str, Any]:
    return {name: getattr(row, name) for name in ("name", "kind", "node", "side", "x_px", "y_px")}


class JobReadings(APIView):
    """Readings."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewReading), responses={201: ReadingSerializer, 200: ReadingSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Enter one; answers with its verdict alone, so that it is seen at once."""
        new, job = entry_of(request, NewReading), found_job(number)
        row, fresh = enter_reading(job, new, person(request))
        said = {row.pk: said_of(job, row)}
        shown_now = ReadingSerializer(row, context={"judged": said, "standing": said, "void": {}}).data
        return Response(shown_now, 201 if fresh else 200)


def said_of(job: Job, row: Reading) -> Judged:
    """The verdict on a reading: by its node's band, by its fellows at a ball or slot contact, else by good cards."""
    bench = reading_context(job)
    if row.quantity in POWERED and (of_node := judge_node(job, row)):
        return of_node
    if not bench.places.is_pin(row.point.split("/")[0]):
        return judged(core_reading(row), job)
    reading = core_reading(row)
    if row.point.split(".")[0] not in {SLOT, CAPACITOR}:
        ball = judge_ball(job, row)
        return Judged(reading, ball.verdict, None, ball.why)
    contact = judge_contact(job, row)
    return Judged(reading, contact.verdict if contact else "no-reference", None, contact.why if contact else "")


@dataclass(frozen=True, slots=True)
class NewTick:
    """A fuse or input, ticked by hand or skipped with a reason."""

    id: UUID
    point: Annotated[str, given(max_length=64)]
    skipped: Annotated[str, given(max_length=200, allow_blank=True)] = ""


class JobTicks(APIView):
    """Fuses and inputs ticked by hand."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewTick), responses={201: shape(OhmsAnswer), 200: shape(OhmsAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Tick one."""
        entry, job = entry_of(request, NewTick), found_job(number)
        _, new = tick(job, entry.id, entry.point, entry.skipped, person(request))
        return Response(_ohms(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewSweep:
    """A pass over all rails, to begin."""

    id: UUID
    name: Annotated[str, given(max_length=60)]


class JobSweeps(APIView):
    """Passes over all rails."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewSweep), responses={201: shape(OhmsAnswer), 200: shape(OhmsAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Begin one."""
        entry, job = entry_of(request, NewSweep), found_job(number)
        _, new = begin_sweep(job, entry.id, entry.name, person(request))
        return Response(_ohms(job), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class NewFuseSwap:
    """A fuse that was replaced."""

    id: UUID
    point: Annotated[str, given(max_length=64)]
    rating: Annotated[str, given(max_length=40, allow_blank=True)] = ""
    reason: Annotated[str, given(max_length=200, allow_blank=True)] = ""


class JobFuseSwaps(APIView):
    """Fuses replaced."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewFuseSwap), responses={201: shape(OhmsAnswer), 200: shape(OhmsAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Enter one."""
        entry, job = entry_of(request, NewFuseSwap), found_job(number)
        said = entry.rating.strip(), entry.reason.strip()
        _, new = swap_fuse(job, entry.id, entry.point, said, person(request))
        return Response(_ohms(job), 201 if new else 200)


class PastCauseSerializer(serializers.Serializer[Any]):
    """What a past card had, and what confirmed it."""

    cause = serializers.CharField()
    by_what = serializers.CharField(allow_blank=True)


class PastCardSerializer(serializers.Serializer[Any]):
    """A past card that read like this one."""

    number = serializers.IntegerField(source="job.pk")
    job = serializers.CharField(source="job.label")
    serial = serializers.CharField(source="job.card.serial")
    had = PastCauseSerializer(many=True, source="causes")
    agree = serializers.ListField(child=serializers.CharField())
    differ = serializers.ListField(child=serializers.CharField())


class JobAlike(APIView):
    """Past cards that read like this one."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=PastCardSerializer(many=True), operation_id="job_alike")
    def get(self, request: Request, number: int) -> Response:
        """Nearest first, with what was wrong with them."""
        return Response(PastCardSerializer(cards_alike(found_job(number)), many=True).data)
