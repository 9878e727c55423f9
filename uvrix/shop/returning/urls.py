"""Addresses of Return."""

from django.urls import path

from uvrix.shop.returning import api

urlpatterns = [
    path("jobs/<int:number>/return", api.JobReturn.as_view(), name="job-return"),
    path("jobs/<int:number>/return/waivers", api.JobReturnWaivers.as_view(), name="job-return-waivers"),
    path("jobs/<int:number>/comeback", api.JobComeback.as_view(), name="job-comeback"),
    path("jobs/<int:number>/report", api.JobReport.as_view(), name="job-report"),
    path("jobs/<int:number>/report.pdf", api.JobReportPdf.as_view(), name="job-report-pdf"),
    path("reminders", api.Reminders.as_view(), name="reminders"),
    path("follow-ups/<uuid:follow>/done", api.FollowUpDone.as_view(), name="follow-up-done"),
    path("return-settings", api.ShopReturn.as_view(), name="return-settings"),
]
