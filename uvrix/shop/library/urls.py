"""Addresses of the library."""

from django.urls import path

from uvrix.shop.library import (
    api,
    editing,
    families,
    identify,
    packages,
    pinouts,
    plans_api,
    prints,
    readers,
    recipes,
)

urlpatterns = [
    path("board-suggestions", identify.BoardSuggestions.as_view(), name="board-suggestions"),
    path("board-models", api.BoardModels.as_view(), name="board-models"),
    path("board-models/<str:slug>", api.OneBoardModel.as_view(), name="board-model"),
    path("board-models/<str:slug>/file", api.BoardModelFile.as_view(), name="board-model-file"),
    path("board-models/<str:slug>/photographs", api.BoardPhotographs.as_view(), name="board-photographs"),
    path("board-models/<str:slug>/editions", api.BoardEditions.as_view(), name="board-editions"),
    path("board-models/<str:slug>/editions/<int:edition>", api.OneBoardEdition.as_view(), name="board-edition"),
    path("board-models/<str:slug>/inherited", api.BoardInherited.as_view(), name="board-inherited"),
    path("board-models/<str:slug>/lent-map", api.BoardLentMap.as_view(), name="board-lent-map"),
    path("board-models/<str:slug>/family", families.BoardFamily.as_view(), name="board-family"),
    path("board-models/<str:slug>/print", prints.BoardPrint.as_view(), name="board-print"),
    path("board-drafts", editing.Drafts.as_view(), name="board-drafts"),
    path("board-drafts/blank", editing.BlankBoard.as_view(), name="board-blank"),
    path("board-drafts/saved", editing.SavedBoards.as_view(), name="board-saved"),
    path("board-drafts/placement", editing.Placements.as_view(), name="placement"),
    path("unknown-boards", api.UnknownBoards.as_view(), name="unknown-boards"),
    path("bench-plans", plans_api.BenchPlans.as_view(), name="bench-plans"),
    path("board-models/<str:slug>/plan", plans_api.ModelPlan.as_view(), name="model-plan"),
    path("board-models/<str:slug>/sides", plans_api.ModelSides.as_view(), name="model-sides"),
    path("families", families.Families.as_view(), name="families"),
    path("families/<str:slug>/file", families.FamilyFile.as_view(), name="family-file"),
    path("packages", packages.Packages.as_view(), name="packages"),
    path("packages/<str:name>/file", packages.PackageFile.as_view(), name="package-file"),
    path("pinouts", pinouts.Pinouts.as_view(), name="pinouts"),
    path("recipes", recipes.Recipes.as_view(), name="recipes"),
    path("recipes/<str:slug>", recipes.OneRecipe.as_view(), name="recipe"),
    path("recipes/<str:slug>/file", recipes.RecipeFile.as_view(), name="recipe-file"),
    path("readers", readers.Readers.as_view(), name="readers"),
    path("readers/try", readers.ReaderTried.as_view(), name="reader-try"),
    path("readers/<str:slug>/file", readers.ReaderFile.as_view(), name="reader-file"),
]
