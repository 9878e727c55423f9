"""First hypotheses for a job, with counts (docs/trade §1.6): of how many cards with this symptom, how often this cause.

The share of a cause among cards of the same model is drawn towards its share in the core family, and that towards its
share among all cards, each by a Beta prior worth STRENGTH cards: three cards prove little, thirty speak for themselves.
The interval is the central 90 % of the resulting Beta distribution.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

STRENGTH = 2.0
# Before any card was seen: a cause among some ten others.
BLANK_SHARE = 0.1
INTERVAL = 0.9


@dataclass(frozen=True, slots=True)
class PastCard:
    """An earlier job with a cause that was confirmed: its symptoms as kinds, its board model and core family."""

    job: int
    symptoms: frozenset[str]
    model: str
    family: str
    causes: frozenset[str]


@dataclass(frozen=True, slots=True)
class Watch:
    """An entry of a model's watchlist: what the model is known to suffer, where to look; `always`: also when cured."""

    cause: str
    look: str = ""
    part: str = ""
    always: bool = False


@dataclass(frozen=True, slots=True)
class Counted:
    """How many of how many cards, and which jobs those were."""

    had: tuple[int, ...]
    seen: int


@dataclass(frozen=True, slots=True)
class Suggestion:
    """A hypothesis to begin with: its cause, counts by model, family and all, the share and how unsure it is."""

    cause: str
    watch: Watch | None
    model: Counted
    family: Counted
    everywhere: Counted
    share: float
    low: float
    high: float


def key_of(cause: str) -> str:
    """What makes two wordings one cause: letters and digits alone, lower case, single spaces."""
    return " ".join("".join(sign if sign.isalnum() else " " for sign in cause.casefold()).split())


def suggest(
    symptoms: Iterable[str], model: str, family: str, past: Sequence[PastCard], watch: Sequence[Watch]
) -> tuple[Suggestion, ...]:
    """Hypotheses, likeliest first; those of the watchlist that no card showed yet follow in the watchlist's order.

    Cards count whose symptoms share a kind with `symptoms`; without any symptom said, none do. Causes are joined by
    `key_of`; the watchlist's wording stands, else that of the newest card.
    """
    kinds = frozenset(symptoms)
    alike = [card for card in past if card.symptoms & kinds]
    words = {key_of(cause): cause for card in alike for cause in card.causes}
    watched = {key_of(candidate.cause): candidate for candidate in watch}
    found = []
    for key in [*watched, *(key for key in words if key not in watched)]:
        everywhere = _count(alike, key)
        in_family = _count([card for card in alike if family and card.family == family], key)
        of_model = _count([card for card in alike if card.model == model], key)
        share, low, high = _share(everywhere, in_family, of_model)
        cause = watched[key].cause if key in watched else words[key]
        found.append(Suggestion(cause, watched.get(key), of_model, in_family, everywhere, share, low, high))
    seen = [suggestion for suggestion in found if suggestion.everywhere.had]
    unseen = [suggestion for suggestion in found if not suggestion.everywhere.had]
    return (*sorted(seen, key=lambda suggestion: -suggestion.share), *unseen)


def _count(cards: Sequence[PastCard], key: str) -> Counted:
    had = tuple(card.job for card in cards if key in {key_of(cause) for cause in card.causes})
    return Counted(had, len(cards))


def _share(everywhere: Counted, family: Counted, model: Counted) -> tuple[float, float, float]:
    from scipy.special import betaincinv

    mean = BLANK_SHARE
    for counted in (_less(everywhere, family), _less(family, model)):
        mean = (STRENGTH * mean + len(counted.had)) / (STRENGTH + counted.seen)
    yes = STRENGTH * mean + len(model.had)
    no = STRENGTH * (1 - mean) + model.seen - len(model.had)
    tail = (1 - INTERVAL) / 2
    return yes / (yes + no), float(betaincinv(yes, no, tail)), float(betaincinv(yes, no, 1 - tail))


def _less(wide: Counted, narrow: Counted) -> Counted:
    """The cards of the wider group that are not in the narrower one, so that none counts twice.

    A model need not belong to its own family's count (a model without a family); then nothing is taken away.
    """
    inner = set(narrow.had)
    if not inner <= set(wide.had) or narrow.seen > wide.seen:
        return wide
    return Counted(tuple(job for job in wide.had if job not in inner), wide.seen - narrow.seen)
