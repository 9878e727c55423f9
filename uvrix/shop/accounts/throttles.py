"""How often one address may try to sign in, and one person to guess their old password."""

from __future__ import annotations

from rest_framework.request import Request
from rest_framework.throttling import SimpleRateThrottle
from rest_framework.views import APIView


class SignIns(SimpleRateThrottle):
    """Sign-ins and accepted links of one address, right or wrong: each costs a slow hash."""

    scope = "sign-in"

    def get_cache_key(self, request: Request, view: APIView) -> str | None:
        """The caller's address; asking who is signed in is not throttled."""
        return None if request.method != "POST" else f"{self.scope}-{self.get_ident(request)}"


class OldPasswords(SimpleRateThrottle):
    """Changes of a person's own password: each tries the old one."""

    scope = "password"

    def get_cache_key(self, request: Request, view: APIView) -> str | None:
        """The id of whoever is signed in."""
        return f"{self.scope}-{request.user.pk}"
