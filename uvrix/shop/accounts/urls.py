"""Addresses of sign-in and invitations."""

from django.urls import path

from uvrix.shop.accounts.api import InvitationView, SessionView

urlpatterns = [
    path("session", SessionView.as_view(), name="session"),
    path("invitations/<str:token>", InvitationView.as_view(), name="invitation"),
]
