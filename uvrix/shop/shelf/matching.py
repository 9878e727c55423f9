"""Which jobs a typed text may mean: what holds it as it stands, else what holds words spelled nearly so."""

from __future__ import annotations

import re
from collections.abc import Iterable
from difflib import get_close_matches
from functools import reduce
from operator import and_, or_
from typing import Any

from django.contrib.postgres.search import TrigramDistance, TrigramWordDistance, TrigramWordSimilarity
from django.db.models import Exists, OuterRef, Q, QuerySet
from django.db.models.functions import Greatest

from uvrix.shop.bench.models import ChipMark
from uvrix.shop.jobs.models import FIRST_PRACTICE, Card, Customer, Job, SpelledWord
from uvrix.shop.library.models import BoardModel
from uvrix.shop.look.models import LookFinding
from uvrix.shop.record.models import Note

MOST_FOUND, MOST_CANDIDATES, MOST_DIGITS = 20, 60, 10
# Words of a text that are looked up, known words that are tried for each, and how many of those are taken as meant.
MOST_WORDS, MOST_NEAR, MOST_MEANT = 6, 40, 6
# This many of the letters of a typed word and the meant one are alike and in the same order.
CLOSE = 0.75
# How unlike a serial, or a job of which some words fit, may be and still be meant: two letters of five changed places.
FARTHEST = 0.7
DESIGNATOR = re.compile(r"[A-Za-z]{1,4}\d{1,5}")
# A word of three letters or more, as the database's function spelled_words takes them apart.
WORD = re.compile(r"[^\W\d_]{3,}")


PRACTICE_LABEL = re.compile(r"PR-([0-9]{1,6})")


def number_of(text: str) -> int | None:
    """The number of a job that a text is, with or without its J-."""
    digits = text.upper().removeprefix("J-")
    return int(digits) if digits.isascii() and digits.isdigit() and len(digits) < MOST_DIGITS else None


def likeness(text: str) -> Greatest:
    """How like a job's words are to a text, 0 to 1."""
    return Greatest(*(TrigramWordSimilarity(text, field) for field in ("card__serial", "customer__name", "complaint")))


def holds(text: str) -> Q:
    """Open jobs that hold a text: they are few, so every one is wanted, however many closed jobs hold it too."""
    match = Q(card__serial__icontains=text) | Q(customer__name__icontains=text) | Q(complaint__icontains=text)
    match |= Q(card__model__name__icontains=text) | Q(place__iexact=text)
    for rows in (
        Note.objects.filter(text__icontains=text),
        ChipMark.objects.filter(designator__iexact=text, withdrawal=None),
        LookFinding.objects.filter(part__iexact=text, withdrawal=None),
    ):
        match |= Q(Exists(rows.filter(job=OuterRef("pk"))))
    number = number_of(text)
    return match if number is None else match | Q(pk=number)


def meant_by(text: str) -> set[int]:
    """Numbers of the jobs that a text may mean; a number of a job means that job alone, of Practice too.

    Each kind of text gives a limited number of candidates, the newest, so that a word which thousands of jobs hold
    costs no more than a rare one.
    """
    if practised := PRACTICE_LABEL.fullmatch(text.upper()):
        return {FIRST_PRACTICE + int(practised.group(1))}
    number = number_of(text)
    by_number = set(Job.objects.filter(pk=number).values_list("pk", flat=True)) if number is not None else set()
    if number is not None and text.upper().startswith("J-"):
        return by_number
    return {pk for pk in by_number | _holding(text) or _spelled_nearly(text) if pk < FIRST_PRACTICE}


def _holding(text: str) -> set[int]:
    """Jobs of which something holds the text as it is typed."""
    some = Job.objects.all()
    sources = [
        *_of(cards=Card.objects.filter(serial__icontains=text)),
        *_of(customers=Customer.objects.filter(name__icontains=text)),
        some.filter(complaint__icontains=text),
        *_of(notes=Note.objects.filter(text__icontains=text)),
    ]
    # asked for first: joined in one query, a name that no model has would walk through every job
    if models := list(_keys(BoardModel.objects.filter(name__icontains=text))):
        sources.append(some.filter(card__model__in=models))
    if DESIGNATOR.fullmatch(text):
        marks = ChipMark.objects.filter(designator__iexact=text, withdrawal=None)
        parts = LookFinding.objects.filter(part__iexact=text, withdrawal=None)
        sources += [some.filter(pk__in=list(_keys(rows, "job"))) for rows in (marks, parts)]
    return _newest(sources)


def _spelled_nearly(text: str) -> set[int]:
    """Jobs that hold all the words of a text in one place, each as it may have been meant.

    Else those that hold any of the words, or all that are known here, and whose own words are like enough to the text.
    """
    typed = WORD.findall(text.lower())[:MOST_WORDS]
    words = [meant for word in typed if (meant := _meant_words(word))]
    found = _newest(_with_words(words, and_)) if words and len(words) == len(typed) else set()
    if words and not found:
        some = Job.objects.filter(pk__in=_newest(_with_words(words, or_))).annotate(like=likeness(text))
        found = set(some.filter(like__gte=1 - FARTHEST).values_list("pk", flat=True))
    if any(character.isdigit() for character in text):
        found |= _newest(_of(cards=Card.objects.filter(pk__in=_nearest_serials(text))))
    return found


def _meant_words(word: str) -> list[str]:
    """The words in use here that somebody may have meant who typed this, the likest first."""
    near = SpelledWord.objects.annotate(far=TrigramDistance("word", word)).order_by("far")[:MOST_NEAR]
    return get_close_matches(word, {known.word: known for known in near}, MOST_MEANT, CLOSE)


def _with_words(words: list[list[str]], together: Any) -> list[QuerySet[Job]]:
    def holding(field: str) -> Q:
        each = [reduce(or_, [Q(**{f"{field}__icontains": word}) for word in meant]) for meant in words]
        return reduce(together, each)

    return [
        Job.objects.filter(holding("complaint")),
        *_of(customers=Customer.objects.filter(holding("name"))),
        *_of(notes=Note.objects.filter(holding("text"))),
    ]


def _nearest_serials(text: str) -> list[int]:
    """Keys of the cards whose serial is likest to the text, by an index that gives the nearest first."""
    near = Card.objects.annotate(far=TrigramWordDistance(text, "serial")).order_by("far")
    return [pk for pk, far in near.values_list("pk", "far")[:MOST_CANDIDATES] if far <= FARTHEST]


def _of(
    cards: QuerySet[Card] | None = None,
    customers: QuerySet[Customer] | None = None,
    notes: QuerySet[Note] | None = None,
) -> list[QuerySet[Job]]:
    """The jobs of some cards, customers or notes, whose keys are asked for first."""
    some = Job.objects.all()
    found = []
    if cards is not None and (keys := list(_keys(cards))):
        found.append(some.filter(card__in=keys))
    if customers is not None and (keys := list(_keys(customers))):
        found.append(some.filter(customer__in=keys))
    if notes is not None and (keys := list(_keys(notes.order_by(), "job"))):
        found.append(some.filter(pk__in=keys))
    return found


def _newest(sources: Iterable[QuerySet[Job]]) -> set[int]:
    """Numbers of the newest jobs of each source."""
    return {pk for source in sources for pk in source.order_by("-pk").values_list("pk", flat=True)[:MOST_FOUND]}


def _keys(rows: QuerySet[Any], name: str = "pk") -> QuerySet[Any]:
    return rows.values_list(name, flat=True)[:MOST_CANDIDATES]
