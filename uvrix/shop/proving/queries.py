"""How far a card is proven: everything since its last rework, judged by its protocol."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any, cast

from django.db.models import Max

from uvrix.core.boards.contacts import lanes_of
from uvrix.core.proving.identity import identity_of
from uvrix.core.proving.judge import (
    Evidence,
    Judged,
    Pair,
    Said,
    before_and_after,
    judge_protocol,
    log_figures,
)
from uvrix.core.proving.log import Log
from uvrix.core.proving.protocol import EMPTY, Check
from uvrix.core.proving.tailored import repaired, tailored
from uvrix.core.rework.acts import DOES, HEATS, Do
from uvrix.core.rework.near import neighbours
from uvrix.language import gettext
from uvrix.shop.acts.queries import of_job
from uvrix.shop.case.threads import last_act_at, thread
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.library.models import BoardModel
from uvrix.shop.library.queries import model_board
from uvrix.shop.library.sheets import Sheet, sheet_of
from uvrix.shop.promises.models import Waiver
from uvrix.shop.proving.models import CheckSaid, LateFault, LogColumns, ProofFigure, ProofLog, ShopProtocol
from uvrix.shop.rework.queries import settings_now

MEBI_PER_GBIT = 128
FIGURE_WORDS = {"noise": ("noise", "dB"), "score": ("score", "")}


def protocol_of(model: BoardModel) -> Sheet:
    """The model's protocol, else a relative's, else the shop's, else the usual one."""
    shop = ShopProtocol.objects.last()
    return sheet_of(model, "proof", shop.content if shop else EMPTY)


def checks_of(job: Job) -> tuple[Check, ...]:
    """The protocol of a job's model, with what was repaired on this card tried harder."""
    return _on_this_card(job, protocol_of(job.card.model))


def _on_this_card(job: Job, sheet: Sheet) -> tuple[Check, ...]:
    acts = [(cast("Do", row.do), row.site) for row in of_job(job)]
    return tailored(sheet.content, repaired(model_board(job.card.model), acts))


def columns_now() -> dict[str, str]:
    """Which column of a log is which, as the shop said last."""
    newest = LogColumns.objects.last()
    return dict(newest.columns) if newest else {}


@dataclass(frozen=True, slots=True)
class NearRework:
    """Something near the last rework: how far from which place, and what was done there."""

    designator: str
    why: str
    away_mm: float


@dataclass(frozen=True, slots=True)
class ProofContext:
    """A card's proof: since when evidence counts, each check, logs, what is compared, who is suspect if it fails."""

    since: datetime | None
    sheet: Sheet
    checks: tuple[Judged, ...]
    waived: Mapping[str, Waiver]
    logs: tuple[ProofLog, ...]
    said: tuple[CheckSaid, ...]
    pairs: tuple[Pair, ...]
    near: tuple[NearRework, ...]
    faults: tuple[LateFault, ...]

    @property
    def proven(self) -> bool:
        """Whether every check passed or was let go."""
        return all(check.state == "passed" or check.check.id in self.waived for check in self.checks)


def last_rework(job: Job) -> datetime | None:
    """When something was last done to the card, on whichever screen, or a fault came late: before, nothing counts."""
    rework = last_act_at(thread(job).rows)
    fault = job.latefault_rows.aggregate(at=Max("at"))["at"]
    return max((entry for entry in (rework, fault) if entry), default=None)


def log_of(row: ProofLog) -> Log:
    """A kept log as the core has it; null samples are NaN."""
    nan = float("nan")
    figures = {
        name: tuple(nan if entry is None else float(entry) for entry in them) for name, them in row.figures.items()
    }
    return Log(tuple(row.seconds), figures)


def proof_context(job: Job) -> ProofContext:
    """The card's proof as it stands."""
    since, sheet = last_rework(job), protocol_of(job.card.model)
    logs = tuple(job.prooflog_rows.select_related("by"))
    said = tuple(job.checksaid_rows.select_related("by"))
    waived = {
        waiver.key.removeprefix("proof:"): waiver
        for waiver in job.waivers.filter(key__startswith="proof:").select_related("by")
        if since is None or waiver.at > since
    }
    judged = judge_protocol(_on_this_card(job, sheet), _evidence(job, since, logs, said))
    return ProofContext(
        since,
        sheet,
        judged,
        waived,
        logs,
        said,
        _compared(job, logs),
        near_last_rework(job),
        tuple(job.latefault_rows.select_related("by")),
    )


def _counts(row: Any, since: datetime | None) -> bool:
    return since is None or row.at > since


def _evidence(job: Job, since: datetime | None, logs: tuple[ProofLog, ...], said: tuple[CheckSaid, ...]) -> Evidence:
    board = model_board(job.card.model)
    identity = next(
        (row for row in job.cardidentity_rows.filter(phase="after").order_by("-at") if _counts(row, since)), None
    )
    scores = ProofFigure.objects.filter(what="score", phase="after", job__card__model=job.card.model_id)
    own = [row.value for row in scores.filter(job=job) if _counts(row, since)]
    others = dict(of_the_shop(scores).exclude(job__card=job.card_id).order_by("at").values_list("job__card", "value"))
    counting = [row for row in said if _counts(row, since)]
    words = {row.check_id: row for row in counting if not row.part}
    of_model = of_the_shop(ProofLog.objects.filter(phase="after", job__card__model=job.card.model_id))
    of_model = of_model.exclude(job__card=job.card_id)
    like = {row.job.card_id: row for row in of_model.select_related("job").defer("seconds", "figures").order_by("at")}
    before = next((row.celsius_loaded for row in reversed(logs) if row.phase == "before" and row.celsius_loaded), None)
    cold = next((row for row in words.values() if row.off_since), None)
    known = thread(job)
    last = max((place for place, row in enumerate(known.rows) if since and row.at <= since), default=None)
    return Evidence(
        known.facts.measured(last),
        identity_of(identity.document) if identity else None,
        board.memory_mib if board else None,
        lanes_of(board) if board else None,
        [(row.name, log_of(row)) for row in logs if row.phase == "after" and _counts(row, since)],
        own[-1] if own else None,
        list(others.values()),
        [row.celsius_loaded for row in like.values() if row.celsius_loaded is not None],
        [row.mhz_loaded for row in like.values() if row.mhz_loaded is not None],
        before,
        {key: _as_said(row) for key, row in words.items()},
        {(row.check_id, row.part): _as_said(row) for row in counting if row.part},
        cold.off_since if cold else None,
    )


def _as_said(row: CheckSaid) -> Said:
    return Said(row.passed, row.at, row.minutes, row.note)


def _compared(job: Job, logs: tuple[ProofLog, ...]) -> tuple[Pair, ...]:
    sides: dict[str, dict[str, tuple[str, float]]] = {"before": {}, "after": {}}
    for row in logs:
        sides[row.phase] |= log_figures(log_of(row))
    for figure in job.prooffigure_rows.all():
        words, unit = FIGURE_WORDS[figure.what]
        sides[figure.phase][words] = (unit, figure.value)
    if not any(sides.values()):
        return ()
    return before_and_after(sides["before"], sides["after"])


def near_last_rework(job: Job) -> tuple[NearRework, ...]:
    """What stands nearest to the places that were heated in this visit: suspect where a fault comes late."""
    board = model_board(job.card.model)
    if board is None:
        return ()
    limits = settings_now().limits
    best: dict[str, NearRework] = {}
    rows = [row for row in of_job(job).order_by("-at") if row.site]
    for row in rows:
        do = cast("Do", row.do)
        if not HEATS[do].site:
            continue
        for neighbour in neighbours(board, row.site, limits, {}, {}):
            if neighbour.kind == "memory" and not neighbour.behind:
                known = best.get(neighbour.designator)
                if known is None or neighbour.away_mm < known.away_mm:
                    why = gettext(
                        "{away_mm} mm from {site}, which was {do}",
                        away_mm=f"{neighbour.away_mm:.1f}",
                        site=row.site,
                        do=DOES[do],
                    )
                    best[neighbour.designator] = NearRework(neighbour.designator, why, neighbour.away_mm)
    return tuple(sorted(best.values(), key=lambda rework: (rework.away_mm, rework.designator)))


def next_check(found: ProofContext) -> Judged | None:
    """The first check that is not passed or let go."""
    return next(
        (check for check in found.checks if check.state != "passed" and check.check.id not in found.waived), None
    )
