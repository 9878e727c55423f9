"""A memory report that was read."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from uvrix.core.boards.model import Board
from uvrix.core.errors import Refusal, one_line, quoted
from uvrix.core.memory.evidence import Evidence
from uvrix.core.memory.metadata import Metadata
from uvrix.language import gettext, ngettext

MOST_QUOTED = 20


@dataclass(slots=True)
class Unread:
    """Rows that could not be read: how many, and the first of them as (line number, text)."""

    count: int = 0
    quotes: list[tuple[int, str]] = field(default_factory=list)

    def add(self, line: int, text: str) -> None:
        """Adds a row."""
        self.count += 1
        if len(self.quotes) < MOST_QUOTED:
            self.quotes.append((line, one_line(text)))

    def check(self, rows: int, expected: str) -> None:
        """Raise Refusal where there were rows and none of them could be read."""
        if self.count and not rows:
            line, text = self.quotes[0]
            raise Refusal(
                str(line),
                gettext("{number} rows of which none can be read (first {text})", number=self.count, text=quoted(text)),
                expected,
            )


@dataclass(frozen=True, slots=True)
class Report:
    """What one file says; `format` is `full`, `tally`, `lines` or the name of the taught reader."""

    format: str
    meta: Metadata
    rows: int
    unread: Unread
    evidence: Evidence
    warnings: tuple[str, ...] = ()

    @property
    def errors(self) -> int:
        """Sum of the counts of all rows read."""
        return self.evidence.errors


@dataclass(frozen=True, slots=True)
class Channels:
    """What a reader must know of the board: names of its channels and the lines its chips carry."""

    known: frozenset[str]
    masks: tuple[int, ...]
    board: Board | None


def channels_of(board: Board | None, names: Iterable[str], masks: Iterable[int]) -> Channels:
    """The channels that a reader may meet on a board (None where the model is not known)."""
    mapped = board.address_map.order if board and board.address_map else ()
    return Channels(frozenset((*names, *mapped)), tuple(masks), board)


def disagreement(rows: int) -> list[str]:
    """The warning on rows whose address gives another channel than they name."""
    if not rows:
        return []
    return [
        ngettext(
            "{count} row names another channel than the address gives; counted as named",
            "{count} rows name another channel than the address gives; counted as named",
            rows,
        )
    ]


def ignored(column: str) -> str:
    """The warning on a column that no reader knows."""
    return gettext("column {one_line} is not known and was ignored", one_line=one_line(column, 40))
