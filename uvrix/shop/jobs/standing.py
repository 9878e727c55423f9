"""How jobs stand: what lists, job pages and the next step ask of a job, counted in one plain statement.

Written as SQL because the page of one job and the shelf of forty ask for the same dozen counts at every look; putting
the statement together from the ORM took longer than everything else (docs/decisions/standing-in-sql.md).
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING, Any

from django.db import connection

from uvrix.core.readings.notation import COLD

if TYPE_CHECKING:
    from uvrix.shop.jobs.models import Job


@dataclass(frozen=True, slots=True)
class Mark:
    """The newest mark that was not withdrawn; `at` is ISO 8601."""

    id: str
    designator: str
    typed: str
    question: str
    answer: str
    by: str
    at: str


@dataclass(frozen=True, slots=True)
class Attempted:
    """An attempt that counts, and the chips it was about."""

    do: str
    outcome: str
    chips: str
    at: datetime


@dataclass(frozen=True, slots=True)
class Fault:
    """The last fault that came while the card was proven; each suspect is {designator, why}."""

    words: str
    back_to: str
    suspects: list[dict[str, str]]
    at: datetime


@dataclass(frozen=True, slots=True)
class Standing:
    """How a job stands.

    `finding` is what all its runs say together (docs/formats §18), `conditions` the condition of each of their reports;
    `seen_places` holds {side, x_mm, y_mm, picture_id, x_px, y_px}; `logged`: a log of its sensors was taken at Prove;
    `power` is "" where nobody said.
    """

    finding: dict[str, Any] | None
    placeless: bool
    conditions: list[list[str]]
    runs: int
    last_run_at: datetime | None
    symptom_said: bool
    trials: int
    readings: int
    volts: int
    reworks: int
    rework_at: datetime | None
    fault: Fault | None
    photographs: int
    logged: bool
    power: str
    clear_regions: frozenset[str]
    seen_places: list[dict[str, Any]]
    mark: Mark | None
    attempts: tuple[Attempted, ...]


SQL = """
select j.id, j.located -> 'finding', coalesce((j.located -> 'placeless')::boolean, false),
  jsonb_path_query_array(coalesce(j.located, '{}'), '$.reports[*].condition'),
  runs.many, runs.newest,
  exists (select from arrive_symptom s where s.job_id = j.id),
  (select count(*) from arrive_trial t where t.job_id = j.id
    and not exists (select from arrive_trialwithdrawal w where w.trial_id = t.id)),
  readings.cold, readings.powered, reworks.many, reworks.newest, fault.said, fault.at,
  (select count(*) from look_jobphotograph p where p.job_id = j.id),
  exists (select from proving_prooflog l where l.job_id = j.id),
  coalesce((select state from ohms_powerstate p where p.job_id = j.id order by at desc, id desc limit 1), ''),
  array(select region from (
      select distinct on (region) region, clear from look_regionlook l where l.job_id = j.id and l.at >= board.since
      order by region, at desc, id desc) newest where clear),
  (select coalesce(jsonb_agg(jsonb_build_object('side', side, 'x_mm', x_mm, 'y_mm', y_mm,
      'picture_id', picture_id, 'x_px', x_px, 'y_px', y_px) order by at, id), '[]')
    from look_lookfinding f where f.job_id = j.id and f.at >= board.since
    and not exists (select from look_lookfindingwithdrawal w where w.finding_id = f.id)),
  (select jsonb_build_object('id', m.id, 'designator', m.designator, 'typed', m.typed, 'question', m.question,
      'answer', m.answer, 'by', coalesce(nullif(trim(u.first_name || ' ' || u.last_name), ''), u.username), 'at', m.at)
    from bench_chipmark m join accounts_user u on u.id = m.by_id where m.job_id = j.id and m.at >= board.since
    and not exists (select from bench_markwithdrawal w where w.mark_id = m.id) order by m.at desc limit 1),
  (select coalesce(jsonb_agg(jsonb_build_array("do", outcome, chips, at) order by at), '[]')
    from planning_attempt a where a.job_id = j.id
    and not exists (select from planning_attemptwithdrawal w where w.attempt_id = a.id))
from jobs_job j
cross join lateral (select coalesce(max(at), '-infinity') since from jobs_jobboard b where b.job_id = j.id) board
cross join lateral (select count(*) many, max(added_at) newest from bench_memoryrun r where r.job_id = j.id
    and not exists (select from bench_runwithdrawal w where w.run_id = r.id)) runs
cross join lateral (select count(*) filter (where quantity = any(%(cold)s)) cold,
    count(*) filter (where quantity <> all(%(cold)s)) powered from ohms_reading r
    where r.job_id = j.id and r.at >= board.since) readings
cross join lateral (select count(*) many, max(at) newest from acts_act r where r.job_id = j.id
    and not exists (select from acts_actwithdrawal w where w.act_id = r.id)) reworks
left join lateral (select jsonb_build_array(words, back_to, suspects) said, at from proving_latefault f
    where f.job_id = j.id order by at desc, id desc limit 1) fault on true
where j.id = any(%(jobs)s)
"""


def with_standing(found: Iterable[Job]) -> list[Job]:
    """The jobs, each with how it stands as `standing`, in one query however many they are."""
    jobs = list(found)
    by_number = {job.pk: job for job in jobs}
    if not jobs:
        return jobs
    with connection.cursor() as cursor:
        cursor.execute(SQL, {"jobs": list(by_number), "cold": list(COLD)})
        for row in cursor.fetchall():
            by_number[row[0]].standing = _standing(*row[1:])
    return jobs


def _standing(  # noqa: PLR0917 - the columns of the statement above, in its order
    finding: str | None,
    placeless: bool,
    conditions: str,
    runs: int,
    last_run_at: datetime | None,
    symptom_said: bool,
    trials: int,
    readings: int,
    volts: int,
    reworks: int,
    rework_at: datetime | None,
    fault: str | None,
    fault_at: datetime | None,
    photographs: int,
    logged: bool,
    power: str,
    clear: list[str],
    seen: str,
    mark: str | None,
    attempts: str,
) -> Standing:
    return Standing(
        json.loads(finding) if finding else None,
        placeless,
        json.loads(conditions),
        runs,
        last_run_at,
        symptom_said,
        trials,
        readings,
        volts,
        reworks,
        rework_at,
        _fault(json.loads(fault), fault_at) if fault and fault_at else None,
        photographs,
        logged,
        power,
        frozenset(clear),
        json.loads(seen),
        Mark(**json.loads(mark)) if mark else None,
        tuple(
            Attempted(do, outcome, chips, datetime.fromisoformat(at)) for do, outcome, chips, at in json.loads(attempts)
        ),
    )


def _fault(said: tuple[str, str, list[dict[str, str]]], at: datetime) -> Fault:
    words, back_to, suspects = said
    return Fault(words, back_to, suspects, at)
