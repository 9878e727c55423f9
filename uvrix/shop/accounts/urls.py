"""Addresses of sign-in, people and sessions."""

from django.urls import path

from uvrix.shop.accounts.api import InvitationView, SessionView
from uvrix.shop.accounts.people import Invitations, OneOpenSession, OnePerson, OpenSessions, Password, People

urlpatterns = [
    path("session", SessionView.as_view(), name="session"),
    path("session/password", Password.as_view(), name="password"),
    path("sessions", OpenSessions.as_view(), name="sessions"),
    path("sessions/<str:session>", OneOpenSession.as_view(), name="open-session"),
    path("people", People.as_view(), name="people"),
    path("people/<str:username>", OnePerson.as_view(), name="person"),
    path("invitations", Invitations.as_view(), name="invitations"),
    path("invitations/<str:token>", InvitationView.as_view(), name="invitation"),
]
