"""Templates of messages: plain words with places in braces that the job fills."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from uvrix.core.boards.schema import NAME, SLUG, TEXT, Schema, list_of, object_of
from uvrix.core.errors import Refusal
from uvrix.core.values.shape import check_shape
from uvrix.language import gettext

PLACES = (
    "customer",
    "job",
    "card",
    "complaint",
    "found",
    "options",
    "link",
    "due",
    "price",
    "warranty",
    "handling",
    "shop",
)
PLACE = re.compile(r"\{([a-z]+)\}")
TEMPLATES_SCHEMA: Schema = object_of(
    ["templates"],
    templates=list_of(
        object_of(
            ["key", "name", "subject", "text"],
            key=SLUG,
            name=NAME,
            subject={**TEXT, "minLength": 1, "maxLength": 200},
            text={**TEXT, "minLength": 1, "maxLength": 8000},
        ),
        at_least=1,
    ),
)
USUAL: dict[str, Any] = {
    "templates": [
        {
            "key": "options",
            "name": gettext("Options to choose from"),
            "subject": gettext("{job}: what we found on your {card}"),
            "text": gettext(
                "Dear {customer},\n\nyou told us: {complaint}\n\nThis is what we found: {found}\n\n"
                "You can choose:\n{options}\n\nPlease look and answer here until {due}: {link}\n\n{shop}"
            ),
        },
        {
            "key": "reminder",
            "name": gettext("Reminder"),
            "subject": gettext("{job}: we wait for your word"),
            "text": gettext(
                "Dear {customer},\n\nwe asked you about your {card} and have not heard from you. "
                "Nothing is done before you answer, until {due}: {link}\n\n{shop}"
            ),
        },
        {
            "key": "repaired",
            "name": gettext("Repaired"),
            "subject": gettext("{job}: your {card} is repaired"),
            "text": gettext(
                "Dear {customer},\n\nyour {card} is repaired and proven. {found}\n\n{handling}\n\n"
                "Price: {price}. We stand by our work until {warranty}. The report: {link}\n\n{shop}"
            ),
        },
        {
            "key": "no-fix",
            "name": gettext("Cannot be repaired"),
            "subject": gettext("{job}: your {card} cannot be repaired"),
            "text": gettext(
                "Dear {customer},\n\nwe are sorry. {found}\n\nWe send it back, or you leave it with us as a donor; "
                "please say which: {link}\n\n{shop}"
            ),
        },
        {
            "key": "follow-up",
            "name": gettext("Follow-up"),
            "subject": gettext("{job}: is your {card} well?"),
            "text": gettext(
                "Dear {customer},\n\nsome weeks have passed since your {card} went back. Is it well? "
                "If not, write to us before you send it.\n\n{shop}"
            ),
        },
    ]
}


def read_templates(document: Any) -> Any:
    """Templates. Raises Refusal naming the path: a place that nothing fills, two of one key."""
    check_shape(document, TEMPLATES_SCHEMA)
    seen = set()
    for at, template in enumerate(document["templates"]):
        if template["key"] in seen:
            raise Refusal(
                f"$.templates[{at}].key", gettext("{key} twice", key=repr(template["key"])), gettext("a key of its own")
            )
        seen.add(template["key"])
        for name in ("subject", "text"):
            if unknown := sorted(set(PLACE.findall(template[name])) - set(PLACES)):
                path = f"$.templates[{at}].{name}"
                raise Refusal(
                    path,
                    gettext("the place {unknown}", unknown=repr(unknown[0])),
                    gettext("places named {places}", places=", ".join(PLACES)),
                )
    return document


def filled(text: str, places: Mapping[str, str]) -> str:
    """A template with its places filled; what the job does not know is left out."""
    return re.sub(r"\n{3,}", "\n\n", PLACE.sub(lambda found: places.get(found[1], ""), text)).strip()
