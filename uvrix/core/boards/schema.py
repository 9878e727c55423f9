"""The JSON Schema (2020-12) of `.board.json`, published as docs/formats/board.schema.json.

It says what a schema can say; document.py adds what it cannot (unique designators, the walk, circles of needs).
"""

from __future__ import annotations

from typing import Any

Schema = dict[str, Any]


def object_of(required: list[str], **properties: Schema) -> Schema:
    """An object with these keys; others are kept."""
    return {"type": "object", "required": required, "properties": properties}


def list_of(items: Schema, at_least: int = 0) -> Schema:
    """A list."""
    return {"type": "array", "items": items, **({"minItems": at_least} if at_least else {})}


def words_of(*words: str) -> Schema:
    """One of some words."""
    return {"enum": list(words)}


TEXT: Schema = {"type": "string"}
NAME: Schema = {"type": "string", "minLength": 1, "maxLength": 80}
SLUG: Schema = {"type": "string", "pattern": "^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$"}
NUMBER: Schema = {"type": "number", "minimum": -1000000, "maximum": 1000000}
ABOVE_ZERO: Schema = {"type": "number", "exclusiveMinimum": 0, "maximum": 1000000}
FLAG: Schema = {"type": "boolean"}
PAIR: Schema = {"type": "array", "items": NUMBER, "minItems": 2, "maxItems": 2}
SIZE: Schema = {"type": "array", "items": ABOVE_ZERO, "minItems": 2, "maxItems": 2}
SIDE = words_of("front", "back")
LINE: Schema = {"type": "integer", "minimum": 0, "maximum": 31}

LANDMARK_KINDS = ("bracket", "edge-contacts", "power-plug", "display-socket", "fan-plug", "hole")
POINT_KINDS = ("coil", "fuse", "shunt", "pin", "pad", "capacitor", "plug")
PART_KINDS = (
    *("core", "memory", "power-stage", "converter", "controller", "gate", "diode", "transistor", "resistor"),
    *("capacitor", "fuse", "shunt", "supervisor", "crystal", "connector", "coil"),
)
NODE_KINDS = ("input", "rail", "signal", "clock", "draw")

CORE = object_of(
    ["designator", "x_mm", "y_mm", "size_mm", "mark_corner"],
    designator=NAME,
    x_mm=NUMBER,
    y_mm=NUMBER,
    size_mm=SIZE,
    mark_corner=words_of("top-left", "top-right", "bottom-left", "bottom-right"),
)
LANDMARK = object_of(
    ["kind", "x_mm", "y_mm"], kind=words_of(*LANDMARK_KINDS), x_mm=NUMBER, y_mm=NUMBER, size_mm=SIZE, text=TEXT
)
SITE = object_of(
    ["designator", "x_mm", "y_mm"],
    designator=NAME,
    side=SIDE,
    x_mm=NUMBER,
    y_mm=NUMBER,
    rotation_deg=NUMBER,
    size_mm=SIZE,
    package=TEXT,
    fitted=FLAG,
    channel=NAME,
    dq={"type": "array", "minItems": 1},
    dq_swap=list_of(LINE),
    rail=TEXT,
    group=TEXT,
)
WALK = object_of(
    ["start", "direction", "order"],
    start=words_of("mark", "opposite-mark", "mark+1", "mark-1"),
    direction=words_of("clockwise", "counterclockwise"),
    order=list_of({"type": ["string", "null"]}),
)
ADDRESS_MAP = object_of(
    ["order"],
    select=list_of(list_of({"type": "integer", "minimum": 0, "maximum": 63}, 1)),
    stripe_bytes={"type": "integer", "minimum": 1},
    order=list_of(NAME, 1),
)
RAIL = object_of(["id"], id=NAME, name=TEXT, volts=NUMBER, points=list_of(NAME), input=FLAG)
POINT = object_of(
    ["id"],
    id=NAME,
    side=SIDE,
    x_mm=NUMBER,
    y_mm=NUMBER,
    kind=words_of(*POINT_KINDS),
    net=TEXT,
    reach=words_of("outside", "cooler-off", "microscope"),
    minutes=ABOVE_ZERO,
    first=FLAG,
)
PART = object_of(
    ["designator", "kind"],
    designator=NAME,
    kind=words_of(*PART_KINDS),
    side=SIDE,
    x_mm=NUMBER,
    y_mm=NUMBER,
    rails=list_of(NAME),
    value=TEXT,
    marking=TEXT,
    weight=ABOVE_ZERO,
)
NODE = object_of(
    ["id"],
    id=NAME,
    name=TEXT,
    kind=words_of(*NODE_KINDS),
    volts=PAIR,
    needs=list_of(NAME),
    point=TEXT,
    parts=list_of(NAME),
)
SUPERVISOR = object_of(
    ["designator"],
    designator=NAME,
    inputs=list_of(object_of(["rail"], rail=NAME, high_point=TEXT, low_point=TEXT, threshold_v=NUMBER)),
)
PHASE = object_of(["designator"], designator=NAME, rail=TEXT, point=TEXT, amps=ABOVE_ZERO)
MEMORY = object_of(
    [], vendors=list_of(TEXT), gbit=ABOVE_ZERO, width={"type": "integer", "minimum": 1}, speed=ABOVE_ZERO
)

# Optional keys beside those of docs/formats §1: photographs that lie under the drawing, how many lanes of the slot are
# wired, what proven repairs filled in.
PHOTOGRAPH = object_of(
    ["side", "sha256", "width_px", "height_px", "x_mm", "y_mm", "mm_per_px", "turn_deg"],
    side=SIDE,
    sha256={"type": "string", "pattern": "^[0-9a-f]{64}$"},
    width_px={"type": "integer", "minimum": 1, "maximum": 100000},
    height_px={"type": "integer", "minimum": 1, "maximum": 100000},
    x_mm=NUMBER,
    y_mm=NUMBER,
    mm_per_px=ABOVE_ZERO,
    turn_deg=NUMBER,
)
SLOT = object_of([], lanes={"enum": [1, 2, 4, 8, 16]})
LEARNED = object_of(["designator", "channel"], designator=NAME, channel=NAME, job=TEXT, by=TEXT, at=TEXT)

BOARD_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix board model",
    "description": "Millimetres and degrees, looking at the front with the bracket to the left; see README.md.",
    **object_of(
        ["format", "version", "id", "name", "outline_mm", "core", "sites"],
        format={"const": "uvrix-board"},
        version={"const": 1},
        id=SLUG,
        name=NAME,
        revision=TEXT,
        relative_of=TEXT,
        family=TEXT,
        photographs=list_of(PHOTOGRAPH),
        learned=list_of(LEARNED),
        slot=SLOT,
        outline_mm=list_of(PAIR, 3),
        core=CORE,
        landmarks=list_of(LANDMARK),
        sites=list_of(SITE, 1),
        walk=WALK,
        address_map=ADDRESS_MAP,
        rails=list_of(RAIL),
        points=list_of(POINT),
        parts=list_of(PART),
        startup=object_of(["nodes"], nodes=list_of(NODE)),
        supervisors=list_of(SUPERVISOR),
        phases=list_of(PHASE),
        memory=MEMORY,
    ),
}
