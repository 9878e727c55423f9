"""Past cards that read like this one: simulated repeats of a failure, every card with a spread and gaps of its own."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.readings.test_hunt import CAPACITORS, HEALTHY, JOINING, RAILS, RAILS_OF, TEAL
from uvrix.core.readings.alike import alike, usual
from uvrix.core.virtual.card import Fault, VirtualCard

FUSES = ["F1", "F2", "F3"]
FAILURES = [
    *(Fault("joined", name) for name in JOINING),
    *(Fault("short", name) for name in CAPACITORS if "core" not in RAILS_OF[name]),
    *(Fault("partial", name) for name in CAPACITORS if "core" not in RAILS_OF[name]),
    *(Fault(kind, name) for kind in ("blown", "sick") for name in FUSES),
]


def failure_of(fault):
    """What leads can tell of it: two capacitors of one rail fail alike, and so do two stages that join two rails."""
    if fault.kind in {"blown", "sick"}:
        return fault.kind, fault.designator
    rails = sorted(
        (rail for rail in RAILS_OF[fault.designator] if rail in RAILS), key=lambda name: -RAILS[name]["volts"]
    )
    return fault.kind, *((rails[0], rails[-1]) if fault.kind == "joined" else rails[-1:])


def pattern(fault, seed, gaps=0.2):
    """What a bench read of a card: every rail and fuse but for gaps, with the meter's own error."""
    dice = np.random.default_rng(seed)
    card = VirtualCard(TEAL, HEALTHY, (fault,) if fault else (), seed)
    read = {}
    for name, to in [
        *((rail["points"][0], "ground") for rail in RAILS.values()),
        *((fuse, "across") for fuse in FUSES),
    ]:
        if dice.random() < gaps:
            continue
        ohms = card.between(name, to).ohms
        read[name, to] = None if ohms is None else ohms * dice.normal(1, 0.01) + 0.02
    return read


def shows(read, seed):
    """Whether anything that was read differs from the same card without its fault."""
    sound = pattern(None, seed, 0.0)
    return any(ohms is None or not 0.6 < (ohms + 0.1) / (sound[key] + 0.1) < 1.6 for key, ohms in read.items())


def test_the_right_failure_is_among_the_first_three_in_nine_of_ten_repeats(capsys):
    dice = np.random.default_rng(8_112_026)
    right = first = asked = 0
    for shop in range(12):
        faults = [FAILURES[at] for at in dice.integers(0, len(FAILURES), 40)]
        past = [pattern(fault, 1000 * shop + number) for number, fault in enumerate(faults)]
        past += [pattern(None, 1000 * shop + 500 + number) for number in range(10)]
        labels = [failure_of(fault) for fault in faults] + [None] * 10
        for number in range(30):
            again = faults[int(dice.integers(0, len(faults)))]
            seed = 77_000 + 100 * shop + number
            own = pattern(again, seed)
            if not shows(own, seed):
                continue  # just what is broken was not read: no tool can tell
            found = alike(own, past)
            named = [labels[likeness.card] for likeness in found[:3]]
            asked += 1
            right += failure_of(again) in named
            first += bool(named) and named[0] == failure_of(again)
    with capsys.disabled():
        print(f"\npast cards: the right failure first in {first} and among three in {right} of {asked} repeats")
    assert right >= 0.9 * asked


@given(st.integers(0, 400), st.sampled_from(FAILURES))
def test_the_same_card_again_is_the_nearest(seed, fault):
    again = pattern(fault, seed, gaps=0.0)
    others = [pattern(other, seed + number + 1) for number, other in enumerate(FAILURES[:6])]
    healthy = usual([pattern(None, 9000 + number, 0.0) for number in range(9)])
    found = alike(again, [*others, again], healthy)
    assert found
    assert found[0].card == 6 or failure_of(FAILURES[found[0].card]) == failure_of(fault)
    assert 0 < sum(likeness.share for likeness in found) <= 1 + 1e-9


def test_a_healthy_card_is_like_no_broken_one():
    healthy = usual([pattern(None, 9000 + number, 0.0) for number in range(9)])
    past = [pattern(fault, number) for number, fault in enumerate(FAILURES)]
    assert alike(pattern(None, 12345, 0.0), past, healthy) == ()
    assert alike({}, past) == ()
    assert alike(pattern(FAILURES[0], 3), []) == ()
