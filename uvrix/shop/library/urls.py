"""Addresses of the library."""

from django.urls import path

from uvrix.shop.library.api import BoardModelFile, BoardModels, OneBoardModel

urlpatterns = [
    path("board-models", BoardModels.as_view(), name="board-models"),
    path("board-models/<str:slug>", OneBoardModel.as_view(), name="board-model"),
    path("board-models/<str:slug>/file", BoardModelFile.as_view(), name="board-model-file"),
]
