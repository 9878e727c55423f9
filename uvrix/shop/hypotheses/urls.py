"""Addresses of hypotheses."""

from django.urls import path

from uvrix.shop.hypotheses import api

urlpatterns = [
    path("board-models/<str:slug>/watchlist", api.ModelWatchlist.as_view(), name="model-watchlist"),
    path("jobs/<int:number>/hypotheses", api.JobHypotheses.as_view(), name="job-hypotheses"),
]
