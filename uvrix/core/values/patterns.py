"""Patterns learned from a line of text, for the linear-time engine: loosened no more than a sample needs."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

TOKEN = re.compile(r"0[xX][0-9A-Fa-f]+|[A-Za-z0-9_]+|\s+|.")
TRIED_LINES = 400


@dataclass(frozen=True, slots=True)
class Piece:
    """A part of a pattern: how it is written, and how it may be loosened where it is a word."""

    pattern: str
    looser: str | None = None


def gap(text: str) -> list[Piece]:
    """What stands between marks: blanks and numbers of any size, words as they are until they must loosen."""
    found = []
    for token in TOKEN.findall(text):
        if token.isspace():
            found.append(Piece(r"\s+", r"\s*"))
        elif re.fullmatch(r"0[xX][0-9A-Fa-f]+|[0-9A-Fa-f]*[0-9][0-9A-Fa-f]*", token):
            found.append(Piece(r"[0-9A-Za-z_.]+"))
        elif token[0].isalnum() or token[0] == "_":
            found.append(Piece(re.escape(token), r"\S+"))
        else:
            found.append(Piece(re.escape(token)))
    return found


def loosened(pieces: Sequence[Piece], lines: Sequence[str]) -> str:
    """The pattern with as few words loosened as let the most lines of the sample fit."""
    chosen = [piece.pattern for piece in pieces]
    best = _fits(chosen, lines)
    while True:
        tries = []
        for at, piece in enumerate(pieces):
            if piece.looser and chosen[at] != piece.looser:
                tried = [*chosen[:at], piece.looser, *chosen[at + 1 :]]
                tries.append((_fits(tried, lines), -at, tried))
        if not tries or max(tries)[0] <= best:
            return "".join(chosen)
        best, _, chosen = max(tries)


def _fits(pattern: Sequence[str], lines: Sequence[str]) -> int:
    import polars as pl

    return int(pl.Series(lines[:TRIED_LINES], dtype=pl.String).str.contains("".join(pattern)).sum())
