"""Columns of text to channels, masks of wrong lines and counts: many rows at once, none of them fatal."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

import numpy as np
import polars as pl
from numpy.typing import NDArray

from uvrix.core.boards.model import ALL_LINES, AddressMap, Board

# Columns of docs/formats §5, in any order and case; `op`, `pattern` and `pass` are accepted and not counted by.
USED_COLUMNS = ("channel", "address", "expected", "actual", "bits", "count")
KNOWN_COLUMNS = (*USED_COLUMNS, "op", "pattern", "pass")
CHANNEL_NAME = r"^[A-Za-z]{1,8}[0-9]{1,4}$"
HEX_COLUMNS = frozenset({"address", "expected", "actual", "bits"})
LARGEST_COUNT = 10**15
LARGEST_ADDRESS = (1 << 63) - 1

Mask32 = NDArray[np.uint32]
Counts = NDArray[np.int64]
Flags = NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Rows:
    """Rows that could be read, one entry each.

    `channel` indexes `names`; `mask` has a bit for each wrong line and is 0 where the lines are not known; `expected`
    and `actual` hold 0 where `worded` is false; `address` gives a row's address where it has one. `disagree` counts
    rows whose address gives another channel than they name.
    """

    names: tuple[str, ...]
    channel: Counts
    mask: Mask32
    count: Counts
    expected: Mask32
    actual: Mask32
    worded: Flags
    address: Callable[[int], int | None] | None
    disagree: int = 0


@dataclass(frozen=True, slots=True)
class Column:
    """A column's numbers (0 where there is none), which cells hold one, and which hold something that is none."""

    value: Counts
    filled: Flags
    bad: Flags


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
    words = {name: _numbers(table, name, base, ALL_LINES) for name in ("expected", "actual", "bits")}
    count = _numbers(table, "count", 10, LARGEST_COUNT)
    counts = np.where(count.filled, count.value, 1) if count.filled.any() else np.ones(table.height, dtype=np.int64)
    good = ~(count.bad | words["expected"].bad | words["actual"].bad | words["bits"].bad) & (counts >= 1)
    worded = words["expected"].filled & words["actual"].filled
    mask = words["expected"].value ^ words["actual"].value
    if not worded.all():
        mask = np.where(worded, mask, words["bits"].value)
    names, channel = _coded(table, known, any_name)
    disagree = 0
    if address_map is not None and "address" in table.columns:
        address = _numbers(table, "address", base, LARGEST_ADDRESS)
        names, channel, differs = _mapped(names, channel, address, address_map)
        disagree = int((differs & good).sum())
    good &= channel >= 0
    rows = Rows(
        names=names,
        channel=_kept(channel, good, np.int64),
        mask=_kept(mask, good, np.uint32),
        count=_kept(counts, good, np.int64),
        expected=_kept(words["expected"].value, good, np.uint32),
        actual=_kept(words["actual"].value, good, np.uint32),
        worded=_kept(worded, good, np.bool_),
        address=_addresses(table["address"].filter(pl.Series(good)), base) if "address" in table.columns else None,
        disagree=disagree,
    )
    return rows, good


Kind = TypeVar("Kind", bound=np.generic)


def _kept(values: NDArray[Any], good: Flags, kind: type[Kind]) -> NDArray[Kind]:
    return (values if good.all() else values[good]).astype(kind, copy=False)


def _numbers(table: pl.DataFrame, name: str, base: int, largest: int) -> Column:
    """The numbers of a column from 0 to `largest`; an `0x` before words and addresses is passed over."""
    if name not in table.columns:
        nothing = np.zeros(table.height, dtype=np.bool_)
        return Column(np.zeros(table.height, dtype=np.int64), nothing, nothing)
    text = table[name]
    prefixed = name != "count" and text.len() > 0 and (text[0] or "")[:2] in ("0x", "0X")
    value = _integers(text.str.strip_prefix(text[0][:2]) if prefixed else text, base)
    valid = value.view(np.uint64) <= largest  # -1 is the largest of all
    if valid.all():
        return Column(value, valid, ~valid)
    # cells that are empty, that have the other prefix or none, that are no number at all: looked at one kind by one
    left = np.flatnonzero(~valid)
    rest = text.gather(left)
    if name != "count":
        again = _integers(rest.str.strip_prefix("0x").str.strip_prefix("0X"), base)
        fits = (again >= 0) & (again <= largest)
        value[left[fits]], valid[left[fits]] = again[fits], True
    filled = np.ones(len(value), dtype=np.bool_)
    filled[left] = (rest != "").fill_null(False).to_numpy()
    return Column(np.where(valid, value, 0), filled & valid, filled & ~valid)


def _integers(text: pl.Series, base: int) -> Counts:
    """The numbers that cells are, -1 where they are none; a sign makes it none."""
    number = text.str.to_integer(base=base, dtype=pl.Int64, strict=False)
    if text.len() and str(text.min() or "") < "0" and (signed := text.str.starts_with("+")).any():
        number = number.set(signed, None)
    value: Counts = (number.fill_null(-1) if number.null_count() else number).to_numpy().copy()
    return value


def _addresses(text: pl.Series, base: int) -> Callable[[int], int | None]:
    return lambda row: address_of(text[row], base)


def disagreeing(names: tuple[str, ...], channel: Counts, address: Counts | None, board: Board | None) -> int:
    """How many rows' addresses give another channel than they name."""
    if address is None or board is None or board.address_map is None:
        return 0
    filled = np.ones(len(address), dtype=np.bool_)
    return int(_mapped(names, channel, Column(address, filled, ~filled), board.address_map)[2].sum())


def address_of(text: str | None, base: int = 16) -> int | None:
    """An address in a cell, or None where there is none that can be read."""
    try:
        number = int((text or "").removeprefix("0x").removeprefix("0X"), base)
    except ValueError:
        return None
    return number if 0 <= number <= LARGEST_ADDRESS else None


def _coded(table: pl.DataFrame, known: frozenset[str], any_name: bool) -> tuple[tuple[str, ...], Counts]:
    """The names that can be a channel's, and for each row the index of its name, or -1."""
    if "channel" not in table.columns:
        return (), np.full(table.height, -1, dtype=np.int64)
    named = table["channel"]
    if known:
        code = named.cast(pl.Enum(sorted(known)), strict=False).to_physical()
        if code.null_count() == 0:
            return tuple(sorted(known)), code.cast(pl.Int64).to_numpy()
    found = named.unique(maintain_order=True).drop_nulls().to_list()
    names = tuple(name for name in found if name in known or (name and any_name) or re.match(CHANNEL_NAME, name))
    if not names:
        return (), np.full(table.height, -1, dtype=np.int64)
    code = named.cast(pl.Enum(names), strict=False).to_physical().cast(pl.Int64).fill_null(-1)
    return names, code.to_numpy()


def _mapped(
    names: tuple[str, ...], channel: Counts, address: Column, address_map: AddressMap
) -> tuple[tuple[str, ...], Counts, Flags]:
    """Channels filled in from addresses where there are none, and the rows whose address gives another than named."""
    everything = tuple(dict.fromkeys((*names, *address_map.order)))
    place = np.array([everything.index(name) for name in address_map.order], dtype=np.int64)
    mapped = place[channel_index(address_map, address.value)]
    unnamed = channel < 0
    differs = address.filled & ~unnamed & (mapped != channel)
    return everything, np.where(unnamed & address.filled, mapped, channel), differs


def channel_index(address_map: AddressMap, address: Counts) -> NDArray[np.int64]:
    """Index into the map's order of each address (docs/formats §1, both forms)."""
    if address_map.stripe_bytes:
        return (address // address_map.stripe_bytes) % len(address_map.order)
    index = np.zeros(len(address), dtype=np.int64)
    for place, bits in enumerate(address_map.select):
        parity = np.zeros(len(address), dtype=np.int64)
        for bit in bits:
            parity ^= (address >> bit) & 1
        index |= parity << place
    return index
