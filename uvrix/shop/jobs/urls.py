"""Addresses of jobs and the shelf."""

from django.urls import path

from uvrix.shop.jobs.api import CardBySerial, JobLie, Jobs, OneJob, OneSavedFilter, SavedFilters, Shelf
from uvrix.shop.jobs.customers_api import CustomerMerge, Customers, JobOfCustomer

urlpatterns = [
    path("filters", SavedFilters.as_view(), name="filters"),
    path("filters/<uuid:saved>", OneSavedFilter.as_view(), name="filter"),
    path("shelf", Shelf.as_view(), name="shelf"),
    path("jobs", Jobs.as_view(), name="jobs"),
    path("jobs/<int:number>", OneJob.as_view(), name="job"),
    path("jobs/<int:number>/lie", JobLie.as_view(), name="job-lie"),
    path("jobs/<int:number>/customer", JobOfCustomer.as_view(), name="job-customer"),
    path("customers", Customers.as_view(), name="customers"),
    path("customers/<int:customer>/merge", CustomerMerge.as_view(), name="customer-merge"),
    path("cards/<str:serial>", CardBySerial.as_view(), name="card"),
]
