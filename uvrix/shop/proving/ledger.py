"""Prove's part of a card's thread: checks said by hand, what was logged and identified, faults that came late."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import cache
from typing import Any

from uvrix.core.boards.contacts import lanes_of
from uvrix.core.case.case_file import CHECKS
from uvrix.core.proving.identity import identity_of
from uvrix.core.proving.judge import Evidence, judge
from uvrix.core.proving.protocol import Check
from uvrix.shop.case.rows import Row, rows_of, source
from uvrix.shop.jobs.models import of_the_shop
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import model_board
from uvrix.shop.proving.models import CardIdentity, CheckSaid, LateFault, ProofFigure, ProofLog
from uvrix.shop.proving.queries import log_of, protocol_of


@source(CheckSaid)
def said(jobs: Sequence[int]) -> Iterable[Row]:
    """Checks of the usual protocol that a person said."""

    def entries(check_said: CheckSaid) -> Iterable[Mapping[str, Any]]:
        told = check_said.check_id in CHECKS and (check_said.completes or not check_said.passed)
        return [{"checked": {"check": check_said.check_id, "passed": check_said.passed}}] if told else []

    return rows_of(CheckSaid.objects.all(), jobs, "prove", entries)


@source(LateFault)
def late_faults(jobs: Sequence[int]) -> Iterable[Row]:
    """A fault that came while the card was proven: its check failed."""

    def entries(late_fault: LateFault) -> Iterable[Mapping[str, Any]]:
        return [{"checked": {"check": late_fault.check_id, "passed": False}}] if late_fault.check_id in CHECKS else []

    return rows_of(LateFault.objects.all(), jobs, "prove", entries)


@source(CardIdentity)
def identities(jobs: Sequence[int]) -> Iterable[Row]:
    """What the test computer said of the repaired card."""
    protocol = _read_once()

    def entries(card_identity: CardIdentity) -> Iterable[Mapping[str, Any]]:
        board = model_board(card_identity.job.card.model)
        lanes = lanes_of(board) if board else None
        seen = Evidence(
            identity=identity_of(card_identity.document), expected_mib=board.memory_mib if board else None, lanes=lanes
        )
        return _judged(protocol(card_identity.job.card.model), seen, "identity", "link")

    found = CardIdentity.objects.filter(phase="after").select_related("job__card__model__newest")
    return rows_of(found, jobs, "prove", entries)


@source(ProofLog)
def logs(jobs: Sequence[int]) -> Iterable[Row]:
    """What the runs of the repaired card show."""
    protocol = _read_once()

    def entries(proof_log: ProofLog) -> Iterable[Mapping[str, Any]]:
        seen = Evidence(logs=[(proof_log.name, log_of(proof_log))])
        return _judged(protocol(proof_log.job.card.model), seen, "sensors", "clocks", "stress")

    found = ProofLog.objects.filter(phase="after").select_related("job__card__model")
    return rows_of(found, jobs, "prove", entries)


@source(ProofFigure)
def scores(jobs: Sequence[int]) -> Iterable[Row]:
    """Scores against those of the model's other cards."""
    protocol = _read_once()

    def entries(proof_figure: ProofFigure) -> Iterable[Mapping[str, Any]]:
        of_model = ProofFigure.objects.filter(
            what="score", phase="after", job__card__model=proof_figure.job.card.model_id
        )
        others = dict(
            of_the_shop(of_model)
            .exclude(job__card=proof_figure.job.card_id)
            .order_by("at")
            .values_list("job__card", "value")
        )
        seen = Evidence(score=proof_figure.value, usual_scores=list(others.values()))
        return _judged(protocol(proof_figure.job.card.model), seen, "score")

    found = ProofFigure.objects.filter(what="score", phase="after").select_related("job__card__model")
    return rows_of(found, jobs, "prove", entries)


def _read_once() -> Callable[[BoardModel], Sequence[Check]]:
    """What gives a model's protocol, and asks for it once, however many rows are judged by it."""

    @cache
    def protocol(model: BoardModel) -> Sequence[Check]:
        content: Sequence[Check] = protocol_of(model).content
        return content

    return protocol


def _judged(protocol: Iterable[Check], seen: Evidence, *kinds: str) -> Iterable[Mapping[str, Any]]:
    """The checks of these kinds that what was seen proves or fails, by the model's own protocol."""
    for check in protocol:
        state = judge(check, seen).state if check.kind in kinds and check.id in CHECKS else "open"
        if state in {"passed", "failed"}:
            yield {"checked": {"check": check.id, "passed": state == "passed"}}
