"""What jobs look like in answers; a shelf of forty is written as plain rows, which the serializers describe."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict
from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from uvrix.core.case.plan.words import DOES
from uvrix.shop.bench.shapes import MarkSerializer
from uvrix.shop.case.answers import advice_hidden
from uvrix.shop.case.shapes import ROOMS, CaseStepSerializer, CauseSerializer
from uvrix.shop.jobs.models import Card, Job, WhoseMove
from uvrix.shop.library.located import LocatedSerializer
from uvrix.shop.library.shapes import BoardModelSerializer, LieSerializer, SmallBoardSerializer, small_board
from uvrix.shop.look.queries import looked
from uvrix.shop.shelf.queries import jobs, next_step, next_steps, whole

NEXT = ["wait", "fault", "closed", "practice", *DOES]


class NextStepSerializer(serializers.Serializer[Any]):
    """What is next and why."""

    what = serializers.ChoiceField(choices=NEXT)
    do = serializers.CharField()
    why = serializers.CharField(allow_blank=True)
    left = serializers.CharField()
    room = serializers.ChoiceField(choices=ROOMS)


class JobSerializer(serializers.Serializer[Any]):
    """A job in a list."""

    number = serializers.IntegerField()
    label = serializers.CharField()  # type: ignore[assignment]  # a field, not DRF's label
    serial = serializers.CharField()
    customer = serializers.CharField()
    model = serializers.CharField()
    board_model = serializers.CharField()
    complaint = serializers.CharField()
    place = serializers.CharField(allow_blank=True)
    express = serializers.BooleanField()
    move = serializers.ChoiceField(choices=WhoseMove.choices)
    waits_for = serializers.CharField(allow_blank=True)
    due = serializers.DateField(allow_null=True)
    opened_at = serializers.DateTimeField()
    closed_at = serializers.DateTimeField(allow_null=True)
    next = NextStepSerializer()
    runs = serializers.IntegerField()


def job_row(job: Job) -> dict[str, Any]:
    """A job in a list (JobSerializer); it comes with its standing."""
    model = job.card.model
    return {
        "number": job.pk,
        "label": job.label,
        "serial": job.card.serial,
        "customer": job.customer.name,
        "model": str(model),
        "board_model": model.slug,
        "complaint": job.complaint,
        "place": job.place,
        "express": job.express,
        "move": job.move,
        "waits_for": job.waits_for,
        "due": job.due,
        "opened_at": job.opened_at,
        "closed_at": job.closed_at,
        "next": asdict(next_step(job)),
        "runs": job.standing.runs,
    }


class ShelfJobSerializer(JobSerializer):
    """A job on the shelf, with what is drawn on its board; `drawing` is empty where that is not drawn yet."""

    drawing = serializers.CharField(allow_blank=True)
    suspects = serializers.ListField(child=serializers.CharField())
    marked = serializers.CharField(allow_null=True)
    seen = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))


class ShelfGroupSerializer(serializers.Serializer[Any]):
    """Jobs that wait for one side."""

    move = serializers.ChoiceField(choices=WhoseMove.choices)
    title = serializers.CharField()
    jobs = ShelfJobSerializer(many=True)


class ShelfSerializer(serializers.Serializer[Any]):
    """The shelf: its jobs by whose move it is, and the boards they are drawn on, each once, by the board model's id."""

    groups = ShelfGroupSerializer(many=True)
    drawings = serializers.DictField(child=SmallBoardSerializer())


def shelf_row(job: Job) -> dict[str, Any]:
    """A job on the shelf (ShelfJobSerializer)."""
    now, model = job.standing, job.card.model
    return {
        **job_row(job),
        "drawing": model.slug if model.newest else "",
        "suspects": now.finding["designators"] if now.finding else [],
        "marked": now.mark.designator if now.mark else None,
        "seen": [[place["x_mm"], place["y_mm"]] for place in now.seen_places if place["x_mm"] is not None],
    }


def shelf_json(found: Iterable[Job]) -> dict[str, Any]:
    """The shelf (ShelfSerializer)."""
    ordered = list(found)
    drawn = {job.card.model.slug: job.card.model.newest for job in ordered if job.card.model.newest}
    return {
        "groups": [
            {
                "move": move.value,
                "title": move.label,
                "jobs": [shelf_row(job) for job in ordered if job.move == move],
            }
            for move in WhoseMove
        ],
        "drawings": {slug: small_board(edition) for slug, edition in drawn.items()},
    }


class LookedSerializer(serializers.Serializer[Any]):
    """How far Look is: regions of the board, how many of them were looked at, what was found."""

    regions = serializers.IntegerField()
    looked = serializers.IntegerField()
    findings = serializers.IntegerField()
    photographs = serializers.IntegerField()


class ArrivedSerializer(serializers.Serializer[Any]):
    """How far Arrive is."""

    symptom = serializers.BooleanField()
    trials = serializers.IntegerField()


class MeasuredSerializer(serializers.Serializer[Any]):
    """How the card stands, and how much was read of it cold and powered."""

    power = serializers.ChoiceField(choices=["off", "supply", "computer", ""])
    readings = serializers.IntegerField()
    volts = serializers.IntegerField()
    rework = serializers.IntegerField()


class MindSerializer(serializers.Serializer[Any]):
    """What to do next, and what may be wrong, best and likeliest first."""

    next = CaseStepSerializer(many=True)
    causes = CauseSerializer(many=True)


class JobDetailSerializer(JobSerializer):
    """A job's page; `practice`: a virtual card, on which nothing is the shop's own."""

    practice = serializers.BooleanField()
    mind = MindSerializer()
    lie = LieSerializer()
    located = LocatedSerializer(allow_null=True)
    mark = MarkSerializer(allow_null=True)
    board = BoardModelSerializer()
    opened_by = serializers.CharField()
    looked = LookedSerializer()
    arrived = ArrivedSerializer()
    measured = MeasuredSerializer()


def job_json(job: Job) -> dict[str, Any]:
    """A job's page (JobDetailSerializer); it comes with its standing."""
    now, kept_back = job.standing, advice_hidden(job)
    mind = {} if kept_back else {"next": next_steps(job), "causes": (job.told or {"causes": []})["causes"]}
    return {
        **job_row(job),
        "practice": job.practice,
        "lie": {"side": job.lie_side, "turns": job.lie_turns},
        "located": job.located,
        "mark": asdict(now.mark) if now.mark else None,
        "mind": MindSerializer({"next": [], "causes": [], **mind}).data,
        "board": BoardModelSerializer(job.card.model).data,
        "opened_by": job.opened_by.shown_name,
        "looked": looked(job),
        "arrived": {"symptom": now.symptom_said, "trials": now.trials},
        "measured": {"power": now.power, "readings": now.readings, "volts": now.volts, "rework": now.reworks},
    }


class CardSerializer(serializers.ModelSerializer[Card]):
    """A card that was here before."""

    board_model = serializers.CharField(source="model.slug")
    jobs = serializers.SerializerMethodField()

    class Meta:
        model = Card
        fields = ["serial", "board_model", "jobs"]

    @extend_schema_field(JobSerializer(many=True))
    def get_jobs(self, card: Card) -> list[dict[str, Any]]:
        """Its visits."""
        return [job_row(job) for job in whole(jobs().filter(card=card).order_by("-opened_at"))]
