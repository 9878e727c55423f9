"""What a fault does to the words that are read back: expected and actual words with their addresses."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uvrix.core.boards.model import ALL_LINES, Board
from uvrix.core.boards.walk import Place, places
from uvrix.core.errors import Refusal, quoted
from uvrix.core.finding_kinds import FINDING_KINDS
from uvrix.core.memory.words import channel_index
from uvrix.language import gettext

Words = NDArray[np.int64]
LOCAL_KINDS = tuple(kind.name for kind in FINDING_KINDS.values() if kind.simulated and kind.touches == "chip")
WIDE_KINDS = tuple(kind.name for kind in FINDING_KINDS.values() if kind.simulated and kind.touches == "chips")
KINDS = (*LOCAL_KINDS, *WIDE_KINDS)
# Words are tested every 64 bytes up to 2 GiB.
WORD_BYTES = 64
PLACES = 1 << 25
FIRST_ADDRESS_BIT, LAST_ADDRESS_BIT = 15, 28


@dataclass(frozen=True, slots=True)
class Fault:
    """A fault on a board: its kind, the chips it touches, the channel's lines it names."""

    kind: str
    places: tuple[Place, ...]
    dq: tuple[int, ...] = ()

    @property
    def designators(self) -> tuple[str, ...]:
        """The chips."""
        return tuple(place.site.designator for place in self.places)


@dataclass(frozen=True, slots=True)
class Rows:
    """Errors one by one: channel, address, expected and actual word."""

    channel: list[str]
    address: Words
    expected: Words
    actual: Words


def fault_from(board: Board, text: str, rng: np.random.Generator) -> Fault:
    """The fault that `KIND:DESIGNATOR[:DQ…]` names; lines that are not named are chosen. Raises Refusal."""
    kind, _, rest = text.partition(":")
    name, *lines = rest.split(":") if rest else [""]
    met = [place for place in places(board.core, board.walk, board.sites) if place.site.fitted and place.channel]
    if kind in LOCAL_KINDS:
        chosen = [place for place in met if place.site.designator == name]
        if not chosen:
            raise Refusal("--fault", quoted(text), gettext("{kind}: and a fitted site of the board", kind=kind))
        return Fault(kind, tuple(chosen), _lines(kind, chosen[0], lines, text, rng))
    members: dict[str, Callable[[Place], bool]] = {
        "controller": lambda place: (place.channel or "")[:1] == name,
        "rail-group": lambda place: place.site.group == name,
        "everywhere": lambda _: True,
    }
    if kind not in members:
        raise Refusal(
            "--fault", quoted(text), gettext("KIND:DESIGNATOR with a kind of {kinds}", kinds=", ".join(KINDS))
        )
    chosen = [place for place in met if members[kind](place)]
    if not chosen or (kind != "everywhere" and not name):
        raise Refusal("--fault", quoted(text), gettext("a controller's letter, a group of sites, or everywhere alone"))
    return Fault(kind, tuple(chosen))


def _lines(kind: str, place: Place, words: Sequence[str], text: str, rng: np.random.Generator) -> tuple[int, ...]:
    own = [line for line in range(32) if place.site.lines >> line & 1]
    if not all(word.isascii() and word.isdigit() and int(word) in own for word in words):
        raise Refusal(
            "--fault",
            quoted(text),
            gettext(
                "lines that {designator} carries ({own} to {own_2})",
                designator=place.site.designator,
                own=own[0],
                own_2=own[-1],
            ),
        )
    given = [int(word) for word in words]
    if kind == "dq-line":
        return (given[0] if given else int(rng.choice(own)),)
    if kind == "dq-bridge":
        rest = [line for line in own if line not in given]
        both = [*given, *(int(line) for line in rng.permutation(rest))][:2]
        return tuple(sorted(both))
    if kind == "byte-lane":
        lanes = [byte for byte in range(4) if all(8 * byte + bit in own for bit in range(8))]
        lane = given[0] // 8 if given else int(rng.choice(lanes)) if lanes else -1
        if lane not in lanes:
            raise Refusal("--fault", quoted(text), gettext("a site that carries a whole byte lane"))
        return tuple(range(8 * lane, 8 * lane + 8))
    if kind == "half":
        if place.site.lines != ALL_LINES:
            raise Refusal("--fault", quoted(text), gettext("a site that carries all 32 lines"))
        upper = given[0] // 16 if given else int(rng.integers(2))
        return tuple(range(16 * upper, 16 * upper + 16))
    return ()


def errors_of(board: Board, fault: Fault, count: int, rng: np.random.Generator) -> Rows:
    """`count` errors that the fault makes on the board, in the order in which a tester meets them."""
    shares = rng.dirichlet(np.full(len(fault.places), 12.0))
    owners = rng.choice(len(fault.places), size=count, p=shares)
    parts = [_of_place(fault, place, int((owners == n).sum()), rng) for n, place in enumerate(fault.places)]
    channels = [place.channel or "" for n, place in enumerate(fault.places) for _ in range(int((owners == n).sum()))]
    address, expected, actual = (np.concatenate([part[n] for part in parts]) for n in range(3))
    address = on_channel(board, address, channels)
    order = np.argsort(rng.random(count)) if fault.kind in WIDE_KINDS else np.arange(count)
    return Rows([channels[n] for n in order], address[order], expected[order], actual[order])


def background(board: Board, count: int, rng: np.random.Generator) -> Rows:
    """Errors that have nothing to do with a fault: any fitted chip, one line mostly, two or three at times."""
    met = [place for place in places(board.core, board.walk, board.sites) if place.site.fitted and place.channel]
    expected = patterns(count, rng)
    chosen = [met[int(n)] for n in rng.integers(len(met), size=count)]
    masks = [
        _some(place.site.lines, int(wrong), rng)
        for place, wrong in zip(chosen, rng.choice([1, 2, 3], size=count, p=[0.8, 0.15, 0.05]), strict=True)
    ]
    channels = [place.channel or "" for place in chosen]
    address = on_channel(board, rng.integers(PLACES, size=count) * WORD_BYTES, channels)
    return Rows(channels, address, expected, expected ^ np.array(masks, dtype=np.int64))


def patterns(count: int, rng: np.random.Generator) -> Words:
    """Words that testers write: solid, checkered, walking ones and zeros, random."""
    solid = rng.choice([0, ALL_LINES, 0x55555555, 0xAAAAAAAA], size=count)
    walking = 1 << rng.integers(32, size=count)
    random = rng.integers(1 << 32, size=count)
    kind = rng.choice(4, size=count, p=[0.25, 0.15, 0.1, 0.5])
    return np.select([kind == 0, kind == 1, kind == 2], [solid, walking, ALL_LINES ^ walking], random).astype(np.int64)


def on_channel(board: Board, address: Words, channels: Sequence[str]) -> Words:
    """The addresses moved, in their low bits, to where the board's address map puts each channel."""
    spec = board.address_map
    if spec is None:
        return address
    moved = address.copy()
    wanted = np.array([spec.order.index(name) if name in spec.order else -1 for name in channels], dtype=np.int64)
    if spec.stripe_bytes:
        word, each = moved // WORD_BYTES, max(1, spec.stripe_bytes // WORD_BYTES)
        stripe = word // each * len(spec.order) + wanted
        return np.where(wanted >= 0, stripe * spec.stripe_bytes + word % each * WORD_BYTES, moved)
    for place, bits in enumerate(spec.select):
        index = channel_index(spec, moved)
        wrong = (wanted >= 0) & ((index >> place & 1) != (wanted >> place & 1))
        moved = np.where(wrong, moved ^ (1 << bits[0]), moved)
    return moved


def _some(lines: int, wrong: int, rng: np.random.Generator) -> int:
    own = [line for line in range(32) if lines >> line & 1]
    return sum(1 << int(line) for line in rng.choice(own, size=min(wrong, len(own)), replace=False))


def _of_place(fault: Fault, place: Place, count: int, rng: np.random.Generator) -> tuple[Words, Words, Words]:
    makers = {"dq-line": _stuck, "dq-bridge": _bridged, "byte-lane": _lane, "cells": _weak, "address-line": _aliased}
    make = makers.get(fault.kind)
    if make is not None:
        return make(fault, place, count, rng)
    if fault.kind == "site":
        return _dead(place.site.lines, count, rng)
    lines = sum(1 << line for line in fault.dq) or place.site.lines
    return _flips(lines, float(rng.uniform(0.2, 0.6)), count, rng)


def _spread(count: int, rng: np.random.Generator) -> Words:
    return np.sort(rng.integers(PLACES, size=count)).astype(np.int64) * WORD_BYTES


def _from_start(count: int) -> Words:
    return np.arange(count, dtype=np.int64) * WORD_BYTES * 32


def _stuck(fault: Fault, place: Place, count: int, rng: np.random.Generator) -> tuple[Words, Words, Words]:
    """One line that reads low, high, or wrong now and then."""
    bit = 1 << fault.dq[0]
    expected = patterns(count, rng)
    manner = rng.integers(3)
    if manner < 2:
        expected = expected | bit if manner == 0 else expected & ~bit
    return _spread(count, rng), expected, expected ^ bit


def _bridged(fault: Fault, place: Place, count: int, rng: np.random.Generator) -> tuple[Words, Words, Words]:
    """Two lines that read alike wherever the pattern has them differ: the lower or the higher level wins."""
    one, other = (1 << line for line in fault.dq)
    expected = patterns(count, rng) & ~(one | other)
    first = rng.random(count) < 0.5
    expected |= np.where(first, one, other)
    low = bool(rng.integers(2))
    actual = expected & ~(one | other) if low else expected | one | other
    return _spread(count, rng), expected, actual


def _lane(fault: Fault, place: Place, count: int, rng: np.random.Generator) -> tuple[Words, Words, Words]:
    """A byte inverted as a whole, or its lines wrong together and at random."""
    lines = sum(1 << line for line in fault.dq)
    if rng.integers(2):
        expected = patterns(count, rng)
        return _spread(count, rng), expected, expected ^ lines
    return _flips(lines, float(rng.uniform(0.3, 0.7)), count, rng)


def _flips(lines: int, rate: float, count: int, rng: np.random.Generator) -> tuple[Words, Words, Words]:
    """Each of the lines wrong on its own account, at least one of them."""
    own = np.array([line for line in range(32) if lines >> line & 1])
    wrong = rng.random((count, len(own))) < rate
    empty = ~wrong.any(axis=1)
    wrong[empty, rng.integers(len(own), size=int(empty.sum()))] = True
    masks = (wrong * (1 << own)).sum(axis=1).astype(np.int64)
    expected = patterns(count, rng)
    return _spread(count, rng), expected, expected ^ masks


def _dead(lines: int, count: int, rng: np.random.Generator) -> tuple[Words, Words, Words]:
    """Wrong from the first address: floating words, or the same level on all lines."""
    expected = rng.integers(1 << 32, size=count).astype(np.int64)
    level = [rng.integers(1 << 32, size=count), np.zeros(count), np.full(count, ALL_LINES)][int(rng.integers(3))]
    actual = (expected & ~lines) | (level.astype(np.int64) & lines)
    actual = np.where(actual == expected, expected ^ (lines & -lines), actual)
    return _from_start(count), expected, actual


def _weak(fault: Fault, place: Place, count: int, rng: np.random.Generator) -> tuple[Words, Words, Words]:
    """Some cells, each with its line and address, met again in every pass."""
    cells = max(2, min(count, int(rng.integers(4, 200))))
    own = np.array([line for line in range(32) if place.site.lines >> line & 1])
    where, line = _spread(cells, rng), rng.choice(own, size=cells)
    met = np.concatenate([rng.permutation(cells) for _ in range(count // cells + 1)])[:count]
    expected = patterns(count, rng)
    return where[met], expected, expected ^ (1 << line[met])


def _aliased(fault: Fault, place: Place, count: int, rng: np.random.Generator) -> tuple[Words, Words, Words]:
    """One address line that does not move: half of the addresses read what was written to their twins."""
    bit = int(rng.integers(FIRST_ADDRESS_BIT, LAST_ADDRESS_BIT))
    address = _spread(count, rng)
    address = address | (1 << bit) if rng.integers(2) else address & ~(1 << bit)
    expected = rng.integers(1 << 32, size=count).astype(np.int64)
    other = rng.integers(1 << 32, size=count).astype(np.int64)
    actual = (expected & ~place.site.lines) | (other & place.site.lines)
    actual = np.where(actual == expected, expected ^ (place.site.lines & -place.site.lines), actual)
    return address, expected, actual
