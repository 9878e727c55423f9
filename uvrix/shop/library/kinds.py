"""The kinds of things that the core knows, in words: screens list them from here and copy none."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.finding_kinds import CAUSES, FINDING_KINDS, GROUPS
from uvrix.core.proving.protocol import CHECK_KINDS, KINDS
from uvrix.core.rework.acts import ACTS, DOES
from uvrix.shop.config.access import EVERYONE


class NamedSerializer(serializers.Serializer[Any]):
    """A kind and how it is called."""

    name = serializers.CharField()
    words = serializers.CharField()


class ActKindSerializer(serializers.Serializer[Any]):
    """An act at Rework: as it is asked for and as it was done."""

    do = serializers.ChoiceField(choices=list(DOES))
    asked = serializers.CharField()
    done = serializers.CharField()


class CheckKindSerializer(serializers.Serializer[Any]):
    """A kind of check of the proof, and the figures that it takes."""

    kind = serializers.ChoiceField(choices=KINDS)
    words = serializers.CharField()
    figures = NamedSerializer(many=True)


class KindsSerializer(serializers.Serializer[Any]):
    """Every kind."""

    findings = NamedSerializer(many=True)
    groups = NamedSerializer(many=True)
    causes = NamedSerializer(many=True)
    acts = ActKindSerializer(many=True)
    checks = CheckKindSerializer(many=True)


class Kinds(APIView):
    """Kinds of findings, of causes, of acts, of checks."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=KindsSerializer)
    def get(self, request: Request) -> Response:
        """All of them, in the order in which they are offered."""
        shown = {
            "findings": [{"name": kind.name, "words": kind.title} for kind in FINDING_KINDS.values()],
            "groups": [{"name": group.name, "words": group.label} for group in GROUPS.values()],
            "causes": _named(CAUSES),
            "acts": ACTS.values(),
            "checks": [
                {"kind": kind.kind, "words": kind.label, "figures": _named(kind.figures)}
                for kind in CHECK_KINDS.values()
            ],
        }
        return Response(KindsSerializer(shown).data)


def _named(labels: Any) -> list[dict[str, str]]:
    return [{"name": name, "words": label} for name, label in labels.items()]
