"""Teardown recipes, and a job's card taken apart."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.teardown.materials import COOLED, MATERIALS, STATES
from uvrix.core.teardown.recipe import KINDS, MOST_COUNT, Step
from uvrix.core.teardown.tally import StepState
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.shapes import declared, given, shape, written
from uvrix.shop.jobs.api import found_job
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.shapes import KindWordsAnswer
from uvrix.shop.library.sheets import Sheet, SheetSerializer, head_of, save_sheet
from uvrix.shop.teardown.models import PasteOrPad, TeardownDone
from uvrix.shop.teardown.queries import job_states, layers, recipe_of
from uvrix.shop.teardown.services import NewDone, NewPasteOrPad, do_step, note_layer


class StepSerializer(serializers.Serializer[Any]):
    """A step of a teardown recipe."""

    id = serializers.CharField(max_length=64)
    kind = serializers.ChoiceField(choices=list(KINDS))
    what = serializers.CharField(max_length=120)
    count = serializers.IntegerField(required=False, min_value=1, max_value=MOST_COUNT)
    side = serializers.ChoiceField(choices=["front", "back"], required=False)
    places_mm = serializers.ListField(
        child=serializers.ListField(child=serializers.FloatField(), min_length=2, max_length=2), required=False
    )
    crosswise = serializers.BooleanField(required=False)
    hidden = serializers.BooleanField(required=False)
    note = serializers.CharField(required=False, allow_blank=True, max_length=400)


class TeardownRecipeSerializer(SheetSerializer):
    """A model's teardown recipe."""

    steps = StepSerializer(many=True)
    kinds = shape(KindWordsAnswer)(many=True)


@dataclass(frozen=True, slots=True)
class SaveTeardownRequest:
    """A recipe to save, and the edition that it was made from."""

    edition: Annotated[int, given(min_value=0)]
    steps: Annotated[Sequence[Any], declared(StepSerializer(many=True))]


def _recipe(found: Sheet) -> Any:
    shown = {
        **head_of(found),
        "steps": [_step(step) for step in found.content],
        "kinds": [KindWordsAnswer(kind=kind, words=words) for kind, words in KINDS.items()],
    }
    return TeardownRecipeSerializer(shown).data


def _step(step: Step) -> dict[str, Any]:
    fields = ("id", "kind", "what", "count", "side", "crosswise", "hidden", "note")
    return {**{name: getattr(step, name) for name in fields}, "places_mm": [list(place) for place in step.places]}


class ModelTeardown(APIView):
    """A model's teardown recipe."""

    roles = {"GET": EVERYONE, "PUT": BENCH}

    @extend_schema(responses=TeardownRecipeSerializer)
    def get(self, request: Request, slug: str) -> Response:
        """The newest edition, or a relative's."""
        return Response(_recipe(recipe_of(get_object_or_404(BoardModel, slug=slug))))

    @extend_schema(request=shape(SaveTeardownRequest), responses=TeardownRecipeSerializer)
    def put(self, request: Request, slug: str) -> Response:
        """Save it as a new edition; refused where somebody saved another meanwhile."""
        entry = entry_of(request, SaveTeardownRequest)
        model = get_object_or_404(BoardModel, slug=slug)
        save_sheet(model, "teardown", {"steps": entry.steps}, entry.edition, person(request))
        return Response(_recipe(recipe_of(model)))


class DoneSerializer(serializers.Serializer[Any]):
    """How many came off or went on, who counted, and when."""

    count = serializers.IntegerField()
    by = serializers.CharField(source="source.by.shown_name")
    at = serializers.DateTimeField(source="source.at")
    note = serializers.CharField(source="source.note", allow_blank=True)


class StepStateSerializer(serializers.Serializer[Any]):
    """A step as it stands on this card; `order` is the order in which its places are tightened."""

    step = StepSerializer()
    order = serializers.ListField(child=serializers.IntegerField())
    state = serializers.ChoiceField(choices=["on", "off", "differs"])
    off = DoneSerializer(allow_null=True)
    back = DoneSerializer(allow_null=True)
    says = serializers.CharField(allow_blank=True)
    photographed = serializers.BooleanField()


@dataclass(frozen=True, slots=True)
class JobTeardownAnswer:
    """How far a card is taken apart."""

    borrowed_from: str | None
    steps: Annotated[Iterable[Any], declared(StepStateSerializer(many=True))]


def _torn(job: Job) -> Any:
    found = job_states(job)
    pictured = set(job.photographs.exclude(before="").values_list("before", flat=True))
    shown = JobTeardownAnswer(
        borrowed_from=str(found.recipe.lender) if found.recipe.lender else None,
        steps=[_state(step, step.step.id in pictured) for step in found.states],
    )
    return written(shown)


def _state(state: StepState[TeardownDone], photographed: bool) -> dict[str, Any]:
    fields = {name: getattr(state, name) for name in ("state", "off", "back", "says")}
    return {**fields, "step": _step(state.step), "order": state.step.order, "photographed": photographed}


class JobTeardownView(APIView):
    """A card taken apart."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=shape(JobTeardownAnswer), operation_id="job_teardown")
    def get(self, request: Request, number: int) -> Response:
        """Every step as it stands."""
        return Response(_torn(found_job(number)))

    @extend_schema(
        request=shape(NewDone),
        responses={201: shape(JobTeardownAnswer), 200: shape(JobTeardownAnswer)},
        operation_id="job_teardown_done",
    )
    def post(self, request: Request, number: int) -> Response:
        """Take something off, or put it on again, counted."""
        entry, job = entry_of(request, NewDone), found_job(number)
        _, new = do_step(job, entry, person(request))
        return Response(_torn(job), 201 if new else 200)


class PasteOrPadSerializer(serializers.ModelSerializer[PasteOrPad]):
    """Paste or a pad as it was found (`off`) or fitted (`on`)."""

    way = serializers.ChoiceField(choices=["off", "on"])
    cooled = serializers.ChoiceField(choices=list(COOLED))
    material = serializers.ChoiceField(choices=list(MATERIALS))
    state = serializers.ChoiceField(choices=[*STATES, ""])
    by = serializers.CharField(source="by.shown_name")

    class Meta:
        model = PasteOrPad
        fields = ["id", "way", "cooled", "material", "name", "thickness_mm", "state", "reused", "by", "at"]


class NotedLayerSerializer(serializers.Serializer[Any]):
    """A layer, and what speaks against it; empty where nothing does."""

    layer = PasteOrPadSerializer(source="row")
    doubt = serializers.CharField(allow_blank=True)


class PasteAndPadsSerializer(serializers.Serializer[Any]):
    """Paste and pads of a card, and the words to choose from."""

    layers = NotedLayerSerializer(many=True)
    cooled = shape(KindWordsAnswer)(many=True)
    states = shape(KindWordsAnswer)(many=True)


def _layers(job: Job) -> Any:
    words = {"cooled": COOLED, "states": STATES}
    lists = {
        name: [KindWordsAnswer(kind=kind, words=said) for kind, said in them.items()] for name, them in words.items()
    }
    return PasteAndPadsSerializer({"layers": layers(job), **lists}).data


class JobPasteAndPads(APIView):
    """Paste and pads of a job's card."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=PasteAndPadsSerializer)
    def get(self, request: Request, number: int) -> Response:
        """As they were noted."""
        return Response(_layers(found_job(number)))

    @extend_schema(request=shape(NewPasteOrPad), responses={201: PasteAndPadsSerializer, 200: PasteAndPadsSerializer})
    def post(self, request: Request, number: int) -> Response:
        """Note one."""
        entry, job = entry_of(request, NewPasteOrPad), found_job(number)
        _, new = note_layer(job, entry, person(request))
        return Response(_layers(job), 201 if new else 200)
