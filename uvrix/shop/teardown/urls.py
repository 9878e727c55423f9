"""Addresses of teardown."""

from django.urls import path

from uvrix.shop.teardown import api

urlpatterns = [
    path("board-models/<str:slug>/teardown", api.ModelTeardown.as_view(), name="model-teardown"),
    path("jobs/<int:number>/teardown", api.JobTeardownView.as_view(), name="job-teardown"),
    path("jobs/<int:number>/paste-and-pads", api.JobPasteAndPads.as_view(), name="job-paste-and-pads"),
]
