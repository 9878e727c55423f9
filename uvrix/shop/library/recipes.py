"""Recipes of the shop's own tester."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Annotated, Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.config.access import BENCH, EVERYONE, LEAD
from uvrix.shop.config.shapes import declared, shape
from uvrix.shop.library.api import file_answer
from uvrix.shop.library.editing import DocumentField
from uvrix.shop.library.models import Recipe
from uvrix.shop.library.services import import_recipe, retire_recipe


class RecipeSerializer(serializers.ModelSerializer[Recipe]):
    """A recipe with its document (docs/formats/recipe.schema.json)."""

    edition = serializers.IntegerField(source="newest.number")
    added_by = serializers.CharField(source="newest.added_by.shown_name")
    added_at = serializers.DateTimeField(source="newest.added_at")
    document = serializers.SerializerMethodField()

    class Meta:
        model = Recipe
        fields = ["slug", "name", "edition", "added_by", "added_at", "document"]

    def get_document(self, recipe: Recipe) -> dict[str, Any]:
        """The newest edition."""
        assert recipe.newest is not None
        found: dict[str, Any] = json.loads(recipe.newest.text)
        return found


@dataclass(frozen=True, slots=True)
class NewRecipe:
    """A recipe to save."""

    document: Annotated[dict[str, Any], declared(DocumentField())]


class Recipes(APIView):
    """The library's recipes."""

    roles = {"GET": EVERYONE, "POST": BENCH}

    @extend_schema(responses=RecipeSerializer(many=True), operation_id="recipes_list")
    def get(self, request: Request) -> Response:
        """The recipes in use, by name."""
        kept = Recipe.objects.filter(retired_at=None).select_related("newest__added_by").order_by("name")
        return Response(RecipeSerializer(kept, many=True).data)

    @extend_schema(request=shape(NewRecipe), responses={201: RecipeSerializer})
    def post(self, request: Request) -> Response:
        """Save or import one: a new recipe, or a new edition of the recipe of that name."""
        entry = entry_of(request, NewRecipe)
        document = entry.document
        text = json.dumps(document, ensure_ascii=False, indent=1)
        edition, new = import_recipe(text.encode(), "recipe", person(request))
        return Response(RecipeSerializer(edition.recipe).data, 201 if new else 200)


class OneRecipe(APIView):
    """A recipe."""

    roles = {"DELETE": LEAD}

    @extend_schema(responses={204: None})
    def delete(self, request: Request, slug: str) -> Response:
        """Take it out of use; saving it again brings it back."""
        retire_recipe(get_object_or_404(Recipe, slug=slug))
        return Response(status=204)


class RecipeFile(APIView):
    """A recipe's file."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.OBJECT})
    def get(self, request: Request, slug: str) -> HttpResponse:
        """The newest edition as it came."""
        recipe = get_object_or_404(Recipe.objects.select_related("newest"), slug=slug)
        assert recipe.newest is not None
        return file_answer(recipe.newest.text, f"{slug}.recipe.json")
