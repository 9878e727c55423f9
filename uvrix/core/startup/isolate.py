"""Where the start-up chain breaks: the exact chance of every node to be the dead one, and the probe that tells most.

A node is dead by itself, or absent because something it needs, at any depth, is. Readings are wrong with a small
chance, the doubt. A node's prior is the sum of its parts' weights. While one dead node explains every reading, single
faults are weighed; otherwise pairs. What a probe tells is the mutual information of its outcome and the fault: with a
doubt d and the chance q to read present, h(q) - h(d), h being the binary entropy; the best gives most of it a minute.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from uvrix.core.readings.points import Places
from uvrix.core.readings.reading_file import Reading
from uvrix.core.startup.chain import Chain, Measured, Node, above_band, contradicted, states
from uvrix.core.startup.limits import DOUBT, EXPLAINING_SHARE
from uvrix.language import gettext

LEAST_CHANCE, LEAST_BITS = 1e-6, 1e-9
Weights = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Suspect:
    """A node that may be the dead one."""

    node: Node
    chance: float
    why: str


@dataclass(frozen=True, slots=True)
class Probe:
    """A node to measure next: what it should tell in bits, its minutes, and what each outcome would mean."""

    node: Node
    gain_bits: float
    why: str


@dataclass(frozen=True, slots=True)
class Isolation:
    """States as measured, suspects likeliest first, probes best first, whether pairs were weighed, warnings."""

    measured: Mapping[str, Measured]
    suspects: tuple[Suspect, ...]
    probes: tuple[Probe, ...]
    pairs: bool
    warnings: tuple[str, ...]
    # of those, what says that the readings themselves do not go together
    urgent: tuple[str, ...]


TWO_FAULTS = gettext("No single dead node explains all readings: two faults, or a wrong reading.")


def isolate(chain: Chain, readings: Sequence[Reading], places: Places, doubt: float = DOUBT) -> Isolation:
    """The posterior over dead nodes, and what to probe next."""
    measured, warnings = states(chain, readings, places)
    if chain.lender:
        warnings += [
            gettext(
                "{name} is there though {name_2} is missing: the order lent by {lender} does not hold here.",
                name=node.name,
                name_2=need.name,
                lender=chain.lender,
            )
            for node, need in contradicted(chain, measured)
        ]
    elif chain.borrowed:
        warnings.insert(
            0, gettext("The model has no start-up map: the order of its rails stands in, each needing the one before.")
        )
    weight = np.array([max(node.weight, 1e-12) for node in chain.nodes])
    missing = np.array([measured[node.id].state == "missing" for node in chain.nodes])
    present = np.array([measured[node.id].state == "present" for node in chain.nodes])
    absent = chain.absent
    wrong = (~absent)[:, missing].sum(axis=1) + absent[:, present].sum(axis=1)
    odds = doubt / (1 - doubt)
    if (wrong == 0).any():
        chance, gone, pairs = _single(weight, wrong, odds, doubt, absent)
    elif len(chain.nodes) > 1:
        chance, gone, pairs = _pairs(weight, missing, present, odds, absent)
    else:
        chance, gone, pairs = np.ones(1), absent[0].astype(float), False
    if pairs:
        warnings.append(TWO_FAULTS)
    if not missing.any():
        warnings.append(gettext("Nothing is missing so far: the suspects are what was not read."))
    over = [above_band(node) for node in chain.nodes if measured[node.id].over]
    urgent = (*over, *([TWO_FAULTS] if pairs else ()))
    order = np.argsort(-chance, kind="stable")
    suspects = tuple(
        Suspect(chain.nodes[at], float(chance[at]), _why(chain, at, measured))
        for at in order
        if chance[at] > LEAST_CHANCE
    )
    return Isolation(measured, suspects, _probes(chain, measured, chance, gone, doubt), pairs, tuple(warnings), urgent)


def _single(
    weight: Weights, wrong: NDArray[np.int64], odds: float, doubt: float, absent: NDArray[np.bool_]
) -> tuple[Weights, Weights, bool]:
    """Chances of single faults, and of each node to be absent."""
    scored = weight * odds ** wrong.astype(float)
    chance = scored / scored.sum()
    explaining = wrong == 0
    least = 1 - min(0.5, EXPLAINING_SHARE * doubt)
    share = chance[explaining].sum()
    if share < least:  # many unlikely nodes together must not outweigh those that explain everything
        chance = np.where(explaining, chance * least / share, chance * (1 - least) / (1 - share))
    return chance, chance @ absent, False


def _pairs(
    weight: Weights, missing: NDArray[np.bool_], present: NDArray[np.bool_], odds: float, absent: NDArray[np.bool_]
) -> tuple[Weights, Weights, bool]:
    """Chances of a node to be among two dead ones, made to add to 1, and of each node to be absent."""
    both = absent.astype(float)

    def either(columns: NDArray[np.bool_]) -> Weights:
        seen = both[:, columns]
        alone = seen.sum(axis=1)
        found: Weights = alone[:, None] + alone[None, :] - seen @ seen.T
        return found

    wrong = missing.sum() - either(missing) + either(present)
    log = np.log(weight)[:, None] + np.log(weight)[None, :] + np.log(odds) * wrong
    upper = np.triu(np.ones_like(log, dtype=bool), 1)
    scored = np.where(upper, np.exp(log - log[upper].max()), 0.0)
    scored /= scored.sum()
    among = scored.sum(axis=0) + scored.sum(axis=1)
    gone: Weights = among @ both - np.einsum("an,ab,bn->n", both, scored, both, optimize=True)
    return among / 2, gone, True


def _probes(
    chain: Chain, measured: Mapping[str, Measured], chance: Weights, gone: Weights, doubt: float
) -> tuple[Probe, ...]:
    found = []
    for at, node in enumerate(chain.nodes):
        if measured[node.id].state != "unknown":
            continue
        reads = (1 - gone[at]) * (1 - doubt) + gone[at] * doubt
        gain = _entropy(float(reads)) - _entropy(doubt)
        if gain > LEAST_BITS:
            found.append(Probe(node, gain, _means(chain, at, chance)))
    return tuple(sorted(found, key=lambda probe: -probe.gain_bits / probe.node.minutes))


def _entropy(share: float) -> float:
    if not 0 < share < 1:
        return 0.0
    return -share * math.log2(share) - (1 - share) * math.log2(1 - share)


def _means(chain: Chain, at: int, chance: Weights) -> str:
    """What each outcome would leave."""
    behind = chain.absent[:, at]
    left = [_likeliest(chain, np.where(part, chance, 0.0)) for part in (behind, ~behind)]
    likely = chance > 0.01
    inside, outside = int((likely & behind).sum()), int((likely & ~behind).sum())
    return gettext(
        "Splits the suspects {inside} and {outside}. Missing: most likely {left}. Present: most likely {left_2}.",
        inside=inside,
        outside=outside,
        left=left[0],
        left_2=left[1],
    )


def _likeliest(chain: Chain, chance: Weights) -> str:
    best = int(np.argmax(chance))
    return chain.nodes[best].name if chance[best] > 0 else gettext("nothing of this map")


def _why(chain: Chain, at: int, measured: Mapping[str, Measured]) -> str:
    node = chain.nodes[at]
    state = measured[node.id].state
    needs = [measured[need].state for need in node.needs if need in measured]
    if state == "missing" and all(need == "present" for need in needs):
        if needs:
            return gettext("{name} is missing although everything it needs is present.", name=node.name)
        return gettext("{name} is missing and needs nothing.", name=node.name)
    if state == "missing" and (witness := _witnesses(chain, node, measured)):
        return gettext(
            "{name} is missing although everything it needs is there: {witness} would not be, without.",
            name=node.name,
            witness=", ".join(witness),
        )
    if state == "present":
        return gettext("{name} was read as present; only a wrong reading makes it the dead one.", name=node.name)
    behind = [other for number, other in enumerate(chain.nodes) if chain.absent[at, number]]
    lost = [other.name for other in behind if measured[other.id].state == "missing"]
    if state == "unknown":
        explained = gettext("; it would explain {names}", names=", ".join(lost[:4])) if lost else ""
        return gettext("{name} was not read{explained}.", name=node.name, explained=explained)
    return gettext("{name} is missing, and so may be something that it needs.", name=node.name)


def _witnesses(chain: Chain, node: Node, measured: Mapping[str, Measured]) -> list[str]:
    """What was read as present and shows that all that a node needs is there; empty where something is not shown."""
    index = {other.id: at for at, other in enumerate(chain.nodes)}
    found = []
    for need in node.needs:
        if need not in index or measured[need].state == "present":
            continue
        there = [
            other.name
            for at, other in enumerate(chain.nodes)
            if chain.absent[index[need], at] and measured[other.id].state == "present"
        ]
        if not there:
            return []
        found.append(there[0])
    return found


def as_json(chain: Chain, found: Isolation) -> dict[str, object]:
    """The object that `uvrix isolate --json` prints."""
    return {
        "nodes": [_node(node, found.measured[node.id]) for node in chain.nodes],
        "suspects": [
            {"node": suspect.node.id, "parts": list(suspect.node.parts), "chance": suspect.chance, "why": suspect.why}
            for suspect in found.suspects
        ],
        "next": [
            {
                "node": probe.node.id,
                "point": probe.node.point,
                "gain_bits": probe.gain_bits,
                "minutes": probe.node.minutes,
                "why": probe.why,
            }
            for probe in found.probes
        ],
        "warnings": list(found.warnings),
    }


def _node(node: Node, measured: Measured) -> dict[str, object]:
    return {"id": node.id, "state": measured.state, **({"over": True} if measured.over else {})}
