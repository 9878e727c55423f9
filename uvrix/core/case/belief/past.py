"""What the shop knows of the model: how often a cause was proven with this symptom, and parts on its watchlist."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from uvrix.core.case.belief.weighing import Cause, Strand
from uvrix.core.case.facts import Facts
from uvrix.core.case.shop import PastCause, Watched
from uvrix.language import gettext

# A past card counts as one beside so many that nobody has seen, of which a quarter would have had the cause; and it
# moves a cause by no more than this, since what was measured of the card itself says more.
UNSEEN_CARDS, UNSEEN_SHARE, MOST_TIMES = 4.0, 0.25, 4.0
# A part that is watched was seen to fail, nobody counted how often: it weighs less than a cause that most cards had.
WATCHED_TIMES = 2.0


def weighed_by_past(facts: Facts, strand: Strand) -> Strand:
    """A strand with its causes weighed by what past cards had and the watchlist names; what is unexplained stays."""
    known = [cause for cause in facts.shop.past if cause.of and _alike(facts, cause)]
    if not known and not facts.shop.watched:
        return strand
    weighed = [
        _watched(_weighed(cause, [past_cause for past_cause in known if _same(past_cause, cause)]), facts.shop.watched)
        for cause in strand.causes
    ]
    whole = sum(cause.chance for cause in weighed)
    explained = sum(cause.chance for cause in strand.causes)
    if whole <= 0:
        return strand
    scaled = (replace(cause, chance=cause.chance * explained / whole) for cause in weighed)
    return Strand(strand.name, tuple(sorted(scaled, key=lambda cause: -cause.chance)), strand.unexplained)


def times(past: PastCause) -> float:
    """How many times likelier a cause is than nobody knowing of a card that had it."""
    share = (past.had + UNSEEN_CARDS * UNSEEN_SHARE) / (past.of + UNSEEN_CARDS)
    return min(MOST_TIMES, max(1 / MOST_TIMES, share / UNSEEN_SHARE))


def _alike(facts: Facts, past: PastCause) -> bool:
    model = facts.case.board or ""
    return past.model in {"", model} and (not past.symptoms or bool(past.symptoms & set(facts.symptoms)))


def _same(past: PastCause, cause: Cause) -> bool:
    return past.cause == cause.cause and (not past.designators or set(past.designators) == set(cause.designators))


def _weighed(cause: Cause, known: list[PastCause]) -> Cause:
    for past in known:
        where = gettext("of this model") if past.model else gettext("here")
        which = gettext(" with this symptom") if past.symptoms else ""
        why = gettext("{had} of {of} cards {where}{which} had it.", had=past.had, of=past.of, where=where, which=which)
        cause = replace(cause, chance=cause.chance * times(past), why=(*cause.why, why))
    return cause


def _watched(cause: Cause, watched: Sequence[Watched]) -> Cause:
    """A cause at a part that the watchlist names is likelier, once however many entries name it."""
    named = next((watched_cause for watched_cause in watched if watched_cause.part in cause.designators), None)
    if named is None:
        return cause
    why = gettext(
        "{part} is on the model's watchlist: {cause}.",
        part=named.part,
        cause=f"{named.cause[0].lower()}{named.cause[1:]}",
    )
    return replace(cause, chance=cause.chance * WATCHED_TIMES, why=(*cause.why, why))
