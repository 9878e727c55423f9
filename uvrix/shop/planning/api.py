"""The plan of a job, attempts, habits."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.finding_kinds import USUAL_SHARES
from uvrix.core.memory.locate import action_json
from uvrix.core.planning.causes import EFFECTS, REPAIRS
from uvrix.core.planning.habits import SCHOOLS, habits_to_json
from uvrix.core.planning.plan import OUTCOMES
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.case.answers import advice_hidden
from uvrix.shop.config.access import BENCH, EVERYONE, LEAD
from uvrix.shop.config.shapes import chosen, declared, shape, written
from uvrix.shop.jobs.api import standing_job
from uvrix.shop.library.located import ActionSerializer
from uvrix.shop.planning.models import Attempt, HabitsEdition
from uvrix.shop.planning.queries import plan_for, set_habits_now, shop_habits
from uvrix.shop.planning.services import NewAttempt, enter_attempt, set_habits, withdraw_attempt


class AttemptSerializer(serializers.ModelSerializer[Attempt]):
    """Something that was tried."""

    by = serializers.CharField(source="by.shown_name")
    said = serializers.SerializerMethodField()

    class Meta:
        model = Attempt
        fields = ["id", "do", "outcome", "said", "minutes", "note", "kind", "chips", "by", "at"]

    def get_said(self, attempt: Attempt) -> str:
        """The outcome in words."""
        return outcome_words(attempt.do)[attempt.outcome]


def outcome_words(do: str) -> dict[str, str]:
    """An action's outcomes in words."""
    return {"yes": EFFECTS[do].yes, "no": EFFECTS[do].no, "worse": gettext("Worse than before")}


@dataclass(frozen=True, slots=True)
class OutcomeAnswer:
    """An outcome that an action may have, in words."""

    outcome: Annotated[str, chosen(list(OUTCOMES))]
    words: str


class PlannedSerializer(ActionSerializer):
    """An action of the plan, with the outcomes that it may have."""

    repair = serializers.BooleanField()
    outcomes = shape(OutcomeAnswer)(many=True)


@dataclass(frozen=True, slots=True)
class PlanAnswer:
    """What to try next, and what was tried."""

    actions: Annotated[Iterable[Any], declared(PlannedSerializer(many=True))]
    tried: Annotated[Iterable[Any], declared(AttemptSerializer(many=True))]
    school: Annotated[str, chosen(list(SCHOOLS))]


class JobPlan(APIView):
    """What to try next on a job."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(PlanAnswer))
    def get(self, request: Request, number: int) -> Response:
        """Actions by chance per minute and per risk, best first, and what was tried; none while advice is hidden."""
        job = standing_job(number)
        habits = shop_habits()
        actions = [
            {
                **action_json(action),
                "repair": action.do in REPAIRS,
                "outcomes": [
                    OutcomeAnswer(outcome=key, words=words) for key, words in outcome_words(action.do).items()
                ],
            }
            for action in ([] if advice_hidden(job) else plan_for(job, habits))
        ]
        tried = Attempt.objects.filter(job=job, withdrawal=None).select_related("by")
        return Response(written(PlanAnswer(actions=actions, tried=tried, school=habits.school)))


class JobAttempts(APIView):
    """What was tried on a job."""

    roles = {"POST": BENCH}

    @extend_schema(request=shape(NewAttempt), responses={201: AttemptSerializer, 200: AttemptSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Enter an attempt about the finding as it is now."""
        entry = entry_of(request, NewAttempt)
        attempt, new = enter_attempt(standing_job(number), entry, person(request))
        return Response(AttemptSerializer(attempt).data, 201 if new else 200)


class AttemptWithdrawn(APIView):
    """Taking an attempt back."""

    roles = {"POST": BENCH}

    @extend_schema(request=None, responses={201: AttemptSerializer})
    def post(self, request: Request, attempt: UUID) -> Response:
        """Withdraw the attempt: it stays in the record and does not count."""
        found = get_object_or_404(Attempt.objects.select_related("by"), pk=attempt)
        withdraw_attempt(found, person(request))
        return Response(AttemptSerializer(found).data, 201)


class CostSerializer(serializers.Serializer[Any]):
    """Minutes and risk of an action."""

    minutes = serializers.FloatField()
    risk = serializers.FloatField()


class SetHabitsSerializer(serializers.Serializer[Any]):
    """What a shop sets."""

    school = serializers.ChoiceField(choices=list(SCHOOLS))
    harm_minutes = serializers.FloatField()
    part_minutes = serializers.FloatField()
    costs = serializers.DictField(child=CostSerializer())
    shares = serializers.DictField(child=serializers.DictField(child=serializers.FloatField()))


@dataclass(frozen=True, slots=True)
class HabitsAnswer:
    """What the shop set, what it learned, and by whom it was set."""

    set: Annotated[Any, declared(SetHabitsSerializer())]
    used: Annotated[Any, declared(SetHabitsSerializer())]
    outcomes: Mapping[str, int]
    timed: Mapping[str, int]
    by: str | None
    at: datetime | None


class ShopHabits(APIView):
    """The shop's times, risks, shares of causes and school."""

    roles = {"GET": EVERYONE, "PUT": LEAD}

    @extend_schema(responses=shape(HabitsAnswer))
    def get(self, request: Request) -> Response:
        """What is set, and what is used now that outcomes were counted."""
        return Response(_shown())

    @extend_schema(request=SetHabitsSerializer, responses=shape(HabitsAnswer))
    def put(self, request: Request) -> Response:
        """Set them; the former stay in the history."""
        entry = entry_of(request, SetHabitsSerializer)
        set_habits(entry, person(request))
        return Response(_shown())


def _shown() -> Any:
    used, newest = shop_habits(), HabitsEdition.objects.select_related("by").last()
    shown = HabitsAnswer(
        set=habits_to_json(set_habits_now()),
        used=habits_to_json(used),
        outcomes={group: used.outcomes.get(group, 0) for group in USUAL_SHARES},
        timed={do: used.timed.get(do, 0) for do in EFFECTS},
        by=newest.by.shown_name if newest else None,
        at=newest.at if newest else None,
    )
    return written(shown)
