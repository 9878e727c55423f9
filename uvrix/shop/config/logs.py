"""What the server writes down of its work: one JSON object a line, each with its request's id, no way in among them."""

from __future__ import annotations

import json
import logging
import re
from contextvars import ContextVar

# The id of the request that this thread works on; set by middleware.Numbered.
REQUEST: ContextVar[str] = ContextVar("request", default="")
# Addresses that open something to whoever has them: customers' pages, phones, invitations.
OPENS = re.compile(r"(/(?:c|phone|welcome|customer|invitations)/)[^/\s\"'?]{16,}")


def masked(words: str) -> str:
    """A line without what would let its reader in."""
    return OPENS.sub(r"\1…", words)


class JsonLines(logging.Formatter):
    """A record as one line of JSON; a traceback is part of it."""

    def format(self, record: logging.LogRecord) -> str:
        """The line."""
        said = {
            "at": self.formatTime(record, "%Y-%m-%dT%H:%M:%S%z"),
            "level": record.levelname.lower(),
            "logger": record.name,
            "message": masked(record.getMessage()),
            "request": REQUEST.get(),
        }
        if record.exc_info:
            said["traceback"] = masked(self.formatException(record.exc_info))
        return json.dumps(said, ensure_ascii=False)
