"""Addresses of the library."""

from django.urls import path

from uvrix.shop.library.api import BoardModelFile, BoardModels, OneBoardModel
from uvrix.shop.library.readers import ReaderFile, Readers, ReaderTried

urlpatterns = [
    path("board-models", BoardModels.as_view(), name="board-models"),
    path("board-models/<str:slug>", OneBoardModel.as_view(), name="board-model"),
    path("board-models/<str:slug>/file", BoardModelFile.as_view(), name="board-model-file"),
    path("readers", Readers.as_view(), name="readers"),
    path("readers/try", ReaderTried.as_view(), name="reader-try"),
    path("readers/<str:slug>/file", ReaderFile.as_view(), name="reader-file"),
]
