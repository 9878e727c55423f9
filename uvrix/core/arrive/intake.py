"""Words of what comes with a card: where it is from, its seals, kinds of evidence and what becomes of them."""

from __future__ import annotations

from collections.abc import Mapping

# Where the card comes from is a clue (domain.md §1).
PROVENANCE: Mapping[str, str] = {
    "unknown": "not said",
    "new": "bought new",
    "used": "bought used, it worked",
    "open-box": "open box",
    "broken": "bought broken",
    "prototype": "prototype, parts unmarked",
}
SEALS: Mapping[str, str] = {"whole": "whole", "broken": "broken: somebody was inside", "none": "none to see"}
EVIDENCE: Mapping[str, str] = {
    "photograph": "photograph",
    "listing": "listing it was bought by",
    "log": "log of the customer's computer",
    "measurement": "the owner's own measurement",
    "repair": "earlier repair",
    "diagnosis": "another workshop's diagnosis",
    "other": "something else",
}
# Evidence is what others say until the shop has seen it.
WORDS: Mapping[str, str] = {"unproven": "unproven", "proven": "seen here too", "refuted": "not so"}
