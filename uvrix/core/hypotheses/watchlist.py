"""A model's watchlist: what this model is known to suffer, looked at even when the complaint is cured."""

from __future__ import annotations

from typing import Any

from uvrix.core.boards.schema import FLAG, TEXT, Schema, list_of, object_of
from uvrix.core.errors import Refusal, quoted
from uvrix.core.hypotheses.suggest import Watch, key_of
from uvrix.core.values.shape import check_shape
from uvrix.language import gettext

MOST = 60
CAUSE: Schema = {"type": "string", "minLength": 1, "maxLength": 120}
WATCHLIST_SCHEMA: Schema = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "Uvrix watchlist",
    "description": "What a board model is known to suffer.",
    **object_of(
        ["watch"],
        watch={**list_of(object_of(["cause"], cause=CAUSE, look=TEXT, part=TEXT, always=FLAG)), "maxItems": MOST},
    ),
}


def read_watchlist(document: Any) -> tuple[Watch, ...]:
    """The entries of a watchlist's document; raises Refusal naming the JSON path, also where a cause stands twice."""
    check_shape(document, WATCHLIST_SCHEMA)
    found: list[Watch] = []
    for number, entry in enumerate(document["watch"]):
        if not key_of(entry["cause"]):
            raise Refusal(f"$.watch[{number}].cause", quoted(entry["cause"]), "words")
        if key_of(entry["cause"]) in {key_of(other.cause) for other in found}:
            raise Refusal(
                f"$.watch[{number}].cause",
                gettext("{quoted} again", quoted=quoted(entry["cause"])),
                gettext("each cause once"),
            )
        found.append(Watch(entry["cause"], entry.get("look", ""), entry.get("part", ""), bool(entry.get("always"))))
    return tuple(found)
