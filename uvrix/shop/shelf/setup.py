"""How far a new shop is set up, for the page that leads its first lead through the first hour."""

from __future__ import annotations

from dataclasses import dataclass

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import person
from uvrix.shop.accounts.models import User
from uvrix.shop.clock.models import MoneyEdition
from uvrix.shop.config.access import LEAD
from uvrix.shop.config.shapes import shape
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.library.models import BoardModel


@dataclass(frozen=True, slots=True)
class SetupAnswer:
    """What is there: whether the shop's money was set, people besides who asks, drawn board models, jobs."""

    money: bool
    others: int
    board_models: int
    jobs: int


class Setup(APIView):
    """The first hour of a shop."""

    roles = {"GET": LEAD}

    @extend_schema(responses=shape(SetupAnswer), operation_id="setup")
    def get(self, request: Request) -> Response:
        """What is done of it."""
        done = SetupAnswer(
            money=MoneyEdition.objects.exists(),
            others=User.objects.exclude(pk=person(request).pk).filter(is_active=True).count(),
            board_models=BoardModel.objects.exclude(newest=None).count(),
            jobs=of_the_shop(Job.objects.all(), "pk").count(),
        )
        return Response(done)
