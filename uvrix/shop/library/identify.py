"""Which board model is this? Suggested from what is on the board."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Annotated, Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.core.boards.identify import Clues, identify
from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.config.shapes import given, shape
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import model_board

MOST_THINGS, LONGEST_MM = 200, 2000.0


@dataclass(frozen=True, slots=True)
class CluesRequest:
    """What was noted of a board; leave out what nobody looked at."""

    printed: Annotated[str, given(allow_blank=True, max_length=80)] = ""
    core: Annotated[str, given(allow_blank=True, max_length=64)] = ""
    front_sites: Annotated[int | None, given(min_value=0, max_value=MOST_THINGS)] = None
    back_sites: Annotated[int | None, given(min_value=0, max_value=MOST_THINGS)] = None
    plugs: Annotated[int | None, given(min_value=0, max_value=MOST_THINGS)] = None
    sockets: Annotated[int | None, given(min_value=0, max_value=MOST_THINGS)] = None
    length_mm: Annotated[float | None, given(min_value=1, max_value=LONGEST_MM)] = None


class SuggestedModelSerializer(serializers.Serializer[Any]):
    """A model that may be it, and why."""

    board_model = serializers.CharField(source="board.id")
    name = serializers.SerializerMethodField()
    chance = serializers.FloatField()
    agrees = serializers.ListField(child=serializers.CharField())
    differs = serializers.ListField(child=serializers.CharField())

    def get_name(self, match: Any) -> str:
        """Name and revision."""
        return (
            gettext("{name}, revision {revision}", name=match.board.name, revision=match.board.revision)
            if match.board.revision
            else match.board.name
        )


class BoardSuggestions(APIView):
    """Suggesting a board model."""

    roles = {"POST": EVERYONE}

    @extend_schema(request=shape(CluesRequest), responses=SuggestedModelSerializer(many=True))
    def post(self, request: Request) -> Response:
        """The likeliest of the library's models, best first; none where nothing was noted."""
        clues = Clues(**asdict(entry_of(request, CluesRequest)))
        drawn = BoardModel.objects.filter(newest__isnull=False).select_related("newest")
        boards = [board for model in drawn if (board := model_board(model))]
        return Response(SuggestedModelSerializer(identify(boards, clues), many=True).data)
