"""Session and invitations."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any

from django.contrib.auth import logout
from django.db import transaction
from django.middleware.csrf import get_token
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.shop.accounts.entries import person
from uvrix.shop.accounts.models import User
from uvrix.shop.accounts.services import accept_invitation, found_invitation, sign_in, signed_out
from uvrix.shop.accounts.throttles import SignIns
from uvrix.shop.config.access import EVERYONE, PUBLIC
from uvrix.shop.config.passes import give_pass
from uvrix.shop.config.roles import Role
from uvrix.shop.config.shapes import declared, shape, written


class PersonSerializer(serializers.ModelSerializer[User]):
    """A person as the screen names them."""

    name = serializers.CharField(source="shown_name", read_only=True)
    role = serializers.ChoiceField(choices=Role.choices)

    class Meta:
        model = User
        fields = ["username", "name", "role"]


@dataclass(frozen=True, slots=True)
class SessionAnswer:
    """Who is signed in (null: nobody), and the token that every change must carry."""

    person: Annotated[Any, declared(PersonSerializer(allow_null=True))]
    csrf: str


class SignInSerializer(serializers.Serializer[Any]):
    """Name and password."""

    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=500, trim_whitespace=False)
    code = serializers.CharField(max_length=12, required=False, allow_blank=True)


class AcceptSerializer(serializers.Serializer[Any]):
    """What an invited person chooses; who is known chooses a password alone."""

    username = serializers.CharField(max_length=150, required=False, allow_blank=True, default="")
    name = serializers.CharField(max_length=120, required=False, allow_blank=True, default="")
    password = serializers.CharField(max_length=500, trim_whitespace=False)


@dataclass(frozen=True, slots=True)
class InvitedPersonAnswer:
    """Whom a link is for: the name that they sign in with, empty for somebody new."""

    username: str


def _session(request: Request) -> Response:
    person = request.user if isinstance(request.user, User) else None
    return Response(written(SessionAnswer(person=person, csrf=get_token(request._request))))


@method_decorator(csrf_protect, name="dispatch")
class SessionView(APIView):
    """The session of this browser."""

    roles = {"GET": PUBLIC, "POST": PUBLIC, "DELETE": EVERYONE}
    throttle_classes = [SignIns]

    @extend_schema(responses=shape(SessionAnswer))
    def get(self, request: Request) -> Response:
        """Who is signed in."""
        return _session(request)

    @extend_schema(request=SignInSerializer, responses=shape(SessionAnswer))
    def post(self, request: Request) -> Response:
        """Sign in."""
        entry = SignInSerializer(data=request.data)
        entry.is_valid(raise_exception=True)
        request.user = sign_in(request._request, **entry.validated_data)
        return give_pass(request._request, _session(request))

    @extend_schema(responses={204: None})
    def delete(self, request: Request) -> Response:
        """Sign out."""
        signed_out(person(request))
        logout(request._request)
        return Response(status=204)


@method_decorator(csrf_protect, name="dispatch")
class InvitationView(APIView):
    """A one-time link."""

    roles = {"GET": PUBLIC, "POST": PUBLIC}
    throttle_classes = [SignIns]

    @extend_schema(responses=shape(InvitedPersonAnswer))
    def get(self, request: Request, token: str) -> Response:
        """Whom it is for; 410 where it was used or has run out."""
        with transaction.atomic():
            user = found_invitation(token).user
        return Response(InvitedPersonAnswer(username=user.username if user else ""))

    @extend_schema(request=AcceptSerializer, responses={201: PersonSerializer})
    def post(self, request: Request, token: str) -> Response:
        """Accept an invitation."""
        entry = AcceptSerializer(data=request.data)
        entry.is_valid(raise_exception=True)
        return Response(PersonSerializer(accept_invitation(token, **entry.validated_data)).data, 201)
