"""Hypotheses and watchlists."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.hypotheses.suggest import Counted
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.hypotheses.queries import Hypothesis, hypotheses, watchlist_of
from uvrix.shop.hypotheses.services import STATES, NewWord, say
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.sheets import Sheet, SheetSerializer, head_of, save_sheet

STEPS = ("arrive", "look", "ohms", "volts", "memory", "rework", "prove", "return", "")


class CountedSerializer(serializers.Serializer[Any]):
    """So many of so many cards, and their jobs."""

    had = serializers.ListField(child=serializers.IntegerField())
    seen = serializers.IntegerField()


class CountsSerializer(serializers.Serializer[Any]):
    """What past cards with this symptom say of a cause: its share, with the central 90 % of how it may really be."""

    model = CountedSerializer()
    family = CountedSerializer()
    everywhere = CountedSerializer()
    share = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()


class WatchSerializer(serializers.Serializer[Any]):
    """An entry of a watchlist."""

    cause = serializers.CharField(max_length=120)
    look = serializers.CharField(max_length=400, required=False, allow_blank=True)
    part = serializers.CharField(max_length=80, required=False, allow_blank=True)
    always = serializers.BooleanField(required=False)


class HypothesisSerializer(serializers.Serializer[Any]):
    """A hypothesis as it stands."""

    key = serializers.CharField()
    cause = serializers.CharField()
    state = serializers.ChoiceField(choices=STATES)
    by_what = serializers.CharField(allow_blank=True)
    step = serializers.CharField(allow_blank=True)
    by = serializers.CharField(allow_null=True)
    at = serializers.DateTimeField(allow_null=True)
    watch = WatchSerializer(allow_null=True)
    counts = CountsSerializer(allow_null=True)


class SayWordSerializer(serializers.Serializer[Any]):
    """What a hypothesis has become."""

    id = serializers.UUIDField()
    cause = serializers.CharField(max_length=120)
    state = serializers.ChoiceField(choices=STATES)
    by_what = serializers.CharField(max_length=200, required=False, allow_blank=True)
    step = serializers.ChoiceField(choices=STEPS, required=False)


def _shown(job: Job) -> Any:
    return HypothesisSerializer([shown_hypothesis(hypothesis) for hypothesis in hypotheses(job)], many=True).data


def shown_hypothesis(one: Hypothesis) -> dict[str, Any]:
    """A hypothesis as the serializer takes it."""
    said, found = one.said, one.suggestion
    counts = None
    if found and found.everywhere.had:
        groups = {name: _counted(getattr(found, name)) for name in ("model", "family", "everywhere")}
        counts = {**groups, "share": found.share, "low": found.low, "high": found.high}
    watch = found.watch if found else None
    return {
        "key": one.key,
        "cause": one.cause,
        "state": one.state,
        "by_what": said.by_what if said else "",
        "step": said.step if said else "",
        "by": said.by.shown_name if said else None,
        "at": said.at if said else None,
        "watch": {name: getattr(watch, name) for name in ("cause", "look", "part", "always")} if watch else None,
        "counts": counts,
    }


def _counted(one: Counted) -> dict[str, Any]:
    return {"had": list(one.had), "seen": one.seen}


class JobHypotheses(APIView):
    """A job's hypotheses."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=HypothesisSerializer(many=True), operation_id="job_hypotheses")
    def get(self, request: Request, number: int) -> Response:
        """Confirmed ones first, then open ones by their share, then those ruled out."""
        return Response(_shown(found_job(number)))

    @extend_schema(
        request=SayWordSerializer,
        responses={201: HypothesisSerializer(many=True), 200: HypothesisSerializer(many=True)},
        operation_id="job_hypothesis_word",
    )
    def post(self, request: Request, number: int) -> Response:
        """Open one, rule it out or confirm it."""
        entry, job = entry_of(request, SayWordSerializer), found_job(number)
        _, new = say(job, NewWord(**entry), person(request))
        return Response(_shown(job), 201 if new else 200)


class WatchlistSerializer(SheetSerializer):
    """A model's watchlist."""

    watch = WatchSerializer(many=True)


class SaveWatchlistSerializer(serializers.Serializer[Any]):
    """A watchlist to save, and the edition that it was made from."""

    edition = serializers.IntegerField(min_value=0)
    watch = WatchSerializer(many=True)


class ModelWatchlist(APIView):
    """A model's watchlist."""

    roles = {"GET": EVERYONE, "PUT": BENCH}

    @extend_schema(responses=WatchlistSerializer)
    def get(self, request: Request, slug: str) -> Response:
        """The newest edition, or a relative's."""
        return Response(_watchlist(watchlist_of(get_object_or_404(BoardModel, slug=slug))))

    @extend_schema(request=SaveWatchlistSerializer, responses=WatchlistSerializer)
    def put(self, request: Request, slug: str) -> Response:
        """Save it as a new edition; refused where somebody saved another meanwhile."""
        entry = entry_of(request, SaveWatchlistSerializer)
        model = get_object_or_404(BoardModel, slug=slug)
        save_sheet(model, "watchlist", {"watch": entry["watch"]}, entry["edition"], person(request))
        return Response(_watchlist(watchlist_of(model)))


def _watchlist(found: Sheet) -> Any:
    shown = {
        **head_of(found),
        "watch": [
            {name: getattr(entry, name) for name in ("cause", "look", "part", "always")} for entry in found.content
        ],
    }
    return WatchlistSerializer(shown).data
