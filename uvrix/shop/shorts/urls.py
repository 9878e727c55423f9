"""Addresses of the hunt for a short."""

from django.urls import path

from uvrix.shop.shorts import api

urlpatterns = [
    path("jobs/<int:number>/shorts", api.JobShorts.as_view(), name="job-shorts"),
    path("jobs/<int:number>/injections", api.JobInjections.as_view(), name="job-injections"),
    path("injections/<uuid:injection>/thermals", api.InjectionThermals.as_view(), name="injection-thermals"),
    path("injections/<uuid:injection>/glows", api.InjectionGlows.as_view(), name="injection-glows"),
    path("jobs/<int:number>/taken-off", api.JobTakenOff.as_view(), name="job-taken-off"),
    path("jobs/<int:number>/cut-outs", api.JobCutOuts.as_view(), name="job-cut-outs"),
]
