"""Small uploaded files."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers
from rest_framework.request import Request

from uvrix.language import gettext
from uvrix.shop.accounts.entries import entry_of
from uvrix.shop.config.problems import Problem


class FileSerializer(serializers.Serializer[Any]):
    """An uploaded file."""

    file = serializers.FileField(allow_empty_file=True)


def small_file(request: Request, largest: int) -> tuple[str, bytes]:
    """Name and bytes of an uploaded file of at most `largest` bytes; raises Problem `too-large`."""
    entry = entry_of(request, FileSerializer)
    file = entry["file"]
    if file.size > largest:
        raise Problem(
            413,
            "too-large",
            gettext(
                "{name}: found {size} bytes, expected at most {largest}.",
                name=file.name,
                size=file.size,
                largest=largest,
            ),
        )
    return file.name, file.read()
