"""Columns of text to channels, masks of wrong lines and counts: many rows at once, none of them fatal."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any, TypeVar

import numpy as np
import polars as pl
from numpy.typing import NDArray

from uvrix.core.boards.model import ALL_LINES, AddressMap

# Columns of formats.md §2, in any order and case; `op`, `pattern` and `pass` are accepted and not counted by.
USED_COLUMNS = ("channel", "address", "expected", "actual", "bits", "count")
KNOWN_COLUMNS = (*USED_COLUMNS, "op", "pattern", "pass")
CHANNEL_NAME = r"^[A-Za-z]{1,8}[0-9]{1,4}$"
LARGEST_COUNT = 10**15
LARGEST_ADDRESS = (1 << 63) - 1

Mask32 = NDArray[np.uint32]
Counts = NDArray[np.int64]
Flags = NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Rows:
    """Rows that could be read, one entry each.

    `channel` are names; `mask` has a bit for each wrong line and is 0 where the lines are not known; `expected` and
    `actual` hold 0 where `worded` is false; `address` is still text. `disagree` counts rows whose address gives
    another channel than they name.
    """

    channel: pl.Series
    mask: Mask32
    count: Counts
    expected: Mask32
    actual: Mask32
    worded: Flags
    address: pl.Series | None
    disagree: int = 0


def decode(
    table: pl.DataFrame,
    known: frozenset[str],
    address_map: AddressMap | None,
    *,
    base: int = 16,
    any_name: bool = False,
) -> tuple[Rows, Flags]:
    """The rows of a table of text (missing columns and empty cells mean absent), and which rows could be read.

    `known` are the board's channel names; others count as names where they look like one, or always with
    `any_name` (a taught reader has seen the whole line).
    """
    size = table.height
    good = np.ones(size, dtype=np.bool_)
    expected, has_expected, bad = _numbers(table, "expected", base, ALL_LINES)
    good &= ~bad
    actual, has_actual, bad = _numbers(table, "actual", base, ALL_LINES)
    good &= ~bad
    bits, has_bits, bad = _numbers(table, "bits", base, ALL_LINES)
    good &= ~bad
    count, has_count, bad = _numbers(table, "count", 10, LARGEST_COUNT)
    count = np.where(has_count, count, 1)
    good &= ~bad & (count >= 1)
    worded = has_expected & has_actual
    mask = np.where(worded, expected ^ actual, np.where(has_bits, bits, 0))
    channel = table["channel"] if "channel" in table.columns else pl.Series("channel", [None] * size, dtype=pl.String)
    channel = _usable(channel, known, any_name)
    disagree = np.zeros(size, dtype=np.bool_)
    if address_map is not None and "address" in table.columns:
        address, addressed, _ = _numbers(table, "address", base, LARGEST_ADDRESS)
        channel, disagree = _mapped(channel, address, addressed, address_map)
    usable = channel.is_not_null().to_numpy()
    good &= usable
    rows = Rows(
        channel=channel.filter(pl.Series(good)) if not good.all() else channel,
        mask=_kept(mask, good, np.uint32),
        count=_kept(count, good, np.int64),
        expected=_kept(expected, good, np.uint32),
        actual=_kept(actual, good, np.uint32),
        worded=_kept(worded, good, np.bool_),
        address=table["address"].filter(pl.Series(good)) if "address" in table.columns else None,
        disagree=int((disagree & good).sum()),
    )
    return rows, good


Kind = TypeVar("Kind", bound=np.generic)


def _kept(values: NDArray[Any], good: Flags, kind: type[Kind]) -> NDArray[Kind]:
    return (values if good.all() else values[good]).astype(kind, copy=False)


def _numbers(table: pl.DataFrame, name: str, base: int, largest: int) -> tuple[Counts, Flags, Flags]:
    """A column's numbers, which cells hold one, and which hold something that is none or is too large."""
    if name not in table.columns:
        nothing = np.zeros(table.height, dtype=np.bool_)
        return np.zeros(table.height, dtype=np.int64), nothing, nothing
    text = table[name]
    filled = (text.is_not_null() & (text != "")).fill_null(False).to_numpy()
    if name != "count" and text.str.starts_with("0x").any():
        text = text.str.strip_prefix("0x")
    if name != "count" and text.str.starts_with("0X").any():
        text = text.str.strip_prefix("0X")
    number = text.str.to_integer(base=base, dtype=pl.Int64, strict=False)
    signed = text.str.contains(r"^[+\-]").fill_null(False).to_numpy() if text.str.contains("[+-]").any() else False
    valid = number.is_not_null().to_numpy()
    value = number.fill_null(0).to_numpy()
    fits = valid & (value >= 0) & (value <= largest) & ~np.asarray(signed)
    return np.where(fits, value, 0), filled & fits, filled & ~fits


def address_of(text: str | None, base: int = 16) -> int | None:
    """An address in a cell, or None where there is none that can be read."""
    try:
        number = int(text or "", base)
    except ValueError:
        return None
    return number if 0 <= number <= LARGEST_ADDRESS else None


def _usable(named: pl.Series, known: frozenset[str], any_name: bool) -> pl.Series:
    """The names that can be a channel's; others become null."""
    names = named.unique().drop_nulls().to_list()
    usable = [name for name in names if name in known or (name and any_name) or re.match(CHANNEL_NAME, name)]
    return named if len(usable) == len(names) else named.set(~named.is_in(usable), None)


def _mapped(channel: pl.Series, address: Counts, addressed: Flags, address_map: AddressMap) -> tuple[pl.Series, Flags]:
    """Names filled in from addresses where there are none, and the rows whose address gives another than they name."""
    order = pl.Series("channel", list(address_map.order), dtype=pl.String)
    mapped = order.gather(channel_index(address_map, address))
    mapped = mapped if addressed.all() else mapped.set(pl.Series(~addressed), None)
    differs = (channel != mapped).fill_null(False).to_numpy()
    return channel.zip_with(channel.is_not_null(), mapped), differs


def channel_index(address_map: AddressMap, address: Counts) -> NDArray[np.int64]:
    """Index into the map's order of each address (formats.md §1, both forms)."""
    if address_map.stripe_bytes:
        return (address // address_map.stripe_bytes) % len(address_map.order)
    index = np.zeros(len(address), dtype=np.int64)
    for place, bits in enumerate(address_map.select):
        parity = np.zeros(len(address), dtype=np.int64)
        for bit in bits:
            parity ^= (address >> bit) & 1
        index |= parity << place
    return index
