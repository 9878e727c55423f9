"""Printing a board at 1:1."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.views import APIView

from uvrix.core.boards.views import Orientation
from uvrix.language import gettext
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.config.problems import Problem
from uvrix.shop.library.api import drawn_model
from uvrix.shop.library.printing import Caption, board_pdf
from uvrix.shop.library.queries import board_of

PAPER_WORDS = ["fit", "a4", "a3", "letter"]


class PrintSerializer(serializers.Serializer[Any]):
    """How to print: the orientation, the paper, chips to flag, a line for the foot."""

    side = serializers.ChoiceField(choices=["front", "back"], default="front")
    turns = serializers.IntegerField(min_value=0, max_value=3, default=0)
    paper = serializers.ChoiceField(choices=PAPER_WORDS, default="fit")
    mark = serializers.CharField(required=False, allow_blank=True, max_length=400)
    title = serializers.CharField(required=False, allow_blank=True, max_length=120)


class BoardPrint(APIView):
    """A board on paper."""

    roles = {"GET": EVERYONE}

    @extend_schema(
        responses={(200, "application/pdf"): OpenApiTypes.BINARY},
        parameters=[OpenApiParameter(name, OpenApiTypes.STR) for name in ("side", "turns", "paper", "mark", "title")],
    )
    def get(self, request: Request, slug: str) -> HttpResponse:
        """A PDF in true millimetres, with a check bar of 50 mm on each page; `mark` names chips, by commas."""
        asked = PrintSerializer(data=request.query_params.dict())
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        model, edition = drawn_model(slug)
        board = board_of(edition)
        marked = tuple(name for name in wanted.get("mark", "").split(",") if name)
        for name in marked:
            if name not in board.by_designator:
                raise Problem(
                    422,
                    "unknown-designator",
                    gettext("found {name}, expected a memory site of {model}", name=repr(name), model=model),
                    typed=name,
                )
        printed = timezone.localdate().strftime("%-d %b %Y")
        title = " ".join(part for part in (wanted.get("title", ""), str(model)) if part)
        more = gettext("{marked} marked. ", marked=", ".join(marked)) if marked else ""
        caption = Caption(
            title,
            gettext("{more}Edition {number}, {printed}, scale 1:1", more=more, number=edition.number, printed=printed),
            marked,
        )
        pdf = board_pdf(board, Orientation(wanted["side"], wanted["turns"]), wanted["paper"], caption)
        headers = {"Content-Disposition": f'inline; filename="{slug}.pdf"'}
        return HttpResponse(pdf, content_type="application/pdf", headers=headers)
