"""A table typed off a photographed screen: checked against the total on the photograph, made into a tally file.

The file is our own tally (docs/formats §6), so that a typed run is read, kept and exported like any other. Where the
total differs, single slips of the keyboard that would explain it are named: one digit wrong, missing or too many, or
two neighbours swapped.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from uvrix.core.errors import Refusal, UvrixError, quoted
from uvrix.language import gettext

LINES = 32
LARGEST_COUNT = 10**12
NAME = re.compile(r"[A-Za-z]+[0-9]+")


@dataclass(frozen=True, slots=True)
class TypedRow:
    """A channel's row: its errors, and those of each of its 32 lines where the photograph shows them."""

    channel: str
    errors: int
    lines: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Slip:
    """A row that would make the total right, were it `would` instead of what was typed."""

    channel: str
    typed: int
    would: int


class TotalDiffers(UvrixError):
    """The rows do not add up to the total on the photograph."""

    def __init__(self, total: int, found: int, slips: Sequence[Slip], total_slip: bool) -> None:
        self.total = total
        self.found = found
        self.slips = tuple(slips)
        self.total_slip = total_slip
        super().__init__(total, found)

    def __str__(self) -> str:
        said = gettext(
            "found rows that add up to {found}, expected the total {total}", found=self.found, total=self.total
        )
        likely = [
            gettext("{channel} {would} rather than {typed}", channel=slip.channel, would=slip.would, typed=slip.typed)
            for slip in self.slips
        ]
        if self.total_slip:
            likely.append(gettext("the total {found} rather than {total}", found=self.found, total=self.total))
        return (
            gettext("{said}; one slip would explain it: {likely}", said=said, likely=gettext(", or ").join(likely))
            if likely
            else said
        )


def tally_file(rows: Sequence[TypedRow], keys: Mapping[str, str], total: int | None = None) -> bytes:
    """The tally CSV of a typed table; `keys` are the `#` keys of docs/formats §5.

    Raises Refusal on a channel that is no channel or stands twice, a count out of range, or a line that has more
    errors than its channel; TotalDiffers where a total was given and the rows do not add up to it.
    """
    if not rows:
        raise Refusal("rows", gettext("no row"), gettext("at least one channel"))
    _check(rows)
    found = sum(row.errors for row in rows)
    if total is not None and total != found:
        raise TotalDiffers(total, found, slips(rows, total), near(str(total), str(found)))
    lined = any(row.lines for row in rows)
    head = ["channel", "errors", *([f"dq{line}" for line in range(LINES)] if lined else [])]
    said = [f"# {name}: {' '.join(value.split())}" for name, value in keys.items() if value.strip()]
    body = [
        ",".join([row.channel, str(row.errors), *(map(str, row.lines or (0,) * LINES) if lined else ())])
        for row in rows
    ]
    return "\n".join([*said, ",".join(head), *body, ""]).encode()


def _check(rows: Sequence[TypedRow]) -> None:
    met: set[str] = set()
    for number, row in enumerate(rows):
        place = f"rows[{number}]"
        if not NAME.fullmatch(row.channel):
            raise Refusal(f"{place}.channel", quoted(row.channel), gettext("a channel: letters, then digits, as A0"))
        if row.channel in met:
            raise Refusal(
                f"{place}.channel", gettext("{channel} again", channel=row.channel), gettext("each channel once")
            )
        met.add(row.channel)
        if not 0 <= row.errors <= LARGEST_COUNT:
            raise Refusal(
                f"{place}.errors",
                str(row.errors),
                gettext("a count from 0 to {largest_count}", largest_count=LARGEST_COUNT),
            )
        if row.lines and len(row.lines) != LINES:
            raise Refusal(
                f"{place}.lines",
                gettext("{number} lines", number=len(row.lines)),
                gettext("{lines} lines or none", lines=LINES),
            )
        for line, count in enumerate(row.lines):
            if not 0 <= count <= row.errors:
                expected = gettext("a count from 0 to the channel's {errors}", errors=row.errors)
                raise Refusal(
                    f"{place}.lines[{line}]",
                    gettext("{number} on DQ {line} of {channel}", number=count, line=line, channel=row.channel),
                    expected,
                )


def slips(rows: Sequence[TypedRow], total: int) -> list[Slip]:
    """The single slips that would explain a total that differs."""
    off = total - sum(row.errors for row in rows)
    return [
        Slip(row.channel, row.errors, row.errors + off)
        for row in rows
        if row.errors + off >= 0 and near(str(row.errors), str(row.errors + off))
    ]


def near(one: str, other: str) -> bool:
    """Whether two words differ by one slip: a character wrong, missing or too many, or two neighbours swapped."""
    if len(one) > len(other):
        one, other = other, one
    if len(other) - len(one) > 1 or one == other:
        return False
    first = next((n for n, (a, b) in enumerate(zip(one, other, strict=False)) if a != b), len(one))
    if len(one) < len(other):
        return one[first:] == other[first + 1 :]
    swapped = one[first : first + 2] == other[first : first + 2][::-1]
    return one[first + 1 :] == other[first + 1 :] or (swapped and one[first + 2 :] == other[first + 2 :])
