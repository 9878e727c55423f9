"""Isolation on simulated maps: hits, calibrated chances, probes against the optimum, double faults; printed."""

from __future__ import annotations

import functools
import itertools
import os

import numpy as np
import pytest

from uvrix.core.readings.points import Places
from uvrix.core.startup.chain import Chain, Node
from uvrix.core.startup.isolate import isolate
from uvrix.core.virtual.startups import BAND, BrokenMap, broken, random_map, reading

NOWHERE = Places({}, {}, frozenset(), {})
MAPS = int(os.environ.get("UVRIX_CALIBRATE", "90"))
BOTH = 120 if "UVRIX_CALIBRATE" in os.environ else 60
DOUBT = 0.03


def weighed(made: BrokenMap, doubt=0.005):
    return isolate(made.chain, [reading(name, present=p) for name, p in made.seen.items()], NOWHERE, doubt)


def exactly(made: BrokenMap, doubt):
    """The posterior over single faults, plainly: each reading is wrong with the same chance."""
    index = {node.id: at for at, node in enumerate(made.chain.nodes)}
    log = np.log([node.weight for node in made.chain.nodes])
    for name, present in made.seen.items():
        absent = made.chain.absent[:, index[name]]
        log = log + np.where(absent != present, np.log(1 - doubt), np.log(doubt))
    chance = np.exp(log - log.max())
    return chance / chance.sum()


def by_the_contract(made: BrokenMap, doubt):
    """The posterior as docs/trade §4.1 has it, plainly: single faults where one explains all, else every pair."""
    absent, weight = made.chain.absent, np.array([node.weight for node in made.chain.nodes])
    names = [node.id for node in made.chain.nodes]
    seen = [(names.index(name), present) for name, present in made.seen.items()]
    odds = doubt / (1 - doubt)

    def wrong(gone):
        return sum(bool(gone[at]) == present for at, present in seen)

    alone = [wrong(absent[number]) for number in range(len(names))]
    if 0 in alone:
        scored = weight * odds ** np.array(alone, float) * (1 + 1e6 * (np.array(alone) == 0))
        return scored / scored.sum()
    among = np.zeros(len(names))
    for number in range(len(names)):
        gone = absent[number] | absent[number + 1 :]
        bad = np.zeros(len(gone))
        for at, present in seen:
            bad += gone[:, at] == present
        scored = weight[number] * weight[number + 1 :] * odds**bad
        among[number] += scored.sum()
        among[number + 1 :] += scored
    return among / among.sum()


def test_the_first_suspect_is_the_dead_node_as_often_as_can_be():
    rng = np.random.default_rng(926)
    hits = contract = single = 0
    said = []
    for _ in range(MAPS):
        chain = random_map(rng, int(rng.integers(8, 301)))
        made = broken(rng, chain, share=rng.uniform(0.1, 0.6), wrong=DOUBT)
        found = weighed(made, DOUBT)
        hit = found.suspects[0].node.id == f"n{made.dead[0]}"
        hits += hit
        contract += int(by_the_contract(made, DOUBT).argmax()) == made.dead[0]
        single += int(exactly(made, DOUBT).argmax()) == made.dead[0]
        if not found.pairs:
            said.append((found.suspects[0].chance, hit))
    print(
        f"isolate: first in {hits / MAPS:.3f} of {MAPS} maps; by the exact posterior {contract / MAPS:.3f} as the "
        f"contract has it (pairs where no single node explains all), {single / MAPS:.3f} over single faults alone"
    )
    print("chance said of the first where one node explains all, and how often it is right:")
    table = np.array(said)
    for low, high in itertools.pairwise([0, 0.2, 0.4, 0.6, 0.8, 1.01]):
        rows = table[(table[:, 0] >= low) & (table[:, 0] < high)]
        if len(rows) >= 10:
            chance, right = rows.mean(axis=0)
            print(f"  {low:.1f} to {min(high, 1):.1f}: said {chance:.2f}, right {right:.2f} of {len(rows)}")
            assert abs(chance - right) < 3 * 0.5 / np.sqrt(len(rows))
    # one map more or less is a matter of ties
    assert hits >= contract - max(1, 0.01 * MAPS)
    assert hits / MAPS >= single / MAPS - 0.03


def test_two_faults_that_do_not_mask_each_other_are_among_the_first_four():
    rng = np.random.default_rng(52)
    tried = found = 0
    while tried < BOTH:
        chain = random_map(rng, int(rng.integers(8, 120)))
        made = broken(rng, chain, faults=2, share=1.0)
        one, other = made.dead
        unmasked = not chain.absent[one, other] and not chain.absent[other, one]
        read = all(f"n{at}" in made.seen for at in made.dead)
        needs = [need for at in made.dead for need in chain.nodes[at].needs]
        if not (unmasked and read and all(need in made.seen for need in needs)):
            continue
        tried += 1
        first = {suspect.node.id for suspect in weighed(made).suspects[:4]}
        found += {f"n{one}", f"n{other}"} <= first
    print(f"isolate: both of two faults among the first four in {found} of {tried}")
    assert found / tried >= 0.95


def optimum(chain: Chain, start: frozenset[int]) -> dict[frozenset[int], float]:
    """Fewest probes on average until the dead node is known, or only such are left as no probe tells apart."""
    weight = [node.weight for node in chain.nodes]

    @functools.cache
    def cost(left: frozenset[int]) -> float:
        whole = sum(weight[number] for number in left)
        best = None
        for at in range(len(chain.nodes)):
            gone = frozenset(number for number in left if chain.absent[number, at])
            if not gone or gone == left:
                continue
            rest = left - gone
            expected = 1 + sum(weight[number] for number in gone) / whole * cost(gone)
            expected += sum(weight[number] for number in rest) / whole * cost(rest)
            best = expected if best is None else min(best, expected)
        return 0.0 if best is None else best

    return {start: cost(start)}


def even(chain: Chain) -> Chain:
    """The map with every node to be probed, all alike far."""
    nodes = (
        Node(node.id, node.name, "rail", node.needs, *BAND, f"P{node.id}", 1.0, (), node.weight) for node in chain.nodes
    )
    return Chain(tuple(nodes), borrowed=False)


def followed(chain: Chain, dead: int, start: int) -> int:
    """Probes taken when the next probe is followed from one missing node on, until nothing more can be told."""
    made = BrokenMap(chain, (dead,), {f"n{start}": False})
    left = set(np.flatnonzero(chain.absent[:, start]).tolist())
    for probes in range(len(chain.nodes)):
        if len({tuple(chain.absent[number]) for number in left}) == 1:
            return probes
        name = weighed(made).probes[0].node.id
        at = next(at for at, node in enumerate(chain.nodes) if node.id == name)
        made.seen[name] = made.reads(at)
        left = {number for number in left if bool(chain.absent[number, at]) != made.seen[name]}
    pytest.fail("more probes than nodes")


def test_small_maps_take_little_more_than_the_fewest_probes():
    rng = np.random.default_rng(12)
    taken = fewest = 0.0
    for _ in range(40):
        chain = even(random_map(rng, int(rng.integers(5, 13))))
        start = len(chain.nodes) - 1
        candidates = frozenset(at for at in range(len(chain.nodes)) if chain.absent[at, start])
        weight = sum(chain.nodes[at].weight for at in candidates)
        fewest += optimum(chain, candidates)[candidates]
        taken += sum(chain.nodes[at].weight / weight * followed(chain, at, start) for at in candidates)
    print(f"isolate: {taken / 40:.2f} probes on maps up to 12 nodes, the fewest possible {fewest / 40:.2f}")
    assert taken <= 1.15 * fewest


def upstream(chain: Chain, dead: int, start: int) -> int:
    """Probes taken by walking upstream: what a missing node needs, one by one, until all that it needs is there."""
    index = {node.id: at for at, node in enumerate(chain.nodes)}
    at, probes = start, 0
    while True:
        for need in chain.nodes[at].needs:
            probes += 1
            if chain.absent[dead, index[need]]:
                at = index[need]
                break
        else:
            return probes


def information_limit(chain: Chain, start: int) -> float:
    """Probes that no order can go below: the doubt over what a missing node leaves, in bits, a probe bringing one."""
    classes: dict[tuple[bool, ...], float] = {}
    for at in np.flatnonzero(chain.absent[:, start]):
        told = tuple(chain.absent[at].tolist())
        classes[told] = classes.get(told, 0.0) + chain.nodes[at].weight
    shares = np.array(list(classes.values())) / sum(classes.values())
    return float(-(shares * np.log2(shares)).sum())


def test_large_maps_take_clearly_fewer_probes_than_walking_upstream():
    rng = np.random.default_rng(300)
    taken = walked = 0
    limit = 0.0
    for _ in range(60):
        chain = even(random_map(rng, int(rng.integers(60, 301))))
        depth = chain.absent.sum(axis=0)
        start = int(depth.argmax())
        candidates = np.flatnonzero(chain.absent[:, start])
        weights = np.array([chain.nodes[at].weight for at in candidates])
        dead = int(rng.choice(candidates, p=weights / weights.sum()))
        limit += information_limit(chain, start)
        taken += followed(chain, dead, start)
        walked += upstream(chain, dead, start)
    print(
        f"isolate: {taken / 60:.1f} probes on maps of 60 to 300 nodes, {walked / 60:.1f} walking upstream,"
        f" {limit / 60:.1f} by the information limit"
    )
    assert taken <= 0.6 * walked
    assert taken <= 1.15 * limit
