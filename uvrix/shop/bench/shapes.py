"""What the bench's answers look like."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from uvrix.core.memory.stored import channels_of
from uvrix.shop.bench.models import ChipMark, MemoryRun
from uvrix.shop.config.shapes import shape
from uvrix.shop.library.located import LocatedSerializer
from uvrix.shop.library.shapes import UnreadAnswer


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

    @extend_schema_field(shape(UnreadAnswer)(many=True))
    def get_unread(self, run: MemoryRun) -> list[UnreadAnswer]:
        """The first rows that could not be read."""
        return [UnreadAnswer(line=line, text=text) for line, text in run.report["unread"]["quotes"]]

    def get_withdrawn(self, run: MemoryRun) -> bool:
        """Whether it was taken out of the finding."""
        return hasattr(run, "withdrawal")


class MarkSerializer(serializers.ModelSerializer[ChipMark]):
    """A confirmed mark."""

    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = ChipMark
        fields = ["id", "designator", "typed", "question", "answer", "by", "at"]
