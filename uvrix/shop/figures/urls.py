"""Addresses of figures."""

from django.urls import path

from uvrix.shop.figures import api

urlpatterns = [
    path("figures", api.Figures.as_view(), name="figures"),
    path("figures.csv", api.FiguresCsv.as_view(), name="figures-csv"),
    path("learning", api.Learning.as_view(), name="learning"),
    path("jobs/<int:number>/learning", api.JobLearning.as_view(), name="job-learning"),
]
