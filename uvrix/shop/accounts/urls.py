"""Addresses of sign-in, people and sessions."""

from django.urls import path

from uvrix.shop.accounts.api import InvitationView, SessionView
from uvrix.shop.accounts.audit import Audit
from uvrix.shop.accounts.people import Invitations, OneOpenSession, OnePerson, OpenSessions, Password, People, Recovery
from uvrix.shop.accounts.second_factor import SecondFactor, SecondFactorEnded

urlpatterns = [
    path("session", SessionView.as_view(), name="session"),
    path("session/password", Password.as_view(), name="password"),
    path("session/second-factor", SecondFactor.as_view(), name="second-factor"),
    path("session/second-factor/end", SecondFactorEnded.as_view(), name="second-factor-ended"),
    path("sessions", OpenSessions.as_view(), name="sessions"),
    path("sessions/<str:session>", OneOpenSession.as_view(), name="open-session"),
    path("audit", Audit.as_view(), name="audit"),
    path("people", People.as_view(), name="people"),
    path("people/<str:username>/recovery", Recovery.as_view(), name="recovery"),
    path("people/<path:username>", OnePerson.as_view(), name="person"),
    path("invitations", Invitations.as_view(), name="invitations"),
    path("invitations/<str:token>", InvitationView.as_view(), name="invitation"),
]
