"""What follows from a job's thread; its gist is kept on the job until something changes, since every list asks."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any

from django.db import connection

from uvrix.core.case.answer import answer
from uvrix.core.case.words import entry_words
from uvrix.shop.case.rows import Row
from uvrix.shop.case.threads import Thread, threads
from uvrix.shop.jobs.models import Job

MOST_CAUSES, MOST_STEPS = 5, 5


Hides = Callable[[Job], bool]
_HIDES: list[Hides] = []


def hides_advice(hides: Hides) -> Hides:
    """Register who says that the advice on a job is kept back."""
    _HIDES.append(hides)
    return hides


def advice_hidden(job: Job) -> bool:
    """Whether next steps and suspects of a job are kept back: whoever practises finds them alone."""
    return any(hides(job) for hides in _HIDES)


def gist(found: Thread) -> dict[str, Any]:
    """What lists and the job strip show: the first steps, the likeliest causes, whether power is allowed.

    `worked`: something was done to the card, or a fault came late, so that its proof is of what became of it.
    """
    told = answer(found.facts)
    return {
        "next": told["next"][:MOST_STEPS],
        "causes": [suspected(found, cause) for cause in told["causes"][:MOST_CAUSES]],
        "power": told["power"],
        "owed": [_debt(found.rows[debt["since"]], debt) for debt in told["owed"]],
        "worked": told["proof"]["since"] is not None,
    }


def suspected(found: Thread, cause: Mapping[str, Any]) -> dict[str, Any]:
    """A cause with the entries that it rests on, in words."""
    entries = found.facts.entries
    return {
        **cause,
        "evidence": [{"number": entry, "words": entry_words(entries[entry])} for entry in cause["entries"]],
    }


def _debt(row: Row, owed: Mapping[str, Any]) -> dict[str, Any]:
    return {"what": owed["what"], "target": owed["target"], "key": row.key, "at": row.at.isoformat(), "by": row.by}


def with_told(found: Iterable[Job]) -> list[Job]:
    """The jobs, each with what follows from its thread as `told`; made anew only where something changed since."""
    jobs = list(found)
    known = _kept([job.pk for job in jobs]) if jobs else {}
    for job in jobs:
        job.told = known.get(job.pk, (None, 0))[0]
    if stale := [job for job in jobs if job.told is None]:
        tell(stale, {job.pk: known.get(job.pk, (None, 0))[1] for job in stale})
    return jobs


def _kept(jobs: Sequence[int]) -> dict[int, tuple[dict[str, Any] | None, int]]:
    """The gist kept for each job (None where something changed since), with its version."""
    with connection.cursor() as cursor:
        cursor.execute("select job_id, content, version from case_jobtold where job_id = any(%s)", [list(jobs)])
        return {job: (json.loads(content) if content else None, version) for job, content, version in cursor}


KEEP = """
insert into case_jobtold (job_id, content, version) values (%s, %s, %s)
on conflict (job_id) do update set content = excluded.content where case_jobtold.version = excluded.version
"""


def tell(jobs: Sequence[Job], versions: Mapping[int, int]) -> None:
    """Make anew what follows from some jobs' threads, and keep it where nothing changed since their versions were read.

    Somebody else's entry may come while the rows are read: what was made without it is shown this once and not kept.
    """
    made = threads(jobs)
    for job in jobs:
        job.told = gist(made[job.pk])
    with connection.cursor() as cursor:
        for job in jobs:  # one at a time: who holds no two of them waits for nobody in a circle
            cursor.execute(KEEP, [job.pk, json.dumps(job.told), versions[job.pk]])
