"""Clocks and the core's joints: a clock that is noise while the rails are good leads to the core (docs/trade §4.7)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from uvrix.core.startup.chain import Chain, Measured, Node
from uvrix.language import gettext


@dataclass(frozen=True, slots=True)
class ClockSaid:
    """What a clock that is not there means so far; `lift_core` once its parts were tried and every rail is good."""

    node: str
    lift_core: bool
    says: str


def clocks_say(chain: Chain, measured: Mapping[str, Measured], replaced: frozenset[str]) -> tuple[ClockSaid, ...]:
    """One sentence for each clock that was read and is not there.

    A rail that is missing or was not read comes first; then the crystal and what stands beside it; then torn joints
    below the core. `replaced` are parts that were replaced without effect.
    """
    missing = [node for node in chain.nodes if node.kind == "clock" and measured[node.id].state == "missing"]
    return tuple(_said(chain, measured, replaced, node) for node in missing)


def _said(chain: Chain, measured: Mapping[str, Measured], replaced: frozenset[str], clock: Node) -> ClockSaid:
    rails = [node for node in chain.nodes if node.kind == "rail"]
    missing = [node.name for node in rails if measured[node.id].state == "missing"]
    unread = [node.name for node in rails if measured[node.id].state == "unknown"]
    if missing:
        return ClockSaid(
            clock.id,
            False,
            gettext(
                "{name} is not there, and neither is {missing}: the rail first.", name=clock.name, missing=missing[0]
            ),
        )
    if unread:
        return ClockSaid(
            clock.id,
            False,
            gettext(
                "{name} is not there. Read {names} before it is blamed.", name=clock.name, names=", ".join(unread[:4])
            ),
        )
    untried = [part for part in clock.parts if part not in replaced]
    if untried:
        tried = gettext(" and ").join(untried)
        return ClockSaid(
            clock.id,
            False,
            gettext(
                "{name} is not there with every rail good: {tried} or the capacitors beside it, or the "
                "core does not drive it. A probe can stop a crystal: read it once more with the lightest "
                "one. Then replace {tried}.",
                name=clock.name,
                tried=tried,
            ),
        )
    return ClockSaid(
        clock.id,
        True,
        gettext(
            "{name} is not there with every rail good and its own parts replaced: torn joints below "
            "the core are likely. Lift the core, survey its pads.",
            name=clock.name,
        ),
    )
