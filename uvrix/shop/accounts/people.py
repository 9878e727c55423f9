"""People: who may what, invitations, sessions, the history of accounts."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any

from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.models import AccountEvent, User
from uvrix.shop.accounts.services import (
    INVITATION_DAYS,
    RECOVERY_DAYS,
    change_password,
    change_person,
    end_session,
    invite,
    open_sessions,
    recovery,
)
from uvrix.shop.accounts.throttles import OldPasswords
from uvrix.shop.config.access import EVERYONE, LEAD
from uvrix.shop.config.roles import Role
from uvrix.shop.config.shapes import chosen, declared, given, shape, written

MOST_EVENTS = 100


class PersonRowSerializer(serializers.ModelSerializer[User]):
    """A person as the lead sees them."""

    name = serializers.CharField(source="shown_name")
    role = serializers.ChoiceField(choices=Role.choices)

    class Meta:
        model = User
        fields = ["username", "name", "role", "is_active", "last_login"]


class AccountEventSerializer(serializers.ModelSerializer[AccountEvent]):
    """Something that was done to an account."""

    user = serializers.CharField(source="user.shown_name", default="")
    by = serializers.CharField(source="by.shown_name", default="")

    class Meta:
        model = AccountEvent
        fields = ["user", "words", "by", "at"]


@dataclass(frozen=True, slots=True)
class PeopleAnswer:
    """Everybody, and what was done to accounts."""

    people: Annotated[Iterable[Any], declared(PersonRowSerializer(many=True))]
    events: Annotated[Iterable[Any], declared(AccountEventSerializer(many=True))]


def _people() -> Any:
    events = AccountEvent.objects.select_related("user", "by")[:MOST_EVENTS]
    return written(PeopleAnswer(people=User.objects.order_by("first_name"), events=events))


class People(APIView):
    """People."""

    roles = {"GET": LEAD}

    @extend_schema(responses=shape(PeopleAnswer))
    def get(self, request: Request) -> Response:
        """Everybody who signs in here."""
        return Response(_people())


@dataclass(frozen=True, slots=True)
class ChangePersonRequest:
    """What is changed of a person."""

    role: Annotated[str | None, declared(serializers.ChoiceField(choices=Role.choices, required=False))] = None
    is_active: Annotated[bool | None, given(allow_null=False)] = None


class OnePerson(APIView):
    """A person."""

    roles = {"PUT": LEAD}

    @extend_schema(request=shape(ChangePersonRequest), responses=shape(PeopleAnswer))
    def put(self, request: Request, username: str) -> Response:
        """Another role; switched off, so that they sign in no more and their sessions end, or on again."""
        entry = entry_of(request, ChangePersonRequest)
        found = get_object_or_404(User, username=username)
        change_person(found, role=entry.role, active=entry.is_active, by=person(request))
        return Response(_people())


@dataclass(frozen=True, slots=True)
class InviteRequest:
    """Whom to invite."""

    role: Annotated[str, chosen(Role.choices)]


@dataclass(frozen=True, slots=True)
class InvitedAnswer:
    """A link to send, which serves once."""

    path: str
    days: int


class Invitations(APIView):
    """Inviting."""

    roles = {"POST": LEAD}

    @extend_schema(request=shape(InviteRequest), responses={201: shape(InvitedAnswer)}, operation_id="invite")
    def post(self, request: Request) -> Response:
        """A one-time link by which a person chooses their own name and password; it is shown this once."""
        entry = entry_of(request, InviteRequest)
        token = invite(Role(entry.role), person(request))
        return Response(InvitedAnswer(path=f"/welcome/{token}", days=INVITATION_DAYS), 201)


class Recovery(APIView):
    """A new password for somebody who lost theirs."""

    roles = {"POST": LEAD}

    @extend_schema(request=None, responses={201: shape(InvitedAnswer)}, operation_id="recovery")
    def post(self, request: Request, username: str) -> Response:
        """A one-time link by which they choose one, without their second factor; it is shown this once."""
        token = recovery(get_object_or_404(User, username=username), person(request))
        return Response(InvitedAnswer(path=f"/welcome/{token}", days=RECOVERY_DAYS), 201)


class OpenSessionSerializer(serializers.Serializer[Any]):
    """A browser that is signed in; `id` names it without giving its key away."""

    id = serializers.CharField()
    name = serializers.CharField()
    browser = serializers.CharField(allow_blank=True)
    since = serializers.DateTimeField(allow_null=True)
    mine = serializers.BooleanField()


class OpenSessions(APIView):
    """Browsers that are signed in."""

    roles = {"GET": EVERYONE}

    @extend_schema(responses=OpenSessionSerializer(many=True), operation_id="sessions_open")
    def get(self, request: Request) -> Response:
        """The caller's own sessions; the lead sees everybody's."""
        return Response(OpenSessionSerializer(_sessions(request), many=True).data)


def _sessions(request: Request) -> list[dict[str, Any]]:
    names = {user.pk: user.shown_name for user in User.objects.all()}
    me = person(request)
    found = []
    for key, held, owner in open_sessions():
        if owner == me.pk or me.role == Role.LEAD:
            since = datetime.fromisoformat(held["since"]) if "since" in held else None
            mine = key == request.session.session_key
            shown = {"id": _named(key), "name": names.get(owner, ""), "browser": held.get("browser", "")}
            found.append({**shown, "since": since, "mine": mine})
    return found


def _named(key: str) -> str:
    return hashlib.sha256(key.encode()).hexdigest()[:24]


class OneOpenSession(APIView):
    """A browser that is signed in."""

    roles = {"DELETE": EVERYONE}

    @extend_schema(responses={204: None})
    def delete(self, request: Request, session: str) -> Response:
        """Sign it out; others' only by the lead."""
        me = person(request)
        for key, _, owner in open_sessions():
            if _named(key) == session and (owner == me.pk or me.role == Role.LEAD):
                end_session(key, owner)
                return Response(status=204)
        raise Http404


@dataclass(frozen=True, slots=True)
class PasswordRequest:
    """The old password and the new one."""

    old: Annotated[str, given(max_length=500, trim_whitespace=False)]
    new: Annotated[str, given(max_length=500, trim_whitespace=False)]


class Password(APIView):
    """The password of whoever is signed in."""

    roles = {"PUT": EVERYONE}
    throttle_classes = [OldPasswords]

    @extend_schema(request=shape(PasswordRequest), responses={204: None})
    def put(self, request: Request) -> Response:
        """Change it; it must pass the framework's rules."""
        entry = entry_of(request, PasswordRequest)
        change_password(request._request, person(request), entry.old, entry.new)
        return Response(status=204)
