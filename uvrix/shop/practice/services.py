"""Beginning a job of Practice, asking its bench, ending it, throwing it away; cards as files."""

from __future__ import annotations

import zlib
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import date
from typing import Any
from uuid import UUID, uuid5

from django.db import connection, models, transaction
from django.shortcuts import get_object_or_404
from django.utils import timezone

from uvrix.core.arrive.symptoms import KINDS as SYMPTOMS
from uvrix.core.boards.model import Board
from uvrix.core.case.case_file import case_document, case_from
from uvrix.core.case.entries import DONE
from uvrix.core.case.words import entry_words
from uvrix.core.errors import Refusal, quoted
from uvrix.core.practice.bench import PracticeBench
from uvrix.core.practice.card_file import PracticeCard, card_from, see_that_it_fits
from uvrix.core.practice.debrief import Ended, debrief
from uvrix.core.practice.levels import LEVEL_WORDS, Level, fault_of_cause, fault_of_part, hide, level_of
from uvrix.language import gettext
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.arrive.models import Symptom
from uvrix.shop.case.threads import thread
from uvrix.shop.config.problems import Problem
from uvrix.shop.hypotheses.queries import watchlist_of
from uvrix.shop.jobs.models import FIRST_PRACTICE, Card, Customer, Job
from uvrix.shop.jobs.rows import delete_with_all
from uvrix.shop.library.models import BoardModel
from uvrix.shop.look.services import NewPhotograph, keep_photograph
from uvrix.shop.pictures.services import take_picture
from uvrix.shop.practice.models import Help, PracticeFile, PracticeJob
from uvrix.shop.practice.queries import at_the_bench, card_of_the_day, damage, drawn, good_of, quick_bench
from uvrix.shop.practice.writing import Written, write
from uvrix.shop.returning.ledger import cause_cured
from uvrix.standins.camera import Light, seen

# Steps that the bench answers; what is done to the card is entered on Rework as on any card.
ASKED = ("trial", "read", "tick", "inject", "glow", "power", "draw", "rung", "run", "proof")
PX_PER_MM, LONGEST_NAME = 8.0, 70
# A lock of our own, so that two people never begin under one number.
NUMBERS = zlib.crc32(b"uvrix practice numbers")


@dataclass(frozen=True, slots=True)
class AnsweredAnswer:
    """What the bench answered, in words, and the harm that was done."""

    words: Sequence[str]
    harm: Sequence[str]


@dataclass(frozen=True, slots=True)
class Begun:
    """A job of Practice to begin: its entry, card and help; `source` says where the card comes from."""

    id: UUID
    card: PracticeCard
    help: str = Help.ON_REQUEST
    source: str = "level"
    day: date | None = None


def card_of_level(model: BoardModel, level: Level, seed: int) -> PracticeCard:
    """A card of a level on a model. Raises Refusal where the model has no place for it."""
    board = drawn(model)
    return _handed_over(board, level, hide(board, level, seed), seed)


def card_of_watchlist(model: BoardModel, seed: int) -> PracticeCard:
    """A card with a fault of the model's watchlist. Raises Problem 422 `no-watchlist` where it names no part of it."""
    board = drawn(model)
    named = [watch.part for watch in watchlist_of(model).content if watch.part]
    faults = [fault for part in named if (fault := fault_of_part(board, part, seed))]
    if not faults:
        detail = gettext("found no part of {model} on its watchlist, expected at least one", model=str(model))
        raise Problem(422, "no-watchlist", detail)
    fault = faults[seed % len(faults)]
    return _handed_over(board, level_of([fault]), (fault,), seed)


def card_of_job(job: Job) -> PracticeCard:
    """A past job with the names taken out: the fault that its last act cured, and its symptom.

    Raises Problem 422 `no-cause` where no act says what was wrong, or a virtual card cannot have it.
    """
    board = drawn(job.card.model) if job.card.model.newest else None
    acts = Act.objects.filter(job=job, withdrawal=None).select_related("card").order_by("at", "pk")
    cured = [(cause, act.site) for act in acts if (cause := cause_cured(act, board))]
    seed = zlib.crc32(str(job.entry).encode()) % 2**31
    found = board and cured and fault_of_cause(board, cured[-1][0], [cured[-1][1]], seed)
    if not board or not found:
        detail = gettext("found no cause that was proven on {label}, expected one that a virtual card can have: "
                         "a short, a fuse, a chip, a joint, a missing or dead part", label=job.label)  # fmt: skip
        raise Problem(422, "no-cause", detail)
    kinds = [kind for row in Symptom.objects.filter(job=job).order_by("at") for kind in row.kinds]
    card = _handed_over(board, level_of([found]), (found,), seed)
    name = gettext("From a job on {board}: {level}", board=board.name, level=LEVEL_WORDS[card.level].lower())
    if not kinds:
        return replace(card, name=name)
    return replace(card, name=name, complaint=_words(kinds), entries=({"symptom": list(dict.fromkeys(kinds))},))


def _handed_over(board: Board, level: Level, faults: tuple[str, ...], seed: int) -> PracticeCard:
    """A card as its owner hands it over: with the symptom that its faults show."""
    name = gettext("{level} on {board}", level=LEVEL_WORDS[level], board=board.name)
    card = PracticeCard(name, level, board.id, faults, seed, good=good_of(board))
    try:
        see_that_it_fits(card, board)
    except Refusal as refusal:
        detail = gettext("found {found}, expected {expected}", found=refusal.found, expected=refusal.expected)
        raise Problem(422, "does-not-fit", detail) from None
    kinds = PracticeBench(card, board).symptoms
    return replace(card, complaint=_words(kinds), entries=({"symptom": list(kinds)},))


def _words(kinds: list[str]) -> str:
    words = "; ".join(SYMPTOMS[kind] for kind in dict.fromkeys(kinds) if kind in SYMPTOMS)
    return f"{words[:1].upper()}{words[1:]}."


@transaction.atomic
def begin(new: Begun, by: User) -> tuple[Job, bool]:
    """The job that an entry begins, and whether it is new: a virtual card on the bench, with its photographs.

    Raises Problem 422 where the card does not fit the library's board.
    """
    if known := Job.objects.filter(entry=new.id).first():
        return known, False
    model = BoardModel.objects.filter(slug=new.card.board).exclude(newest=None).first()
    if model is None:
        detail = gettext("found a card of {board}, expected one of a board that is drawn in this library",
                         board=quoted(new.card.board))  # fmt: skip
        raise Problem(422, "unknown-model", detail)
    board = drawn(model)
    try:
        see_that_it_fits(new.card, board)
    except Refusal as refusal:
        raise Problem(422, "does-not-fit", str(refusal)) from None
    number = _number()
    owner, _ = Customer.objects.get_or_create(pk=FIRST_PRACTICE, defaults={"name": "Practice", "contact": "virtual"})
    card = Card.objects.create(pk=number, serial=f"PR-{number - FIRST_PRACTICE:04d}", model=model)
    job = Job.objects.create(
        pk=number,
        entry=new.id,
        card=card,
        customer=owner,
        complaint=new.card.complaint or new.card.name,
        opened_by=by,
        opened_at=timezone.now(),
    )
    row = PracticeJob.objects.create(job=job, card=new.card.document(), source=new.source, help=new.help, day=new.day)
    _hand_over(row, new, board, by)
    _photograph(job, new, board, by)
    return job, True


def _hand_over(row: PracticeJob, new: Begun, board: Board, by: User) -> None:
    """Write down what was known before it begins, as rows of their steps."""
    for place, entry in enumerate(new.card.entries):
        try:
            write(entry, Written(row.job, uuid5(new.id, f"handed {place}"), board, by))
        except Problem as problem:
            where = f"$.case.entries[{place}]"
            raise Problem(422, "does-not-fit", gettext("{where}: {why}", where=where, why=problem.detail)) from None
    row.handed = len(thread(row.job).rows)
    row.save(update_fields=["handed"])


def _number() -> int:
    """The next number of Practice, for job and card alike: one above the newest that is still there."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_advisory_xact_lock(%s)", [NUMBERS])
    newest = Job.objects.filter(pk__gte=FIRST_PRACTICE).aggregate(most=models.Max("pk"))["most"]
    return int(newest or FIRST_PRACTICE) + 1


def _photograph(job: Job, new: Begun, board: Board, by: User) -> None:
    """Photographs of both sides as the card came, with the damage that can be seen on them."""
    bench = PracticeBench(replace(new.card, entries=()), board)
    shown = damage(bench.sights())
    for side in ("front", "back"):
        shot = seen(board, side, shown, Light(0.85, 0.1, new.card.seed), PX_PER_MM)
        picture = take_picture(shot.jpeg, f"{side}.jpg", by)
        note = gettext("As it came")
        keep_photograph(job, NewPhotograph(uuid5(new.id, side), picture, side, note), by)


def begin_day(entry: UUID, day: date, help_: str, by: User) -> tuple[Job, bool]:
    """The card of a day; whoever began it goes on with it.

    Raises Problem 422 `no-board` where the library has no drawn board.
    """
    found = card_of_the_day(day)
    if found is None:
        raise Problem(422, "no-board", gettext("found no board that is drawn, expected at least one in the library"))
    if known := PracticeJob.objects.filter(day=day, job__opened_by=by).select_related("job").first():
        return known.job, False
    # the very card that another began: what good cards read may have grown since
    first = PracticeJob.objects.filter(day=day).first()
    card = card_from(first.card) if first else card_of_level(found.model, found.level, found.seed)
    return begin(Begun(entry, card, help_, "day", day), by)


def answer(job: Job, entry: UUID, step: Mapping[str, Any], by: User, *, despite: bool = False) -> AnsweredAnswer:
    """What the card answers to a step, written down as the rows of its screen: in words, and the harm that was done.

    Raises Problem 409 `ended` where the job has ended, 422 `no-step` for what is no step of the bench, and what the
    services of the rows raise.
    """
    row = going_on(job)
    bench = quick_bench(job, row, before=entry)
    do = str(step["do"])
    if do not in ASKED or do in DONE:
        detail = gettext("found {do}, expected one of {asked}", do=quoted(do), asked=", ".join(ASKED))
        raise Problem(422, "no-step", detail)
    try:
        found = bench.ask(step)
    except Refusal as refusal:
        detail = gettext("found {found}, expected {expected}", found=refusal.found, expected=refusal.expected)
        raise Problem(422, "no-step", detail) from None
    with transaction.atomic():
        for place, answered in enumerate(found):
            write(answered, Written(job, uuid5(entry, str(place)) if place else entry, bench.board, by, despite))
    _hide_again(row)
    harms = [harm for place, answered in enumerate(found) if (harm := bench.take(place, answered))]
    said = case_from(case_document(bench.board.id, found), bench.board).entries
    return AnsweredAnswer(words=[entry_words(told) for told in said], harm=[harm.words for harm in harms])


def going_on(job: Job) -> PracticeJob:
    """The row of a job of Practice that has not ended: 404 where it is none, Problem 409 `ended` where it has."""
    row = get_object_or_404(PracticeJob, pk=job.pk)
    if row.ended:
        raise Problem(409, "ended", gettext("{label} has ended: its debrief says how.", label=job.label))
    return row


def _hide_again(row: PracticeJob) -> None:
    """Hide the advice again: it was given for the point at which it was asked for."""
    if row.shown:
        row.shown = False
        row.save(update_fields=["shown"])


def ask_advice(job: Job) -> PracticeJob:
    """Show the advice for this point, and count it. Raises Problem 409 `no-help` where there is none before the end."""
    row = going_on(job)
    if row.help == Help.OFF:
        raise Problem(409, "no-help", gettext("This card is worked on without help: the debrief tells it all."))
    if row.help == Help.ON_REQUEST and not row.shown:
        row.shown, row.asked = True, row.asked + 1
        row.save(update_fields=["shown", "asked"])
    return row


@transaction.atomic
def end(job: Job, way: Ended) -> PracticeJob:
    """The card is given back, or kept as a donor, whatever is not settled: the debrief says whether that was right."""
    Job.objects.select_for_update().get(pk=job.pk)
    at = at_the_bench(job)
    row: PracticeJob = at.row
    if row.ended:
        return row
    found = debrief(at.handed, at.board, at.entries[row.handed :], way, at.thread.facts)
    row.debrief = asdict(found)
    row.ended, row.ended_at = way, timezone.now()
    row.save(update_fields=["debrief", "ended", "ended_at"])
    job.closed_at = row.ended_at
    job.save(update_fields=["closed_at"])
    return row


@transaction.atomic
def throw_away(job: Job) -> None:
    """The job with every row of it, and its card: as if it had never been."""
    if not job.practice:
        raise Problem(409, "no-practice", gettext("{label} is a job of the shop: it is kept.", label=job.label))
    card = job.card
    delete_with_all(job)
    card.delete()


@transaction.atomic
def save_file(card: PracticeCard, by: User) -> PracticeFile:
    """A card that the shop keeps to practise on; another one of its name stays, and this one is numbered."""
    name, number = card.name[:LONGEST_NAME], 1
    while known := PracticeFile.objects.filter(name=name).first():
        if known.content == replace(card, name=name).document():
            return known
        number += 1
        name = f"{card.name[:LONGEST_NAME]} {number}"
    return PracticeFile.objects.create(name=name, content=replace(card, name=name).document(), by=by)


def file_card(content: Any) -> PracticeCard:
    """The card of a file. Raises Refusal naming the path, where it does not fit the library's board too."""
    card = card_from(content)
    model = BoardModel.objects.filter(slug=card.board).exclude(newest=None).first()
    if model is not None:
        see_that_it_fits(card, drawn(model))
    return card
