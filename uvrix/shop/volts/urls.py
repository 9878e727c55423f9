"""Addresses of Volts."""

from django.urls import path

from uvrix.shop.volts import api

urlpatterns = [
    path("jobs/<int:number>/volts", api.JobVolts.as_view(), name="job-volts"),
    path("jobs/<int:number>/draws", api.JobDraws.as_view(), name="job-draws"),
    path("jobs/<int:number>/rungs", api.JobRungs.as_view(), name="job-rungs"),
    path("jobs/<int:number>/phases", api.JobPhases.as_view(), name="job-phases"),
    path("jobs/<int:number>/rail-loads", api.JobRailLoads.as_view(), name="job-rail-loads"),
    path("reported-power", api.ReportedPower.as_view(), name="reported-power"),
]
