"""The lines report (docs/formats §6): a first JSON object with the report's keys, then one object an error."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

import numpy as np
import polars as pl

from uvrix.core.errors import NotOurs, Refusal, quoted
from uvrix.core.memory.evidence import Gatherer
from uvrix.core.memory.lines import Block
from uvrix.core.memory.metadata import Metadata, metadata
from uvrix.core.memory.report import Channels, Report, Unread, disagreement, ignored
from uvrix.core.memory.words import KNOWN_COLUMNS, USED_COLUMNS, decode
from uvrix.language import gettext

EXPECTED_FIRST = '{"format": "uvrix-report", "version": 1, …}'
# Stands for a value that no column can hold, so that the row is counted as unread.
UNUSABLE = "?"


def read_lines(blocks: Iterator[Block], channels: Channels) -> Report:
    """The report in a file's blocks; raises Refusal on a wrong first object or where no row can be read."""
    meta: Metadata | None = None
    gatherer = Gatherer(channels.masks)
    unread = Unread()
    strange: set[str] = set()
    address_map = channels.board.address_map if channels.board else None
    for block in blocks:
        cells: dict[str, list[str | None]] = {name: [] for name in USED_COLUMNS}
        origin: list[tuple[int, str]] = []
        for number, raw in enumerate(block.lines(), block.first_line):
            text = raw.decode("utf-8").strip()
            if not text or text.startswith("#"):
                continue
            if meta is None:
                meta = _first(text, number)
                continue
            row = _object(text)
            if row is None:
                unread.add(number, text)
                continue
            strange |= row.keys() - set(KNOWN_COLUMNS)
            origin.append((number, text))
            for name in USED_COLUMNS:
                cells[name].append(_cell(row.get(name), name))
        frame = pl.DataFrame(cells, schema=dict.fromkeys(USED_COLUMNS, pl.String))
        rows, good = decode(frame, channels.known, address_map)
        gatherer.add(rows)
        for bad in np.flatnonzero(~good).tolist():
            unread.add(*origin[bad])
    if meta is None:
        raise Refusal("1", gettext("an empty file"), EXPECTED_FIRST)
    unread.quotes.sort()
    unread.check(gatherer.rows, gettext("an object with a channel, or an address on a board with an address map"))
    warnings = [ignored(name) for name in sorted(strange)[:20]] + disagreement(gatherer.disagree)
    return Report("lines", meta, gatherer.rows, unread, gatherer.evidence(), tuple(warnings))


def _first(text: str, number: int) -> Metadata:
    first = _object(text)
    if first is None or first.get("format") != "uvrix-report" or first.get("version") != 1:
        raise NotOurs(str(number), quoted(text), EXPECTED_FIRST)
    keys = {name: _word(value) for name, value in first.items() if value is not None}
    return metadata(keys, dict.fromkeys(keys, str(number)))


def _word(value: Any) -> str:
    if isinstance(value, list):
        return ",".join(map(str, value))
    return value if isinstance(value, str) else json.dumps(value)


def _object(text: str) -> dict[str, Any] | None:
    """The object in a line with its keys in lower case, or None."""
    try:
        value = json.loads(text)
    except (ValueError, RecursionError):
        return None
    return {name.lower(): entry for name, entry in value.items()} if isinstance(value, dict) else None


def _cell(value: Any, name: str) -> str | None:
    """A cell as text; a number is taken for `count` alone, since words are hex and a bare number would not say."""
    if value is None:
        return None
    if isinstance(value, str):
        return value.strip()
    whole = isinstance(value, int) and not isinstance(value, bool) and name == "count"
    return str(value) if whole else UNUSABLE
