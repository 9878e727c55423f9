"""Addresses of a job's record."""

from django.urls import path

from uvrix.shop.record import api

urlpatterns = [
    path("jobs/<int:number>/timeline", api.JobTimeline.as_view(), name="job-timeline"),
    path("jobs/<int:number>/resume", api.JobResume.as_view(), name="job-resume"),
]
