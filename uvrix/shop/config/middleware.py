"""What every answer carries."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest
from django.http.response import HttpResponseBase

Answer = Callable[[HttpRequest], HttpResponseBase]


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
