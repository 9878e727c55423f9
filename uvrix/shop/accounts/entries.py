"""What a request enters, and who enters it."""

from __future__ import annotations

import hashlib
import json
from contextlib import suppress
from dataclasses import is_dataclass
from typing import Any, TypeVar, overload
from uuid import UUID

from django.db import DatabaseError, InterfaceError, connection, transaction
from rest_framework import serializers
from rest_framework.request import Request

from uvrix.language import gettext
from uvrix.shop.accounts.models import EntrySeen, User
from uvrix.shop.config.problems import Problem, when_refused
from uvrix.shop.config.shapes import shape

Entry = TypeVar("Entry")
# No wait for the disk: an id that a crash forgets only loses its comparison, never an entry.
CLAIM = """
insert into jobs_entryseen (id, digest)
select %s::uuid, %s from (select set_config('synchronous_commit', 'off', true)) as without_waiting
on conflict (id) do nothing
"""


@overload
def entry_of(request: Request, expected: type[serializers.Serializer[Any]]) -> Any: ...
@overload
def entry_of(request: Request, expected: type[Entry]) -> Entry: ...
def entry_of(request: Request, expected: type[Any]) -> Any:
    """The data of a request as a dataclass or a serializer says.

    What does not fit is answered with 400 and the field's name.

    Raises Problem 409 `id-used` where an entry of that id came before with another body: it would be dropped.
    """
    entry = (shape(expected) if is_dataclass(expected) else expected)(data=request.data)
    entry.is_valid(raise_exception=True)
    number = _id_of(entry.validated_data)
    if isinstance(number, UUID) and isinstance(request.data, dict):
        _seen(request, number)
    return entry.validated_data


def _id_of(entered: Any) -> Any:
    """The client's id of an entry, where it has one."""
    if isinstance(entered, dict):
        return entered.get("id") or entered.get("entry")
    return getattr(entered, "id", None) or getattr(entered, "entry", None)


def _seen(request: Request, number: UUID) -> None:
    text = json.dumps([request.path, request.data], sort_keys=True, default=str)
    digest = hashlib.sha256(text.encode("utf-8", "surrogatepass")).digest()
    with connection.cursor() as cursor:
        cursor.execute(CLAIM, [str(number), digest])
        fresh = cursor.rowcount == 1
    if not fresh:
        known = EntrySeen.objects.filter(pk=number).values_list("digest", flat=True).first()
        if known is not None and bytes(known) != digest:
            raise Problem(
                409, "id-used", gettext("found an entry's id that was used for another entry, expected a new id")
            )
        return
    request.seen_entry = number  # type: ignore[attr-defined]


@when_refused
def forget_refused(request: Request) -> None:
    """Free the ids of a refused request: it may be sent again with another body."""
    number = getattr(request, "seen_entry", None)
    if number is not None:
        with suppress(DatabaseError, InterfaceError), transaction.atomic():
            EntrySeen.objects.filter(pk=number).delete()


def person(request: Request) -> User:
    """Who is signed in; views that the signed-out may call do not ask."""
    assert isinstance(request.user, User)
    return request.user
