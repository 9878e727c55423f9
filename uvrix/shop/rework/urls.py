"""Addresses of Rework."""

from django.urls import path

from uvrix.shop.rework import api, images_api, timers_api

urlpatterns = [
    path("jobs/<int:number>/rework", api.JobRework.as_view(), name="job-rework"),
    path("jobs/<int:number>/rework/before", api.JobReworkBefore.as_view(), name="job-rework-before"),
    path("jobs/<int:number>/lots", api.JobLots.as_view(), name="job-lots"),
    path("acts/<uuid:act>/withdrawal", api.ActWithdrawn.as_view(), name="act-withdrawal"),
    path("rework-settings", api.ShopRework.as_view(), name="rework-settings"),
    path("jobs/<int:number>/pads/<str:designator>", api.JobPads.as_view(), name="job-pads"),
    path("jobs/<int:number>/curves", api.JobCurves.as_view(), name="job-curves"),
    path("jobs/<int:number>/images", images_api.JobImages.as_view(), name="job-images"),
    path("jobs/<int:number>/image-reads", images_api.JobImageReads.as_view(), name="job-image-reads"),
    path("jobs/<int:number>/image-writes", images_api.JobImageWrites.as_view(), name="job-image-writes"),
    path("images", images_api.Images.as_view(), name="images"),
    path("images/<str:sha256>/file", images_api.ImageFile.as_view(), name="image-file"),
    path("images/<str:sha256>/against/<str:other>", images_api.ImagesCompared.as_view(), name="images-compared"),
    path("timers", timers_api.Timers.as_view(), name="timers"),
    path("jobs/<int:number>/timers", timers_api.JobTimers.as_view(), name="job-timers"),
    path("timers/<uuid:timer>/stopped", timers_api.TimerStopped.as_view(), name="timer-stopped"),
    path("cautions", timers_api.Cautions.as_view(), name="cautions"),
    path("cautions/<str:caution>/seen", timers_api.CautionRead.as_view(), name="caution-seen"),
]
