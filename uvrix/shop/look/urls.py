"""Addresses of what was seen."""

from django.urls import path

from uvrix.shop.look import api, phone

urlpatterns = [
    path("jobs/<int:number>/look", api.JobLook.as_view(), name="job-look"),
    path("jobs/<int:number>/look/regions", api.LookedRegions.as_view(), name="looked-regions"),
    path("jobs/<int:number>/look/findings", api.LookFindings.as_view(), name="look-findings"),
    path("look-findings/<uuid:finding>/withdrawal", api.LookFindingWithdrawn.as_view(), name="look-finding-withdrawal"),
    path("jobs/<int:number>/photographs", api.JobPhotographs.as_view(), name="job-photographs"),
    path("jobs/<int:number>/phone-pass", phone.PhonePass.as_view(), name="phone-pass"),
    path("phone/<str:token>", phone.Phone.as_view(), name="phone"),
    path("photographs/<uuid:photograph>/straightened", api.PhotographStraightened.as_view(), name="straightened"),
    path("photographs/<uuid:photograph>/overlay", api.PhotographOverlay.as_view(), name="photograph-overlay"),
]
