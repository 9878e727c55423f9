"""Stock: whether parts fit, values, lots and what they cost, donors."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass, replace
from typing import Annotated, Any
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.stock.donors import HALVES, QUESTIONS
from uvrix.core.stock.fits import Connector, substitutes
from uvrix.core.stock.settings import as_document
from uvrix.core.stock.values import SOURCES
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.clock.queries import money
from uvrix.shop.config.access import BENCH, EVERYONE, LEAD
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import declared, given, shape, written
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Card, Job, of_the_shop
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import model_board
from uvrix.shop.rework.api import FitsSerializer
from uvrix.shop.rework.queries import rework_context, settings_now
from uvrix.shop.stock.api import LABEL, asked_label
from uvrix.shop.stock.models import PartValue
from uvrix.shop.stock.parts import stock, stock_settings, whole_stock
from uvrix.shop.stock.queries import (
    AtDonor,
    bearing,
    connectors,
    donors,
    fit_of,
    judged_lots,
    matched,
    price,
    suspects_of,
    values_of,
)
from uvrix.shop.stock.services import (
    NewDonor,
    NewValue,
    SetMove,
    inspect,
    move_set,
    note_value,
    save_settings,
    take_donor,
    withdraw_value,
)


class JobFits(APIView):
    """Whether a part of the stock fits a place of a job's card."""

    roles = {"GET": EVERYONE}

    @extend_schema(parameters=[LABEL, OpenApiParameter("site", str, required=True)], responses=FitsSerializer)
    def get(self, request: Request, number: int) -> Response:
        """With the reasons."""
        label, site = asked_label(request), request.query_params.get("site", "").strip().replace("\0", "")
        fits = fit_of(found_job(number), site, label)
        if fits is None:
            raise Problem(
                422,
                "not-known",
                gettext("found nothing known of {label} or {site}, expected both described", label=label, site=site),
            )
        return Response(FitsSerializer(fits).data)


class SubstituteSerializer(serializers.Serializer[Any]):
    """A connector that may serve."""

    label = serializers.CharField(source="connector.name")  # type: ignore[assignment]  # a field, not DRF's label
    pitch_mm = serializers.FloatField(source="connector.pitch_mm")
    pins = serializers.IntegerField(source="connector.pins")
    rows = serializers.IntegerField(source="connector.rows")
    anchors = serializers.IntegerField(source="connector.anchors")
    seen_on = serializers.CharField(source="connector.seen_on", allow_blank=True)
    where = serializers.SerializerMethodField()
    fits = FitsSerializer()

    def get_where(self, substitute: Any) -> str:
        """Where it is."""
        life = self.context["stock"].lived([substitute.connector.name]).get(substitute.connector.name)
        return life.place.words if life else gettext("not in stock")


class Substitutes(APIView):
    """Connectors by what makes them fit."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        parameters=[
            OpenApiParameter("pitch_mm", float, required=True),
            OpenApiParameter("pins", int, required=True),
            OpenApiParameter("rows", int),
            OpenApiParameter("anchors", int),
        ],
        responses=SubstituteSerializer(many=True),
    )
    def get(self, request: Request) -> Response:
        """The likest first, with what agrees and what does not."""
        asked = AskedConnectorSerializer(data=request.query_params)
        asked.is_valid(raise_exception=True)
        at, said = stock(), asked.validated_data
        wanted = Connector("wanted", said["pitch_mm"], said["pins"], said["rows"], said["anchors"])
        found = substitutes(wanted, [connector for _, connector in connectors()])
        return Response(SubstituteSerializer(found, many=True, context={"stock": at}).data)


class AskedConnectorSerializer(serializers.Serializer[Any]):
    """The connector that a substitute is sought for."""

    pitch_mm = serializers.FloatField(min_value=0.1, max_value=50)
    pins = serializers.IntegerField(min_value=1, max_value=1000)
    rows = serializers.IntegerField(min_value=1, max_value=10, default=1)
    anchors = serializers.IntegerField(min_value=0, max_value=20, default=0)


class BearerSerializer(serializers.Serializer[Any]):
    """A part of a board that bears a marking, and the donors that still have it on."""

    model = serializers.CharField()
    slug = serializers.CharField()
    designator = serializers.CharField(source="part.designator")
    kind = serializers.CharField(source="part.kind")
    side = serializers.CharField(source="part.side")
    donors = serializers.ListField(child=serializers.CharField())


class MarkingBearers(APIView):
    """Where a marking sits."""

    roles = {"GET": EVERYONE}

    @extend_schema(parameters=[OpenApiParameter("marking", str, required=True)], responses=BearerSerializer(many=True))
    def get(self, request: Request) -> Response:
        """Over all drawn boards, donors named."""
        marking = request.query_params.get("marking", "").replace("\0", "")
        return Response(BearerSerializer(bearing(marking, whole_stock()), many=True).data)


class NotedSerializer(serializers.Serializer[Any]):
    """A value of a part with its source."""

    id = serializers.CharField()
    text = serializers.CharField()
    origin = serializers.ChoiceField(choices=list(SOURCES), source="source")
    words = serializers.SerializerMethodField()
    of = serializers.CharField(allow_blank=True)
    by = serializers.CharField()
    at = serializers.DateTimeField()

    def get_words(self, noted: Any) -> str:
        """Where it is from, in words."""
        return SOURCES[noted.source] + (f" {noted.of}" if noted.of else "")


class KnownValueSerializer(serializers.Serializer[Any]):
    """What is known of a part: values, the one to go by, what disagrees."""

    designator = serializers.CharField()
    best = serializers.CharField(source="best.text", default="")
    values = NotedSerializer(many=True)
    conflicts = serializers.ListField(child=serializers.CharField())


@dataclass(frozen=True, slots=True)
class WantedValueAnswer:
    """A part whose value is asked for, because it is burnt or missing on a card."""

    designator: str
    why: str
    job: int
    label: str


@dataclass(frozen=True, slots=True)
class ModelValuesAnswer:
    """The values of a model's parts, and those that are asked for."""

    model: str
    parts: Sequence[str]
    values: Annotated[Iterable[Any], declared(KnownValueSerializer(many=True))]
    wanted: Sequence[WantedValueAnswer]


# What is seen of a part that makes its value needed (core.look.findings).
GONE = {"burn": "burnt", "missing-part": "missing", "crooked-part": "cracked", "package": "bubbled"}


def values_shape(model: BoardModel) -> Any:
    """What `ModelValuesAnswer` says of a model."""
    from uvrix.shop.look.models import LookFinding

    found, board = values_of(model), model_board(model)
    gone = LookFinding.objects.filter(job__card__model=model, job__closed_at=None, kind__in=GONE, withdrawal=None)
    seen = of_the_shop(gone).exclude(part="")
    wanted = [
        WantedValueAnswer(designator=finding.part, why=GONE[finding.kind], job=finding.job_id, label=finding.job.label)
        for finding in seen.select_related("job")
        if finding.part not in found and not (board and finding.part in board.by_designator)
    ]
    parts = sorted(part.designator for part in board.parts) if board else []
    return written(ModelValuesAnswer(model=str(model), parts=parts, values=list(found.values()), wanted=wanted))


@dataclass(frozen=True, slots=True)
class NewValueRequest(NewValue):
    """A value to note; `job` is the number of the job at which it was read."""

    job: int | None = None


class ModelValues(APIView):
    """Values and notes of a model's parts."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=shape(ModelValuesAnswer))
    def get(self, request: Request, slug: str) -> Response:
        """As they stand."""
        return Response(values_shape(get_object_or_404(BoardModel, slug=slug)))

    @extend_schema(
        request=shape(NewValueRequest), responses={201: shape(ModelValuesAnswer), 200: shape(ModelValuesAnswer)}
    )
    def post(self, request: Request, slug: str) -> Response:
        """Note one."""
        model, entry = get_object_or_404(BoardModel, slug=slug), entry_of(request, NewValueRequest)
        job = found_job(entry.job) if entry.job is not None else None
        _, new = note_value(model, entry, job, person(request))
        return Response(values_shape(model), 201 if new else 200)


class ValueWithdrawn(APIView):
    """Taking back a value."""

    roles = {"POST": BENCH}

    @extend_schema(request=None, responses=shape(ModelValuesAnswer))
    def post(self, request: Request, value: str) -> Response:
        """Withdraw the value: it stays in the record and no longer counts."""
        found = get_object_or_404(PartValue.objects.select_related("model__newest"), pk=value)
        withdraw_value(found, person(request))
        return Response(values_shape(found.model))


class LotSerializer(serializers.Serializer[Any]):
    """A lot against the shop's others."""

    lot = serializers.CharField()
    seen = serializers.IntegerField()
    failed = serializers.IntegerField()
    share = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    worse = serializers.FloatField()
    suspect = serializers.BooleanField()
    why = serializers.CharField()
    chips = serializers.ListField(child=serializers.CharField())


@dataclass(frozen=True, slots=True)
class LotsAnswer:
    """Every lot, and the shop's settings for lots and prices."""

    lots: Annotated[Iterable[Any], declared(LotSerializer(many=True))]
    settings: Any
    currency: str


def lots_shape() -> Any:
    """Every lot of which a chip was seen, the worst first."""
    at = stock()
    chips: dict[str, list[str]] = {}
    for label, lot in sorted(at.lots.items()):
        chips.setdefault(lot, []).append(label)
    rows = [{**asdict(judgement), "chips": chips[judgement.lot]} for judgement in judged_lots(at)]
    shown = LotsAnswer(lots=rows, settings=as_document(at.settings), currency=money().currency)
    return written(shown)


class Lots(APIView):
    """Lots of memory chips."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(LotsAnswer))
    def get(self, request: Request) -> Response:
        """By the shop's own outcomes."""
        return Response(lots_shape())


class ShopStockSerializer(serializers.Serializer[Any]):
    """The shop's settings for stock."""

    document = DocumentField()


class ShopStock(APIView):
    """How lots are read, prices, when to order."""

    roles = {"GET": EVERYONE, "PUT": LEAD}

    @extend_schema(responses=ShopStockSerializer)
    def get(self, request: Request) -> Response:
        """As they stand."""
        return Response({"document": as_document(stock_settings())})

    @extend_schema(request=ShopStockSerializer, responses=ShopStockSerializer)
    def put(self, request: Request) -> Response:
        """Set them."""
        save_settings(entry_of(request, ShopStockSerializer)["document"], person(request))
        return self.get(request)


class OptionSerializer(serializers.Serializer[Any]):
    """A way to repair, priced."""

    name = serializers.CharField()
    sites = serializers.ListField(child=serializers.CharField())
    price = serializers.FloatField()
    fails = serializers.FloatField()
    expected = serializers.FloatField()
    why = serializers.CharField()


@dataclass(frozen=True, slots=True)
class PricedAnswer:
    """One chip or all; no options where the board is not drawn or no chip is suspected."""

    failed: Sequence[str]
    options: Annotated[Iterable[Any], declared(OptionSerializer(many=True))]
    lots: Sequence[str]
    unread: Sequence[str]
    currency: str


class JobOneOrAll(APIView):
    """The failed chips alone, or all of the board."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        parameters=[OpenApiParameter("failed", str, description="Places, joined by commas; else what is marked")],
        responses=shape(PricedAnswer),
    )
    def get(self, request: Request, number: int) -> Response:
        """Replacing one chip and replacing all of them, priced and explained."""
        job = found_job(number)
        return Response(_priced(job, request.query_params.get("failed", "")))


def _priced(job: Job, asked: str) -> Any:
    rework = rework_context(job)
    named = tuple(name.strip() for name in asked.split(",") if name.strip())
    known = {site.designator for site in rework.sites}
    if lacking := [name for name in named if name not in known]:
        raise Problem(
            422, "no-place", gettext("found {lacking}, expected places of the board", lacking=repr(lacking[0]))
        )
    found = price(job, named or suspects_of(rework, job), stock())
    shown = PricedAnswer(failed=named, options=[], lots=[], unread=[], currency=money().currency)
    if found:
        shown = replace(shown, failed=found.failed, options=found.options, lots=found.lots, unread=found.unread)
    return written(shown)


class DonorSerializer(serializers.Serializer[Any]):
    """A donor: its inspection, what it serves for, what was taken off it."""

    serial = serializers.CharField(source="donor.card.serial")
    model = serializers.CharField(source="donor.card.model.__str__")
    board_model = serializers.CharField(source="donor.card.model.slug")
    job = serializers.IntegerField(source="donor.job_id")
    origin = serializers.CharField(source="donor.origin")
    at = serializers.DateTimeField(source="donor.at")
    judged = serializers.ChoiceField(choices=["accepted", "open", "refused"], source="judged.verdict")
    why = serializers.ListField(child=serializers.CharField(), source="judged.why")
    serves = serializers.ListField(child=serializers.CharField(), source="judged.serves")
    answers = serializers.DictField(child=serializers.BooleanField(), source="inspection.answers")
    missing = serializers.ListField(child=serializers.CharField(), source="inspection.missing")
    moved = serializers.ListField(child=serializers.CharField(), source="inspection.moved")
    repaired = serializers.ListField(child=serializers.CharField(), source="inspection.repaired")
    core = serializers.ChoiceField(choices=HALVES, source="inspection.core")
    board = serializers.ChoiceField(choices=HALVES, source="inspection.board")
    memory = serializers.ChoiceField(choices=HALVES, source="inspection.memory")
    gone = serializers.ListField(child=serializers.CharField())


class MatchSerializer(serializers.Serializer[Any]):
    """A core of one card for the board of another."""

    core_from = serializers.CharField()
    board_from = serializers.CharField()
    together = serializers.CharField()
    sure = serializers.BooleanField()
    why = serializers.ListField(child=serializers.CharField())


@dataclass(frozen=True, slots=True)
class InspectionQuestionAnswer:
    """A question of the inspection."""

    key: str
    words: str


@dataclass(frozen=True, slots=True)
class DonorsAnswer:
    """Donors, halves matched, what an inspection asks."""

    donors: Annotated[Iterable[Any], declared(DonorSerializer(many=True))]
    matches: Annotated[Iterable[Any], declared(MatchSerializer(many=True))]
    questions: Sequence[InspectionQuestionAnswer]


def donors_shape() -> Any:
    """Every donor and every match."""
    at = stock()
    every: list[AtDonor] = donors(at)
    matches = matched(at, settings_now().limits.chip_cycles)
    questions = [InspectionQuestionAnswer(key=key, words=words) for key, words in QUESTIONS.items()]
    return written(DonorsAnswer(donors=every, matches=matches, questions=questions))


class Donors(APIView):
    """Cards that give parts."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=shape(DonorsAnswer))
    def get(self, request: Request) -> Response:
        """Every donor, with halves that match."""
        return Response(donors_shape())

    @extend_schema(request=shape(NewDonor), responses={201: shape(DonorsAnswer), 200: shape(DonorsAnswer)})
    def post(self, request: Request) -> Response:
        """Take one in."""
        _, new = take_donor(entry_of(request, NewDonor), person(request))
        return Response(donors_shape(), 201 if new else 200)


class InspectionSerializer(serializers.Serializer[Any]):
    """What an inspection found."""

    entry = serializers.UUIDField()
    answers = serializers.DictField(child=serializers.BooleanField())
    missing = serializers.ListField(child=serializers.CharField(max_length=80), max_length=200)
    moved = serializers.ListField(child=serializers.CharField(max_length=80), max_length=200)
    repaired = serializers.ListField(child=serializers.CharField(max_length=80), max_length=400)
    core = serializers.ChoiceField(choices=HALVES)
    board = serializers.ChoiceField(choices=HALVES)
    memory = serializers.ChoiceField(choices=HALVES)


class CardInspections(APIView):
    """Inspections of a card's halves, donor or on the bench."""

    roles = {"POST": BENCH}

    @extend_schema(request=InspectionSerializer, responses={201: shape(DonorsAnswer), 200: shape(DonorsAnswer)})
    def post(self, request: Request, serial: str) -> Response:
        """Keep one."""
        card, entry = get_object_or_404(Card, serial=serial), entry_of(request, InspectionSerializer)
        key = entry.pop("entry")
        _, new = inspect(card, key, entry, person(request))
        return Response(donors_shape(), 201 if new else 200)


@dataclass(frozen=True, slots=True)
class SetMoveRequest:
    """A set to move from one job's card to another's."""

    entry: UUID
    giver: int
    taker: int
    sites: Annotated[Sequence[str], given(min_length=1, max_length=64, child_kwargs={"max_length": 80})]
    reason: Annotated[str, given(max_length=150)]
    goes_along: Annotated[
        bool, given(help_text="The giver's job goes on with the taker's board, a donor's until now.")
    ] = False


@dataclass(frozen=True, slots=True)
class SetMovedAnswer:
    """The parts that moved."""

    moved: Sequence[str]


class SetMoves(APIView):
    """Core and memory moved as a set."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(SetMoveRequest), responses={201: shape(SetMovedAnswer)})
    def post(self, request: Request) -> Response:
        """Move the whole set, or nothing."""
        asked = entry_of(request, SetMoveRequest)
        giver, taker = found_job(asked.giver), found_job(asked.taker)
        move = SetMove(asked.entry, giver, taker, asked.sites, asked.reason, asked.goes_along)
        moved = move_set(move, person(request))
        return Response(SetMovedAnswer(moved=moved), 201)
