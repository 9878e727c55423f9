"""Addresses of Ohms."""

from django.urls import path

from uvrix.shop.ohms import api

urlpatterns = [
    path("jobs/<int:number>/ohms", api.JobOhms.as_view(), name="job-ohms"),
    path("jobs/<int:number>/power", api.JobPower.as_view(), name="job-power"),
    path("jobs/<int:number>/photo-points", api.JobPhotoPoints.as_view(), name="job-photo-points"),
    path("jobs/<int:number>/ticks", api.JobTicks.as_view(), name="job-ticks"),
    path("known-good", api.KnownGood.as_view(), name="known-good"),
    path("known-good/<int:row>", api.OneKnownReading.as_view(), name="known-reading"),
    path("board-models/<str:slug>/known-good", api.ModelKnownGood.as_view(), name="model-known-good"),
    path("board-models/<str:slug>/known-good/file", api.ModelKnownGoodFile.as_view(), name="model-known-good-file"),
    path("jobs/<int:number>/readings", api.JobReadings.as_view(), name="job-readings"),
]
