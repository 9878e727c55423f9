"""What the bench's answers look like."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from uvrix.core.memory.stored import channels_of
from uvrix.shop.bench.models import ChipMark, MemoryRun


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
    """One of the finding's lines as a ball."""

    line = serializers.IntegerField()
    package_line = serializers.IntegerField(allow_null=True)
    ball = serializers.CharField(allow_null=True)


class LearnedSerializer(serializers.Serializer[Any]):
    """An address map learned from a report, as a board file takes it, or why none."""

    learned = serializers.JSONField(allow_null=True)
    why = serializers.CharField()


class LocatedSerializer(serializers.Serializer[Any]):
    """What reports say about a board's chips (formats.md, `uvrix locate`)."""

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


class UnreadSerializer(serializers.Serializer[Any]):
    """A row that could not be read."""

    line = serializers.IntegerField()
    text = serializers.CharField()


class RunSerializer(serializers.ModelSerializer[MemoryRun]):
    """A memory run."""

    job = serializers.IntegerField(source="job_id")
    size = serializers.IntegerField(source="file.size")
    sha256 = serializers.CharField(source="file_id")
    condition = serializers.ListField(child=serializers.CharField())
    added_by = serializers.CharField(source="added_by.shown_name")
    located = LocatedSerializer()
    channels = serializers.SerializerMethodField()
    unread = serializers.SerializerMethodField()
    withdrawn = serializers.SerializerMethodField()

    class Meta:
        model = MemoryRun
        fields = ["id", "job", "number", "file_name", "size", "sha256", "condition", "added_by", "added_at"]
        fields += ["located", "channels", "unread", "withdrawn"]

    def get_channels(self, run: MemoryRun) -> list[str]:
        """The channels in the order in which the report lists them."""
        return channels_of(run.report) if run.report["evidence"]["tally"] else []

    @extend_schema_field(UnreadSerializer(many=True))
    def get_unread(self, run: MemoryRun) -> list[dict[str, object]]:
        """The first rows that could not be read."""
        return [{"line": line, "text": text} for line, text in run.report["unread"]["quotes"]]

    def get_withdrawn(self, run: MemoryRun) -> bool:
        """Whether it was taken out of the finding."""
        return hasattr(run, "withdrawal")


class MarkSerializer(serializers.ModelSerializer[ChipMark]):
    """A confirmed mark."""

    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = ChipMark
        fields = ["id", "designator", "typed", "question", "answer", "by", "at"]
