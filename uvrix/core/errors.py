"""What the core says when it cannot go on: facts as fields, the sentence built from them."""

from __future__ import annotations

import json
from typing import Any

from uvrix.language import gettext

LONGEST_QUOTE = 90


class UvrixError(Exception):
    """Base of every error that the core raises on purpose."""


class Refusal(UvrixError):
    """A file or a call that does not fit; nothing of it is taken.

    `place` is a line number, a JSON path or an option; `source` the file's name, added by whoever opened it.
    """

    def __init__(self, place: str, found: str, expected: str, source: str = "") -> None:
        self.place = place
        self.found = one_line(found)
        self.expected = one_line(expected, 240)
        self.source = source
        super().__init__(place, found, expected, source)

    def __str__(self) -> str:
        where = ":".join(part for part in (self.source, self.place) if part)
        return gettext(
            "{where}: found {found}, expected {expected}", where=where, found=self.found, expected=self.expected
        )

    def of(self, source: str) -> Refusal:
        """The refusal with the name of the file it is about."""
        return Refusal(self.place, self.found, self.expected, source)


class NotOurs(Refusal):
    """A report that begins like none of our own formats: a taught reader may know it."""

    def of(self, source: str) -> NotOurs:
        """The refusal with the name of the file it is about."""
        return NotOurs(self.place, self.found, self.expected, source)


def one_line(text: str, longest: int = LONGEST_QUOTE) -> str:
    """The text on one printable line, shortened at the end."""
    flat = "".join(sign if sign.isprintable() else " " for sign in text).strip()
    return flat if len(flat) <= longest else flat[: longest - 1] + "…"


def quoted(value: Any) -> str:
    """A value as JSON, short enough for an error."""
    return one_line(json.dumps(value, ensure_ascii=False, default=str))
