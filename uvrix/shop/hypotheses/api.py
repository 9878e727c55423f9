"""Hypotheses and watchlists."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.hypotheses.suggest import Counted
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.shapes import chosen, declared, given, shape, written
from uvrix.shop.hypotheses.queries import Hypothesis, hypotheses, watchlist_of
from uvrix.shop.hypotheses.services import STATES, NewWord, say
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.sheets import Sheet, SheetSerializer, head_of, save_sheet


@dataclass(frozen=True, slots=True)
class CountedAnswer:
    """How many of how many cards, and their jobs."""

    had: Sequence[int]
    seen: int


class CountsSerializer(serializers.Serializer[Any]):
    """What past cards with this symptom say of a cause: its share, with the central 90 % of how it may really be."""

    model = shape(CountedAnswer)()
    family = shape(CountedAnswer)()
    everywhere = shape(CountedAnswer)()
    share = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()


class WatchSerializer(serializers.Serializer[Any]):
    """An entry of a watchlist."""

    cause = serializers.CharField(max_length=120)
    look = serializers.CharField(max_length=400, required=False, allow_blank=True)
    part = serializers.CharField(max_length=80, required=False, allow_blank=True)
    always = serializers.BooleanField(required=False)


@dataclass(frozen=True, slots=True)
class HypothesisAnswer:
    """A hypothesis as it stands."""

    key: str
    cause: str
    state: Annotated[str, chosen(STATES)]
    by_what: str
    step: str
    by: str | None
    at: datetime | None
    watch: Annotated[Any, declared(WatchSerializer(allow_null=True))]
    counts: Annotated[Any, declared(CountsSerializer(allow_null=True))]


def _shown(job: Job) -> Any:
    return written([shown_hypothesis(hypothesis) for hypothesis in hypotheses(job)])


def shown_hypothesis(hypothesis: Hypothesis) -> HypothesisAnswer:
    """A hypothesis as the serializer takes it."""
    said, found = hypothesis.said, hypothesis.suggestion
    counts = None
    if found and found.everywhere.had:
        groups = {name: _counted(getattr(found, name)) for name in ("model", "family", "everywhere")}
        counts = {**groups, "share": found.share, "low": found.low, "high": found.high}
    watch = found.watch if found else None
    return HypothesisAnswer(
        key=hypothesis.key,
        cause=hypothesis.cause,
        state=hypothesis.state,
        by_what=said.by_what if said else "",
        step=said.step if said else "",
        by=said.by.shown_name if said else None,
        at=said.at if said else None,
        watch={name: getattr(watch, name) for name in ("cause", "look", "part", "always")} if watch else None,
        counts=counts,
    )


def _counted(counted: Counted) -> CountedAnswer:
    return CountedAnswer(had=list(counted.had), seen=counted.seen)


class JobHypotheses(APIView):
    """A job's hypotheses."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=shape(HypothesisAnswer)(many=True), operation_id="job_hypotheses")
    def get(self, request: Request, number: int) -> Response:
        """Confirmed ones first, then open ones by their share, then those ruled out."""
        return Response(_shown(found_job(number)))

    @extend_schema(
        request=shape(NewWord),
        responses={201: shape(HypothesisAnswer)(many=True), 200: shape(HypothesisAnswer)(many=True)},
        operation_id="job_hypothesis_word",
    )
    def post(self, request: Request, number: int) -> Response:
        """Open one, rule it out or confirm it."""
        entry, job = entry_of(request, NewWord), found_job(number)
        _, new = say(job, entry, person(request))
        return Response(_shown(job), 201 if new else 200)


class WatchlistSerializer(SheetSerializer):
    """A model's watchlist."""

    watch = WatchSerializer(many=True)


@dataclass(frozen=True, slots=True)
class SaveWatchlistRequest:
    """A watchlist to save, and the edition that it was made from."""

    edition: Annotated[int, given(min_value=0)]
    watch: Annotated[Sequence[Any], declared(WatchSerializer(many=True))]


class ModelWatchlist(APIView):
    """A model's watchlist."""

    roles = {"GET": EVERYONE, "PUT": BENCH}

    @extend_schema(responses=WatchlistSerializer)
    def get(self, request: Request, slug: str) -> Response:
        """The newest edition, or a relative's."""
        return Response(_watchlist(watchlist_of(get_object_or_404(BoardModel, slug=slug))))

    @extend_schema(request=shape(SaveWatchlistRequest), responses=WatchlistSerializer)
    def put(self, request: Request, slug: str) -> Response:
        """Save it as a new edition; refused where somebody saved another meanwhile."""
        entry = entry_of(request, SaveWatchlistRequest)
        model = get_object_or_404(BoardModel, slug=slug)
        save_sheet(model, "watchlist", {"watch": entry.watch}, entry.edition, person(request))
        return Response(_watchlist(watchlist_of(model)))


def _watchlist(found: Sheet) -> Any:
    shown = {
        **head_of(found),
        "watch": [
            {name: getattr(entry, name) for name in ("cause", "look", "part", "always")} for entry in found.content
        ],
    }
    return WatchlistSerializer(shown).data
