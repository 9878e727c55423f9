"""The kinds of things that the core and the shop know, in words: screens list them from here and copy none."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.pinouts import USES
from uvrix.core.boards.schema import LANDMARK_KINDS, NODE_KINDS, PART_KINDS, POINT_KINDS
from uvrix.core.figures.counting import BYS
from uvrix.core.finding_kinds import CAUSES, FINDING_KINDS, GROUPS
from uvrix.core.memory.metadata import REFUSALS
from uvrix.core.planning.habits import ACTIONS
from uvrix.core.promises import BY_HAND
from uvrix.core.promises import KINDS as PROMISES
from uvrix.core.proving.log import WORDS as LOG_COLUMNS
from uvrix.core.proving.protocol import CHECK_KINDS, KINDS
from uvrix.core.rework.acts import ACTS, DOES
from uvrix.core.startup.ladder import WORDS as RUNGS
from uvrix.core.startup.refuted import SAYS
from uvrix.core.stock.facts import KINDS as STOCK_KINDS
from uvrix.core.stock.life import CONDITIONS
from uvrix.core.stock.values import SOURCES
from uvrix.core.teardown.materials import MATERIALS
from uvrix.core.values.codes import WORDS, code_words
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.config.roles import Role
from uvrix.shop.config.shapes import chosen, declared, shape, written
from uvrix.shop.jobs.models import WhoseMove
from uvrix.shop.returning.queries import CAUSES as COMEBACKS
from uvrix.shop.volts.services import DONE


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
    """Every kind, each list in the order in which it is offered; `codes` are words of anything else."""

    findings: Sequence[NamedAnswer]
    groups: Sequence[NamedAnswer]
    causes: Sequence[NamedAnswer]
    actions: Sequence[NamedAnswer]
    acts: Annotated[Iterable[Any], declared(ActKindSerializer(many=True))]
    checks: Sequence[CheckKindAnswer]
    rungs: Sequence[NamedAnswer]
    refusals: Sequence[str]
    landmarks: Sequence[str]
    points: Sequence[str]
    parts: Sequence[str]
    nodes: Sequence[NamedAnswer]
    pin_uses: Sequence[NamedAnswer]
    promises: Sequence[NamedAnswer]
    comebacks: Sequence[NamedAnswer]
    materials: Sequence[NamedAnswer]
    log_columns: Sequence[NamedAnswer]
    stock: Sequence[NamedAnswer]
    conditions: Sequence[NamedAnswer]
    value_sources: Sequence[NamedAnswer]
    figures: Sequence[NamedAnswer]
    moves: Sequence[NamedAnswer]
    roles: Sequence[NamedAnswer]
    tried: Sequence[NamedAnswer]
    came_of: Sequence[NamedAnswer]
    codes: Sequence[NamedAnswer]


class Kinds(APIView):
    """Kinds of findings, of causes, of acts, of checks, and of all that a screen offers to choose from."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=shape(KindsAnswer))
    def get(self, request: Request) -> Response:
        """Every kind, in the order in which they are offered."""
        shown = KindsAnswer(
            findings=[NamedAnswer(kind.name, kind.title) for kind in FINDING_KINDS.values()],
            groups=[NamedAnswer(group.name, group.label) for group in GROUPS.values()],
            causes=_named(CAUSES),
            actions=_named(ACTIONS),
            acts=ACTS.values(),
            checks=[CheckKindAnswer(kind.kind, kind.label, _named(kind.figures)) for kind in CHECK_KINDS.values()],
            rungs=_named(RUNGS),
            refusals=[*REFUSALS, "other"],
            landmarks=LANDMARK_KINDS,
            points=POINT_KINDS,
            parts=PART_KINDS,
            nodes=_coded(NODE_KINDS),
            pin_uses=_named(USES),
            promises=[NamedAnswer(kind, PROMISES[kind]) for kind in BY_HAND],
            comebacks=_named(COMEBACKS),
            materials=_named(MATERIALS),
            log_columns=_named(LOG_COLUMNS),
            stock=_named(STOCK_KINDS),
            conditions=_coded(CONDITIONS),
            value_sources=_named(SOURCES),
            figures=_named(BYS),
            moves=[NamedAnswer(move.value, move.label) for move in WhoseMove],
            roles=[NamedAnswer(role.value, role.label.lower()) for role in Role],
            tried=_coded(DONE),
            came_of=_named(SAYS),
            codes=_named(WORDS),
        )
        return Response(written(shown))


def _named(labels: Mapping[Any, str]) -> list[NamedAnswer]:
    return [NamedAnswer(name, label) for name, label in labels.items()]


def _coded(codes: Iterable[str]) -> list[NamedAnswer]:
    return [NamedAnswer(code, code_words(code)) for code in codes]
