"""How bodies of requests are read: as JSON of a bounded size, unless a view takes files."""

from __future__ import annotations

from collections.abc import Mapping
from typing import IO, Any

from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from rest_framework import parsers


class JSONParser(parsers.JSONParser):
    """JSON, read only where it is not too large."""

    def parse(
        self, stream: IO[Any], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> dict[str, Any]:
        """The document. Raises RequestDataTooBig by the length that the request's head says."""
        length = int(parser_context["request"].META.get("CONTENT_LENGTH") or 0) if parser_context else 0
        if length > settings.DATA_UPLOAD_MAX_MEMORY_SIZE:
            raise RequestDataTooBig
        found: dict[str, Any] = super().parse(stream, media_type, parser_context)
        return found
