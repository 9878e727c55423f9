"""What memory reports say of a board, as it is answered wherever a report is read."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers


class SiteCountSerializer(serializers.Serializer[Any]):
    """Errors of one site."""

    designator = serializers.CharField()
    side = serializers.ChoiceField(choices=["front", "back"])
    channel = serializers.CharField(allow_null=True)
    position = serializers.IntegerField(allow_null=True)
    fitted = serializers.BooleanField()
    errors = serializers.IntegerField()  # type: ignore[assignment]  # a field, not what DRF calls errors
    share = serializers.FloatField()
    dq = serializers.ListField(child=serializers.IntegerField())


class ExplanationSerializer(serializers.Serializer[Any]):
    """An explanation of the errors."""

    kind = serializers.CharField()
    title = serializers.CharField()
    designators = serializers.ListField(child=serializers.CharField())
    dq = serializers.ListField(child=serializers.IntegerField())
    chance = serializers.FloatField()
    why = serializers.ListField(child=serializers.CharField())


class ActionSerializer(serializers.Serializer[Any]):
    """Something to do about it."""

    do = serializers.CharField()
    designators = serializers.ListField(child=serializers.CharField())
    chance = serializers.FloatField()
    minutes = serializers.FloatField()
    why = serializers.CharField()
    risk = serializers.FloatField()
    per_hour = serializers.FloatField()
    settles = serializers.ListField(child=serializers.CharField())
    basis = serializers.CharField(allow_blank=True)


class ReportSerializer(serializers.Serializer[Any]):
    """A report as read."""

    file = serializers.CharField()
    format = serializers.CharField()
    condition = serializers.ListField(child=serializers.CharField())
    result = serializers.CharField(allow_null=True)
    refusal = serializers.CharField(allow_null=True)
    rows = serializers.IntegerField()
    unread = serializers.IntegerField()
    errors = serializers.IntegerField()  # type: ignore[assignment]  # a field, not what DRF calls errors


class ComparedSerializer(serializers.Serializer[Any]):
    """What the runs say of one chip."""

    designator = serializers.CharField()
    verdict = serializers.CharField()
    why = serializers.CharField()


class BallSerializer(serializers.Serializer[Any]):
    """A data line of the finding as a ball."""

    line = serializers.IntegerField()
    package_line = serializers.IntegerField(allow_null=True)
    ball = serializers.CharField(allow_null=True)


class LearnedSerializer(serializers.Serializer[Any]):
    """An address map learned from a report, as a board file takes it, or why none."""

    learned = serializers.JSONField(allow_null=True)
    why = serializers.CharField()


class LocatedSerializer(serializers.Serializer[Any]):
    """What reports say about a board's chips (docs/formats §18, `uvrix locate`)."""

    reports = ReportSerializer(many=True)
    sites = SiteCountSerializer(many=True)
    finding = ExplanationSerializer()
    others = ExplanationSerializer(many=True)
    actions = ActionSerializer(many=True)
    warnings = serializers.ListField(child=serializers.CharField())
    compared = ComparedSerializer(many=True)
    balls = BallSerializer(many=True)
    address_map = LearnedSerializer(allow_null=True)
    placeless = serializers.BooleanField()
