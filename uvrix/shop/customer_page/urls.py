"""Addresses of the customer's own page."""

from django.urls import path

from uvrix.shop.customer_page import api

urlpatterns = [
    path("customer/<str:token>", api.CustomerPage.as_view(), name="customer-page"),
    path("customer/<str:token>/answer", api.CustomerAnswer.as_view(), name="customer-answer"),
    path("customer/<str:token>/report", api.CustomerReport.as_view(), name="customer-report"),
]
