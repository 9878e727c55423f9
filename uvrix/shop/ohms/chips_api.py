"""Fellows: balls of chips, slot contacts; ball maps as chips lie."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, get_args

from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.ballmap import Corner, Direction, Lying, lyings
from uvrix.core.boards.contacts import NOTCH, Kind, spot_of
from uvrix.core.boards.packages import CLASSES, ball_map
from uvrix.core.readings.balls import STATES
from uvrix.core.readings.lifting import ANSWERS, WORDS, Lifted
from uvrix.core.readings.notation import QUANTITIES, Quantity, Value, shown, shown_number
from uvrix.core.readings.verdict import Verdict
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.jobs.api import found_job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import model_board, packages
from uvrix.shop.ohms.chips import ChipsContext, OddBall, SplitBall, chips_context
from uvrix.shop.ohms.queries import core_reading, reading_context, value_of
from uvrix.shop.ohms.slots import JobSlot, job_slot

VERDICTS = list(get_args(Verdict))
DIRECTIONS, CORNERS = list(get_args(Direction)), list(get_args(Corner))
CLOCK = ["works", "open", "short", "odd", "not read", "torn"]


class BallReadSerializer(serializers.Serializer[Any]):
    """A reading at a ball, null over-limit: in circuit, on the pads or on the chip alone; judged by its fellows."""

    id = serializers.UUIDField()
    chip = serializers.CharField()
    pin = serializers.CharField()
    state = serializers.ChoiceField(choices=STATES)
    quantity = serializers.ChoiceField(choices=list(QUANTITIES))
    polarity = serializers.CharField(allow_blank=True)
    value = serializers.FloatField(allow_null=True)
    shown = serializers.CharField()
    verdict = serializers.ChoiceField(choices=VERDICTS)
    why = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class LiftedSerializer(serializers.Serializer[Any]):
    """What became of an odd value of a chip once it was lifted, or what to lift."""

    chip = serializers.CharField()
    answer = serializers.ChoiceField(choices=ANSWERS)
    words = serializers.CharField()
    says = serializers.CharField()


class OddBallSerializer(serializers.Serializer[Any]):
    """An odd value at a ball; `shared` where several chips show it."""

    pin = serializers.CharField()
    signal = serializers.CharField(allow_blank=True)
    chips = serializers.ListField(child=serializers.CharField())
    shown = serializers.CharField()
    peers = serializers.CharField()
    shared = serializers.BooleanField()
    verdict = serializers.ChoiceField(choices=VERDICTS)
    lifted = LiftedSerializer(many=True)


class SplitGroupSerializer(serializers.Serializer[Any]):
    """One of two groups of a ball's chips."""

    shown = serializers.CharField()
    chips = serializers.ListField(child=serializers.CharField())


class SplitBallSerializer(serializers.Serializer[Any]):
    """A ball whose chips fall into two groups: neither is the odd one, all are suspects."""

    pin = serializers.CharField()
    signal = serializers.CharField(allow_blank=True)
    groups = SplitGroupSerializer(many=True)
    why = serializers.CharField()
    lifted = LiftedSerializer(many=True)


class ChipAtSerializer(serializers.Serializer[Any]):
    """A chip that may be read ball by ball."""

    designator = serializers.CharField()
    kind = serializers.CharField(allow_blank=True)
    package = serializers.CharField(allow_blank=True)
    side = serializers.ChoiceField(choices=["front", "back"])
    lifted = serializers.BooleanField()
    read = serializers.IntegerField()


class ChipsSerializer(serializers.Serializer[Any]):
    """Same pin, other chip."""

    balls = BallReadSerializer(many=True)
    odd = OddBallSerializer(many=True)
    split = SplitBallSerializer(many=True)
    strangers = serializers.ListField(child=serializers.CharField())
    chips = ChipAtSerializer(many=True)


_AT = serializers.DateTimeField()


def _chips(found: ChipsContext) -> dict[str, Any]:
    balls = [
        {
            "id": str(row.pk),
            "chip": judgement.chip,
            "pin": judgement.pin,
            "state": judgement.state,
            "quantity": row.quantity,
            "polarity": row.polarity,
            "value": value_of(row).middle,
            "shown": shown(value_of(row), core_reading(row).quantity),
            "verdict": judgement.verdict,
            "why": judgement.why,
            "by": row.by.shown_name,
            "at": _AT.to_representation(row.at),
        }
        for row, judgement in found.balls
    ]
    names = ("designator", "kind", "package", "side", "lifted", "read")
    chips = [{name: getattr(chip, name) for name in names} for chip in found.chips]
    package_of = {chip.designator: chip.package for chip in found.chips}
    return {
        "balls": balls,
        "odd": [_odd(ball, found, package_of) for ball in found.odd],
        "split": [_split(ball, package_of) for ball in found.split],
        "strangers": list(found.strangers),
        "chips": chips,
    }


def _split(one: SplitBall, package_of: dict[str, str]) -> dict[str, Any]:
    split = one.split
    package = packages().get(package_of.get(split.chips[0], ""))
    return {
        "pin": split.pin,
        "signal": package.signals.get(split.pin, "") if package else "",
        "groups": [{"shown": _number(value, split.quantity), "chips": list(chips)} for value, chips in split.groups],
        "why": split.why,
        "lifted": [_after(each) for each in one.lifted],
    }


def _odd(one: OddBall, found: ChipsContext, package_of: dict[str, str]) -> dict[str, Any]:
    odd = one.odd
    there = [by for _, by in found.balls if (by.chip, by.pin, by.state) == (odd.chips[0], odd.pin, "in circuit")]
    first = next((by for by in there if by.odd), there[0])
    quantity: Quantity = first.reading.quantity
    package = packages().get(package_of.get(odd.chips[0], ""))
    return {
        "pin": odd.pin,
        "signal": package.signals.get(odd.pin, "") if package else "",
        "chips": list(odd.chips),
        "shown": _number(odd.value, quantity),
        "peers": _number(odd.peers, quantity),
        "shared": odd.shared,
        "verdict": first.verdict,
        "lifted": [_after(each) for each in one.lifted],
    }


def _after(each: Lifted) -> dict[str, str]:
    return {"chip": each.chip, "answer": each.answer, "words": WORDS[each.answer], "says": each.says}


def _number(value: float | None, quantity: Quantity) -> str:
    return "OL" if value is None else shown_number(value, quantity)


class JobChips(APIView):
    """Chips of a job, read ball by ball."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=ChipsSerializer)
    def get(self, request: Request, number: int) -> Response:
        """Every ball that was read, the odd ones, what lifting said."""
        return Response(_chips(chips_context(found_job(number))))


class BallOnMapSerializer(serializers.Serializer[Any]):
    """A ball of the map: its signal and class, its column and row from ball A1's corner; `line` of a data line."""

    ball = serializers.CharField()
    signal = serializers.CharField(allow_blank=True)
    ball_class = serializers.ChoiceField(choices=CLASSES)
    column = serializers.IntegerField()
    row = serializers.IntegerField()
    line = serializers.IntegerField(allow_null=True)


class LyingSerializer(serializers.Serializer[Any]):
    """How the map lies: X = a*column + c*row, Y = b*column + d*row, Y down; the corner from which one counts."""

    side = serializers.ChoiceField(choices=["front", "back"])
    turns = serializers.IntegerField()
    balls_up = serializers.BooleanField()
    matrix = serializers.ListField(child=serializers.FloatField(), min_length=4, max_length=4)
    corner = serializers.ChoiceField(choices=CORNERS)
    rows = serializers.ChoiceField(choices=DIRECTIONS)
    columns = serializers.ChoiceField(choices=DIRECTIONS)


class BallMapSerializer(serializers.Serializer[Any]):
    """A site's ball map as it lies; `lines` are the balls of its data lines in their order."""

    designator = serializers.CharField()
    package = serializers.CharField()
    side = serializers.ChoiceField(choices=["front", "back"])
    balls = BallOnMapSerializer(many=True)
    lines = serializers.ListField(child=serializers.CharField())
    lies = LyingSerializer(many=True)


def lies_shape(lies: Iterable[Lying]) -> list[dict[str, Any]]:
    """Ways that a ball map lies, as `LyingSerializer` says them."""
    return [
        {
            "side": lie.lie.side,
            "turns": lie.lie.turns,
            "balls_up": lie.balls_up,
            "matrix": lie.matrix,
            "corner": lie.corner,
            "rows": lie.rows,
            "columns": lie.columns,
        }
        for lie in lies
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
            {
                "ball": ball.ball,
                "signal": package.signals[ball.ball],
                "ball_class": package.classes[ball.ball],
                "column": ball.column,
                "row": ball.row,
                "line": line_of.get(ball.ball),
            }
            for ball in ball_map(package)
        ]
        lies = lies_shape(lyings(board, site))
        lines = [package.lines[line] for line in sorted(package.lines)]
        shown_now = {"designator": designator, "package": package.name, "side": site.side}
        return Response({**shown_now, "balls": balls, "lines": lines, "lies": lies})


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


class ContactReadSerializer(serializers.Serializer[Any]):
    """A reading at a contact, or on the core's side of its capacitor."""

    id = serializers.UUIDField()
    point = serializers.CharField()
    contact = serializers.CharField()
    to = serializers.CharField()
    quantity = serializers.ChoiceField(choices=list(QUANTITIES))
    shown = serializers.CharField()
    verdict = serializers.ChoiceField(choices=VERDICTS)
    why = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class LaneSerializer(serializers.Serializer[Any]):
    """A lane in a word; empty where it was not read."""

    lane = serializers.IntegerField()
    verdict = serializers.ChoiceField(choices=["works", "open", "short", "odd", "torn", ""])
    torn = serializers.ListField(child=serializers.CharField())


class LinkWidthSerializer(serializers.Serializer[Any]):
    """The width that the link will train at: as read, and at best if the lanes that were not read work."""

    lanes_read = serializers.IntegerField()
    width = serializers.IntegerField()
    start = serializers.IntegerField()
    why = serializers.CharField()
    best_width = serializers.IntegerField()
    best_start = serializers.IntegerField()
    warnings = serializers.ListField(child=serializers.CharField())


class SlotSerializer(serializers.Serializer[Any]):
    """The slot contacts of a job's card."""

    lanes = serializers.IntegerField()
    notch = serializers.IntegerField()
    contacts = ContactSerializer(many=True)
    route = serializers.ListField(child=serializers.CharField())
    readings = ContactReadSerializer(many=True)
    verdicts = LaneSerializer(many=True)
    clock = serializers.ChoiceField(choices=CLOCK)
    link = LinkWidthSerializer()
    notes = serializers.ListField(child=serializers.CharField())
    located = serializers.BooleanField()


def _slot(found: JobSlot, *, located: bool) -> dict[str, Any]:
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
        {
            "id": str(row.pk),
            "point": row.point,
            "contact": row.point.split(".")[1],
            "to": row.to,
            "quantity": row.quantity,
            "shown": shown(Value(row.low, row.high), core_reading(row).quantity),
            "verdict": judged.verdict if judged else "no-reference",
            "why": judged.why if judged else "",
            "by": row.by.shown_name,
            "at": _AT.to_representation(row.at),
        }
        for row, judged in found.readings
    ]
    at, link = found.found, found.found.link
    verdicts = [
        {
            "lane": lane,
            "verdict": "torn" if lane in at.torn_lanes else link.lanes.get(lane, ""),
            "torn": list(at.torn_lanes.get(lane, ())),
        }
        for lane in range(found.lanes)
    ]
    width = {"lanes_read": at.lanes_read, "width": link.width, "start": link.start, "why": link.why}
    width |= {"best_width": at.best_width, "best_start": at.best_start, "warnings": list(link.warnings)}
    return {
        "lanes": found.lanes,
        "notch": NOTCH,
        "contacts": contacts,
        "route": list(found.route),
        "readings": readings,
        "verdicts": verdicts,
        "clock": at.clock,
        "link": width,
        "notes": list(at.notes),
        "located": located,
    }


class JobSlotContacts(APIView):
    """Slot contacts."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=SlotSerializer)
    def get(self, request: Request, number: int) -> Response:
        """Contacts, readings, torn ones, the width predicted."""
        job = found_job(number)
        found = job_slot(job)
        board = reading_context(job).board
        return Response(_slot(found, located=bool(board and spot_of(board, found.contacts[0]))))
