"""Addresses of jobs, customers and kept filters."""

from django.urls import path

from uvrix.shop.jobs.api import JobOrientation, OneSavedFilter, SavedFilters
from uvrix.shop.jobs.customers_api import CustomerMerge, Customers

urlpatterns = [
    path("filters", SavedFilters.as_view(), name="filters"),
    path("filters/<uuid:saved>", OneSavedFilter.as_view(), name="filter"),
    path("jobs/<int:number>/orientation", JobOrientation.as_view(), name="job-orientation"),
    path("customers", Customers.as_view(), name="customers"),
    path("customers/<int:customer>/merge", CustomerMerge.as_view(), name="customer-merge"),
]
