"""The shop's habits with what it learned, and the plan for a job."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from functools import lru_cache
from typing import Any

from django.contrib.postgres.aggregates import StringAgg
from django.db import connection
from django.db.models import Count, Max, Min, Q, Sum, Value
from django.db.models.functions import Ln

from uvrix.core.case.belief.believe import believe
from uvrix.core.case.belief.memory import behind_the_finding
from uvrix.core.case.facts import Facts
from uvrix.core.planning.causes import REPAIRS
from uvrix.core.planning.habits import Habits, habits_from_json
from uvrix.core.planning.learning import Case, Times, cases_of, learned
from uvrix.core.planning.plan import Action, Tried, actions_for
from uvrix.shop.case.threads import thread
from uvrix.shop.jobs.models import Job, of_the_shop
from uvrix.shop.planning.models import Attempt, HabitsEdition
from uvrix.shop.planning.services import ACT_OF, chips_of

LEAST_MINUTES = 0.5


def set_habits_now() -> Habits:
    """What the shop set, without what it learned."""
    newest = HabitsEdition.objects.last()
    return habits_from_json(newest.habits if newest else {})


def shop_habits() -> Habits:
    """What the shop set, with what its outcomes say; kept in memory until something was entered."""
    with connection.cursor() as cursor:
        cursor.execute(
            "select (select max(id) from planning_habitsedition), (select max(at) from planning_attemptwithdrawal),"
            " count(*), max(at) from planning_attempt"
        )
        return _habits(cursor.fetchone())


@lru_cache(4)
def _habits(_stamp: tuple[Any, ...]) -> Habits:
    return learned(set_habits_now(), shop_cases(), shop_times())


def shop_cases() -> list[Case]:
    """Every finding on which repairs were tried, as counted histories."""
    failed = Q(outcome__in=["no", "worse"])
    chains = (
        of_the_shop(Attempt.objects.filter(withdrawal=None, do__in=REPAIRS))
        .order_by()
        .values("job_id", "chips")
        .annotate(
            kind_group=Min("group"),
            failed=StringAgg("do", Value(","), filter=failed, distinct=True, default=Value("")),
            cured=Max("do", filter=Q(outcome="yes")),
        )
    )
    history: Counter[tuple[str, tuple[str, ...], str | None]] = Counter()
    for chain in chains:
        before = tuple(do for do in sorted(chain["failed"].split(",")) if do and do != chain["cured"])
        history[chain["kind_group"], before, chain["cured"]] += 1
    return cases_of(history)


def shop_times() -> list[Times]:
    """How long each action took here."""
    rows = (
        of_the_shop(Attempt.objects.filter(withdrawal=None, minutes__gte=LEAST_MINUTES))
        .order_by()
        .values("do")
        .annotate(times=Count("pk"), logs=Sum(Ln("minutes")))
    )
    return [Times(row["do"], row["times"], row["logs"]) for row in rows]


def plan_for(job: Job, habits: Habits) -> list[Action]:
    """What to try next about a job's finding; `job` comes with its standing."""
    finding = job.standing.finding
    if not finding:
        return []
    facts = thread(job).facts
    failing = any(run.failed for _, run in facts.runs)
    return actions_for(
        finding["kind"],
        tuple(finding["designators"]),
        finding["chance"],
        habits=habits,
        tried=tried_of(job, finding, facts),
        conditions=_conditions(job.standing.conditions),
        believed=behind_the_finding(believe(facts), finding["designators"]) if failing else None,
    )


def tried_of(job: Job, finding: dict[str, Any], facts: Facts) -> list[Tried]:
    """What was tried about a finding, here or as an act on any screen; a cure after which a run still fails is none.

    The belief knows of acts that a run came after, and of no test.
    """
    last_run = job.standing.last_run_at
    found = []
    for attempt in job.standing.attempts:
        if attempt.chips == chips_of(finding):
            ran = attempt.do in REPAIRS and last_run is not None and last_run > attempt.at
            outcome = "no" if ran and attempt.outcome == "yes" else attempt.outcome
            found.append(Tried(attempt.do, outcome, known=ran))
    said = {candidate.do for candidate in found}
    return [*found, *(candidate for candidate in _acts_tried(finding, facts) if candidate.do not in said)]


def _acts_tried(finding: dict[str, Any], facts: Facts) -> Iterator[Tried]:
    """Acts of the finding's chips that a run came after which fails yet."""
    if facts.board is None or not facts.runs:
        return
    last = facts.runs[-1][0].number
    core = [facts.board.core.designator]
    for do, act in ACT_OF.items():
        sites = core if do == "lift-core" else finding["designators"]
        if any(entry.number < last for site in sites for entry in facts.done(act, site=site)):
            yield Tried(do, "no", known=True)


def _conditions(reports: list[list[str]]) -> int:
    """Under how many conditions the newest runs were made, those after rework where there are some."""
    after = [condition for condition in reports if "after-rework" in condition]
    return len({tuple(condition) for condition in after or reports})
