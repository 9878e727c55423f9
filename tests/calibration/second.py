"""A second generator of reports: other noise, patterns, addresses and mixes than core/virtual.

It imports nothing from the findings nor from the virtual card; boards are given as documents.
"""

from __future__ import annotations

import random


def lines_of(site) -> list[int]:
    spans = site["dq"] if isinstance(site["dq"][0], list) else [site["dq"]]
    return [line for first, last in spans for line in range(first, last + 1)]


def chips_of(document, channels) -> list[dict[str, object]]:
    """The fitted sites with their channel, taken from the walked places (designator to channel)."""
    return [{**site, "channel": channels[site["designator"]]} for site in document["sites"] if site["fitted"]]


def faults_on(chips) -> list[str]:
    """The kinds that a board offers."""
    kinds = ["dq-line", "dq-bridge", "byte-lane", "site", "cells", "address-line"]
    kinds += ["half"] if any(len(lines_of(chip)) == 32 for chip in chips) else []
    letters = {chip["channel"][0] for chip in chips}
    both = [letter for letter in letters if len({c["channel"] for c in chips if c["channel"][0] == letter}) == 2]
    kinds += ["controller"] if both else []
    groups = {chip["group"] for chip in chips}
    kinds += ["rail-group"] if any(good_group(chips, group) for group in groups) else []
    return [*kinds, "everywhere"]


def good_group(chips, group) -> bool:
    """A group that is told from a controller and from everything."""
    members = {chip["channel"] for chip in chips if chip["group"] == group}
    return len(members) > 2 and len(members) < len({chip["channel"] for chip in chips})


def word(rng, step) -> int:
    """March and moving-inversion patterns, with a counter now and then."""
    kind = rng.random()
    if kind < 0.35:
        return rng.choice([0x00000000, 0xFFFFFFFF, 0x0F0F0F0F, 0xF0F0F0F0, 0x33333333, 0xCCCCCCCC])
    if kind < 0.5:
        return (step * 0x01010101) & 0xFFFFFFFF
    return rng.getrandbits(32)


def address_for(document, channel, rng, span) -> int:
    """An address below `span` that the board's map gives to the channel (any, where there is no map)."""
    spec = document.get("address_map")
    while True:
        address = rng.randrange(span) & ~31
        if spec is None:
            return address
        if "stripe_bytes" in spec:
            index = address // spec["stripe_bytes"] % len(spec["order"])
        else:
            index = 0
            for place, bits in enumerate(spec["select"]):
                parity = 0
                for bit in bits:
                    parity ^= address >> bit & 1
                index |= parity << place
        if spec["order"][index] == channel:
            return address


def errors(document, chips, kind, count, rng, only=None):
    """(fault's designators, its lines, rows of (channel, address, expected, actual))."""
    span = rng.choice([1 << 28, 1 << 30, 6 << 28])
    chip = rng.choice([c for c in chips if kind != "half" or len(lines_of(c)) == 32])
    chip = only or chip
    own = lines_of(chip)
    named: list[int] = []
    members = [chip]
    if kind == "controller":
        letters = [c["channel"][0] for c in chips]
        both = [x for x in letters if len({c["channel"] for c in chips if c["channel"][0] == x}) == 2]
        letter = rng.choice(both)
        members = [c for c in chips if c["channel"][0] == letter]
    elif kind == "rail-group":
        group = rng.choice([g for g in {c["group"] for c in chips} if good_group(chips, g)])
        members = [c for c in chips if c["group"] == group]
    elif kind == "everywhere":
        members = chips
    elif kind == "dq-line":
        named = [rng.choice(own)]
    elif kind == "dq-bridge":
        named = sorted(rng.sample(own, 2))
    elif kind == "byte-lane":
        lanes = [byte for byte in range(4) if all(8 * byte + bit in own for bit in range(8))]
        byte = rng.choice(lanes)
        named = list(range(8 * byte, 8 * byte + 8))
    elif kind == "half":
        named = rng.choice([list(range(16)), list(range(16, 32))])
    weak = [(address_for(document, chip["channel"], rng, span), rng.choice(own)) for _ in range(rng.randint(3, 80))]
    stuck = rng.choice(["low", "high", "weak"])
    alias_bit, alias_level = rng.randrange(16, 26), rng.randrange(2)
    rate = rng.uniform(0.15, 0.55)
    whole = rng.random() < 0.4
    rows = []
    step = 0
    while len(rows) < count:
        step += 1
        here = members[0] if len(members) == 1 else rng.choice(members)
        lines = lines_of(here)
        expected = word(rng, step)
        address = address_for(document, here["channel"], rng, span)
        mask = 0
        if kind == "dq-line":
            bit = expected >> named[0] & 1
            if stuck == "weak" or bit == (stuck == "low"):
                mask = 1 << named[0]
        elif kind == "dq-bridge":
            one, other = named
            if (expected >> one ^ expected >> other) & 1:
                wins = stuck != "low"
                mask = 1 << (one if (expected >> one & 1) != wins else other)
        elif kind == "byte-lane" and whole:
            mask = sum(1 << line for line in named)
        elif kind in ("byte-lane", "half"):
            mask = sum(1 << line for line in named if rng.random() < rate)
        elif kind == "cells":
            address, line = rng.choice(weak)
            mask = 1 << line
        elif kind == "site":
            address = len(rows) * 4096 + (address & 0xFE0)
            mask = sum(1 << line for line in lines if rng.random() < 0.5)
        elif kind == "address-line":
            address = address & ~(1 << alias_bit) | alias_level << alias_bit
            mask = sum(1 << line for line in lines if rng.random() < 0.5)
        else:
            mask = sum(1 << line for line in lines if rng.random() < rate)
        if mask:
            rows.append((here["channel"], address, expected, expected ^ mask))
    return {chip["designator"] for chip in members}, named, rows


def noise(document, chips, count, rng):
    """Bursts: a few stray errors in a row on one chip, of one to four lines."""
    rows = []
    while len(rows) < count:
        chip = rng.choice(chips)
        for _ in range(rng.randint(1, 3)):
            mask = sum(1 << line for line in rng.sample(lines_of(chip), min(rng.choice([1, 1, 1, 2, 4]), 8)))
            expected = rng.getrandbits(32)
            rows.append(
                (chip["channel"], address_for(document, chip["channel"], rng, 1 << 30), expected, expected ^ mask)
            )
    return rows[:count]


def report(document, chips, kind, count, seed, *, share=0.1, only=None):
    """(text, designators, lines) of a report of one fault with about `share` of noise."""
    rng = random.Random(seed)
    stray = sum(rng.random() < share for _ in range(count))
    designators, named, rows = errors(document, chips, kind, count - stray, rng, only)
    for row in noise(document, chips, stray, rng):
        rows.insert(rng.randrange(len(rows) + 1), row)
    style = rng.random()
    head = f"# result: fail\n# condition: {rng.choice(['cold', 'warm'])}\n"
    if style < 0.3:
        body = "ADDRESS,channel,bits,pass\n" + "".join(f"{a:x},{c},{e ^ x:08x},1\n" for c, a, e, x in rows)
    else:
        body = "channel,address,expected,actual\n" + "".join(f"{c},0x{a:X},{e:08X},{x:08X}\n" for c, a, e, x in rows)
    return head + body, designators, named
