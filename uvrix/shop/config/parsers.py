"""How bodies of requests are read: as JSON of a bounded size, unless a view takes files."""

from __future__ import annotations

from collections.abc import Mapping
from typing import IO, Any

from rest_framework import parsers

from uvrix.shop.config.problems import Problem

# The largest that a screen sends is a board model with its start-up map, some hundred kilobytes.
LARGEST_JSON_BYTES = 8 << 20


class JSONParser(parsers.JSONParser):
    """JSON, read only where it is not too large."""

    def parse(
        self, stream: IO[Any], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> dict[str, Any]:
        """The document. Raises Problem 413 `too-large`."""
        length = int(parser_context["request"].META.get("CONTENT_LENGTH") or 0) if parser_context else 0
        if length > LARGEST_JSON_BYTES:
            most = LARGEST_JSON_BYTES >> 20
            raise Problem(413, "too-large", f"found {length >> 20} MiB, expected an entry of at most {most} MiB")
        found: dict[str, Any] = super().parse(stream, media_type, parser_context)
        return found
