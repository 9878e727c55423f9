"""What a shop sets for rework: distances, cycles, the pad rule, its alloys, its templates. Checked, with defaults.

Temperatures of alloys and presets of heat are the shop's own; what is built in is usual practice (docs/trade §6.4).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from typing import Any

from uvrix.core.boards.schema import NAME, TEXT, Schema, list_of, object_of, words_of
from uvrix.core.errors import Refusal
from uvrix.core.rework.acts import DOES
from uvrix.core.rework.curve import BUILT_IN, LIMITS, Alloy
from uvrix.core.rework.events import SOLDERS
from uvrix.core.rework.limits import OPEN_HOURS
from uvrix.core.rework.near import Limits
from uvrix.core.rework.pads import PadRule
from uvrix.core.values.shape import check_shape
from uvrix.language import gettext

MILLIMETRES: Schema = {"type": "number", "minimum": 0, "maximum": 100}
COUNT: Schema = {"type": "integer", "minimum": 0, "maximum": 1000}
SHARE: Schema = {"type": "number", "minimum": 0, "maximum": 1}
CELSIUS: Schema = {"type": "number", "minimum": 0, "maximum": 600}
SECONDS: Schema = {"type": "number", "minimum": 0, "maximum": 100000}
AIR = list_of(object_of(["phase"], phase=TEXT, celsius=CELSIUS, seconds=SECONDS))
TEMPLATE = object_of(
    ["name", "do", "steps"],
    name=NAME,
    do=words_of(*DOES),
    steps=list_of(NAME, 1),
    preheat_c=CELSIUS,
    air=AIR,
    alloy_on=words_of(*SOLDERS),
)
SETTINGS_SCHEMA: Schema = object_of(
    [],
    near_mm=MILLIMETRES,
    shield_mm=MILLIMETRES,
    site_cycles=COUNT,
    chip_cycles=COUNT,
    soak_c={"type": "array", "items": CELSIUS, "minItems": 2, "maxItems": 2},
    open_hours={"type": "number", "exclusiveMinimum": 0, "maximum": 10000},
    pads=object_of([], signals_fixable=COUNT, signals_marginal=COUNT, share_fixable=SHARE, share_marginal=SHARE),
    alloys={"type": "object", "additionalProperties": object_of(list(LIMITS), **dict.fromkeys(LIMITS, CELSIUS))},
    templates=list_of(TEMPLATE),
)
USUAL_TEMPLATES: tuple[Mapping[str, Any], ...] = (
    {
        "name": gettext("lift a memory chip"),
        "do": "remove",
        "steps": [
            "photograph",
            gettext("pin 1 noted"),
            gettext("shields on"),
            gettext("preheat and soak"),
            "air",
            gettext("lift straight up"),
            "cool",
        ],
    },
    {
        "name": gettext("clean its pads"),
        "do": "clean-pads",
        "steps": [
            "flux",
            gettext("leaded over the pads"),
            gettext("wick with hardly any pressure"),
            "wash",
            gettext("look under the microscope"),
        ],
    },
    {
        "name": gettext("reball a chip"),
        "do": "reball",
        "steps": [
            gettext("clean the chip"),
            gettext("stencil or by hand"),
            gettext("balls and some to spare"),
            "heat",
            gettext("count the balls"),
        ],
    },
    {
        "name": gettext("place a chip"),
        "do": "place",
        "steps": [
            gettext("pin 1 as noted"),
            "flux",
            gettext("shields on"),
            gettext("preheat and soak"),
            "air",
            gettext("nudge: it slides back"),
            "cool",
        ],
    },
)


@dataclass(frozen=True, slots=True)
class Settings:
    """A shop's settings; `document` as it was saved."""

    limits: Limits = field(default_factory=Limits)
    open_hours: float = OPEN_HOURS
    pads: PadRule = field(default_factory=PadRule)
    alloys: Mapping[str, Alloy] = field(default_factory=lambda: dict(BUILT_IN))
    templates: tuple[Mapping[str, Any], ...] = USUAL_TEMPLATES
    soak_c: tuple[float, float] | None = None
    document: Mapping[str, Any] = field(default_factory=dict)


def read_settings(document: Mapping[str, Any]) -> Settings:
    """A shop's settings; what it left out is as usual. Raises Refusal naming the path."""
    check_shape(document, SETTINGS_SCHEMA)
    limits = Limits(
        **{key: document[key] for key in ("near_mm", "shield_mm", "site_cycles", "chip_cycles") if key in document}
    )
    if limits.shield_mm > limits.near_mm:
        raise Refusal(
            "$.shield_mm", f"{limits.shield_mm:g}", gettext("at most near_mm, {near_mm}", near_mm=f"{limits.near_mm:g}")
        )
    rule = PadRule(**document.get("pads", {}))
    if rule.signals_fixable > rule.signals_marginal or rule.share_fixable > rule.share_marginal:
        raise Refusal(
            "$.pads", gettext("fixable above marginal"), gettext("what is fixable to be no more than what is marginal")
        )
    soak = tuple(float(entry) for entry in document.get("soak_c", ()))
    if soak and soak[0] >= soak[1]:
        raise Refusal(
            "$.soak_c",
            gettext("{soak} to {soak_2}", soak=f"{soak[0]:g}", soak_2=f"{soak[1]:g}"),
            gettext("the lower temperature first"),
        )
    alloys = dict(BUILT_IN)
    for name, own in document.get("alloys", {}).items():
        alloys[name] = Alloy(**{key: float(own[key]) for key in LIMITS})
    templates = tuple(document["templates"]) if document.get("templates") else USUAL_TEMPLATES
    hours = float(document.get("open_hours", OPEN_HOURS))
    return Settings(limits, hours, rule, alloys, templates, (soak[0], soak[1]) if soak else None, document)


def as_document(settings: Settings) -> dict[str, Any]:
    """The settings in full, what the shop left out as it is usual: what a screen shows and saves."""
    return {
        **settings.document,
        **asdict(settings.limits),
        "open_hours": settings.open_hours,
        "pads": asdict(settings.pads),
        "alloys": {name: asdict(alloy) for name, alloy in settings.alloys.items()},
        "templates": [dict(template) for template in settings.templates],
    }
