"""An address map learned from labelled pairs: reports that give both an address and a channel.

In the `select` form the index is linear over GF(2): two addresses of one channel differ by a vector that every index
bit maps to 0. The index bits are therefore among the vectors that are orthogonal to all such differences; where these
are as many as there are channels to tell apart, the data determine the map, where there are more they do not.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from uvrix.core.boards.model import AddressMap
from uvrix.core.memory.evidence import natural
from uvrix.language import gettext

LEAST_STRIPE, MOST_STRIPE = 6, 20
ADDRESS_BITS = 63
# A stripe size that fits by chance once in this many is not believed.
BY_CHANCE = 1e-4


@dataclass(frozen=True, slots=True)
class Learned:
    """What pairs say: the map where they determine one, and in words why or why not."""

    address_map: AddressMap | None
    why: str


def learn_address_map(pairs: Sequence[tuple[int, str]]) -> Learned:
    """The address map that labelled addresses determine, in either form; None where they do not."""
    pairs = list(dict.fromkeys(pairs))
    names = sorted({name for _, name in pairs}, key=natural)
    if len(names) < 2:
        return Learned(None, gettext("Addresses of one channel alone do not tell how channels are chosen."))
    linear = _linear(pairs, names)
    if linear.address_map:
        return linear
    striped = _striped(pairs, names)
    return striped if striped.address_map else linear


def _linear(pairs: Sequence[tuple[int, str]], names: Sequence[str]) -> Learned:
    varying = _varying(address for address, _ in pairs)
    differences = [address ^ next(a for a, n in pairs if n == name) for address, name in pairs]
    rows = _orthogonal([_packed(difference, varying) for difference in differences], len(varying))
    needed = (len(names) - 1).bit_length()
    if len(rows) < needed:
        return Learned(
            None,
            gettext(
                "{number} addresses contradict any choice of {number_2} channels by address bits.",
                number=len(pairs),
                number_2=len(names),
            ),
        )
    if len(rows) > needed:
        found = gettext(
            "{number} addresses leave {number_2} possible index bits", number=len(pairs), number_2=len(rows)
        )
        return Learned(None, f"{found} where {len(names)} channels need {needed}: more addresses would determine it.")
    select = [[varying[n] for n in range(len(varying)) if row >> n & 1] for row in _sparse(rows)]
    order: dict[int, str] = {}
    for address, name in pairs:
        index = _index(address, select)
        if order.setdefault(index, name) != name:
            return Learned(
                None,
                gettext(
                    "Address 0x{address} is {name}, and others of its index are {index}.",
                    address=f"{address:X}",
                    name=name,
                    index=order[index],
                ),
            )
    if len(order) < 1 << needed:
        missing = (1 << needed) - len(order)
        return Learned(
            None,
            gettext(
                "{missing} of {needed} indices were never met, so their channels are not known.",
                missing=missing,
                needed=1 << needed,
            ),
        )
    channels = tuple(order[index] for index in range(1 << needed))
    chosen = AddressMap(channels, select=tuple(tuple(bits) for bits in select))
    return Learned(
        chosen,
        gettext("{number} addresses agree with it and leave no other choice of address bits.", number=len(pairs)),
    )


def _varying(addresses: Iterable[int]) -> list[int]:
    ones, zeros = 0, 0
    for address in addresses:
        ones |= address
        zeros |= ~address
    return [bit for bit in range(ADDRESS_BITS) if ones >> bit & 1 and zeros >> bit & 1]


def _packed(address: int, bits: Sequence[int]) -> int:
    return sum((address >> bit & 1) << n for n, bit in enumerate(bits))


def _orthogonal(vectors: Iterable[int], size: int) -> list[int]:
    """A basis of all vectors of `size` bits whose product with every given one is even."""
    pivots: dict[int, int] = {}
    for vector in vectors:
        for bit, row in pivots.items():
            if vector >> bit & 1:
                vector ^= row  # noqa: PLW2901 - reduced in place
        if vector:
            pivot = vector.bit_length() - 1
            pivots = {bit: row ^ vector if row >> pivot & 1 else row for bit, row in pivots.items()}
            pivots[pivot] = vector
    free = [bit for bit in range(size) if bit not in pivots]
    return [(1 << bit) | sum(1 << pivot for pivot, row in pivots.items() if row >> bit & 1) for bit in free]


def _sparse(rows: Sequence[int]) -> list[int]:
    """A basis of the same space of vectors with as few bits as can be, lowest bit first."""
    sums = [_xor(chosen) for size in range(1, len(rows) + 1) for chosen in itertools.combinations(rows, size)]
    basis: list[int] = []
    reduced: list[int] = []
    for vector in sorted(sums, key=lambda number: (number.bit_count(), number)):
        rest = vector
        for row in reduced:
            rest = min(rest, rest ^ row)
        if rest:
            basis.append(vector)
            reduced.append(rest)
    return sorted(basis, key=lambda number: number & -number)


def _xor(vectors: Iterable[int]) -> int:
    total = 0
    for vector in vectors:
        total ^= vector
    return total


def _index(address: int, select: Sequence[Sequence[int]]) -> int:
    return sum((sum(address >> bit & 1 for bit in bits) & 1) << place for place, bits in enumerate(select))


def _striped(pairs: Sequence[tuple[int, str]], names: Sequence[str]) -> Learned:
    fitting = []
    order: dict[int, str]
    chance = (MOST_STRIPE - LEAST_STRIPE) * float(len(names)) ** (len(names) - len(pairs))
    if chance > BY_CHANCE:
        return Learned(None, gettext("{number} addresses are too few to tell stripes from chance.", number=len(pairs)))
    for stripe in (1 << power for power in range(LEAST_STRIPE, MOST_STRIPE)):
        order = {}
        agree = all(order.setdefault(address // stripe % len(names), name) == name for address, name in pairs)
        if agree and len(order) == len(names) == len(set(order.values())):
            fitting.append(AddressMap(tuple(order[n] for n in range(len(names))), stripe_bytes=stripe))
    if len(fitting) != 1:
        return Learned(
            None, gettext("{number} stripe sizes fit {number_2} addresses.", number=len(fitting), number_2=len(pairs))
        )
    return Learned(
        fitting[0],
        gettext(
            "{number} addresses lie in stripes dealt out to {number_2} channels in turn.",
            number=len(pairs),
            number_2=len(names),
        ),
    )
