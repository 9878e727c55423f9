"""Words of what comes with a card: where it is from, its seals, kinds of evidence and what becomes of them."""

from __future__ import annotations

from collections.abc import Mapping

from uvrix.language import gettext

# Where the card comes from is a clue (docs/trade §1.1).
PROVENANCE: Mapping[str, str] = {
    "unknown": gettext("not recorded"),
    "new": gettext("bought new"),
    "used": gettext("bought used, it worked"),
    "open-box": gettext("open box"),
    "broken": gettext("bought broken"),
    "prototype": gettext("prototype, parts unmarked"),
}
SEALS: Mapping[str, str] = {
    "whole": gettext("whole"),
    "broken": gettext("broken: somebody was inside"),
    "none": gettext("none to see"),
}
# A new card with its seals whole: its seller's or maker's warranty comes before anything is opened.
WARRANTY: Mapping[str, str] = {
    "": gettext("not asked yet"),
    "over": gettext("there is none, or it is over"),
    "here": gettext("the customer wants it repaired here all the same"),
    "valid": gettext("it is under warranty: it goes back there unopened"),
}


def sealed(provenance: str, seals: str) -> bool:
    """Whether a card's own warranty may still stand: bought new, nobody was inside."""
    return provenance == "new" and seals == "whole"


EVIDENCE: Mapping[str, str] = {
    "photograph": gettext("photograph"),
    "listing": gettext("listing it was bought by"),
    "log": gettext("log of the customer's computer"),
    "measurement": gettext("the owner's own measurement"),
    "repair": gettext("earlier repair"),
    "diagnosis": gettext("another workshop's diagnosis"),
    "other": gettext("something else"),
}
# Evidence is what others say until the shop has seen it.
WORDS: Mapping[str, str] = {
    "unproven": gettext("unproven"),
    "proven": gettext("seen here too"),
    "refuted": gettext("not so"),
}
