"""A cause in a few words, as a technician would say it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from uvrix.core.boards.contacts import contact_words

WORDS: Mapping[str, str] = {
    "short": "{who} shorted",
    "partial-short": "{who} partly shorted",
    "layers": "burnt layers below {who}",
    "open-fuse": "fuse {who} open or sick",
    "missing": "{who} missing",
    "dead-part": "{who} dead",
    "chip-joint": "a joint of {who}",
    "chip": "{who} itself",
    "board-line": "a pad or trace at {who}",
    "core-joint": "the core's joints",
    "core": "the core itself",
    "supply": "the memory supply",
    "firmware": "the firmware",
    "contact": "slot contact {who}",
    "plug": "the power plug or its lead",
    "host": "the computer, not the card",
    "none": "repaired and clean so far",
    "unknown": "not known yet",
}
# Where a cause is of nothing that is named.
NOBODY: Mapping[str, str] = {
    "contact": "a slot contact",
    "board-line": "a pad or trace",
    "chip": "a memory chip",
    "chip-joint": "a joint of a chip",
    "dead-part": "the converter of what is missing",
}


def cause_words(cause: str, designators: Sequence[str]) -> str:
    """The cause, with what it is of."""
    if not designators and cause in NOBODY:
        return NOBODY[cause]
    named = map(contact_words, designators[:3]) if cause == "contact" else designators[:3]
    return WORDS[cause].format(who=" or ".join(named))
