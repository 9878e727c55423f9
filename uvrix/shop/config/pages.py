"""The one page of the interface; its addresses are the browser's own."""

from __future__ import annotations

from functools import cache

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache

from uvrix.language import LANGUAGE


@never_cache
def page(request: HttpRequest) -> HttpResponse:
    """The built front end's index page, for every address that is not the API's or a file's."""
    return HttpResponse(_index(), content_type="text/html; charset=utf-8")


@cache
def _index() -> bytes:
    # the screens load the catalogue of the language that the server speaks
    page: bytes = (settings.WEB / "index.html").read_bytes()
    return page.replace(b'<html lang="en"', f'<html lang="en" data-language="{LANGUAGE}"'.encode(), 1)
