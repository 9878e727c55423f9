"""The JSON Schema (2020-12) of `.board.json`, published as docs/formats/board.schema.json.

It says what a schema can say; document.py adds what it cannot (unique designators, the walk, circles of needs).
"""

from __future__ import annotations

from typing import Any

Schema = dict[str, Any]


def _object(required: list[str], **properties: Schema) -> Schema:
    return {"type": "object", "required": required, "properties": properties}


def _list(items: Schema, at_least: int = 0) -> Schema:
    return {"type": "array", "items": items, **({"minItems": at_least} if at_least else {})}


def _words(*words: str) -> Schema:
    return {"enum": list(words)}


TEXT: Schema = {"type": "string"}
NAME: Schema = {"type": "string", "minLength": 1, "maxLength": 80}
NUMBER: Schema = {"type": "number", "minimum": -1000000, "maximum": 1000000}
ABOVE_ZERO: Schema = {"type": "number", "exclusiveMinimum": 0, "maximum": 1000000}
FLAG: Schema = {"type": "boolean"}
PAIR: Schema = {"type": "array", "items": NUMBER, "minItems": 2, "maxItems": 2}
SIZE: Schema = {"type": "array", "items": ABOVE_ZERO, "minItems": 2, "maxItems": 2}
SIDE = _words("front", "back")
LINE: Schema = {"type": "integer", "minimum": 0, "maximum": 31}

LANDMARK_KINDS = ("bracket", "edge-contacts", "power-plug", "display-socket", "fan-plug", "hole")
POINT_KINDS = ("coil", "fuse", "shunt", "pin", "pad", "capacitor", "plug")
PART_KINDS = (
    *("core", "memory", "power-stage", "converter", "controller", "gate", "diode", "transistor", "resistor"),
    *("capacitor", "fuse", "shunt", "supervisor", "crystal", "connector", "coil"),
)
NODE_KINDS = ("input", "rail", "signal", "clock", "draw")

CORE = _object(
    ["designator", "x_mm", "y_mm", "size_mm", "mark_corner"],
    designator=NAME,
    x_mm=NUMBER,
    y_mm=NUMBER,
    size_mm=SIZE,
    mark_corner=_words("top-left", "top-right", "bottom-left", "bottom-right"),
)
LANDMARK = _object(
    ["kind", "x_mm", "y_mm"], kind=_words(*LANDMARK_KINDS), x_mm=NUMBER, y_mm=NUMBER, size_mm=SIZE, text=TEXT
)
SITE = _object(
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
    dq_swap=_list(LINE),
    rail=TEXT,
    group=TEXT,
)
WALK = _object(
    ["start", "direction", "order"],
    start=_words("mark", "opposite-mark", "mark+1", "mark-1"),
    direction=_words("clockwise", "counterclockwise"),
    order=_list({"type": ["string", "null"]}),
)
ADDRESS_MAP = _object(
    ["order"],
    select=_list(_list({"type": "integer", "minimum": 0, "maximum": 63}, 1)),
    stripe_bytes={"type": "integer", "minimum": 1},
    order=_list(NAME, 1),
)
RAIL = _object(["id"], id=NAME, name=TEXT, volts=NUMBER, points=_list(NAME), input=FLAG)
POINT = _object(
    ["id"],
    id=NAME,
    side=SIDE,
    x_mm=NUMBER,
    y_mm=NUMBER,
    kind=_words(*POINT_KINDS),
    net=TEXT,
    reach=_words("outside", "cooler-off", "microscope"),
    minutes=ABOVE_ZERO,
    first=FLAG,
)
PART = _object(
    ["designator", "kind"],
    designator=NAME,
    kind=_words(*PART_KINDS),
    side=SIDE,
    x_mm=NUMBER,
    y_mm=NUMBER,
    rails=_list(NAME),
    value=TEXT,
    weight=ABOVE_ZERO,
)
NODE = _object(
    ["id"], id=NAME, name=TEXT, kind=_words(*NODE_KINDS), volts=PAIR, needs=_list(NAME), point=TEXT, parts=_list(NAME)
)
SUPERVISOR = _object(
    ["designator"],
    designator=NAME,
    inputs=_list(_object(["rail"], rail=NAME, high_point=TEXT, low_point=TEXT, threshold_v=NUMBER)),
)
PHASE = _object(["designator"], designator=NAME, rail=TEXT, point=TEXT, amps=ABOVE_ZERO)
MEMORY = _object([], vendors=_list(TEXT), gbit=ABOVE_ZERO, width={"type": "integer", "minimum": 1}, speed=ABOVE_ZERO)

BOARD_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix board model",
    "description": "Millimetres and degrees, looking at the front with the bracket to the left; see README.md.",
    **_object(
        ["format", "version", "id", "name", "outline_mm", "core", "sites"],
        format={"const": "uvrix-board"},
        version={"const": 1},
        id={"type": "string", "pattern": "^[A-Za-z0-9][A-Za-z0-9._-]{0,63}$"},
        name=NAME,
        revision=TEXT,
        relative_of=TEXT,
        outline_mm=_list(PAIR, 3),
        core=CORE,
        landmarks=_list(LANDMARK),
        sites=_list(SITE, 1),
        walk=WALK,
        address_map=ADDRESS_MAP,
        rails=_list(RAIL),
        points=_list(POINT),
        parts=_list(PART),
        startup=_object(["nodes"], nodes=_list(NODE)),
        supervisors=_list(SUPERVISOR),
        phases=_list(PHASE),
        memory=MEMORY,
    ),
}
