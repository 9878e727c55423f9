"""What the one mind says in answers: steps and causes."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from uvrix.core.case.belief.weighing import CAUSES
from uvrix.core.case.plan.words import DOES

STEPS = ["arrive", "look", "ohms", "volts", "memory", "rework", "prove", "return"]


class CaseStepSerializer(serializers.Serializer[Any]):
    """A step of the plan (docs/formats §18), as a sentence too."""

    do = serializers.ChoiceField(choices=DOES)
    target = serializers.CharField()
    step = serializers.ChoiceField(choices=STEPS)
    minutes = serializers.FloatField()
    risk = serializers.FloatField()
    gain = serializers.FloatField()
    says = serializers.CharField()
    means = serializers.CharField(allow_blank=True)
    why = serializers.CharField()


class RestsOnSerializer(serializers.Serializer[Any]):
    """An entry that a cause rests on."""

    number = serializers.IntegerField()
    words = serializers.CharField()


class CauseSerializer(serializers.Serializer[Any]):
    """What may be wrong, and what it rests on."""

    cause = serializers.ChoiceField(choices=CAUSES)
    designators = serializers.ListField(child=serializers.CharField())
    chance = serializers.FloatField()
    says = serializers.CharField()
    why = serializers.ListField(child=serializers.CharField())
    evidence = RestsOnSerializer(many=True)
