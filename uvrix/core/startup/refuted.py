"""Hypotheses that a repair refuted: a part replaced without effect is hardly the dead one (docs/trade §4.9)."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace
from typing import Literal

from uvrix.core.startup.chain import Chain, Node
from uvrix.core.startup.limits import REFUTED_SHARE
from uvrix.language import gettext

CameOf = Literal["no-change", "came-back", "another"]
CAME_OF: tuple[CameOf, ...] = ("no-change", "came-back", "another")
SAYS = {
    "no-change": gettext("no change"),
    "came-back": gettext("it came back"),
    "another": gettext("it came back, and something else is missing now"),
}


def without_refuted(chain: Chain, refuted: Collection[str]) -> Chain:
    """The chain with the priors of nodes lowered whose parts were replaced without effect.

    A node's parts share its weight alike here, since a chain keeps their sum only.
    """
    if not refuted:
        return chain
    return replace(chain, nodes=tuple(_node(node, refuted) for node in chain.nodes))


def _node(node: Node, refuted: Collection[str]) -> Node:
    tried = sum(part in refuted for part in node.parts)
    if not tried:
        return node
    share = (len(node.parts) - tried + REFUTED_SHARE * tried) / len(node.parts)
    return replace(node, weight=node.weight * share)


def behind(chain: Chain, name: str) -> frozenset[str]:
    """The nodes that need a node, at any depth, itself too: what must be read anew once it came back."""
    at = next((number for number, node in enumerate(chain.nodes) if node.id == name), None)
    if at is None:
        return frozenset()
    return frozenset(node.id for number, node in enumerate(chain.nodes) if chain.absent[at, number])
