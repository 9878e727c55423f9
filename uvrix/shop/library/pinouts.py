"""Pinouts by marking: the shop's own notes on small chips, edition by edition, offered wherever a marking appears."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.pinouts import USES, key_of_marking, read_pinout
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.models import User
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import declared, given, shape, written
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.library.models import BoardModel, PinoutEdition
from uvrix.shop.library.queries import board_of


class PinSerializer(serializers.Serializer[Any]):
    """A pin; x and y run from -1 to 1 of the body, y upwards, pin 1 at the upper left."""

    pin = serializers.IntegerField()
    name = serializers.CharField(allow_blank=True)
    use = serializers.ChoiceField(choices=[*USES, ""])
    note = serializers.CharField(allow_blank=True)
    side = serializers.ChoiceField(choices=["left", "lower", "right", "upper"])
    x = serializers.FloatField()
    y = serializers.FloatField()


@dataclass(frozen=True, slots=True)
class PinoutAnswer:
    """A chip's notes as they stand, who noted them when and on which job; `seen` are boards where it sits."""

    marking: str
    kind: str
    note: str
    sides: Sequence[int]
    pins: Annotated[Iterable[Any], declared(PinSerializer(many=True))]
    edition: int
    job: str
    by: str
    at: datetime
    seen: Sequence[str]
    document: Any


@dataclass(frozen=True, slots=True)
class SavePinoutRequest:
    """A pinout to save (docs/formats/pinout.schema.json); `base` is the edition it was made from, 0 for a new one."""

    document: Annotated[dict[str, Any], declared(DocumentField())]
    base: Annotated[int, given(min_value=0)]
    job: Annotated[str, given(max_length=40, allow_blank=True)] = ""


def pinouts_by_key() -> dict[str, PinoutEdition]:
    """The newest edition of each marking."""
    newest = PinoutEdition.objects.order_by("key", "-number").distinct("key").select_related("by")
    return {edition.key: edition for edition in newest}


def pinout_shape(known: Mapping[str, PinoutEdition], marking: str, seen: tuple[str, ...] = ()) -> PinoutAnswer | None:
    """What `PinoutAnswer` says of a marking; None where nobody noted it."""
    edition = known.get(key_of_marking(marking)) if marking else None
    if edition is None:
        return None
    found = read_pinout(edition.content)
    return PinoutAnswer(
        marking=found.marking,
        kind=found.kind,
        note=found.note,
        sides=found.sides,
        pins=found.pins,
        edition=edition.number,
        job=edition.job,
        by=edition.by.shown_name,
        at=edition.at,
        seen=seen,
        document=edition.content,
    )


@transaction.atomic
def save_pinout(document: dict[str, Any], base: int, job: str, by: User) -> PinoutEdition:
    """The notes on a marking as the edition after `base`.

    Raises Refusal where they do not fit; Problem 409 `saved-meanwhile` where somebody saved another since `base`.
    """
    found = read_pinout(document)
    key = key_of_marking(found.marking)
    newest = PinoutEdition.objects.filter(key=key).select_related("by").order_by("-number").first()
    number = newest.number if newest else 0
    if number != base:
        who = newest.by.shown_name if newest else ""
        detail = gettext(
            "{who} saved edition {number} of {marking} meanwhile; yours was made from edition {base}.",
            who=who,
            number=number,
            marking=found.marking,
            base=base,
        )
        raise Problem(
            409, "saved-meanwhile", gettext("{detail} Nothing was overwritten.", detail=detail), edition=number
        )
    return PinoutEdition.objects.create(key=key, number=number + 1, content=document, job=job, by=by)


def boards_with_markings() -> dict[str, tuple[str, ...]]:
    """By marking, the boards and designators where the library's models bear it."""
    found: dict[str, list[str]] = {}
    for model in BoardModel.objects.exclude(newest=None).select_related("newest").order_by("name"):
        assert model.newest
        for part in board_of(model.newest).parts:
            if part.marking:
                found.setdefault(key_of_marking(part.marking), []).append(f"{model.name} {part.designator}")
    return {key: tuple(places) for key, places in found.items()}


class Pinouts(APIView):
    """The shop's pinouts."""

    roles = {"GET": EVERYONE, "PUT": BENCH}

    @extend_schema(responses=shape(PinoutAnswer)(many=True), operation_id="pinouts")
    def get(self, request: Request) -> Response:
        """Every pinout, by marking."""
        return Response(_all())

    @extend_schema(
        request=shape(SavePinoutRequest), responses=shape(PinoutAnswer)(many=True), operation_id="pinout_save"
    )
    def put(self, request: Request) -> Response:
        """Save one; an older edition is kept."""
        entry = entry_of(request, SavePinoutRequest)
        save_pinout(entry.document, entry.base, entry.job, person(request))
        return Response(_all())


def _all() -> Any:
    known, seen = pinouts_by_key(), boards_with_markings()
    shown = [
        pinout_shape(known, edition.content["marking"], seen.get(key, ())) for key, edition in sorted(known.items())
    ]
    return written(shown)
