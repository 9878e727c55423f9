"""What the OpenAPI generator cannot find out by itself."""

from __future__ import annotations

from typing import Any

from drf_spectacular.extensions import OpenApiAuthenticationExtension


class SessionScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """The session cookie."""

    target_class = "uvrix.shop.config.access.SignedInSession"
    name = "session"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        """Django's own cookie."""
        return {"type": "apiKey", "in": "cookie", "name": "sessionid"}
