"""Figures and learning over the API."""

from __future__ import annotations

from datetime import date
from typing import Any, cast

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.figures.counting import BYS, By, Row, figures, wanted
from uvrix.language import gettext
from uvrix.shop.accounts.entries import person
from uvrix.shop.archive.writing import csv_of
from uvrix.shop.clock.queries import money
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.problems import Problem
from uvrix.shop.figures.queries import HOLDS_DAYS, cases, learning
from uvrix.shop.figures.services import learn, unlearn
from uvrix.shop.jobs.api import found_job


class ShareSerializer(serializers.Serializer[Any]):
    """A count out of a total, with the span that holds the truth at least nine times in ten."""

    hits = serializers.IntegerField()
    of = serializers.IntegerField()
    share = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    few = serializers.BooleanField()


class MiddleSerializer(serializers.Serializer[Any]):
    """A middle and its quarter points; null of nothing."""

    count = serializers.IntegerField()
    middle = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    total = serializers.FloatField()


class FigureRowSerializer(serializers.Serializer[Any]):
    """A row of figures, with the numbers of the jobs behind each."""

    name = serializers.CharField()
    jobs = serializers.ListField(child=serializers.IntegerField())
    seen = ShareSerializer()
    repaired = ShareSerializer()
    came_back = ShareSerializer()
    not_repaired = serializers.ListField(child=serializers.IntegerField())
    back = serializers.ListField(child=serializers.IntegerField())
    minutes = MiddleSerializer()
    money = MiddleSerializer()
    by_step = serializers.DictField(child=MiddleSerializer())


class FiguresSerializer(serializers.Serializer[Any]):
    """Figures by what was asked; models and causes are those that can be asked for."""

    by = serializers.ChoiceField(choices=list(BYS))
    rows = FigureRowSerializer(many=True)
    cases = serializers.IntegerField()
    models = serializers.ListField(child=serializers.CharField())
    causes = serializers.ListField(child=serializers.CharField())
    currency = serializers.CharField()
    holds_days = serializers.IntegerField()


ASKED = [
    OpenApiParameter("by", str, enum=list(BYS), required=True),
    OpenApiParameter("model", str),
    OpenApiParameter("cause", str),
    OpenApiParameter("since", OpenApiTypes.DATE),
]


def _asked(request: Request) -> tuple[By, tuple[Row, ...], Any]:
    query = request.query_params
    by = query.get("by", "model")
    if by not in BYS:
        raise Problem(422, "no-by", gettext("found {by}, expected one of {bys}", by=repr(by), bys=", ".join(BYS)))
    try:
        since = date.fromisoformat(query["since"]) if query.get("since") else None
    except ValueError:
        raise Problem(
            422, "no-date", gettext("found {since}, expected a date as 2026-01-31", since=repr(query["since"]))
        ) from None
    every = cases()
    chosen = wanted(every, query.get("model", ""), query.get("cause", ""), since)
    return cast("By", by), figures(chosen, cast("By", by)), (every, chosen)


class Figures(APIView):
    """What the shop's jobs add up to."""

    roles = {"GET": EVERYONE}

    @extend_schema(parameters=ASKED, responses=FiguresSerializer)
    def get(self, request: Request) -> Response:
        """By what is asked."""
        by, rows, (every, chosen) = _asked(request)
        shown: dict[str, Any] = {
            "by": by,
            "rows": rows,
            "cases": len(chosen),
            "models": sorted({case.model for case in every}),
        }
        shown |= {"causes": sorted({cause for case in every for cause in case.causes})}
        shown |= {"currency": money().currency, "holds_days": HOLDS_DAYS}
        return Response(FiguresSerializer(shown).data)


HEADS = (
    *("name", "jobs", "of", "low", "high", "repaired", "ended", gettext("repaired low"), gettext("repaired high")),
    *(
        gettext("came back"),
        "known",
        gettext("back low"),
        gettext("back high"),
        gettext("minutes, middle"),
        gettext("money, sum"),
        "numbers",
    ),
)


class FiguresCsv(APIView):
    """Figures for a spreadsheet."""

    roles = {"GET": EVERYONE}

    @extend_schema(parameters=ASKED, responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request: Request) -> HttpResponse:
        """The same rows; cells are safe to open."""
        by, rows, _ = _asked(request)
        lines = csv_of(HEADS, (_cells(row) for row in rows))
        headers = {"Content-Disposition": f'attachment; filename="figures-by-{by}.csv"'}
        return HttpResponse("".join(lines), content_type="text/csv; charset=utf-8", headers=headers)


def _cells(row: Row) -> list[Any]:
    found: list[Any] = [row.name]
    for share in (row.seen, row.repaired, row.came_back):
        found += [share.hits, share.of, round(share.low, 4), round(share.high, 4)]
    numbers = " ".join(f"J-{number:04d}" for number in row.jobs)
    return [*found, row.minutes.middle, round(row.money.total, 2), numbers]


class LearnedCardSerializer(serializers.Serializer[Any]):
    """A proven card and what the library has of it."""

    number = serializers.IntegerField(source="job.pk")
    label = serializers.CharField(source="job.label")  # type: ignore[assignment]  # a field, not DRF's label
    serial = serializers.CharField(source="job.card.serial")
    model = serializers.CharField(source="job.card.model.__str__")
    board_model = serializers.CharField(source="job.card.model.slug")
    readings = serializers.IntegerField()
    counts = serializers.BooleanField()
    by = serializers.CharField(allow_blank=True)
    at = serializers.DateTimeField(source="repaired.at")


class Learning(APIView):
    """Proven cards and what was learned of them."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=LearnedCardSerializer(many=True))
    def get(self, request: Request) -> Response:
        """Newest first."""
        return Response(LearnedCardSerializer(learning(), many=True).data)


class JobLearning(APIView):
    """Learning from one card."""

    roles = {"POST": BENCH, "DELETE": BENCH}

    @extend_schema(request=None, responses=LearnedCardSerializer(many=True))
    def post(self, request: Request, number: int) -> Response:
        """Let the card's readings join the known-good library."""
        learn(found_job(number), person(request))
        return Response(LearnedCardSerializer(learning(), many=True).data)

    @extend_schema(request=None, responses=LearnedCardSerializer(many=True))
    def delete(self, request: Request, number: int) -> Response:
        """Take the card's readings out of the library again."""
        unlearn(found_job(number), person(request))
        return Response(LearnedCardSerializer(learning(), many=True).data)
