"""What a request enters, and who enters it."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers
from rest_framework.request import Request

from uvrix.shop.accounts.models import User


def entry_of(request: Request, shape: type[serializers.Serializer[Any]]) -> Any:
    """The data of a request in the serializer's shape; what does not fit is answered with 400 and the field's name."""
    entry = shape(data=request.data)
    entry.is_valid(raise_exception=True)
    return entry.validated_data


def person(request: Request) -> User:
    """Who is signed in; views that the signed-out may call do not ask."""
    assert isinstance(request.user, User)
    return request.user
