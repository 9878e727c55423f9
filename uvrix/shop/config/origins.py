"""Where a browser reached this server: links that are given away lead there, and nowhere else."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlsplit

from django.conf import settings
from django.http.request import split_domain_port, validate_host
from rest_framework import serializers

from uvrix.language import gettext


class OriginField(serializers.CharField):
    """An origin (https://host:port) by which this server may be called."""

    def __init__(self, **more: Any) -> None:
        super().__init__(max_length=200, **more)

    def run_validation(self, data: Any = serializers.empty) -> Any:
        """The origin, as it was sent."""
        origin = str(super().run_validation(data))
        parts = urlsplit(origin)
        schemes = {"https"} if settings.HTTPS else {"http", "https"}
        host, _ = split_domain_port(parts.netloc.lower())
        plain = parts.scheme in schemes and not (parts.path or parts.query or parts.fragment)
        if not plain or not host or not validate_host(host, settings.ALLOWED_HOSTS):
            raise serializers.ValidationError(
                gettext("found {origin}, expected the address by which this shop is reached", origin=repr(origin))
            )
        return origin
