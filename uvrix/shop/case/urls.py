"""Addresses of a job's case."""

from django.urls import path

from uvrix.shop.case import api

urlpatterns = [
    path("jobs/<int:number>/case", api.JobCase.as_view(), name="job-case"),
    path("jobs/<int:number>/case/file", api.JobCaseFile.as_view(), name="job-case-file"),
    path("jobs/<int:number>/declared-parts", api.JobDeclaredParts.as_view(), name="job-declared-parts"),
]
