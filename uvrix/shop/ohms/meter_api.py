"""The shop's meters, and asking one for samples."""

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

from uvrix.core.readings.meter_lines import (
    COLUMNS,
    LONGEST_LINE,
    MOST_LINES,
    MeterLine,
    MeterMark,
    read_meter_reader,
    teach_meter,
)
from uvrix.core.readings.morning import KINDS, Kind
from uvrix.core.readings.notation import Quantity, Value, shown
from uvrix.core.readings.settling import Sample
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE, LEAD
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import chosen, declared, given, shape
from uvrix.shop.ohms.link import ASKED, MOST_SAMPLES, Asked, listen, take
from uvrix.shop.ohms.models import Meter, MeterCheck, MorningStandard, ReferenceCard
from uvrix.shop.ohms.morning import (
    USUAL_TOLERANCE,
    NewStandard,
    check_meter,
    kinds_kept,
    morning_word,
    set_standard,
    standard,
    todays_checks,
)
from uvrix.shop.ohms.services import NewMeter, set_meter

MORNING = ["passed", "failed", "open"]


class MeterSerializer(serializers.ModelSerializer[Meter]):
    """A meter; `morning` says how it stands today, `taught` whether the lines it prints are known."""

    morning = serializers.SerializerMethodField()
    taught = serializers.SerializerMethodField()

    class Meta:
        model = Meter
        fields = ["id", "name", "lead_ohms", "address", "morning", "taught"]

    @extend_schema_field(serializers.ChoiceField(choices=MORNING))
    def get_morning(self, meter: Meter) -> str:
        """Today's check."""
        checks, held = self.context.get("morning") or morning_now()
        return morning_word(checks.get(meter.pk, {}), held)

    def get_taught(self, meter: Meter) -> bool:
        """Whether it has a reader."""
        return meter.reader is not None


def morning_now() -> tuple[dict[int, dict[str, MeterCheck]], MorningStandard | None]:
    """Today's checks by meter, and what meters are held against."""
    return todays_checks(), standard()


def meters_now() -> Any:
    """All meters, by name, as they stand today."""
    return MeterSerializer(Meter.objects.order_by("name"), many=True, context={"morning": morning_now()}).data


class Meters(APIView):
    """The shop's meters."""

    roles = {"GET": EVERYONE, "PUT": BENCH}

    @extend_schema(responses=MeterSerializer(many=True), operation_id="meters")
    def get(self, request: Request) -> Response:
        """Every meter, by name."""
        return Response(meters_now())

    @extend_schema(request=shape(NewMeter), responses=MeterSerializer(many=True), operation_id="meter_set")
    def put(self, request: Request) -> Response:
        """Add one, or set what its leads read and where it answers."""
        set_meter(entry_of(request, NewMeter), person(request))
        return self.get(request)


class SampleSerializer(serializers.Serializer[Any]):
    """What a meter showed at a time; null is over-limit."""

    at_s = serializers.FloatField()
    value = serializers.FloatField(allow_null=True)


class HoldSerializer(serializers.Serializer[Any]):
    """Where the probes are, for a stand-in meter, which has no hands."""

    serial = serializers.CharField(max_length=80, allow_blank=True)
    board = serializers.CharField(max_length=64)
    point = serializers.CharField(max_length=130)
    to = serializers.ChoiceField(choices=["ground", "across"])
    off = serializers.ListField(child=serializers.CharField(max_length=64), max_length=200)
    lifted = serializers.ListField(child=serializers.CharField(max_length=64), max_length=200)
    on = serializers.BooleanField(required=False)


@dataclass(frozen=True, slots=True)
class AskMeterRequest:
    """What is asked of a meter."""

    quantity: Annotated[Quantity, chosen(ASKED)]
    samples: Annotated[Sequence[Any], declared(SampleSerializer(many=True))]
    hold: Annotated[Any, declared(HoldSerializer())]
    held: float | None = None


class TakenSerializer(serializers.Serializer[Any]):
    """How the reading stands."""

    state = serializers.ChoiceField(
        choices=["held", "moving", "creeping", "settled", "unsteady", "overload"], source="settled.state"
    )
    low = serializers.FloatField(allow_null=True, source="settled.low")
    high = serializers.FloatField(allow_null=True, source="settled.high")
    text = serializers.CharField(allow_blank=True)
    lost = serializers.CharField(allow_blank=True)
    samples = SampleSerializer(many=True)


class AskMeter(APIView):
    """Asking a meter."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(AskMeterRequest), responses=TakenSerializer)
    def post(self, request: Request, meter: int) -> Response:
        """Take some more samples; a meter that does not answer is said in `lost`."""
        found, entry = get_object_or_404(Meter, pk=meter), entry_of(request, AskMeterRequest)
        if not found.address:
            raise Problem(
                409, "no-address", gettext("{name} has no address: readings of it are typed.", name=found.name)
            )
        if len(entry.samples) > MOST_SAMPLES:
            raise Problem(
                422,
                "too-many",
                gettext(
                    "found {number} samples, expected at most {most_samples}",
                    number=len(entry.samples),
                    most_samples=MOST_SAMPLES,
                ),
            )
        samples = tuple(Sample(sample["at_s"], sample["value"]) for sample in entry.samples)
        asked = Asked(entry.quantity, samples, entry.held, entry.hold)
        return Response(TakenSerializer(take(found, asked)).data)


@dataclass(frozen=True, slots=True)
class HeardAnswer:
    """Lines that a meter printed."""

    lines: Sequence[str]
    lost: str


class MeterHeard(APIView):
    """Listening to a meter that prints lines."""

    roles = {"POST": BENCH}

    @extend_schema(request=None, responses=shape(HeardAnswer))
    def post(self, request: Request, meter: int) -> Response:
        """Some lines as they come, to be taught; `lost` says why there are none."""
        found = get_object_or_404(Meter, pk=meter)
        if not found.address.startswith("serial:"):
            raise Problem(
                422,
                "no-lines",
                gettext(
                    "found {address}, expected a serial port's", address=repr(found.address or gettext("no address"))
                ),
            )
        try:
            lines, lost = listen(found), ""
        except OSError as error:
            lines, lost = [], gettext("Nothing was heard of {name} ({error}).", name=found.name, error=error)
        return Response(
            HeardAnswer(lines=lines, lost=lost or ("" if lines else gettext("{name} prints nothing.", name=found.name)))
        )


class MeterMarkSerializer(serializers.Serializer[Any]):
    """Marked words of a line: where they stand, and what they are."""

    line = serializers.IntegerField(min_value=0, max_value=MOST_LINES)
    start = serializers.IntegerField(min_value=0, max_value=LONGEST_LINE)
    end = serializers.IntegerField(min_value=0, max_value=LONGEST_LINE)
    column = serializers.ChoiceField(choices=COLUMNS)


@dataclass(frozen=True, slots=True)
class TeachMeterRequest:
    """A sample of lines and what is marked in them; `unit` where the meter prints none."""

    sample: Annotated[str, given(max_length=40000, trim_whitespace=False)]
    marks: Annotated[Sequence[Any], declared(MeterMarkSerializer(many=True))]
    unit: Annotated[str, given(max_length=8, allow_blank=True)] = ""


@dataclass(frozen=True, slots=True)
class LineReadAnswer:
    """A line of the sample and how it is read; empty where it is not."""

    text: str
    says: str


@dataclass(frozen=True, slots=True)
class TaughtMeterAnswer:
    """The reader that was learned, and the sample as it reads it."""

    reader: Any
    lines: Sequence[LineReadAnswer]


class TaughtMeters(APIView):
    """Teaching a meter's lines."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(TeachMeterRequest), responses=shape(TaughtMeterAnswer))
    def post(self, request: Request) -> Response:
        """Learn a reader and show what it makes of the sample; nothing is kept."""
        asked = entry_of(request, TeachMeterRequest)
        marks = [MeterMark(**mark) for mark in asked.marks]
        document = teach_meter(asked.sample, marks, asked.unit)
        reader = read_meter_reader(document)
        lines = [
            LineReadAnswer(text=text, says=_said(reader.read(text))) for text in asked.sample.splitlines()[:MOST_LINES]
        ]
        return Response(TaughtMeterAnswer(reader=document, lines=lines))


def _said(line: MeterLine | None) -> str:
    if line is None:
        return ""
    quantity: Quantity = line.quantity or "resistance"
    return shown(Value(line.value, line.value), quantity)


class MeterCheckSerializer(serializers.ModelSerializer[MeterCheck]):
    """A meter checked."""

    kind = serializers.ChoiceField(choices=KINDS)
    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = MeterCheck
        fields = ["id", "kind", "text", "passed", "says", "by", "at"]


@dataclass(frozen=True, slots=True)
class NewMeterCheck:
    """A check to enter: what the meter showed, in shop notation, its leads included."""

    id: UUID
    kind: Annotated[Kind, chosen(KINDS)]
    value: Annotated[str, given(max_length=40)]


MOST_CHECKS = 60


class MeterChecks(APIView):
    """Checks of a meter."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=MeterCheckSerializer(many=True), operation_id="meter_checks")
    def get(self, request: Request, meter: int) -> Response:
        """The newest first."""
        found = get_object_or_404(Meter, pk=meter)
        rows = found.checks.select_related("by").order_by("-at", "-pk")[:MOST_CHECKS]
        return Response(MeterCheckSerializer(rows, many=True).data)

    @extend_schema(
        request=shape(NewMeterCheck),
        responses={201: MeterCheckSerializer, 200: MeterCheckSerializer},
        operation_id="meter_check",
    )
    def post(self, request: Request, meter: int) -> Response:
        """Enter one."""
        found, asked = get_object_or_404(Meter, pk=meter), entry_of(request, NewMeterCheck)
        row, new = check_meter(found, asked.id, asked.kind, asked.value, person(request))
        return Response(MeterCheckSerializer(row).data, 201 if new else 200)


@dataclass(frozen=True, slots=True)
class CapturedPointAnswer:
    """A point of a captured card, and what it read there."""

    point: str
    text: str


@dataclass(frozen=True, slots=True)
class CapturedCardAnswer:
    """A captured good card that may serve as a standard."""

    id: UUID
    card: str
    board: str
    points: Sequence[CapturedPointAnswer]


@dataclass(frozen=True, slots=True)
class StandardAnswer:
    """What meters are held against in the morning, and the cards there are; `kinds` are the checks that it allows."""

    resistor_ohms: float | None
    tolerance: float
    reference: UUID | None
    card: str
    point: str
    kinds: Annotated[Sequence[str], chosen(KINDS)]
    cards: Sequence[CapturedCardAnswer]


class MorningStandards(APIView):
    """The standard of the morning check."""

    roles = {"GET": EVERYONE, "PUT": LEAD}

    @extend_schema(responses=shape(StandardAnswer))
    def get(self, request: Request) -> Response:
        """As it stands."""
        held = standard()
        cards = ReferenceCard.objects.prefetch_related("readings")
        return Response(
            StandardAnswer(
                resistor_ohms=held.resistor_ohms if held else None,
                tolerance=held.tolerance if held else USUAL_TOLERANCE,
                reference=held.reference_id if held else None,
                card=held.reference.card if held and held.reference else "",
                point=held.point if held else "",
                kinds=kinds_kept(held),
                cards=[_captured_card(card) for card in cards],
            )
        )

    @extend_schema(request=shape(NewStandard), responses=shape(StandardAnswer), operation_id="morning_standard_set")
    def put(self, request: Request) -> Response:
        """Set it."""
        set_standard(entry_of(request, NewStandard), person(request))
        return self.get(request)


def _captured_card(card: ReferenceCard) -> CapturedCardAnswer:
    points = [
        CapturedPointAnswer(point=reading.point, text=reading.text)
        for reading in card.readings.all()
        if reading.out_at is None and reading.to == "ground" and reading.quantity == "resistance"
    ]
    return CapturedCardAnswer(id=card.pk, card=card.card, board=card.board, points=points)
