"""Pinouts by marking: the shop's own notes on small chips, and where their pins lie (docs/trade §9.3).

A pinout is a JSON object: `format` uvrix-pinout, `version` 1, `marking` as printed on the chip, `kind` a kind of part,
`sides` how many pins there are on each side, counterclockwise from pin 1's: left, lower, right, upper, seen from above
with pin 1 at the upper left; `pins` with `pin`, `name`, `use`, `note`; `note`.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from uvrix.core.boards.schema import NAME, PART_KINDS, TEXT, list_of, object_of, words_of
from uvrix.core.errors import Refusal, quoted
from uvrix.core.values.shape import check_shape
from uvrix.language import gettext

USES: Mapping[str, str] = {
    "supply": gettext("supply"),
    "ground": gettext("ground"),
    "enable": gettext("enable"),
    "output": gettext("output"),
    "power-good": gettext("power good"),
    "feedback": gettext("feedback"),
    "switch": gettext("switch"),
    "input": gettext("input"),
    "clock": gettext("clock"),
    "unused": gettext("unused"),
    "other": gettext("other"),
}
MOST_PINS = 128
SIDE = {"type": "integer", "minimum": 0, "maximum": 40}

PINOUT_SCHEMA = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix pinout",
    "description": "A small chip's pins by its marking; sides count pins counterclockwise from pin 1, seen from above.",
    **object_of(
        ["format", "version", "marking", "sides"],
        format={"const": "uvrix-pinout"},
        version={"const": 1},
        marking=NAME,
        kind=words_of(*PART_KINDS),
        sides={"type": "array", "items": SIDE, "minItems": 4, "maxItems": 4},
        pins=list_of(
            object_of(
                ["pin"],
                pin={"type": "integer", "minimum": 1, "maximum": MOST_PINS},
                name=TEXT,
                use=words_of(*USES),
                note=TEXT,
            )
        ),
        note=TEXT,
    ),
}


@dataclass(frozen=True, slots=True)
class Pin:
    """A pin: its number, name and use, and where it lies; x and y run from -1 to 1 of the body, y upwards."""

    pin: int
    name: str
    use: str
    note: str
    side: str
    x: float
    y: float


@dataclass(frozen=True, slots=True)
class Pinout:
    """A chip's notes by its marking."""

    marking: str
    kind: str
    note: str
    sides: tuple[int, int, int, int]
    pins: tuple[Pin, ...]


def read_pinout(document: Mapping[str, Any]) -> Pinout:
    """A pinout. Raises Refusal where it does not fit, has no pin, or notes one that it does not have."""
    check_shape(document, PINOUT_SCHEMA)
    left, lower, right, upper = (int(side) for side in document["sides"])
    many = left + lower + right + upper
    if not 1 <= many <= MOST_PINS:
        raise Refusal("$.sides", gettext("{many} pins", many=many), gettext("1 to {most_pins}", most_pins=MOST_PINS))
    noted: dict[int, Mapping[str, Any]] = {}
    for at, pin in enumerate(document.get("pins", ())):
        number = int(pin["pin"])
        if number > many:
            raise Refusal(
                f"$.pins[{at}].pin", gettext("pin {number}", number=number), gettext("1 to {many}", many=many)
            )
        if number in noted:
            raise Refusal(f"$.pins[{at}].pin", gettext("pin {number} again", number=number), gettext("each pin once"))
        noted[number] = pin
    marking = str(document["marking"]).strip()
    if not marking:
        raise Refusal("$.marking", quoted(document["marking"]), gettext("what is printed on the chip"))
    pins = tuple(_pin(number, noted.get(number, {}), (left, lower, right, upper)) for number in range(1, many + 1))
    return Pinout(
        marking, str(document.get("kind", "")), str(document.get("note", "")), (left, lower, right, upper), pins
    )


def _pin(number: int, noted: Mapping[str, Any], sides: tuple[int, int, int, int]) -> Pin:
    """Pin 1 at the upper left, then counterclockwise: down the left, along below, up the right, back above."""
    before = 0
    for name, many in zip(("left", "lower", "right", "upper"), sides, strict=True):
        if number <= before + many:
            along = (number - before - 0.5) / many * 2 - 1
            x, y = {
                "left": (-1.0, -along),
                "lower": (along, -1.0),
                "right": (1.0, along),
                "upper": (-along, 1.0),
            }[name]
            return Pin(
                number, str(noted.get("name", "")), str(noted.get("use", "")), str(noted.get("note", "")), name, x, y
            )
        before += many
    raise ValueError(number)


def key_of_marking(marking: str) -> str:
    """By what a marking is found."""
    return "".join(marking.split()).casefold()
