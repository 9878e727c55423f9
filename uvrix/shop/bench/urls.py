"""Addresses of the bench."""

from django.urls import path

from uvrix.shop.bench import api

urlpatterns = [
    path("jobs/<int:number>/runs", api.JobRuns.as_view(), name="job-runs"),
    path("jobs/<int:number>/finding", api.JobFinding.as_view(), name="job-finding"),
    path("jobs/<int:number>/mark-question", api.MarkQuestion.as_view(), name="mark-question"),
    path("jobs/<int:number>/marks", api.JobMarks.as_view(), name="job-marks"),
    path("runs/<uuid:run>", api.OneRun.as_view(), name="run"),
    path("runs/<uuid:run>/file", api.RunFile.as_view(), name="run-file"),
    path("runs/<uuid:run>/withdrawal", api.RunWithdrawn.as_view(), name="run-withdrawal"),
    path("marks/<uuid:mark>/withdrawal", api.MarkWithdrawn.as_view(), name="mark-withdrawal"),
]
