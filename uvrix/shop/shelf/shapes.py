"""What jobs look like in answers; a shelf of forty is written as plain rows, which the serializers describe."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Annotated, Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from uvrix.core.case.plan.words import DOES
from uvrix.shop.bench.shapes import MarkSerializer
from uvrix.shop.case.answers import advice_hidden
from uvrix.shop.case.shapes import STEPS, CaseStepSerializer, CauseSerializer
from uvrix.shop.config.shapes import chosen, declared, extended, shape, written
from uvrix.shop.jobs.leaving import at_hand, here_as
from uvrix.shop.jobs.models import Card, Job, WhoseMove
from uvrix.shop.library.drawings import OrientationAnswer, SmallBoardAnswer, small_board
from uvrix.shop.library.located import LocatedSerializer
from uvrix.shop.library.shapes import BoardModelSerializer
from uvrix.shop.look.queries import looked
from uvrix.shop.shelf.queries import NextStep, jobs, next_step, next_steps, whole

NEXT = ["wait", "fault", "closed", "practice", *DOES]


class NextStepSerializer(serializers.Serializer[Any]):
    """What is next and why."""

    what = serializers.ChoiceField(choices=NEXT)
    do = serializers.CharField()
    why = serializers.CharField(allow_blank=True)
    left = serializers.CharField()
    step = serializers.ChoiceField(choices=STEPS, allow_blank=True)


@dataclass(frozen=True, slots=True)
class JobAnswer:
    """A job in a list."""

    number: int
    label: str
    serial: str
    customer: str
    model: str
    board_model: str
    complaint: str
    place: str
    express: bool
    move: Annotated[str, chosen(WhoseMove.choices)]
    waits_for: str
    due: date | None
    opened_at: datetime
    closed_at: datetime | None
    next: Annotated[NextStep, declared(NextStepSerializer())]
    runs: int


def job_row(job: Job) -> JobAnswer:
    """A job in a list; it comes with its standing."""
    model = job.card.model
    return JobAnswer(
        number=job.pk,
        label=job.label,
        serial=job.card.serial,
        customer=job.customer.name,
        model=str(model),
        board_model=model.slug,
        complaint=job.complaint,
        place=job.place,
        express=job.express,
        move=job.move,
        waits_for=job.waits_for,
        due=job.due,
        opened_at=job.opened_at,
        closed_at=job.closed_at,
        next=next_step(job),
        runs=job.standing.runs,
    )


@dataclass(frozen=True, slots=True)
class ShelfJobAnswer(JobAnswer):
    """A job on the shelf, with what is drawn on its board; `drawing` is empty where that is not drawn yet."""

    drawing: str
    suspects: Sequence[str]
    marked: str | None
    seen: Sequence[Sequence[float]]


@dataclass(frozen=True, slots=True)
class ShelfGroupAnswer:
    """Jobs that wait for one side."""

    move: Annotated[str, chosen(WhoseMove.choices)]
    title: str
    jobs: Sequence[ShelfJobAnswer]


@dataclass(frozen=True, slots=True)
class ShelfAnswer:
    """The shelf: its jobs by whose move it is, and the boards they are drawn on, each once, by the board model's id."""

    groups: Sequence[ShelfGroupAnswer]
    drawings: Mapping[str, SmallBoardAnswer]


def shelf_row(job: Job) -> ShelfJobAnswer:
    """A job on the shelf."""
    now, model = job.standing, job.card.model
    return extended(
        ShelfJobAnswer,
        job_row(job),
        drawing=model.slug if model.newest else "",
        suspects=now.finding["designators"] if now.finding else [],
        marked=now.mark.designator if now.mark else None,
        seen=[[place["x_mm"], place["y_mm"]] for place in now.seen_places if place["x_mm"] is not None],
    )


def shelf_json(found: Iterable[Job]) -> ShelfAnswer:
    """The shelf, its groups in the order of whose move it is."""
    ordered = list(found)
    drawn = {job.card.model.slug: job.card.model.newest for job in ordered if job.card.model.newest}
    return ShelfAnswer(
        groups=[
            ShelfGroupAnswer(
                move=move.value,
                title=move.label,
                jobs=[shelf_row(job) for job in ordered if job.move == move],
            )
            for move in WhoseMove
        ],
        drawings={slug: small_board(edition) for slug, edition in drawn.items()},
    )


class LookedSerializer(serializers.Serializer[Any]):
    """How far Look is: regions of the board, how many of them were looked at, what was found."""

    regions = serializers.IntegerField()
    looked = serializers.IntegerField()
    findings = serializers.IntegerField()
    photographs = serializers.IntegerField()


@dataclass(frozen=True, slots=True)
class ArrivedAnswer:
    """How far Arrive is."""

    symptom: bool
    trials: int


@dataclass(frozen=True, slots=True)
class MeasuredAnswer:
    """How the card stands, and how much was read of it cold and powered."""

    power: Annotated[str, chosen(["off", "supply", "computer", ""])]
    readings: int
    volts: int
    rework: int


@dataclass(frozen=True, slots=True)
class MindAnswer:
    """What to do next, and what may be wrong, best and likeliest first."""

    next: Annotated[Iterable[Any], declared(CaseStepSerializer(many=True))]
    causes: Annotated[Iterable[Any], declared(CauseSerializer(many=True))]


@dataclass(frozen=True, slots=True)
class LeftAnswer:
    """When a card left; `here_as`: the number of the open job under which it is here again."""

    at: datetime
    here_as: int | None


@dataclass(frozen=True, slots=True)
class JobDetailAnswer(JobAnswer):
    """A job's page; `practice`: a virtual card, on which nothing is the shop's own.

    `proof_begun`: something was done to the card or logged; before, its proof only says the fault that it came with.
    `left`: the card is in the shop under this job no more.
    """

    practice: bool
    mind: MindAnswer
    orientation: OrientationAnswer
    located: Annotated[Any, declared(LocatedSerializer(allow_null=True))]
    mark: Annotated[Any, declared(MarkSerializer(allow_null=True))]
    board: Annotated[Any, declared(BoardModelSerializer())]
    opened_by: str
    looked: Annotated[Mapping[str, int], declared(LookedSerializer())]
    arrived: ArrivedAnswer
    measured: MeasuredAnswer
    proof_begun: bool
    left: LeftAnswer | None


def job_page(job: Job) -> JobDetailAnswer:
    """A job's page; it comes with its standing."""
    now, told = job.standing, job.told or {"causes": [], "worked": True}
    hidden = advice_hidden(job)
    mind = MindAnswer(next=[] if hidden else next_steps(job), causes=[] if hidden else told["causes"])
    return extended(
        JobDetailAnswer,
        job_row(job),
        practice=job.practice,
        orientation=OrientationAnswer(side=job.orientation_side, turns=job.orientation_turns),
        located=job.located,
        mark=now.mark,
        mind=written(mind),
        board=BoardModelSerializer(job.card.model).data,
        opened_by=job.opened_by.shown_name,
        looked=looked(job),
        arrived=ArrivedAnswer(symptom=now.symptom_said, trials=now.trials),
        measured=MeasuredAnswer(power=now.power, readings=now.readings, volts=now.volts, rework=now.reworks),
        proof_begun=now.logged or told["worked"],
        left=_card_left(job),
    )


def _card_left(job: Job) -> LeftAnswer | None:
    if job.closed_at is None or at_hand(job):
        return None
    now = here_as(job)
    return LeftAnswer(at=job.closed_at, here_as=now.pk if now else None)


class CardSerializer(serializers.ModelSerializer[Card]):
    """A card that was here before."""

    board_model = serializers.CharField(source="model.slug")
    jobs = serializers.SerializerMethodField()

    class Meta:
        model = Card
        fields = ["serial", "board_model", "jobs"]

    @extend_schema_field(shape(JobAnswer)(many=True))
    def get_jobs(self, card: Card) -> list[JobAnswer]:
        """The card's visits."""
        return [job_row(job) for job in whole(jobs().filter(card=card).order_by("-opened_at"))]
