"""Fellows: balls of chips, slot contacts; ball maps as chips lie."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any, get_args
from uuid import UUID

from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.ballmap import BallMapView, Corner, Direction, ball_map_views
from uvrix.core.boards.contacts import NOTCH, Kind, spot_of
from uvrix.core.boards.packages import CLASSES, ball_map
from uvrix.core.readings.balls import STATES
from uvrix.core.readings.lifting import ANSWERS, WORDS, Lifted
from uvrix.core.readings.notation import QUANTITIES, Quantity, Value, shown, shown_number
from uvrix.core.readings.verdict import Verdict
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.config.shapes import chosen, declared, given, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import model_board, packages
from uvrix.shop.ohms.chips import ChipsContext, OddBall, SplitBall, chips_context
from uvrix.shop.ohms.queries import core_reading, reading_context, value_of
from uvrix.shop.ohms.slots import JobSlot, job_slot

VERDICTS = list(get_args(Verdict))
DIRECTIONS, CORNERS = list(get_args(Direction)), list(get_args(Corner))
CLOCK = ["works", "open", "short", "odd", "not read", "torn"]


@dataclass(frozen=True, slots=True)
class BallReadAnswer:
    """A reading at a ball, null over-limit: in circuit, on the pads or on the chip alone; judged by its fellows."""

    id: UUID
    chip: str
    pin: str
    state: Annotated[str, chosen(STATES)]
    quantity: Annotated[str, chosen(list(QUANTITIES))]
    polarity: str
    value: float | None
    shown: str
    verdict: Annotated[str, chosen(VERDICTS)]
    why: str
    by: str
    at: datetime


@dataclass(frozen=True, slots=True)
class LiftedAnswer:
    """What became of an odd value of a chip once it was lifted, or what to lift."""

    chip: str
    answer: Annotated[str, chosen(ANSWERS)]
    words: str
    says: str


@dataclass(frozen=True, slots=True)
class OddBallAnswer:
    """An odd value at a ball; `shared` where several chips show it."""

    pin: str
    signal: str
    chips: Sequence[str]
    shown: str
    peers: str
    shared: bool
    verdict: Annotated[str, chosen(VERDICTS)]
    lifted: Sequence[LiftedAnswer]


@dataclass(frozen=True, slots=True)
class SplitGroupAnswer:
    """One of two groups of a ball's chips."""

    shown: str
    chips: Sequence[str]


@dataclass(frozen=True, slots=True)
class SplitBallAnswer:
    """A ball whose chips fall into two groups: neither is the odd one, all are suspects."""

    pin: str
    signal: str
    groups: Sequence[SplitGroupAnswer]
    why: str
    lifted: Sequence[LiftedAnswer]


class ChipAtSerializer(serializers.Serializer[Any]):
    """A chip that may be read ball by ball."""

    designator = serializers.CharField()
    kind = serializers.CharField(allow_blank=True)
    package = serializers.CharField(allow_blank=True)
    side = serializers.ChoiceField(choices=["front", "back"])
    lifted = serializers.BooleanField()
    read = serializers.IntegerField()


@dataclass(frozen=True, slots=True)
class ChipsAnswer:
    """Same pin, other chip."""

    balls: Sequence[BallReadAnswer]
    odd: Sequence[OddBallAnswer]
    split: Sequence[SplitBallAnswer]
    strangers: Sequence[str]
    chips: Annotated[Iterable[Any], declared(ChipAtSerializer(many=True))]


def _chips(found: ChipsContext) -> ChipsAnswer:
    balls = [
        BallReadAnswer(
            id=row.pk,
            chip=judgement.chip,
            pin=judgement.pin,
            state=judgement.state,
            quantity=row.quantity,
            polarity=row.polarity,
            value=value_of(row).middle,
            shown=shown(value_of(row), core_reading(row).quantity),
            verdict=judgement.verdict,
            why=judgement.why,
            by=row.by.shown_name,
            at=row.at,
        )
        for row, judgement in found.balls
    ]
    names = ("designator", "kind", "package", "side", "lifted", "read")
    chips = [{name: getattr(chip, name) for name in names} for chip in found.chips]
    package_of = {chip.designator: chip.package for chip in found.chips}
    return ChipsAnswer(
        balls=balls,
        odd=[_odd(ball, found, package_of) for ball in found.odd],
        split=[_split(ball, package_of) for ball in found.split],
        strangers=list(found.strangers),
        chips=chips,
    )


def _split(split_ball: SplitBall, package_of: dict[str, str]) -> SplitBallAnswer:
    split = split_ball.split
    package = packages().get(package_of.get(split.chips[0], ""))
    return SplitBallAnswer(
        pin=split.pin,
        signal=package.signals.get(split.pin, "") if package else "",
        groups=[
            SplitGroupAnswer(shown=_number(value, split.quantity), chips=list(chips)) for value, chips in split.groups
        ],
        why=split.why,
        lifted=[_after(each) for each in split_ball.lifted],
    )


def _odd(odd_ball: OddBall, found: ChipsContext, package_of: dict[str, str]) -> OddBallAnswer:
    odd = odd_ball.odd
    there = [by for _, by in found.balls if (by.chip, by.pin, by.state) == (odd.chips[0], odd.pin, "in circuit")]
    first = next((by for by in there if by.odd), there[0])
    quantity: Quantity = first.reading.quantity
    package = packages().get(package_of.get(odd.chips[0], ""))
    return OddBallAnswer(
        pin=odd.pin,
        signal=package.signals.get(odd.pin, "") if package else "",
        chips=list(odd.chips),
        shown=_number(odd.value, quantity),
        peers=_number(odd.peers, quantity),
        shared=odd.shared,
        verdict=first.verdict,
        lifted=[_after(each) for each in odd_ball.lifted],
    )


def _after(each: Lifted) -> LiftedAnswer:
    return LiftedAnswer(chip=each.chip, answer=each.answer, words=WORDS[each.answer], says=each.says)


def _number(value: float | None, quantity: Quantity) -> str:
    return "OL" if value is None else shown_number(value, quantity)


class JobChips(APIView):
    """Chips of a job, read ball by ball."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(ChipsAnswer))
    def get(self, request: Request, number: int) -> Response:
        """Every ball that was read, the odd ones, what lifting said."""
        return Response(_chips(chips_context(found_job(number))))


@dataclass(frozen=True, slots=True)
class BallOnMapAnswer:
    """A ball of the map: its signal and class, its column and row from ball A1's corner; `line` of a data line."""

    ball: str
    signal: str
    ball_class: Annotated[str, chosen(CLASSES)]
    column: int
    row: int
    line: int | None


@dataclass(frozen=True, slots=True)
class BallMapViewAnswer:
    """A view of the map: X = a*column + c*row, Y = b*column + d*row, Y down; the corner from which one counts."""

    side: Annotated[str, chosen(["front", "back"])]
    turns: int
    balls_up: bool
    matrix: Annotated[Sequence[float], given(min_length=4, max_length=4)]
    corner: Annotated[str, chosen(CORNERS)]
    rows: Annotated[str, chosen(DIRECTIONS)]
    columns: Annotated[str, chosen(DIRECTIONS)]


class BallMapSerializer(serializers.Serializer[Any]):
    """A site's ball map in each of its views; `lines` are the balls of its data lines in their order."""

    designator = serializers.CharField()
    package = serializers.CharField()
    side = serializers.ChoiceField(choices=["front", "back"])
    balls = shape(BallOnMapAnswer)(many=True)
    lines = serializers.ListField(child=serializers.CharField())
    views = shape(BallMapViewAnswer)(many=True)


def ball_map_view_answers(views: Iterable[BallMapView]) -> list[BallMapViewAnswer]:
    """The views of a ball map as answers."""
    return [
        BallMapViewAnswer(
            side=view.orientation.side,
            turns=view.orientation.turns,
            balls_up=view.balls_up,
            matrix=view.matrix,
            corner=view.corner,
            rows=view.rows,
            columns=view.columns,
        )
        for view in views
    ]


class SiteBallMap(APIView):
    """The ball map of a memory site."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=BallMapSerializer, operation_id="site_ball_map")
    def get(self, request: Request, slug: str, designator: str) -> Response:
        """404 where the model has no such site, or its package's balls are not known."""
        model = get_object_or_404(BoardModel.objects.select_related("newest"), slug=slug)
        board = model_board(model)
        site = board.by_designator.get(designator) if board else None
        package = packages().get(site.package or "") if site else None
        if board is None or site is None or package is None:
            raise Http404
        line_of = {ball: line for line, ball in package.lines.items()}
        balls = [
            BallOnMapAnswer(
                ball=ball.ball,
                signal=package.signals[ball.ball],
                ball_class=package.classes[ball.ball],
                column=ball.column,
                row=ball.row,
                line=line_of.get(ball.ball),
            )
            for ball in ball_map(package)
        ]
        views = ball_map_view_answers(ball_map_views(board, site))
        lines = [package.lines[line] for line in sorted(package.lines)]
        shown_now = {"designator": designator, "package": package.name, "side": site.side}
        return Response({**shown_now, "balls": balls, "lines": lines, "views": views})


class ContactSerializer(serializers.Serializer[Any]):
    """A slot contact: what it carries, and its place along the row, counted in contacts from the bracket.

    `used` is false of lanes that the board has not wired; `torn` is the finding that says so.
    """

    name = serializers.CharField()
    row = serializers.ChoiceField(choices=["A", "B"])
    number = serializers.IntegerField()
    place = serializers.IntegerField()
    kind = serializers.ChoiceField(choices=list(get_args(Kind)))
    carries = serializers.CharField()
    lane = serializers.IntegerField(allow_null=True)
    pair = serializers.CharField(allow_blank=True)
    half = serializers.CharField(allow_blank=True)
    used = serializers.BooleanField()
    torn = serializers.UUIDField(allow_null=True)


@dataclass(frozen=True, slots=True)
class ContactReadAnswer:
    """A reading at a contact, or on the core's side of its capacitor."""

    id: UUID
    point: str
    contact: str
    to: str
    quantity: Annotated[str, chosen(list(QUANTITIES))]
    shown: str
    verdict: Annotated[str, chosen(VERDICTS)]
    why: str
    by: str
    at: datetime


@dataclass(frozen=True, slots=True)
class LaneAnswer:
    """A lane in a word; empty where it was not read."""

    lane: int
    verdict: Annotated[str, chosen(["works", "open", "short", "odd", "torn", ""])]
    torn: Sequence[str]


class LinkWidthSerializer(serializers.Serializer[Any]):
    """The width that the link will train at: as read, and at best if the lanes that were not read work."""

    lanes_read = serializers.IntegerField()
    width = serializers.IntegerField()
    start = serializers.IntegerField()
    why = serializers.CharField()
    best_width = serializers.IntegerField()
    best_start = serializers.IntegerField()
    warnings = serializers.ListField(child=serializers.CharField())


@dataclass(frozen=True, slots=True)
class SlotAnswer:
    """The slot contacts of a job's card."""

    lanes: int
    notch: int
    contacts: Annotated[Iterable[Any], declared(ContactSerializer(many=True))]
    route: Sequence[str]
    readings: Sequence[ContactReadAnswer]
    verdicts: Sequence[LaneAnswer]
    clock: Annotated[str, chosen(CLOCK)]
    link: Annotated[Any, declared(LinkWidthSerializer())]
    notes: Sequence[str]
    located: bool


def _slot(found: JobSlot, *, located: bool) -> SlotAnswer:
    torn = {finding.part: str(finding.pk) for finding in found.torn}
    names = ("name", "row", "number", "place", "kind", "carries", "lane", "pair", "half")
    contacts = [
        {
            **{name: getattr(contact, name) for name in names},
            "used": contact.lane is None or contact.lane < found.lanes,
            "torn": torn.get(contact.name),
        }
        for contact in found.contacts
    ]
    readings = [
        ContactReadAnswer(
            id=row.pk,
            point=row.point,
            contact=row.point.split(".")[1],
            to=row.to,
            quantity=row.quantity,
            shown=shown(Value(row.low, row.high), core_reading(row).quantity),
            verdict=judged.verdict if judged else "no-reference",
            why=judged.why if judged else "",
            by=row.by.shown_name,
            at=row.at,
        )
        for row, judged in found.readings
    ]
    at, link = found.found, found.found.link
    verdicts = [
        LaneAnswer(
            lane=lane,
            verdict="torn" if lane in at.torn_lanes else link.lanes.get(lane, ""),
            torn=list(at.torn_lanes.get(lane, ())),
        )
        for lane in range(found.lanes)
    ]
    width = {"lanes_read": at.lanes_read, "width": link.width, "start": link.start, "why": link.why}
    width |= {"best_width": at.best_width, "best_start": at.best_start, "warnings": list(link.warnings)}
    return SlotAnswer(
        lanes=found.lanes,
        notch=NOTCH,
        contacts=contacts,
        route=list(found.route),
        readings=readings,
        verdicts=verdicts,
        clock=at.clock,
        link=width,
        notes=list(at.notes),
        located=located,
    )


class JobSlotContacts(APIView):
    """Slot contacts."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(SlotAnswer))
    def get(self, request: Request, number: int) -> Response:
        """Contacts, readings, torn ones, the width predicted."""
        job = found_job(number)
        found = job_slot(job)
        board = reading_context(job).board
        return Response(_slot(found, located=bool(board and spot_of(board, found.contacts[0]))))
