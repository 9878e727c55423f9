"""What every answer carries."""

from __future__ import annotations

import re
from collections.abc import Callable
from uuid import uuid4

from django.http import HttpRequest
from django.http.response import HttpResponseBase

from uvrix.shop.config.logs import REQUEST

Answer = Callable[[HttpRequest], HttpResponseBase]


# A proxy's own number of a request is kept where it is one.
NUMBER = re.compile(r"[A-Za-z0-9-]{8,64}")


class Numbered:
    """Every request has a number, in its answer and in what is written down of it."""

    def __init__(self, answer: Answer) -> None:
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, with the number."""
        given = request.headers.get("X-Request-ID", "")
        number = given if NUMBER.fullmatch(given) else uuid4().hex
        # not taken back: what was refused is written down when all middleware has returned
        REQUEST.set(number)
        response = self.answer(request)
        response.headers["X-Request-ID"] = number
        return response


class NotStored:
    """Answers of the API are kept by no browser and no proxy, except those that say for how long they may be."""

    def __init__(self, answer: Answer) -> None:
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, not to be stored."""
        response = self.answer(request)
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response
