"""What a script on the test computer says of the card: a small open JSON (docs/formats/identity.schema.json)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from uvrix.core.boards.schema import NAME, Schema, object_of
from uvrix.core.errors import Refusal
from uvrix.core.values.shape import check_shape
from uvrix.core.values.text import parse_json
from uvrix.language import gettext

COUNT: Schema = {"type": "integer", "minimum": 0, "maximum": 10**12}
IDENTITY_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix identity",
    "description": "A card as the test computer sees it: identity, memory, link as it runs, error counters.",
    **object_of(
        ["format", "version"],
        format={"const": "uvrix-identity"},
        version={"const": 1},
        device=NAME,
        memory_mib=COUNT,
        link=object_of([], width=COUNT, gt_per_s={"type": "number", "minimum": 0, "maximum": 1000}),
        link_most=object_of([], width=COUNT, gt_per_s={"type": "number", "minimum": 0, "maximum": 1000}),
        errors={"type": "object", "additionalProperties": COUNT},
        sensors={"type": "object", "additionalProperties": {"type": "number", "minimum": -1e6, "maximum": 1e6}},
    ),
}


@dataclass(frozen=True, slots=True)
class Identity:
    """A card as its computer sees it; None and empty where it does not say."""

    device: str = ""
    memory_mib: int | None = None
    width: int | None = None
    gt_per_s: float | None = None
    most_width: int | None = None
    most_gt_per_s: float | None = None
    errors: Mapping[str, int] = field(default_factory=dict)
    sensors: Mapping[str, float] = field(default_factory=dict)


def read_identity(data: bytes) -> dict[str, Any]:
    """The document. Raises Refusal where it is no JSON or does not fit the schema."""
    document = parse_json(data)
    if not isinstance(document, dict):
        raise Refusal("$", gettext("no object"), gettext("an object of the format uvrix-identity"))
    check_shape(document, IDENTITY_SCHEMA)
    return document


def identity_of(document: Mapping[str, Any]) -> Identity:
    """A document that was read."""

    def figure(of: str, name: str) -> float | None:
        found = (document.get(of) or {}).get(name)
        return None if found is None else float(found)

    width, most = figure("link", "width"), figure("link_most", "width")
    memory = document.get("memory_mib")
    return Identity(
        str(document.get("device", "")),
        None if memory is None else int(memory),
        None if width is None else int(width),
        figure("link", "gt_per_s"),
        None if most is None else int(most),
        figure("link_most", "gt_per_s"),
        {str(name): int(count) for name, count in (document.get("errors") or {}).items()},
        {str(name): float(value) for name, value in (document.get("sensors") or {}).items()},
    )
