"""Addresses of Arrive."""

from django.urls import path

from uvrix.shop.arrive import api

urlpatterns = [
    path("jobs/<int:number>/arrive", api.JobArrive.as_view(), name="job-arrive"),
    path("jobs/<int:number>/intake", api.JobIntake.as_view(), name="job-intake"),
    path("jobs/<int:number>/evidence", api.JobEvidence.as_view(), name="job-evidence"),
    path("evidence/<uuid:evidence>/words", api.JudgedEvidence.as_view(), name="evidence-words"),
    path("labels", api.Labels.as_view(), name="labels"),
    path("evidence-files", api.EvidenceFiles.as_view(), name="evidence-files"),
    path("evidence/<uuid:evidence>/file", api.OneEvidenceFile.as_view(), name="evidence-file"),
    path("jobs/<int:number>/symptom", api.JobSymptom.as_view(), name="job-symptom"),
    path("jobs/<int:number>/trials", api.JobTrials.as_view(), name="job-trials"),
    path("trials/<uuid:trial>/withdrawal", api.TrialWithdrawn.as_view(), name="trial-withdrawal"),
    path("jobs/<int:number>/reproductions", api.JobReproductions.as_view(), name="job-reproductions"),
    path("jobs/<int:number>/label", api.JobLabel.as_view(), name="job-label"),
]
