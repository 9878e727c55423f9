"""Addresses of Volts."""

from django.urls import path

from uvrix.shop.volts import api, converter_api, supply_api

urlpatterns = [
    path("jobs/<int:number>/volts", api.JobVolts.as_view(), name="job-volts"),
    path("jobs/<int:number>/draws", api.JobDraws.as_view(), name="job-draws"),
    path("jobs/<int:number>/rungs", api.JobRungs.as_view(), name="job-rungs"),
    path("jobs/<int:number>/phases", api.JobPhases.as_view(), name="job-phases"),
    path("jobs/<int:number>/rail-loads", api.JobRailLoads.as_view(), name="job-rail-loads"),
    path("jobs/<int:number>/tried", api.JobTried.as_view(), name="job-tried"),
    path("jobs/<int:number>/starts", supply_api.JobStarts.as_view(), name="job-starts"),
    path("jobs/<int:number>/converters/<str:node>", converter_api.JobConverter.as_view(), name="job-converter"),
    path("supplies", supply_api.Supplies.as_view(), name="supplies"),
    path("supplies/watched", supply_api.SuppliesWatched.as_view(), name="supplies-watched"),
    path("supplies/<int:supply>/off", supply_api.SupplyOff.as_view(), name="supply-off"),
    path("reported-power", api.ReportedPower.as_view(), name="reported-power"),
]
