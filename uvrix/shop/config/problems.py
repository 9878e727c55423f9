"""Errors as application/problem+json (RFC 9457): what happened, with its facts, in one place."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.core.exceptions import PermissionDenied, RequestDataTooBig
from django.db import DataError, InterfaceError, OperationalError
from django.http import Http404, HttpRequest, JsonResponse
from rest_framework import exceptions
from rest_framework.response import Response

from uvrix.core.errors import Refusal
from uvrix.language import gettext

CONTENT_TYPE = "application/problem+json"
# What no field can keep, wherever it was sent, by what fails on it.
UNKEPT: dict[type[Exception], str] = {
    DataError: gettext("a character or a number that the database cannot hold"),
    UnicodeEncodeError: gettext("half a character"),
    RecursionError: gettext("a document nested too deep"),
}


class Problem(Exception):
    """Something that the caller can do something about; `code` is stable, `facts` are for the screen."""

    def __init__(self, status: int, code: str, detail: str, **facts: Any) -> None:
        self.status = status
        self.code = code
        self.detail = detail
        self.facts = facts
        super().__init__(detail)


_WHEN_REFUSED: list[Callable[[Any], None]] = []


def when_refused(told: Callable[[Any], None]) -> Callable[[Any], None]:
    """Register what is told of each request that is refused."""
    _WHEN_REFUSED.append(told)
    return told


def of_refusal(refusal: Refusal) -> Problem:
    """A refused file as a problem."""
    facts = {"place": refusal.place, "found": refusal.found, "expected": refusal.expected, "file": refusal.source}
    return Problem(422, "refused-file", f"{refusal}.", **facts)


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """DRF's exception handler: any known error as a problem; unknown ones go on to Django."""
    for told in _WHEN_REFUSED:
        told(context["request"])
    if isinstance(error, Refusal):
        error = of_refusal(error)
    if isinstance(error, OperationalError | InterfaceError):
        error = Problem(
            503, "away", gettext("The database is not answering at the moment. Nothing was stored; try again.")
        )
    if isinstance(error, DataError | UnicodeEncodeError | RecursionError):
        error = Problem(
            422,
            "does-not-fit",
            gettext("found {unkept}, expected what can be kept as text", unkept=UNKEPT[type(error)]),
        )
    if isinstance(error, RequestDataTooBig):
        most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE >> 20
        error = Problem(
            413, "too-large", gettext("found a larger entry, expected one of at most {most} MiB", most=most)
        )
    if isinstance(error, Problem):
        return _response(error.status, error.code, error.detail, error.facts, {})
    if isinstance(error, Http404):
        error = exceptions.NotFound()
    elif isinstance(error, PermissionDenied):
        error = exceptions.PermissionDenied()
    return _of_framework(error) if isinstance(error, exceptions.APIException) else None


def _of_framework(error: exceptions.APIException) -> Response:
    """What the framework refused."""
    header: str | None = getattr(error, "auth_header", None)
    headers = {"WWW-Authenticate": header} if header else {}
    if isinstance(error, exceptions.Throttled):
        wait = math.ceil(getattr(error, "wait", None) or 1)
        detail = gettext("Too many tries from here. Wait {wait} s, then try again.", wait=wait)
        return _response(429, "too-many", detail, {}, {"Retry-After": str(wait)})
    if isinstance(error, exceptions.ValidationError):
        detail = "; ".join(_sentences(error.detail)) or gettext("The entry does not fit.")
        return _response(error.status_code, "does-not-fit", detail, {"errors": error.detail}, headers)
    return _response(error.status_code, str(error.get_codes()).replace("_", "-"), str(error.detail), {}, headers)


def _response(status: int, code: str, detail: str, facts: dict[str, Any], headers: dict[str, str]) -> Response:
    return Response({**_body(status, code, detail), **facts}, status, headers=headers, content_type=CONTENT_TYPE)


def _sentences(detail: Any, name: str = "") -> list[str]:
    if isinstance(detail, dict):
        return [
            line
            for key, errors in detail.items()
            for line in _sentences(errors, "" if key == "non_field_errors" else key)
        ]
    if isinstance(detail, list):
        return [line for errors in detail for line in _sentences(errors, name)]
    return [f"{name}: {detail}" if name else str(detail)]


def not_found(request: HttpRequest, exception: Exception | None = None) -> JsonResponse:
    """An address under /api/ that does not exist."""
    return _plain(404, "not-found", gettext("Nothing is at {path}.", path=request.path))


def server_error(request: HttpRequest) -> JsonResponse:
    """Something of ours broke; what was sent is still with the sender."""
    return _plain(
        500, "server-error", gettext("The server failed on this request; nothing of it was stored. Try again.")
    )


def locked_out(request: HttpRequest, response: object, credentials: object) -> JsonResponse:
    """Too many wrong passwords."""
    detail = gettext("Too many wrong passwords for this name. Try again in a quarter of an hour.")
    return _plain(429, "locked-out", detail)


def _body(status: int, code: str, detail: str) -> dict[str, Any]:
    title = code.replace("-", " ")
    return {"type": f"urn:uvrix:problem:{code}", "title": title, "status": status, "code": code, "detail": detail}


def _plain(status: int, code: str, detail: str) -> JsonResponse:
    return JsonResponse(_body(status, code, detail), status=status, content_type=CONTENT_TYPE)
