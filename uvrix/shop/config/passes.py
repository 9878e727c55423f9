"""A cookie that says that its browser signed in here: whoever has it may send what is large (launch/serve.py).

It opens nothing: roles are looked up for every request. It is read before a request is, without asking the database.
"""

from __future__ import annotations

from http.cookies import CookieError, SimpleCookie

from django.conf import settings
from django.core import signing
from django.http import HttpRequest
from rest_framework.response import Response

NAME, SALT = "uvrix-sends", "uvrix.sends"


def give_pass(request: HttpRequest, response: Response) -> Response:
    """The answer to a sign-in, with the cookie."""
    response.set_cookie(
        NAME,
        signing.dumps("", salt=SALT),
        max_age=settings.SESSION_COOKIE_AGE,
        httponly=True,
        samesite="Lax",
        secure=settings.SESSION_COOKIE_SECURE,
    )
    return response


def signed_in(cookies: str) -> bool:
    """Whether a request's cookies hold one that was given here and has not run out."""
    try:
        kept = SimpleCookie(cookies).get(NAME)
        return kept is not None and signing.loads(kept.value, salt=SALT, max_age=settings.SESSION_COOKIE_AGE) == ""
    except (CookieError, signing.BadSignature):
        return False
