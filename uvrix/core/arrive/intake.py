"""Words of what comes with a card: where it is from, its seals, kinds of evidence and what becomes of them."""

from __future__ import annotations

from collections.abc import Mapping

# Where the card comes from is a clue (docs/trade §1.1).
PROVENANCE: Mapping[str, str] = {
    "unknown": "not recorded",
    "new": "bought new",
    "used": "bought used, it worked",
    "open-box": "open box",
    "broken": "bought broken",
    "prototype": "prototype, parts unmarked",
}
SEALS: Mapping[str, str] = {"whole": "whole", "broken": "broken: somebody was inside", "none": "none to see"}
# A new card with its seals whole: its seller's or maker's warranty comes before anything is opened.
WARRANTY: Mapping[str, str] = {
    "": "not asked yet",
    "over": "there is none, or it is over",
    "here": "the customer wants it repaired here all the same",
    "valid": "it is under warranty: it goes back there unopened",
}


def sealed(provenance: str, seals: str) -> bool:
    """Whether a card's own warranty may still stand: bought new, nobody was inside."""
    return provenance == "new" and seals == "whole"


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
