"""Past cards that read like this one: simulated repeats of a failure, every card with a spread and gaps of its own."""

from __future__ import annotations

import math

import numpy as np
import pytest
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


HEALTHY_OHMS = {"a": 0.7, "b": 0.7, "c": 0.7}


def away(spreads):
    """Ohms of a thing that lies so many spreads from its usual 0.7 ohm: with the leads' 0.3 that is one."""
    return math.exp(0.08 * spreads) - 0.3


def exactly(spreads):
    """The same, to the last bit, so that a limit is met exactly."""
    ohms = away(spreads)
    for _ in range(64):
        here = math.log((ohms + 0.3) / 1.0) / 0.08
        if here == spreads:
            return ohms
        ohms = math.nextafter(ohms, math.inf if here < spreads else -math.inf)
    raise AssertionError(f"no ohms are exactly {spreads} spreads away")


def told_apart(own, first, second):
    """How much likelier the first of two past cards is than the second, as a logarithm."""
    found = {likeness.card: likeness for likeness in alike(own, [first, second], HEALTHY_OHMS)}
    return math.log(found[0].share / found[1].share), found[0]


@pytest.mark.parametrize(
    ("own", "past", "worth", "agree", "differ"),
    [
        # both usual: next to nothing
        (0.0, 0.0, 0.05, "", ""),
        (3.0, 0.0, 0.05, "", ""),  # three spreads do not stand out yet
        (0.0, 3.0, 0.05, "", ""),
        # both stand out alike
        (30.0, 30.0, 1.0, "a", ""),
        # a thing that stands out, and that the other was not read of
        (30.0, None, -1.0, "", ""),
        (3.0, None, 0.0, "", ""),
        (None, 30.0, -1.0, "", ""),
        (None, 3.0, 0.0, "", ""),
        # far apart: three against
        (30.0, 0.0, -3.0, "", "a"),
        (-30.0, 30.0, -3.0, "", "a"),
    ],
)
def test_what_a_thing_is_worth_in_comparing_two_cards(own, past, worth, agree, differ):
    def card(spreads):
        entered = {} if spreads is None else {"a": exactly(spreads) if spreads == 3.0 else away(spreads)}
        return {**entered, "b": away(60)}

    told, likeness = told_apart({**card(own), "c": 0.7}, {**card(past), "c": 0.7}, {**card(own), "c": 0.7})
    same = {None: 0.0, 0.0: 0.05, 3.0: 0.05, 30.0: 1.0, -30.0: 1.0}[own]
    assert told == pytest.approx(worth - same)
    assert ("".join(likeness.agree), "".join(likeness.differ)) == (agree + "b", differ)


@pytest.mark.parametrize(("apart", "agrees"), [(0.49, True), (0.51, False), (0.7, False)])
def test_two_values_agree_to_within_half_a_squeezed_spread(apart, agrees):
    own = {"a": away(30), "b": away(60)}
    past = {"a": away(3 * math.sinh(math.asinh(10) - apart)), "b": away(60)}
    [likeness] = alike(own, [past], HEALTHY_OHMS)
    assert ("a" in likeness.agree) == agrees


def test_just_beyond_the_edge_agrees_with_just_beyond_only():
    edge = exactly(3.0)
    for own, past, agrees in ((edge, away(3.1), False), (away(3.1), edge, False), (away(3.1), away(3.2), True)):
        [likeness] = alike({"a": own, "b": away(60)}, [{"a": past, "b": away(60)}], HEALTHY_OHMS)
        assert ("a" in likeness.agree) == agrees, (own, past)


@pytest.mark.parametrize(("spreads", "agrees"), [(400.0, True), (500.0, True), (265.0, True), (230.0, False)])
def test_over_limit_is_as_far_as_can_be(spreads, agrees):
    [likeness] = alike({"a": None, "b": away(60)}, [{"a": away(spreads), "b": away(60)}], HEALTHY_OHMS)
    assert ("a" in likeness.agree) == agrees


def test_of_two_that_are_as_like_the_earlier_comes_first():
    own = {"a": away(30), "b": away(30)}
    found = alike(own, [{"b": away(30)}, {"a": away(30)}], HEALTHY_OHMS)
    assert [likeness.card for likeness in found] == [0, 1]
    assert found[0].share == pytest.approx(0.5)
