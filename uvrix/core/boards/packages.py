"""Packages: which ball carries which line, so that a line can be measured (CSV: `ball,signal,class`).

`signal` is `DQ0` to `DQ31` for data lines, any name otherwise; `class` is signal, supply, ground or unused. A ball is
named only where the board says which of the package's lines each of the channel's lines is (`dq_swap`).
"""

from __future__ import annotations

import csv
import re
from dataclasses import dataclass

from uvrix.core.boards.model import Site
from uvrix.core.errors import Refusal, quoted
from uvrix.core.values.text import decode
from uvrix.language import gettext

CLASSES = ("signal", "supply", "ground", "unused")
BALL = re.compile(r"[A-Z]{1,2}[0-9]{1,2}")
LINE = re.compile(r"DQ([0-9]|[12][0-9]|3[01])")


@dataclass(frozen=True, slots=True)
class Package:
    """A package's balls: `lines` names the ball of each data line, `classes` and `signals` say those of every ball."""

    name: str
    lines: dict[int, str]
    classes: dict[str, str]
    signals: dict[str, str]


@dataclass(frozen=True, slots=True)
class BallAt:
    """A ball on the map: column and row counted from 0, A1 at the upper left, as seen through the package."""

    ball: str
    column: int
    row: int


@dataclass(frozen=True, slots=True)
class Ball:
    """One of a channel's lines at a site: the package's line and its ball, None where they are not known."""

    line: int
    package_line: int | None
    ball: str | None


def read_package(data: bytes, name: str) -> Package:
    """The package in a CSV file; raises Refusal naming the line."""
    try:
        rows = list(csv.reader(decode(data).splitlines()))
    except csv.Error as error:
        raise Refusal("1", gettext("no CSV ({error})", error=error), gettext("rows of ball, signal, class")) from None
    if not rows or [cell.strip().lower() for cell in rows[0]] != ["ball", "signal", "class"]:
        raise Refusal("1", quoted(",".join(rows[0]) if rows else ""), gettext("the header ball,signal,class"))
    lines: dict[int, str] = {}
    classes: dict[str, str] = {}
    signals: dict[str, str] = {}
    for number, row in enumerate(rows[1:], 2):
        if not row:
            continue
        cells = [cell.strip() for cell in row]
        if len(cells) != 3 or not BALL.fullmatch(cells[0]) or cells[2] not in CLASSES:
            expected = gettext("a ball as K3, its signal, and one of {classes}", classes=", ".join(CLASSES))
            raise Refusal(str(number), quoted(",".join(row)), expected)
        if cells[0] in classes:
            raise Refusal(str(number), gettext("the ball {cells} again", cells=cells[0]), gettext("each ball once"))
        classes[cells[0]] = cells[2]
        signals[cells[0]] = cells[1][:40]
        if line := LINE.fullmatch(cells[1]):
            lines[int(line[1])] = cells[0]
    return Package(name, lines, classes, signals)


def ball_map(package: Package) -> list[BallAt]:
    """Where each ball lies: rows by their letters as they follow one another in this package, columns by number."""
    split = {
        ball: (ball.rstrip("0123456789"), int(ball.lstrip("ABCDEFGHIJKLMNOPQRSTUVWXYZ"))) for ball in package.classes
    }
    letters = sorted({row for row, _ in split.values()}, key=lambda row: (len(row), row))
    first = min((column for _, column in split.values()), default=0)
    return [BallAt(ball, column - first, letters.index(row)) for ball, (row, column) in split.items()]


def balls_of(site: Site, lines: tuple[int, ...], package: Package | None) -> list[Ball]:
    """The balls of some of the channel's lines at a site."""
    found = []
    own = [line for line in range(32) if site.lines >> line & 1]
    for line in lines:
        swapped = None
        if len(site.swap) == 32:
            swapped = site.swap[line]
        elif len(site.swap) == len(own) and line in own:
            swapped = site.swap[own.index(line)]
        ball = package.lines.get(swapped) if package and swapped is not None else None
        found.append(Ball(line, swapped, ball))
    return found
