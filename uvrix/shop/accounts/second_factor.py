"""A second factor for whoever wants one: codes that an app on their phone shows (TOTP, RFC 6238, by django-otp)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any

import segno
from django.db import transaction
from django_otp.plugins.otp_totp.models import TOTPDevice
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of, person
from uvrix.shop.accounts.models import AccountEvent, User
from uvrix.shop.accounts.throttles import OldPasswords
from uvrix.shop.config.access import EVERYONE
from uvrix.shop.config.problems import Problem
from uvrix.shop.config.shapes import given, shape


def check_code(user: User, code: str) -> None:
    """Raise Problem 400 `code-wanted`, `wrong-code` where a person has a second factor and the code is not its."""
    device = TOTPDevice.objects.filter(user=user, confirmed=True).first()
    if device is None:
        return
    if not code.strip():
        raise Problem(400, "code-wanted", gettext("Type the code that your phone shows."))
    if not device.verify_token(code.replace(" ", "")):
        raise Problem(400, "wrong-code", gettext("This code is wrong. Wait for the next one, then try again."))


def forget_second_factor(user: User) -> None:
    """Remove a person's second factor: from now on the password is enough."""
    TOTPDevice.objects.filter(user=user).delete()


def _by_password(user: User, password: str) -> None:
    if not user.check_password(password):
        raise Problem(400, "wrong-password", gettext("The password is wrong."))


@dataclass(frozen=True, slots=True)
class SecondFactorAnswer:
    """Whether a code is asked for at sign-in."""

    on: bool


@dataclass(frozen=True, slots=True)
class NewFactorAnswer:
    """What the phone's app is given: an address, and its code row by row, 1 for dark."""

    address: str
    code: Sequence[str]


@dataclass(frozen=True, slots=True)
class OwnPasswordRequest:
    """The password of whoever is signed in, typed again."""

    password: Annotated[str, given(max_length=500, trim_whitespace=False)]


@dataclass(frozen=True, slots=True)
class CodeRequest:
    """A code that the phone shows."""

    code: Annotated[str, given(max_length=12)]


class SecondFactor(APIView):
    """The second factor of whoever is signed in."""

    roles = {"GET": EVERYONE, "POST": EVERYONE, "PUT": EVERYONE}

    def get_throttles(self) -> list[Any]:
        """Throttles for passwords and codes, against guessing; reading is not throttled."""
        return [] if self.request.method == "GET" else [OldPasswords()]

    @extend_schema(responses=shape(SecondFactorAnswer))
    def get(self, request: Request) -> Response:
        """Whether there is one."""
        on = TOTPDevice.objects.filter(user=person(request), confirmed=True).exists()
        return Response(SecondFactorAnswer(on=on))

    @extend_schema(request=shape(OwnPasswordRequest), responses={201: shape(NewFactorAnswer)})
    def post(self, request: Request) -> Response:
        """Begin one: it counts once a code of it was typed (PUT). What was begun before is forgotten."""
        user = person(request)
        _by_password(user, entry_of(request, OwnPasswordRequest).password)
        if TOTPDevice.objects.filter(user=user, confirmed=True).exists():
            raise Problem(409, "is-on", gettext("A second factor is on already: switch it off first."))
        with transaction.atomic():
            TOTPDevice.objects.filter(user=user).delete()
            device = TOTPDevice.objects.create(user=user, name=user.username, confirmed=False)
        drawn = segno.make(device.config_url, error="m", micro=False).matrix
        rows = ["".join(str(module) for module in row) for row in drawn]
        return Response(NewFactorAnswer(address=device.config_url, code=rows), 201)

    @extend_schema(request=shape(CodeRequest), responses=shape(SecondFactorAnswer))
    def put(self, request: Request) -> Response:
        """Type a code of the one that was begun: from now on it is asked for."""
        user, code = person(request), entry_of(request, CodeRequest).code
        device = TOTPDevice.objects.filter(user=user, confirmed=False).first()
        if device is None:
            raise Problem(409, "not-begun", gettext("Start setting one up first: no code is expected."))
        if not device.verify_token(code.replace(" ", "")):
            raise Problem(400, "wrong-code", gettext("This code is wrong. Wait for the next one, then try again."))
        device.confirmed = True
        device.save(update_fields=["confirmed"])
        AccountEvent.objects.create(user=user, words=gettext("Switched a second factor on."), by=user)
        return Response(SecondFactorAnswer(on=True))


class SecondFactorEnded(APIView):
    """Ending the use of a second factor."""

    roles = {"POST": EVERYONE}
    throttle_classes = [OldPasswords]

    @extend_schema(request=shape(OwnPasswordRequest), responses=shape(SecondFactorAnswer))
    def post(self, request: Request) -> Response:
        """Switch it off: the password is enough."""
        user = person(request)
        _by_password(user, entry_of(request, OwnPasswordRequest).password)
        forget_second_factor(user)
        AccountEvent.objects.create(user=user, words=gettext("Switched the second factor off."), by=user)
        return Response(SecondFactorAnswer(on=False))
