"""The kinds of things that the core knows, in words: screens list them from here and copy none."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.finding_kinds import CAUSES, FINDING_KINDS, GROUPS
from uvrix.core.proving.protocol import CHECK_KINDS, KINDS
from uvrix.core.rework.acts import ACTS, DOES
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.config.shapes import chosen, declared, shape, written


@dataclass(frozen=True, slots=True)
class NamedAnswer:
    """A kind and how it is called."""

    name: str
    words: str


class ActKindSerializer(serializers.Serializer[Any]):
    """An act at Rework: as it is asked for and as it was done."""

    do = serializers.ChoiceField(choices=list(DOES))
    asked = serializers.CharField()
    done = serializers.CharField()


@dataclass(frozen=True, slots=True)
class CheckKindAnswer:
    """A kind of check of the proof, and the figures that it takes."""

    kind: Annotated[str, chosen(KINDS)]
    words: str
    figures: Sequence[NamedAnswer]


@dataclass(frozen=True, slots=True)
class KindsAnswer:
    """Every kind."""

    findings: Sequence[NamedAnswer]
    groups: Sequence[NamedAnswer]
    causes: Sequence[NamedAnswer]
    acts: Annotated[Iterable[Any], declared(ActKindSerializer(many=True))]
    checks: Sequence[CheckKindAnswer]


class Kinds(APIView):
    """Kinds of findings, of causes, of acts, of checks."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(KindsAnswer))
    def get(self, request: Request) -> Response:
        """Every kind, in the order in which they are offered."""
        shown = KindsAnswer(
            findings=[NamedAnswer(name=kind.name, words=kind.title) for kind in FINDING_KINDS.values()],
            groups=[NamedAnswer(name=group.name, words=group.label) for group in GROUPS.values()],
            causes=_named(CAUSES),
            acts=ACTS.values(),
            checks=[
                CheckKindAnswer(kind=kind.kind, words=kind.label, figures=_named(kind.figures))
                for kind in CHECK_KINDS.values()
            ],
        )
        return Response(written(shown))


def _named(labels: Any) -> list[NamedAnswer]:
    return [NamedAnswer(name=name, words=label) for name, label in labels.items()]
