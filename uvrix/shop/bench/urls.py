"""Addresses of the bench."""

from django.urls import path

from uvrix.shop.bench import api, typed

urlpatterns = [
    path("jobs/<int:number>/runs", api.JobRuns.as_view(), name="job-runs"),
    path("jobs/<int:number>/runs/typed", typed.TypedRuns.as_view(), name="typed-runs"),
    path("jobs/<int:number>/report-order", typed.ReportOrder.as_view(), name="report-order"),
    path("jobs/<int:number>/recipes", typed.JobRecipes.as_view(), name="job-recipes"),
    path("jobs/<int:number>/recipes/worked", typed.WorkedBefore.as_view(), name="job-recipes-worked"),
    path("jobs/<int:number>/proven-places", typed.ProvenPlaces.as_view(), name="proven-places"),
    path("jobs/<int:number>/finding", api.JobFinding.as_view(), name="job-finding"),
    path("jobs/<int:number>/mark-question", api.MarkQuestion.as_view(), name="mark-question"),
    path("jobs/<int:number>/marks", api.JobMarks.as_view(), name="job-marks"),
    path("runs/<uuid:run>", api.OneRun.as_view(), name="run"),
    path("runs/<uuid:run>/file", api.RunFile.as_view(), name="run-file"),
    path("runs/<uuid:run>/withdrawal", api.RunWithdrawn.as_view(), name="run-withdrawal"),
    path("marks/<uuid:mark>/withdrawal", api.MarkWithdrawn.as_view(), name="mark-withdrawal"),
]
