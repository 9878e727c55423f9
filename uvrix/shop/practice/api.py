"""Practice over the API: what can be practised, a job's bench, its debrief, cards as files, the card of the day."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from random import SystemRandom
from typing import Annotated, Any
from uuid import UUID

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.arrive.elimination import CELLS
from uvrix.core.boards.model import Board
from uvrix.core.case.names import contact
from uvrix.core.errors import Refusal
from uvrix.core.look.regions import regions
from uvrix.core.practice.card_file import MOST_SEED, PracticeCard, read_card
from uvrix.core.practice.debrief import Ended
from uvrix.core.practice.levels import LEVEL_ASKS, LEVEL_WORDS, LEVELS, Level
from uvrix.core.readings.notation import QUANTITIES
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, LEAD
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.roles import Role
from uvrix.shop.config.shapes import chosen, given, shape
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.practice.models import Help, PracticeFile, PracticeJob
from uvrix.shop.practice.queries import (
    MOST_SHOWN,
    AtTheBench,
    at_the_bench,
    card_of_the_day,
    damage,
    jobs_of,
    of_day,
    practised_models,
)
from uvrix.shop.practice.services import (
    ASKED,
    AnsweredAnswer,
    Begun,
    answer,
    ask_advice,
    begin,
    begin_day,
    card_of_job,
    card_of_level,
    card_of_watchlist,
    end,
    file_card,
    save_file,
    throw_away,
)
from uvrix.shop.proving.queries import checks_of
from uvrix.standins.camera import Frame, Light, close_up

ENDS = ["repaired", "no-fix", "donor"]
SOURCES = ["level", "watchlist", "past", "file", "day"]
CLOSE_UP_MM, CONTACTS_MM = 46.0, 90.0
LARGEST_FILE = 1 << 20


@dataclass(frozen=True, slots=True)
class LevelAnswer:
    """A level."""

    level: Annotated[str, chosen(LEVELS)]
    name: str
    asks: str


@dataclass(frozen=True, slots=True)
class PractisedModelAnswer:
    """A model that can be practised on, and its levels."""

    board_model: str
    name: str
    levels: Annotated[Sequence[str], chosen(LEVELS)]


@dataclass(frozen=True, slots=True)
class PracticeFileAnswer:
    """A practice card that the shop keeps."""

    id: UUID
    name: str
    level: Annotated[str, chosen(LEVELS)]
    board_model: str
    here: bool


@dataclass(frozen=True, slots=True)
class RoundAnswer:
    """A round of practice: whose, which card, how it ended, what it cost beside the advice's own way."""

    number: int
    label: str
    by: str
    mine: bool
    name: str
    level: Annotated[str, chosen(LEVELS)]
    help: Annotated[str, chosen(Help.values)]
    asked: int
    begun_at: datetime
    ended: Annotated[str, chosen([*ENDS, ""])]
    right: bool | None
    minutes: float | None
    advice_minutes: float | None
    harm: int


@dataclass(frozen=True, slots=True)
class PracticeAnswer:
    """What can be practised, and what was."""

    levels: Sequence[LevelAnswer]
    models: Sequence[PractisedModelAnswer]
    files: Sequence[PracticeFileAnswer]
    rounds: Sequence[RoundAnswer]


class Practice(APIView):
    """Practice."""

    roles = {"GET": BENCH}

    @extend_schema(responses=shape(PracticeAnswer), operation_id="practice")
    def get(self, request: Request) -> Response:
        """Levels, models, the cards that are kept; one's own rounds, of everybody for the lead."""
        me = person(request)
        models = practised_models()
        here = {model.slug for model, _ in models}
        files = PracticeFile.objects.all()
        return Response(
            PracticeAnswer(
                levels=[LevelAnswer(level=level, name=LEVEL_WORDS[level], asks=LEVEL_ASKS[level]) for level in LEVELS],
                models=[
                    PractisedModelAnswer(board_model=model.slug, name=str(model), levels=list(levels))
                    for model, levels in models
                ],
                files=[_file(row, here) for row in files],
                rounds=[_round(row, me.pk) for row in jobs_of(me)[:MOST_SHOWN]],
            )
        )


def _file(row: PracticeFile, here: set[str]) -> PracticeFileAnswer:
    slug = row.content["case"]["board"]
    return PracticeFileAnswer(
        id=row.pk,
        name=row.name,
        level=row.content["level"],
        board_model=slug,
        here=slug in here,
    )


def _round(row: PracticeJob, me: int) -> RoundAnswer:
    found = row.debrief or {}
    card = row.card
    return RoundAnswer(
        number=row.pk,
        label=row.job.label,
        by=row.job.opened_by.shown_name,
        mine=row.job.opened_by_id == me,
        name=card["name"],
        level=card["level"],
        help=row.help,
        asked=row.asked,
        begun_at=row.job.opened_at,
        ended=row.ended,
        right=found["person"]["right"] if found else None,
        minutes=found["person"]["cost"]["minutes"] if found else None,
        advice_minutes=found["advice"]["cost"]["minutes"] if found else None,
        harm=len(found["person"]["harm"]) if found else 0,
    )


@dataclass(frozen=True, slots=True)
class BeginRequest:
    """A card to begin: of a level, of a watchlist, a past job's, or one that is kept."""

    id: UUID
    source: Annotated[str, chosen(SOURCES)]
    help: Annotated[str, chosen(Help.values)] = Help.ON_REQUEST
    level: Annotated[Level | None, chosen(LEVELS)] = None
    board_model: Annotated[str, given(max_length=64)] = ""
    seed: Annotated[int | None, given(min_value=0, max_value=MOST_SEED)] = None
    job: Annotated[int | None, given(min_value=1)] = None
    file: UUID | None = None


@dataclass(frozen=True, slots=True)
class BegunAnswer:
    """The job that was begun."""

    number: int


class PracticeJobs(APIView):
    """Jobs of Practice."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(BeginRequest), responses={201: shape(BegunAnswer), 200: shape(BegunAnswer)})
    def post(self, request: Request) -> Response:
        """Begin one; the same entry twice begins one."""
        asked = entry_of(request, BeginRequest)
        if asked.source == "day":
            job, fresh = begin_day(asked.id, timezone.localdate(), asked.help, person(request))
        else:
            job, fresh = begin(Begun(asked.id, _card(asked), asked.help, asked.source), person(request))
        return Response(BegunAnswer(number=job.pk), 201 if fresh else 200)


def _card(asked: BeginRequest) -> PracticeCard:
    if asked.source == "file":
        kept = get_object_or_404(PracticeFile, pk=asked.file)
        return file_card(kept.content)
    if asked.source == "past":
        return card_of_job(_of_the_shop(asked.job))
    model = BoardModel.objects.filter(slug=asked.board_model).exclude(newest=None).first()
    if model is None:
        detail = gettext("found {model}, expected a board that is drawn in the library",
                         model=repr(asked.board_model))  # fmt: skip
        raise Problem(422, "unknown-model", detail)
    seed = SystemRandom().randrange(MOST_SEED) if asked.seed is None else asked.seed
    if asked.source == "watchlist":
        return card_of_watchlist(model, seed)
    if asked.level is None:
        raise Problem(422, "no-level", gettext("found no level, expected one of {levels}", levels=", ".join(LEVELS)))
    return card_of_level(model, asked.level, seed)


def _of_the_shop(number: int | None) -> Job:
    job = found_job(number or 0)
    if job.practice or job.closed_at is None:
        detail = gettext("found {label}, expected a job of the shop that is closed", label=job.label)
        raise Problem(422, "not-past", detail)
    return job


@dataclass(frozen=True, slots=True)
class PlaceAnswer:
    """Something that an instrument may be held to: its id as entries name it, and how it is called."""

    id: str
    name: str


@dataclass(frozen=True, slots=True)
class HarmAnswer:
    """Harm that was done."""

    words: str


@dataclass(frozen=True, slots=True)
class AtTheBenchAnswer:
    """A job of Practice as it stands: help, what it cost so far, what its instruments may be held to."""

    help: Annotated[str, chosen(Help.values)]
    shown: bool
    asked: int
    ended: Annotated[str, chosen([*ENDS, ""])]
    mine: bool
    named: bool
    day: date | None
    minutes: float
    parts: int
    heats: int
    harm: Sequence[HarmAnswer]
    power: Annotated[str, chosen(["off", "supply", "computer"])]
    points: Sequence[PlaceAnswer]
    fuses: Sequence[PlaceAnswer]
    cells: Sequence[PlaceAnswer]
    checks: Sequence[PlaceAnswer]
    regions: Sequence[PlaceAnswer]
    sites: Sequence[PlaceAnswer]


class JobPractice(APIView):
    """A job of Practice."""

    roles = {"GET": BENCH, "DELETE": BENCH}

    @extend_schema(responses=shape(AtTheBenchAnswer), operation_id="job_practice")
    def get(self, request: Request, number: int) -> Response:
        """How it stands."""
        return Response(_state(at_the_bench(found_job(number)), request))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, number: int) -> Response:
        """Throw it away with all that was entered; whoever began it may, and the lead."""
        throw_away(_own_job(number, request))
        return Response(status=204)


def _own_job(number: int, request: Request) -> Job:
    """A job of Practice that is one's own, or anybody's for the lead; 404 where it is none."""
    job, me = found_job(number), person(request)
    if not job.practice:
        raise Http404
    if job.opened_by_id != me.pk and me.role != Role.LEAD:
        raise Problem(403, "not-yours", gettext("{label} is somebody else's practice.", label=job.label))
    return job


def _state(at: AtTheBench, request: Request) -> AtTheBenchAnswer:
    row, cost, bench = at.row, at.cost, at.bench
    board = at.board
    return AtTheBenchAnswer(
        help=row.help,
        shown=row.shown,
        asked=row.asked,
        ended=row.ended,
        mine=row.job.opened_by_id == person(request).pk,
        named=row.named,
        day=row.day,
        minutes=cost.minutes,
        parts=cost.parts,
        heats=cost.heats,
        harm=[HarmAnswer(words=harm.words) for harm in bench.harmed],
        power=bench.power,
        points=_points(board),
        fuses=[PlaceAnswer(id=point.id, name=point.id) for point in board.points if point.kind == "fuse"],
        cells=[PlaceAnswer(id=cell.id, name=cell.id) for cell in CELLS if len(cell.other) == 1],
        checks=[PlaceAnswer(id=check.id, name=check.name) for check in checks_of(row.job)],
        regions=[PlaceAnswer(id=region.id, name=region.name) for region in regions(board)],
        sites=[PlaceAnswer(id=name, name=name) for name in _sites(board)],
    )


def _points(board: Board) -> list[PlaceAnswer]:
    """Points by what they are of: a rail, a fuse, a node of the start-up map."""
    nodes = {node.point: node.name for node in board.startup_nodes.values() if node.point}
    found = {point.id: f"{point.id} {nodes.get(point.id) or point.net}".strip() for point in board.points}
    found |= {point: f"{point} {name}" for point, name in nodes.items() if point not in found}
    return [PlaceAnswer(id=name, name=words) for name, words in found.items()]


def _sites(board: Board) -> list[str]:
    return [board.core.designator, *board.by_designator, *(part.designator for part in board.parts)]


@dataclass(frozen=True, slots=True)
class BenchStepRequest:
    """A step to ask the bench for (docs/formats §18), with what carries it out; `despite` a guard's advice."""

    id: UUID
    do: Annotated[str, chosen(ASKED)]
    target: Annotated[str, given(max_length=80, allow_blank=True)]
    quantity: Annotated[str, chosen(QUANTITIES)] = ""
    volts: Annotated[float | None, given(min_value=0, max_value=1000)] = None
    amps_limit: Annotated[float | None, given(min_value=0, max_value=1000)] = None
    condition: Annotated[tuple[str, ...], given(max_length=6, child_kwargs={"max_length": 20})] = ()
    despite: bool = False

    @property
    def step(self) -> dict[str, Any]:
        """The step as the bench takes it, without what was not said."""
        carried = {name: getattr(self, name) for name in ("quantity", "volts", "amps_limit")}
        step = {"do": self.do, "target": self.target}
        step |= {name: value for name, value in carried.items() if value not in ("", None)}
        return step | ({"condition": list(self.condition)} if self.condition else {})


class JobPracticeSteps(APIView):
    """The bench of a job of Practice."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(BenchStepRequest), responses={201: shape(AnsweredAnswer)})
    def post(self, request: Request, number: int) -> Response:
        """Hold an instrument to the card: what it shows is entered."""
        asked, job = entry_of(request, BenchStepRequest), _own_job(number, request)
        return Response(answer(job, asked.id, asked.step, person(request), despite=asked.despite), 201)


class JobPracticeSight(APIView):
    """What is seen of a job of Practice."""

    roles = {"GET": BENCH}

    @extend_schema(responses={(200, "image/jpeg"): OpenApiTypes.BINARY}, operation_id="job_practice_sight")
    def get(self, request: Request, number: int, place: str) -> HttpResponse:
        """A close-up of a region or a part, with the damage that is to be seen there."""
        at = at_the_bench(found_job(number))
        frame = _frame(at.board, place)
        shot = close_up(at.board, frame, damage(at.bench.sights()), Light(1.0, 0.05, at.card.seed))
        return HttpResponse(shot.jpeg, content_type="image/jpeg", headers={"Cache-Control": "no-store"})


def _frame(board: Board, place: str) -> Frame:
    region = next((candidate for candidate in regions(board) if candidate.id == place), None)
    if region is not None:
        middle = region.x_mm + region.width_mm / 2, region.y_mm + region.height_mm / 2
        return Frame(region.side, middle, (region.width_mm + 4, region.height_mm + 8))
    things = {part.designator: (part.side, part.centre) for part in board.parts}
    things |= {site.designator: (site.side, site.centre) for site in board.sites}
    things |= {point.id: (point.side, point.centre) for point in board.points}
    things[board.core.designator] = ("front", board.core.centre)
    side, centre = things.get(place, ("front", None))
    if centre is None or contact(place):
        detail = gettext("found {place}, expected a region or a part of this board", place=repr(place))
        raise Problem(404, "no-place", detail)
    return Frame(side, (float(centre[0]), float(centre[1])), (CLOSE_UP_MM, CLOSE_UP_MM * 0.7))


class JobPracticeHelp(APIView):
    """Help on a job of Practice."""

    roles = {"POST": BENCH}

    @extend_schema(request=None, responses=shape(AtTheBenchAnswer))
    def post(self, request: Request, number: int) -> Response:
        """Show the advice for this point; it is counted."""
        job = _own_job(number, request)
        ask_advice(job)
        return Response(_state(at_the_bench(job), request))


@dataclass(frozen=True, slots=True)
class EndRequest:
    """How a card leaves."""

    ended: Annotated[Ended, chosen(ENDS)]


class WorkCostSerializer(serializers.Serializer[Any]):
    """What work came to."""

    minutes = serializers.FloatField()
    parts = serializers.IntegerField()
    heats = serializers.IntegerField()


class WorkedSerializer(serializers.Serializer[Any]):
    """How a card was worked through."""

    ended = serializers.ChoiceField(choices=ENDS)
    right = serializers.BooleanField()
    steps = serializers.IntegerField()
    cost = WorkCostSerializer()
    harm = serializers.ListField(child=serializers.CharField())


@dataclass(frozen=True, slots=True)
class AdviceAnswer:
    """A step of the advice."""

    says: str
    why: str


class MomentSerializer(serializers.Serializer[Any]):
    """A step beside the advice at that point."""

    number = serializers.IntegerField()
    do = serializers.CharField()
    target = serializers.CharField(allow_blank=True)
    words = serializers.CharField()
    minutes = serializers.FloatField()
    bits = serializers.FloatField()
    harm = serializers.CharField(allow_blank=True)
    advice = shape(AdviceAnswer)()
    advice_minutes = serializers.FloatField()
    as_advised = serializers.BooleanField()
    ruled_out = serializers.CharField(allow_blank=True)
    believed = serializers.CharField(allow_blank=True)


class HabitSerializer(serializers.Serializer[Any]):
    """A habit, and the minutes that another way would have saved."""

    habit = serializers.CharField()
    words = serializers.CharField()
    minutes = serializers.FloatField()
    numbers = serializers.ListField(child=serializers.IntegerField())


class DebriefSerializer(serializers.Serializer[Any]):
    """What was hidden, and how the thread compares with the advice."""

    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    name = serializers.CharField()
    asked = serializers.IntegerField()
    hidden = serializers.ListField(child=serializers.CharField())
    left = serializers.ListField(child=serializers.CharField())
    person = WorkedSerializer()
    advice = WorkedSerializer()
    moments = MomentSerializer(many=True)
    habits = HabitSerializer(many=True)


class JobPracticeEnd(APIView):
    """The end of a job of Practice."""

    roles = {"GET": BENCH, "POST": BENCH}

    @extend_schema(responses=DebriefSerializer, operation_id="job_practice_debrief")
    def get(self, request: Request, number: int) -> Response:
        """The debrief of a round; 404 before it has ended, and for anybody but its person and the lead."""
        job = _own_job(number, request)
        return Response(_debrief(get_object_or_404(PracticeJob, job=job, debrief__isnull=False)))

    @extend_schema(request=shape(EndRequest), responses={201: DebriefSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Give the card back, or keep it as a donor: the debrief."""
        asked, job = entry_of(request, EndRequest), _own_job(number, request)
        return Response(_debrief(end(job, asked.ended)), 201)


def _debrief(row: PracticeJob) -> dict[str, Any]:
    found = dict(row.debrief or {})
    moments = [{**moment, "advice": _advice(moment["advice"])} for moment in found.pop("moments")]
    return {
        "label": row.job.label,
        "name": row.card["name"],
        "asked": row.asked,
        **found,
        "hidden": [_fault_words(text) for text in found["hidden"]],
        "left": [_fault_words(text) for text in found["left"]],
        "moments": moments,
    }


def _advice(step: Mapping[str, Any]) -> AdviceAnswer:
    return AdviceAnswer(says=step["says"], why=step["why"])


def _fault_words(text: str) -> str:
    kind, _, rest = text.partition(":")
    of, _, more = rest.partition(":")
    words = FAULT_WORDS[kind]
    return words.format(of=of, more=more) if not more or "{more}" in words else f"{words.format(of=of)} ({more})"


FAULT_WORDS: Mapping[str, str] = {
    "short": gettext("{of} shorted"),
    "partial": gettext("{of} partly shorted"),
    "joined": gettext("{of} shorted from input to output"),
    "layers": gettext("burnt layers below {of}"),
    "blown": gettext("fuse {of} blown"),
    "sick": gettext("fuse {of} has too many ohms"),
    "missing": gettext("{of} missing"),
    "dead": gettext("{of} dead"),
    "torn": gettext("slot contact {of} torn"),
    "dq-line": gettext("{of} bad on data line {more}"),
    "cells": gettext("bad cells in {of}"),
    "joint": gettext("a joint of {of}"),
    "core-joint": gettext("a joint of the core, controller {of}"),
    "host": gettext("nothing on the card: the computer that it came from"),
}


class ShownNameSerializer(serializers.Serializer[Any]):
    """Whether others see whose round of the card of the day it is."""

    named = serializers.BooleanField()


class JobPracticeNamed(APIView):
    """Whether a person's name stands beside their card of the day."""

    roles = {"PUT": BENCH}

    @extend_schema(request=ShownNameSerializer, responses=ShownNameSerializer)
    def put(self, request: Request, number: int) -> Response:
        """Show or hide the caller's name; nobody else may do it for them, not even the lead."""
        asked = entry_of(request, ShownNameSerializer)
        row = get_object_or_404(PracticeJob.objects.select_related("job"), pk=number)
        if row.job.opened_by_id != person(request).pk:
            raise Problem(403, "not-yours", gettext("Whose it is says whoever worked on it, and nobody else."))
        row.named = asked["named"]
        row.save(update_fields=["named"])
        return Response({"named": row.named})


@dataclass(frozen=True, slots=True)
class DayRoundAnswer:
    """Somebody's round of the card of the day; `by` is empty where they do not say who they are."""

    by: str
    mine: bool
    minutes: float
    right: bool
    harm: int


@dataclass(frozen=True, slots=True)
class DayAnswer:
    """The card of the day; rounds are told to who has ended theirs, the advice's among them with `by` null."""

    day: date
    name: str
    number: int | None
    ended: bool
    named: bool
    others: int
    rounds: Sequence[DayRoundAnswer]
    advice_minutes: float | None
    advice_right: bool | None


class PracticeDay(APIView):
    """The card of the day."""

    roles = {"GET": BENCH}

    @extend_schema(responses={200: shape(DayAnswer), 204: None}, operation_id="practice_day")
    def get(self, request: Request) -> Response:
        """The same card for the whole shop; 204 where the library has no drawn board."""
        return _day(timezone.localdate(), request)


def _day(day: date, request: Request) -> Response:
    me, found = person(request), card_of_the_day(day)
    if found is None:
        return Response(status=204)
    rows = list(of_day(day, me))
    own = next((row for row in rows if row.job.opened_by_id == me.pk), None)
    ended = [row for row in rows if row.ended]
    told = own is not None and bool(own.ended)
    advice = own.debrief["advice"] if own is not None and own.debrief else None
    return Response(
        DayAnswer(
            day=day,
            name=gettext("{level} on {model}", level=LEVEL_WORDS[found.level], model=str(found.model)),
            number=own.pk if own else None,
            ended=told,
            named=own is not None and own.named,
            others=sum(row.job.opened_by_id != me.pk for row in ended),
            rounds=[_of_day(row, me.pk) for row in ended] if told else [],
            advice_minutes=advice["cost"]["minutes"] if advice else None,
            advice_right=advice["right"] if advice else None,
        )
    )


def _of_day(row: PracticeJob, me: int) -> DayRoundAnswer:
    found, mine = (row.debrief or {})["person"], row.job.opened_by_id == me
    return DayRoundAnswer(
        by=row.job.opened_by.shown_name if row.named or mine else "",
        mine=mine,
        minutes=found["cost"]["minutes"],
        right=found["right"],
        harm=len(found["harm"]),
    )


class PastSerializer(serializers.Serializer[Any]):
    """A closed job of the shop to make a card of."""

    job = serializers.IntegerField(min_value=1)


class PracticeFiles(APIView):
    """Practice cards as files."""

    roles = {"POST": BENCH}
    parser_classes = [MultiPartParser]

    @extend_schema(
        request={"multipart/form-data": {"type": "object", "properties": {"file": {"type": "string",
                                                                                   "format": "binary"}}}},
        responses={201: shape(PracticeFileAnswer)},
    )  # fmt: skip
    def post(self, request: Request) -> Response:
        """Keep a card that came as a file; another of its name stays, and this one is numbered."""
        sent = request.FILES.get("file")
        if sent is None or sent.size is None or sent.size > LARGEST_FILE:
            expected = gettext("found no file of a practice card, expected one of at most a megabyte")
            raise Problem(422, "no-file", expected)
        try:
            card = read_card(sent.read())
            card = file_card(card.document())
        except Refusal as refusal:
            raise Problem(422, "refused-file", str(refusal.of(sent.name or "")), found=refusal.found,
                          expected=refusal.expected) from None  # fmt: skip
        row = save_file(card, person(request))
        return Response(_file(row, {model.slug for model, _ in practised_models()}), 201)


class PracticeOfJob(APIView):
    """A practice card of a past job."""

    roles = {"POST": LEAD}

    @extend_schema(request=PastSerializer, responses={201: shape(PracticeFileAnswer)})
    def post(self, request: Request) -> Response:
        """Keep a past job as a practice card, with the names taken out."""
        asked = entry_of(request, PastSerializer)
        row = save_file(card_of_job(_of_the_shop(asked["job"])), person(request))
        return Response(_file(row, {model.slug for model, _ in practised_models()}), 201)


class OnePracticeFile(APIView):
    """A practice card."""

    roles = {"GET": BENCH, "DELETE": LEAD}

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT}, operation_id="practice_file")
    def get(self, request: Request, file: UUID) -> HttpResponse:
        """The card as a file, to be given away."""
        row = get_object_or_404(PracticeFile, pk=file)
        return _attached(row.content, row.name)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, file: UUID) -> Response:
        """Keep it no longer; rounds on it stay."""
        get_object_or_404(PracticeFile, pk=file).delete()
        return Response(status=204)


class JobPracticeCard(APIView):
    """The card of a job of Practice."""

    roles = {"GET": BENCH}

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT}, operation_id="job_practice_card")
    def get(self, request: Request, number: int) -> HttpResponse:
        """The card as a file, once one's own job has ended: it says what was hidden."""
        row = get_object_or_404(PracticeJob.objects.exclude(ended=""), job=_own_job(number, request))
        return _attached(row.card, row.card["name"])


def _attached(document: Any, name: str) -> HttpResponse:
    safe = "".join(sign if sign.isalnum() else "-" for sign in name.lower()).strip("-")
    text = json.dumps(document, ensure_ascii=False, indent=1)
    disposition = f'attachment; filename="{safe or "card"}.practice.json"'
    return HttpResponse(text, content_type="application/json", headers={"Content-Disposition": disposition})
