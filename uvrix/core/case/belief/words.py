"""A cause in a few words, as a technician would say it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from uvrix.core.boards.contacts import contact_words
from uvrix.language import gettext

WORDS: Mapping[str, str] = {
    "short": gettext("{who} shorted"),
    "partial-short": gettext("{who} partly shorted"),
    "layers": gettext("burnt layers below {who}"),
    "open-fuse": gettext("fuse {who} open or sick"),
    "missing": gettext("{who} missing"),
    "dead-part": gettext("{who} dead"),
    "chip-joint": gettext("a joint of {who}"),
    "chip": gettext("{who} itself"),
    "board-line": gettext("a pad or trace at {who}"),
    "core-joint": gettext("the core's joints"),
    "core": gettext("the core itself"),
    "supply": gettext("the memory supply"),
    "firmware": gettext("the firmware"),
    "contact": gettext("slot contact {who}"),
    "plug": gettext("the power plug or its lead"),
    "host": gettext("the computer, not the card"),
    "none": gettext("repaired and clean so far"),
    "unknown": gettext("not known yet"),
}
# Where a cause is of nothing that is named.
NOBODY: Mapping[str, str] = {
    "contact": gettext("a slot contact"),
    "board-line": gettext("a pad or trace"),
    "chip": gettext("a memory chip"),
    "chip-joint": gettext("a joint of a chip"),
    "dead-part": gettext("the converter of what is missing"),
}


def cause_words(cause: str, designators: Sequence[str]) -> str:
    """The cause, with what it is of."""
    if not designators and cause in NOBODY:
        return NOBODY[cause]
    named = map(contact_words, designators[:3]) if cause == "contact" else designators[:3]
    return WORDS[cause].format(who=gettext(" or ").join(named))
