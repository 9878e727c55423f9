"""Addresses of what to try next."""

from django.urls import path

from uvrix.shop.planning import api

urlpatterns = [
    path("jobs/<int:number>/plan", api.JobPlan.as_view(), name="job-plan"),
    path("jobs/<int:number>/attempts", api.JobAttempts.as_view(), name="job-attempts"),
    path("attempts/<uuid:attempt>/withdrawal", api.AttemptWithdrawn.as_view(), name="attempt-withdrawal"),
    path("habits", api.ShopHabits.as_view(), name="habits"),
]
