"""Addresses of Practice."""

from django.urls import path

from uvrix.shop.practice import api

urlpatterns = [
    path("practice", api.Practice.as_view(), name="practice"),
    path("practice/day", api.PracticeDay.as_view(), name="practice-day"),
    path("practice/jobs", api.PracticeJobs.as_view(), name="practice-jobs"),
    path("practice/cards", api.PracticeFiles.as_view(), name="practice-files"),
    path("practice/cards/of-job", api.PracticeOfJob.as_view(), name="practice-of-job"),
    path("practice/cards/<uuid:file>", api.OnePracticeFile.as_view(), name="practice-file"),
    path("jobs/<int:number>/practice", api.JobPractice.as_view(), name="job-practice"),
    path("jobs/<int:number>/practice/steps", api.JobPracticeSteps.as_view(), name="job-practice-steps"),
    path("jobs/<int:number>/practice/help", api.JobPracticeHelp.as_view(), name="job-practice-help"),
    path("jobs/<int:number>/practice/end", api.JobPracticeEnd.as_view(), name="job-practice-end"),
    path("jobs/<int:number>/practice/named", api.JobPracticeNamed.as_view(), name="job-practice-named"),
    path("jobs/<int:number>/practice/card", api.JobPracticeCard.as_view(), name="job-practice-card"),
    path("jobs/<int:number>/practice/sight/<str:place>", api.JobPracticeSight.as_view(), name="job-practice-sight"),
]
