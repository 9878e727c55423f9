"""Addresses of what is owed."""

from django.urls import path

from uvrix.shop.promises import api

urlpatterns = [
    path("jobs/<int:number>/owed", api.JobOwed.as_view(), name="job-owed"),
    path("jobs/<int:number>/waivers", api.JobWaivers.as_view(), name="job-waivers"),
    path("jobs/<int:number>/settled", api.JobSettled.as_view(), name="job-settled"),
]
