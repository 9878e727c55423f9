"""Isolation against plain enumeration on random maps, and by simulated faults: the dead node found, with few probes."""

from __future__ import annotations

import itertools
import math
import random
import time

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvrix.core.readings.notation import Value
from uvrix.core.readings.points import Places
from uvrix.core.readings.reading_file import Reading
from uvrix.core.startup.chain import Chain, Node
from uvrix.core.startup.isolate import isolate

NOWHERE = Places({}, {}, frozenset(), {})


def random_chain(dice, many):
    nodes = []
    for at in range(many):
        needs = tuple(f"n{entry}" for entry in dice.sample(range(at), min(at, dice.choice([0, 1, 1, 1, 2, 3]))))
        weight, minutes = dice.choice([1.0, 1.0, 2.0, 5.0]), dice.choice([0.5, 1.0, 3.0])
        nodes.append(Node(f"n{at}", f"Node {at}", "rail", needs, 0.9, 1.1, f"P{at}", minutes, (), weight))
    return Chain(tuple(nodes), borrowed=False)


def reading(name, present):
    return Reading(name, "voltage", Value(1.0, 1.0) if present else Value(0.1, 0.1), "", "ground")


def gone(chain, dead):
    """Plainly: the nodes that are absent when these are dead."""
    absent = set(dead)
    while True:
        more = {node.id for node in chain.nodes if node.id not in absent and absent & set(node.needs)}
        if not more:
            return absent
        absent |= more


def plainly(chain, seen, doubt):
    """The posterior by enumeration, the contract's floor included: chance by node, and of each fault."""
    names = [node.id for node in chain.nodes]
    weight = {node.id: node.weight for node in chain.nodes}

    def score(dead):
        absent = gone(chain, dead)
        wrong = sum((name in absent) == present for name, present in seen.items())
        return math.prod(weight[entry] for entry in dead) * (doubt / (1 - doubt)) ** wrong, wrong

    faults: dict[tuple[str, ...], tuple[float, int]] = {(name,): score((name,)) for name in names}
    explaining = [fault for fault, (_, wrong) in faults.items() if wrong == 0]
    if not explaining and len(names) > 1:
        faults = {pair: score(pair) for pair in itertools.combinations(names, 2)}
    whole = sum(scored for scored, _ in faults.values())
    chance = {fault: scored / whole for fault, (scored, _) in faults.items()}
    share, least = sum(chance[fault] for fault in explaining), 1 - 10 * doubt
    if explaining and share < least:
        chance = {
            fault: number * least / share if fault in explaining else number * (1 - least) / (1 - share)
            for fault, number in chance.items()
        }
    by_node = {name: sum(number for fault, number in chance.items() if name in fault) for name in names}
    all_of_it = sum(by_node.values())
    return {name: one / all_of_it for name, one in by_node.items()}, chance


def entropy(share):
    return 0.0 if not 0 < share < 1 else -share * math.log2(share) - (1 - share) * math.log2(1 - share)


@given(st.integers(0, 10**6), st.integers(2, 9), st.sampled_from([0.005, 0.02]))
def test_chances_and_gains_are_those_of_plain_enumeration(seed, many, doubt):
    dice = random.Random(seed)
    chain = random_chain(dice, many)
    seen = {node.id: dice.random() < 0.6 for node in chain.nodes if dice.random() < 0.5}
    found = isolate(chain, [reading(name, present) for name, present in seen.items()], NOWHERE, doubt)
    expected, faults = plainly(chain, seen, doubt)
    said = {suspect.node.id: suspect.chance for suspect in found.suspects}
    for name, chance in expected.items():
        assert said.get(name, 0.0) == pytest.approx(chance, abs=2e-6)
    for probe in found.probes:
        assert probe.node.id not in seen
        absent = sum(chance for fault, chance in faults.items() if probe.node.id in gone(chain, fault))
        reads = (1 - absent) * (1 - doubt) + absent * doubt
        assert probe.gain_bits == pytest.approx(entropy(reads) - entropy(doubt), abs=1e-6)
    rates = [probe.gain_bits / probe.node.minutes for probe in found.probes]
    assert rates == sorted(rates, reverse=True)


@given(st.integers(0, 10**6), st.integers(2, 12))
def test_while_one_node_explains_everything_such_nodes_hold_nearly_all(seed, many):
    dice = random.Random(seed)
    chain = random_chain(dice, many)
    dead = dice.choice(chain.nodes).id
    absent = gone(chain, [dead])
    seen = {node.id: node.id not in absent for node in chain.nodes if dice.random() < 0.6}
    found = isolate(chain, [reading(name, present) for name, present in seen.items()], NOWHERE)
    explaining = {
        node.id for node in chain.nodes if all((name in gone(chain, [node.id])) != p for name, p in seen.items())
    }
    assert sum(suspect.chance for suspect in found.suspects if suspect.node.id in explaining) >= 0.95 - 1e-6
    assert not found.pairs


def test_following_the_next_probe_finds_the_dead_node_in_fewer_probes_than_one_after_the_other():
    dice = random.Random(91)
    followed = walked = 0
    for _ in range(40):
        chain = random_chain(dice, 24)
        dead = dice.choice(chain.nodes).id
        absent = gone(chain, [dead])
        last = next(node.id for node in reversed(chain.nodes) if node.id in absent)
        seen = {last: False}
        while True:
            found = isolate(chain, [reading(name, present) for name, present in seen.items()], NOWHERE)
            if found.suspects[0].chance > 0.9 or not found.probes:
                break
            probe = found.probes[0].node.id
            seen[probe] = probe not in absent
        assert found.suspects[0].node.id == dead
        followed += len(seen) - 1
        walked += next(at for at, node in enumerate(chain.nodes) if node.id in absent)
    print(f"isolate: {followed / 40:.1f} probes on average, {walked / 40:.1f} one after the other")
    assert followed < walked


def test_three_hundred_nodes_are_weighed_as_pairs():
    dice = random.Random(5)
    chain = random_chain(dice, 300)
    seen = [reading(f"n{at}", present=dice.random() < 0.5) for at in range(0, 300, 7)]
    begun = time.perf_counter()
    found = isolate(chain, seen, NOWHERE)
    print(f"isolate: 300 nodes in {1000 * (time.perf_counter() - begun):.0f} ms")
    assert found.pairs
    assert sum(suspect.chance for suspect in found.suspects) == pytest.approx(1, abs=1e-3)


def test_a_rail_above_its_band_says_switch_off():
    chain = random_chain(random.Random(1), 3)
    found = isolate(chain, [Reading("P1", "voltage", Value(1.4, 1.4), "", "ground")], NOWHERE)
    assert (found.measured["n1"].state, found.measured["n1"].over) == ("missing", True)
    assert any("switch off" in warning for warning in found.warnings)


def test_what_is_shown_to_be_there_without_being_read_is_said():
    nodes = [("in", ()), ("sup", ("in",)), ("pg", ("in",)), ("rail", ("pg",))]
    chain = Chain(
        tuple(Node(name, name, "rail", needs, 0.9, 1.1, name, 1.0, (), 1.0) for name, needs in nodes), borrowed=False
    )
    seen = [reading("sup", present=True), reading("pg", present=False)]
    assert isolate(chain, seen, NOWHERE).suspects[0].why == (
        "pg is missing although everything it needs is there: sup would not be, without."
    )
    alone = isolate(chain, [reading("pg", present=False)], NOWHERE)
    said = {suspect.node.id: suspect.why for suspect in alone.suspects}
    assert said["pg"] == "pg is missing, and so may be something that it needs."
