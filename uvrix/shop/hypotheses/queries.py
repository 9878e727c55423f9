"""The hypotheses of a job, and what past jobs say of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from uvrix.core.hypotheses.suggest import PastCard, Suggestion, Watch, key_of, suggest
from uvrix.shop.arrive.models import Symptom
from uvrix.shop.hypotheses.models import HypothesisWord
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.jobs.rows import has_rows, rows_of
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.sheets import Sheet, sheet_of

EMPTY: dict[str, Any] = {"watch": []}


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """A hypothesis as it stands: what was said last (None where nothing yet: open), and the counts behind it."""

    key: str
    cause: str
    said: HypothesisWord | None
    suggestion: Suggestion | None

    @property
    def state(self) -> str:
        """open, ruled-out or confirmed."""
        return self.said.state if self.said else "open"


def watchlist_of(model: BoardModel) -> Sheet:
    """The watchlist of a model, or a relative's."""
    return sheet_of(model, "watchlist", EMPTY)


def hypotheses(job: Job) -> list[Hypothesis]:
    """Open ones first, likeliest first; then confirmed, then ruled out."""
    model = job.card.model
    symptom = job.symptoms.last() if has_rows(job, Symptom) else None
    watch: tuple[Watch, ...] = watchlist_of(model).content
    kinds = symptom.kinds if symptom else []
    suggested = suggest(kinds, model.slug, model.family, past_cards(kinds, job), watch)
    said = {word.key: word for word in rows_of(job, "hypothesisword_rows", "by")}
    found = {
        key_of(suggestion.cause): Hypothesis(
            key_of(suggestion.cause), suggestion.cause, said.get(key_of(suggestion.cause)), suggestion
        )
        for suggestion in suggested
    }
    found |= {key: Hypothesis(key, word.cause, word, None) for key, word in said.items() if key not in found}
    rank = {"confirmed": 0, "open": 1, "ruled-out": 2}
    return sorted(found.values(), key=lambda hypothesis: rank[hypothesis.state])


def past_cards(kinds: list[str], but: Job) -> list[PastCard]:
    """Other jobs whose newest symptom shares a kind and of which a cause stands confirmed, oldest first."""
    if not kinds:
        return []
    words = (
        of_the_shop(HypothesisWord.objects.exclude(job=but))
        .order_by("job", "key", "-at")
        .distinct("job", "key")
        .select_related("job__card__model")
        .defer("job__located")
    )
    causes: dict[int, set[str]] = {}
    jobs: dict[int, Job] = {}
    for word in words:
        if word.state == "confirmed":
            causes.setdefault(word.job_id, set()).add(word.cause)
            jobs[word.job_id] = word.job
    newest = Symptom.objects.filter(job__in=causes).order_by("job", "-at").distinct("job")
    return [
        PastCard(
            symptom.job_id,
            frozenset(symptom.kinds),
            jobs[symptom.job_id].card.model.slug,
            jobs[symptom.job_id].card.model.family,
            frozenset(causes[symptom.job_id]),
        )
        for symptom in newest
        if set(symptom.kinds) & set(kinds)
    ]
