"""Readings of start-up nodes: what is read there, and the verdict against a node's band."""

from __future__ import annotations

from typing import Any, cast

from uvrix.core.readings.notation import Value, shown
from uvrix.core.readings.points import Places
from uvrix.core.readings.verdict import Judged
from uvrix.core.startup.chain import MEASURED, VOLTS, Node
from uvrix.language import gettext
from uvrix.shop.case.threads import thread
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.startups import StartupMap, startup_map, with_nodes
from uvrix.shop.ohms.models import Reading
from uvrix.shop.ohms.queries import core_reading, reading_context


def map_of(job: Job) -> StartupMap | None:
    """The map that a job's card is read by: its model's; of an undrawn one the usual order of its bench plan."""
    found = startup_map(job.card.model)
    facts = thread(job).facts
    if found is None and facts.board is None and facts.chain is not None:
        return StartupMap(facts.chain, "plan", facts.undrawn.plan.name)
    return found


def quantity_of(node: Node) -> str:
    """What is read at a node: voltage, frequency or current."""
    return MEASURED.get(node.kind, VOLTS)[0]


def counts_for(name: str, node: Node, places: Places) -> bool:
    """Whether a reading of that name is of the node."""
    return name in {node.id, node.point} or places.rail_of.get(name) == node.id


def judge_node(job: Job, row: Reading) -> Judged | None:
    """A powered reading against the band of the node that it is of; None where it is of none."""
    found = map_of(job)
    places = with_nodes(reading_context(job).places, found)
    reading = core_reading(row)
    for node in found.chain.nodes if found else ():
        if counts_for(row.point, node, places) and row.quantity == quantity_of(node):
            return Judged(reading, *_against(node, reading.value, row.quantity))
    return None


def _against(node: Node, value: Value, quantity: str) -> tuple[Any, None, str]:
    factor = MEASURED.get(node.kind, VOLTS)[1]
    unit = {"voltage": "V", "frequency": "MHz", "current": "A"}[quantity]
    band = gettext(
        "{name} is there from {low} to {high} {unit}",
        name=node.name,
        low=f"{node.low:g}",
        high=f"{node.high:g}",
        unit=unit,
    )
    said = shown(value, cast("Any", quantity))
    if value.low is None or value.high is None:
        return "open", None, gettext("{said}; {band}: missing.", said=said, band=band)
    low, high = value.low * factor, value.high * factor
    if low > node.high:
        return (
            "high",
            None,
            gettext("{said}; {band}: above its band. Switch off before anything else is probed.", said=said, band=band),
        )
    if value.span and not (node.low <= low and high <= node.high):
        why = gettext("it wavers or pulses: a converter that tries again, or something it feeds pulls it down")
        return "unsteady", None, gettext("{said}; {band}: counts as missing; {why}.", said=said, band=band, why=why)
    if high < node.low:
        return "low", None, gettext("{said}; {band}: missing.", said=said, band=band)
    return "within", None, gettext("{said}; {band}: present.", said=said, band=band)
