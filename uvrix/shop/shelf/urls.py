"""Addresses of the shelf and of a job's page."""

from django.urls import path

from uvrix.shop.shelf import api, kinds, setup

urlpatterns = [
    path("kinds", kinds.Kinds.as_view(), name="kinds"),
    path("setup", setup.Setup.as_view(), name="setup"),
    path("shelf", api.Shelf.as_view(), name="shelf"),
    path("jobs", api.Jobs.as_view(), name="jobs"),
    path("jobs/<int:number>", api.OneJob.as_view(), name="job"),
    path("jobs/<int:number>/changes", api.JobChanges.as_view(), name="job-changes"),
    path("jobs/<int:number>/customer", api.JobOfCustomer.as_view(), name="job-customer"),
    path("cards/<str:serial>", api.CardBySerial.as_view(), name="card"),
]
