"""Who may do what: one table a view, refused unless it says otherwise."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from rest_framework.authentication import SessionAuthentication
from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from uvrix.shop.config.roles import Role

if TYPE_CHECKING:
    from rest_framework.views import APIView

EVERYONE = frozenset(Role)
BENCH = frozenset({Role.TECHNICIAN, Role.LEAD})
LEAD = frozenset({Role.LEAD})
# For views that the signed-out may call: sign-in and invitations.
PUBLIC = frozenset({"public"})


class SignedInSession(SessionAuthentication):
    """Session cookies with the CSRF check; answers the signed-out with 401."""

    def authenticate_header(self, request: Request) -> str:
        """What makes the framework answer 401 rather than 403."""
        return "Session"


class RoleMay(BasePermission):
    """Allows a method only where the view's `roles` name the caller's role for it."""

    def has_permission(self, request: Request, view: APIView) -> bool:
        """Whether the caller may; a method that the table lacks is allowed to nobody."""
        table: dict[str, frozenset[Any]] = getattr(view, "roles", {})
        if request.method in ("HEAD", "OPTIONS"):
            allowed = table.get("GET", frozenset())
        else:
            allowed = table.get(request.method or "", frozenset())
        if allowed is PUBLIC:
            return True
        return bool(request.user and request.user.is_authenticated and request.user.role in allowed)
