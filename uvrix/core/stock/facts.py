"""What is known of a part in stock, as one document: its kind, its marking, and what its kind needs to be compared."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from uvrix.core.boards.schema import ABOVE_ZERO, SIZE, TEXT, Schema, object_of, words_of
from uvrix.core.stock.fits import Connector, MemoryChip, SmallPart
from uvrix.core.stock.values import figure
from uvrix.core.values.shape import check_shape
from uvrix.language import gettext

KINDS: Mapping[str, str] = {
    "chip": gettext("memory chip"),
    "core": gettext("core"),
    "small": gettext("small part"),
    "connector": gettext("connector"),
    "set": gettext("set of parts"),
    "stencil": gettext("stencil"),
    "balls": gettext("balls"),
    "other": gettext("something else"),
}
# Counted by pieces, not labelled one by one.
COUNTED = frozenset({"balls", "small"})
WHOLE: Schema = {"type": "integer", "minimum": 0, "maximum": 10_000}
SHORT: Schema = {**TEXT, "maxLength": 120}
FACTS_SCHEMA: Schema = object_of(
    ["kind"],
    kind=words_of(*KINDS),
    marking=SHORT,
    origin=SHORT,
    note={**TEXT, "maxLength": 400},
    vendor=SHORT,
    gbit=ABOVE_ZERO,
    width=WHOLE,
    volts=ABOVE_ZERO,
    speed=ABOVE_ZERO,
    part=SHORT,
    value=SHORT,
    size_mm=SIZE,
    rating=ABOVE_ZERO,
    pitch_mm=ABOVE_ZERO,
    pins=WHOLE,
    rows=WHOLE,
    anchors=WHOLE,
    seen_on=SHORT,
    ball_mm=ABOVE_ZERO,
    alloy=SHORT,
)


def read_facts(document: Mapping[str, Any]) -> Mapping[str, Any]:
    """A part's facts. Raises Refusal naming the path: an unknown kind, a connector without pitch or pins."""
    check_shape(document, FACTS_SCHEMA)
    return document


def chip_of(facts: Mapping[str, Any]) -> MemoryChip:
    """A memory chip as far as it is known."""
    return MemoryChip(
        facts.get("vendor", ""), facts.get("gbit"), facts.get("width"), facts.get("volts"), facts.get("speed")
    )


def small_of(facts: Mapping[str, Any]) -> SmallPart:
    """A small part; `part` says whether it is a resistor, capacitor, coil or fuse, its value as on the bench."""
    size = facts.get("size_mm")
    return SmallPart(
        facts.get("part", ""),
        figure(facts.get("value", "")),
        (size[0], size[1]) if size else None,
        facts.get("rating"),
    )


def connector_of(facts: Mapping[str, Any]) -> Connector | None:
    """A connector; None where its pitch or its pins are not known."""
    if not facts.get("pitch_mm") or not facts.get("pins"):
        return None
    return Connector(
        facts.get("marking", ""),
        facts["pitch_mm"],
        facts["pins"],
        facts.get("rows", 1),
        facts.get("anchors", 0),
        facts.get("seen_on", ""),
    )
