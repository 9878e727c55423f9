"""A job of Practice as it stands: its card, the bench after what was done, what it cost so far; who practised how."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import lru_cache
from typing import Any
from uuid import UUID

from django.db.models import Q, QuerySet
from django.shortcuts import get_object_or_404

from uvrix.core.boards.model import Board
from uvrix.core.practice.bench import PracticeBench, bench_after
from uvrix.core.practice.card_file import PracticeCard, card_from
from uvrix.core.practice.levels import Level, levels_of
from uvrix.core.practice.steps import Cost, cost_of, step_of
from uvrix.core.virtual.bench import Hidden
from uvrix.core.virtual.dice import dice
from uvrix.shop.accounts.models import User
from uvrix.shop.acts.models import Act
from uvrix.shop.case.ledger import acts
from uvrix.shop.case.rows import Row
from uvrix.shop.case.threads import Thread, case_board, thread
from uvrix.shop.config.roles import Role
from uvrix.shop.jobs.models import Job
from uvrix.shop.library.models import BoardModel
from uvrix.shop.ohms.ledger import power
from uvrix.shop.ohms.models import KnownReading
from uvrix.shop.practice.models import PracticeJob
from uvrix.shop.shorts.ledger import injections
from uvrix.standins.camera import Damage

MOST_SHOWN = 200
LEVELS_SEED = "card of the day"


@dataclass(frozen=True)
class AtTheBench:
    """A job of Practice: its row and card, the board, its thread, the entries as the bench takes them."""

    row: PracticeJob
    card: PracticeCard
    board: Board
    thread: Thread
    entries: Sequence[Mapping[str, Any]]

    @property
    def bench(self) -> PracticeBench:
        """The bench after everything that was entered."""
        return bench_after(self.handed, self.board, self.entries[self.row.handed :])

    @property
    def handed(self) -> PracticeCard:
        """The card with its entries as the shop has written them down."""
        return replace(self.card, entries=tuple(self.entries[: self.row.handed]))

    @property
    def cost(self) -> Cost:
        """What was done since it was handed over came to."""
        return cost_of([step_of(entry) for entry in self.entries[self.row.handed :]], self.board)


def at_the_bench(job: Job) -> AtTheBench:
    """A job of Practice as it stands; 404 where it is none, or was thrown away."""
    row = get_object_or_404(PracticeJob, pk=job.pk)
    board = drawn(job.card.model)
    known = thread(job)
    return AtTheBench(row, card_from(row.card), board, known, _entries(known))


def drawn(model: BoardModel) -> Board:
    """The board of a model that is practised on, with its family's rails and start-up."""
    board = case_board(model)
    assert board is not None
    return board


def _entries(known: Thread) -> list[dict[str, Any]]:
    """The entries of a thread, memory runs in them, acts with what was shielded for them."""
    numbers = [row.key.partition(":")[2] for row in known.rows if row.key.startswith("act:")]
    shields = {str(pk): names for pk, names in Act.objects.filter(pk__in=numbers).values_list("pk", "shields")}
    found = []
    for row, entry in zip(known.rows, known.document()["entries"], strict=True):
        shielded = shields.get(row.key.partition(":")[2]) if "did" in entry else None
        found.append({**entry, **({"shields": shielded} if shielded else {})})
    return found


def quick_bench(job: Job, row: PracticeJob, before: UUID | None = None) -> PracticeBench:
    """The bench of a job as it stands, from the few rows that its answers depend on: what an instrument is asked of.

    The same as `AtTheBench.bench`. `before` an entry that was sent already: as it stood then.
    """
    numbers = [job.pk]
    told = [(found.at, UUID(found.key.partition(":")[2]), found)
            for found in (*acts(numbers), *power(numbers), *injections(numbers))]  # fmt: skip
    read = job.reading_rows.values_list("at", "pk")
    ran = job.runs.filter(withdrawal=None).values_list("added_at", "pk")
    shields = dict(Act.objects.filter(job=job).values_list("pk", "shields"))
    bench = PracticeBench(replace(card_from(row.card), entries=()), drawn(job.card.model))
    happened: list[tuple[Any, UUID, Row | None]] = [*told, *((at, key, None) for at, key in (*read, *ran))]
    for number, (_, key, found) in enumerate(sorted(happened, key=lambda event: event[0])):
        if key == before:
            break
        if found is None:
            bench.measured()
        else:
            shielded = {"shields": shields.get(key, [])} if "did" in found.entry else {}
            bench.take(number, {**found.entry, **shielded})
    return bench


def damage(seen: Sequence[Hidden]) -> Damage:
    """What of some faults is to be seen on a photograph."""

    def of(*kinds: str) -> frozenset[str]:
        return frozenset(fault.of for fault in seen if fault.kind in kinds)

    return Damage(of("missing"), of("short", "joined", "layers", "blown"), of("torn"))


def good_of(board: Board) -> dict[str, tuple[float, ...]]:
    """What good cards of a model read to ground here, ohms by point, to be kept with a card that is made of it."""
    rows = KnownReading.objects.filter(board=board.id, out_at=None, quantity="resistance", to="ground")
    found: dict[str, list[float]] = {}
    for point, low, high in rows.order_by("pk").values_list("point", "low", "high"):
        if low is not None and high is not None:
            found.setdefault(point, []).append((low + high) / 2)
    return {point: tuple(values) for point, values in found.items() if point in board.rails or _is_point(board, point)}


def _is_point(board: Board, name: str) -> bool:
    return any(point.id == name for point in board.points)


def practised_models() -> list[tuple[BoardModel, tuple[Level, ...]]]:
    """The models of the library that can be practised on, each with its levels."""
    found = []
    for model in BoardModel.objects.exclude(newest=None).select_related("newest").order_by("name", "revision"):
        levels = _levels(model.newest.sha256, model.pk) if model.newest else ()
        if levels:
            found.append((model, levels))
    return found


@lru_cache(256)
def _levels(sha256: str, model: int) -> tuple[Level, ...]:
    del sha256  # another edition of the board is another key
    return levels_of(drawn(BoardModel.objects.select_related("newest").get(pk=model)))


@dataclass(frozen=True, slots=True)
class OfTheDay:
    """The card of a day: the same for the whole shop."""

    day: date
    model: BoardModel
    level: Level
    seed: int


def card_of_the_day(day: date) -> OfTheDay | None:
    """Which model, level and seed a day has; None where the library has no drawn board."""
    models = practised_models()
    if not models:
        return None
    thrown = dice(LEVELS_SEED, day.isoformat())
    most = max(len(levels) for _, levels in models)
    # boards with the most to find: one without rails is found soon
    rich = [(model, levels) for model, levels in models if len(levels) == most]
    model, levels = rich[int(thrown.integers(len(rich)))]
    level = levels[int(thrown.integers(len(levels)))]
    return OfTheDay(day, model, level, int(thrown.integers(2**31 - 1)))


def jobs_of(user: User) -> QuerySet[PracticeJob]:
    """The practice that a person sees: one's own, the newest first; the lead sees everybody's."""
    everybody = PracticeJob.objects.select_related("job__opened_by", "job__card__model").order_by("-job__opened_at")
    return everybody if user.role == Role.LEAD else everybody.filter(job__opened_by=user)


def of_day(day: date, user: User) -> QuerySet[PracticeJob]:
    """Everybody's rounds of the card of a day that have ended, and one's own."""
    return (
        PracticeJob.objects.filter(day=day)
        .filter(Q(job__opened_by=user) | ~Q(ended=""))
        .select_related("job__opened_by")
        .order_by("ended_at")
    )
