"""Addresses of Prove."""

from django.urls import path

from uvrix.shop.proving import api

urlpatterns = [
    path("jobs/<int:number>/proof", api.JobProof.as_view(), name="job-proof"),
    path("jobs/<int:number>/proof/logs", api.JobProofLogs.as_view(), name="job-proof-logs"),
    path("jobs/<int:number>/proof/checks", api.JobChecks.as_view(), name="job-checks"),
    path("jobs/<int:number>/proof/figures", api.JobProofFigures.as_view(), name="job-proof-figures"),
    path("jobs/<int:number>/proof/faults", api.JobLateFaults.as_view(), name="job-late-faults"),
    path("log-columns", api.ShopLogColumns.as_view(), name="log-columns"),
    path("proof-protocol", api.ShopProofProtocol.as_view(), name="proof-protocol"),
    path("board-models/<str:slug>/proof", api.ModelProtocol.as_view(), name="model-protocol"),
]
