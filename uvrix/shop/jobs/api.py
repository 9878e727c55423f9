"""Jobs by number, how a card lies, the filters that people keep."""

from __future__ import annotations

from uuid import UUID

from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE
from uvrix.shop.config.limits import LONGEST_SEARCH, MOST_NUMBER
from uvrix.shop.config.shapes import shape
from uvrix.shop.jobs.models import Job, SavedFilter, WhoseMove
from uvrix.shop.jobs.services import set_orientation
from uvrix.shop.jobs.standing import with_standing
from uvrix.shop.library.drawings import OrientationAnswer


def found_job(number: int, *along: str) -> Job:
    """The job of a number with its card and model, and what else is named read along, or 404."""
    if number > MOST_NUMBER:
        raise Http404
    plain = Job.objects.select_related("card__model__newest", *along)
    return get_object_or_404(plain.defer("card__model__newest__text"), pk=number)


def standing_job(number: int) -> Job:
    """The job of a number with how it stands, or 404."""
    return with_standing([found_job(number)])[0]


class SavedFilterSerializer(serializers.ModelSerializer[SavedFilter]):
    """A filter of the shelf that a person keeps."""

    id = serializers.UUIDField()
    name = serializers.CharField(max_length=40)
    text = serializers.CharField(max_length=LONGEST_SEARCH, allow_blank=True, required=False)
    board_model = serializers.CharField(max_length=64, allow_blank=True, required=False)
    move = serializers.ChoiceField(choices=[*WhoseMove.choices, ("", "any")], required=False)

    class Meta:
        model = SavedFilter
        fields = ["id", "name", "text", "board_model", "move", "express"]


class SavedFilters(APIView):
    """Filters of the shelf."""

    roles = {"GET": EVERYONE, "POST": EVERYONE}

    @extend_schema(responses=SavedFilterSerializer(many=True), operation_id="filters_list")
    def get(self, request: Request) -> Response:
        """The caller's saved filters, by name."""
        return Response(SavedFilterSerializer(person(request).filters.order_by("name"), many=True).data)

    @extend_schema(request=SavedFilterSerializer, responses={201: SavedFilterSerializer(many=True)})
    def post(self, request: Request) -> Response:
        """Keep one; one of the same name is replaced."""
        entry = dict(entry_of(request, SavedFilterSerializer))
        name, me = entry.pop("name"), person(request)
        SavedFilter.objects.filter(user=me, name=name).delete()
        SavedFilter.objects.update_or_create(pk=entry.pop("id"), user=me, defaults={**entry, "name": name})
        return Response(SavedFilterSerializer(me.filters.order_by("name"), many=True).data, 201)


class OneSavedFilter(APIView):
    """A filter."""

    roles = {"DELETE": EVERYONE}

    @extend_schema(responses={204: None})
    def delete(self, request: Request, saved: UUID) -> Response:
        """Drop it."""
        SavedFilter.objects.filter(user=person(request), pk=saved).delete()
        return Response(status=204)


class JobOrientation(APIView):
    """How the card lies."""

    roles = {"PUT": BENCH}

    @extend_schema(request=shape(OrientationAnswer), responses=shape(OrientationAnswer))
    def put(self, request: Request, number: int) -> Response:
        """Keep how the card lies on the bench."""
        entry = entry_of(request, OrientationAnswer)
        set_orientation(found_job(number), entry.side, entry.turns)
        return Response(entry)
